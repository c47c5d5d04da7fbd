package imagefile

/*
#include "vips.h"
*/
import "C"

import (
	"bufio"
	"bytes"
	"context"
	"errors"
	"fmt"
	"image"
	"image/png"
	"math"
	"os"
	"os/exec"
	"strings"
	"time"
	"unsafe"
)

// IsDrawing says whether a file is an SVG by its first bytes.
func IsDrawing(path string) bool {
	f, err := os.Open(path)
	if err != nil {
		return false
	}
	defer f.Close()
	b, err := bufio.NewReader(f).Peek(4096)
	if len(b) == 0 && err != nil {
		return false
	}
	b = bytes.TrimLeft(bytes.TrimPrefix(b, []byte("\xef\xbb\xbf")), " \t\r\n")
	return bytes.HasPrefix(b, []byte("<")) && bytes.Contains(b, []byte("<svg")) || bytes.HasPrefix(b, []byte("<?xml")) || bytes.HasPrefix(b, []byte("<!DOCTYPE svg"))
}

// DrawingSize gives the pixels at which the renderer shows a drawing unscaled.
func DrawingSize(svg []byte) (w, h int, err error) {
	if err := start(); err != nil {
		return 0, 0, err
	}
	if len(svg) == 0 {
		return 0, 0, rejected("the drawing is empty")
	}
	var cw, ch C.int
	if C.ep_svg_size(unsafe.Pointer(unsafe.SliceData(svg)), C.size_t(len(svg)), &cw, &ch) != 0 {
		return 0, 0, rejected("the drawing cannot be shown: %s", lastError())
	}
	return int(cw), int(ch), nil
}

// RenderDrawing renders a rectangle of a drawing (pixels at the scale) as 8 bit RGBA rows with straight alpha. The drawing
// must be one that the drawing reader made safe.
func RenderDrawing(svg []byte, scale float64, x, y, w, h int, limit time.Duration) ([]byte, error) {
	if err := start(); err != nil {
		return nil, err
	}
	if len(svg) == 0 || w < 1 || h < 1 || w > 30000 || h > 30000 || !(scale > 0 && scale < 1000) {
		return nil, rejected("a drawing is rendered at 1 to 30000 pixels")
	}
	out := make([]byte, 4*w*h)
	switch C.ep_svg(unsafe.Pointer(unsafe.SliceData(svg)), C.size_t(len(svg)), C.double(scale), C.int(x), C.int(y), C.int(w), C.int(h), C.double(limit.Seconds()), (*C.uchar)(unsafe.SliceData(out))) {
	case 0:
		return out, nil
	case 1:
		lastError()
		return nil, rejected("rendering the drawing took longer than %s", limit)
	}
	return nil, rejected("the drawing cannot be shown: %s", lastError())
}

// DrawingToPNG renders a whole drawing at a width and height in pixels.
func DrawingToPNG(svg []byte, w, h int, limit time.Duration, path string) error {
	dw, dh, err := DrawingSize(svg)
	if err != nil {
		return err
	}
	pix, err := RenderDrawing(svg, math.Max(float64(w)/float64(dw), float64(h)/float64(dh)), 0, 0, w, h, limit)
	if err != nil {
		return err
	}
	f, err := os.Create(path)
	if err != nil {
		return err
	}
	defer f.Close()
	b := bufio.NewWriterSize(f, 1<<20)
	if err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(b, &image.NRGBA{Pix: pix, Stride: 4 * w, Rect: image.Rect(0, 0, w, h)}); err != nil {
		return err
	}
	if err := b.Flush(); err != nil {
		return err
	}
	return f.Close()
}

// DrawingToPDF writes a drawing as a PDF of one page, by Debian's librsvg.
func DrawingToPDF(ctx context.Context, svg []byte, out string) error {
	ctx, stop := context.WithTimeout(ctx, 2*time.Minute)
	defer stop()
	cmd := exec.CommandContext(ctx, "rsvg-convert", "--format=pdf", "--output="+out)
	cmd.Stdin = bytes.NewReader(svg)
	cmd.Env = []string{"PATH=" + os.Getenv("PATH"), "HOME=/nonexistent"}
	said, err := cmd.CombinedOutput()
	if errors.Is(err, exec.ErrNotFound) {
		return errors.New("PDF needs Debian's package librsvg2-bin, which is not installed here")
	}
	if err != nil {
		return fmt.Errorf("writing the PDF: %s", firstLine(string(said), err))
	}
	return nil
}

func firstLine(said string, err error) string {
	l, _, _ := strings.Cut(strings.TrimSpace(said), "\n")
	if l == "" {
		return err.Error()
	}
	return l
}
