package imagefile

/*
#cgo pkg-config: librsvg-2.0 cairo
#include "svg.h"
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
	"os"
	"os/exec"
	"runtime"
	"strings"
	"sync"
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

// Rendering is a drawing that has been read and can be rendered any number of times. It must be one that the drawing reader
// made safe.
type Rendering struct {
	mu sync.Mutex // the renderer is for one at a time
	h  *C.RsvgHandle
}

// OpenDrawing reads a drawing for rendering.
func OpenDrawing(svg []byte) (*Rendering, error) {
	if len(svg) == 0 {
		return nil, rejected("the drawing is empty")
	}
	var problem [300]C.char
	h := C.ep_svg_open(unsafe.Pointer(unsafe.SliceData(svg)), C.size_t(len(svg)), &problem[0], C.size_t(len(problem)))
	if h == nil {
		return nil, rejected("the drawing cannot be shown: %s", C.GoString(&problem[0]))
	}
	r := &Rendering{h: h}
	runtime.AddCleanup(r, func(h *C.RsvgHandle) { C.ep_svg_close(h) }, h)
	return r, nil
}

// RGBA renders the whole drawing into fullW x fullH pixels and gives a rectangle of them as 8 bit rows with straight alpha;
// what lies outside is transparent.
func (r *Rendering) RGBA(fullW, fullH float64, x, y, w, h int, limit time.Duration) ([]byte, error) {
	if w < 1 || h < 1 || w > 30000 || h > 30000 || !(fullW > 0 && fullW < 1e8 && fullH > 0 && fullH < 1e8) {
		return nil, rejected("a drawing is rendered at 1 to 30000 pixels")
	}
	out := make([]byte, 4*w*h)
	var problem [300]C.char
	r.mu.Lock()
	defer r.mu.Unlock()
	defer runtime.KeepAlive(r)
	switch C.ep_svg_render(r.h, C.double(fullW), C.double(fullH), C.int(x), C.int(y), C.int(w), C.int(h), C.double(limit.Seconds()), (*C.uchar)(unsafe.SliceData(out)), &problem[0], C.size_t(len(problem))) {
	case 0:
		return out, nil
	case 1:
		return nil, rejected("rendering the drawing took longer than %s", limit)
	}
	return nil, rejected("the drawing cannot be shown: %s", C.GoString(&problem[0]))
}

// RenderDrawing is RGBA of a drawing that is rendered once.
func RenderDrawing(svg []byte, fullW, fullH float64, x, y, w, h int, limit time.Duration) ([]byte, error) {
	r, err := OpenDrawing(svg)
	if err != nil {
		return nil, err
	}
	return r.RGBA(fullW, fullH, x, y, w, h, limit)
}

// DrawingToPNG renders a whole drawing at a width and height in pixels.
func DrawingToPNG(svg []byte, w, h int, limit time.Duration, path string) error {
	pix, err := RenderDrawing(svg, float64(w), float64(h), 0, 0, w, h, limit)
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
