// Package imagefile reads and writes photo files through Debian's libvips, with limits on what a file
// may cost. Its own thin binding is used, since it needs what bindings at hand leave out: blocking
// loaders, a deadline while decoding, and strips streamed to and from raw files.
package imagefile

/*
#cgo pkg-config: vips lcms2
#include "vips.h"
#include <stdlib.h>
*/
import "C"

import (
	"errors"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"
	"unsafe"

	"episema/core/colour"
)

// Limits bound what one file may cost. The defaults are far above a studio's pictures.
type Limits struct {
	Bytes  int64
	Pixels int64
	Time   time.Duration
}

// DefaultLimits are 1 GiB, 200 megapixels and two minutes.
func DefaultLimits() Limits {
	return Limits{Bytes: 1 << 30, Pixels: 200_000_000, Time: 2 * time.Minute}
}

// Info says what a picture file holds.
type Info struct {
	Format        string // jpeg, png, webp or tiff
	Width, Height int    // as shown
	Bands         int    // 3, or 4 with transparency
	Bits          int    // 8 or 16 a sample
	Profile       []byte // embedded ICC profile, or nil
	ToSRGB        bool   // the profile is table-based: pixels were converted to sRGB while decoding
}

// Space gives the colour space of the decoded pixels.
func (i Info) Space() *colour.Space {
	if i.Profile == nil || i.ToSRGB {
		return colour.SRGB
	}
	if s, err := colour.ParseICC(i.Profile); err == nil {
		return s
	}
	return colour.SRGB
}

// Rejected is an error about the file itself, said so that its owner can mend it.
type Rejected struct{ Problem string }

func (r *Rejected) Error() string { return r.Problem }

// Mendable marks it as an error that whoever asked can mend.
func (*Rejected) Mendable() {}

func rejected(f string, a ...any) error { return &Rejected{fmt.Sprintf(f, a...)} }

var start = sync.OnceValue(func() error {
	if C.ep_start() != 0 {
		return errors.New("libvips does not start: " + lastError())
	}
	return nil
})

// Ready starts the libraries, which takes a while the first time.
func Ready() error { return start() }

func lastError() string {
	msg := strings.TrimSpace(C.GoString(C.vips_error_buffer()))
	C.vips_error_clear()
	if i := strings.IndexByte(msg, '\n'); i >= 0 {
		msg = msg[:i]
	}
	if msg == "" || strings.Contains(msg, "blocked") {
		return "what follows its first bytes is not of its kind"
	}
	return msg
}

// sniff tells the format from the first bytes; the name says nothing.
func sniff(path string) (string, error) {
	f, err := os.Open(path)
	if err != nil {
		return "", err
	}
	defer f.Close()
	var b [64]byte
	n, err := io.ReadFull(f, b[:])
	if n == 0 {
		return "", rejected("the file is empty")
	}
	if err != nil && !errors.Is(err, io.ErrUnexpectedEOF) {
		return "", err
	}
	h := string(b[:n])
	switch {
	case strings.HasPrefix(h, "\xff\xd8\xff"):
		return "jpeg", nil
	case strings.HasPrefix(h, "\x89PNG\r\n\x1a\n"):
		return "png", nil
	case strings.HasPrefix(h, "RIFF") && n >= 12 && h[8:12] == "WEBP":
		return "webp", nil
	case strings.HasPrefix(h, "II*\x00"), strings.HasPrefix(h, "MM\x00*"), strings.HasPrefix(h, "II+\x00"), strings.HasPrefix(h, "MM\x00+"):
		return "tiff", nil
	case strings.HasPrefix(h, "GIF8"):
		return "", rejected("this is a GIF; save it as PNG or TIFF")
	case strings.Contains(h, "<svg") || strings.HasPrefix(strings.TrimSpace(h), "<?xml"):
		return "", rejected("this is a drawing; here a photo is wanted")
	}
	return "", rejected("this is none of JPEG, PNG, WebP and TIFF, whatever its name says")
}

// Inspect reads a file's header and checks it against the limits.
func Inspect(path string, lim Limits) (Info, error) {
	if err := start(); err != nil {
		return Info{}, err
	}
	st, err := os.Stat(path)
	if err != nil {
		return Info{}, err
	}
	if st.Size() > lim.Bytes {
		return Info{}, rejected("the file has %d MB; at most %d MB are taken", st.Size()>>20, lim.Bytes>>20)
	}
	format, err := sniff(path)
	if err != nil {
		return Info{}, err
	}
	p := C.CString(path)
	defer C.free(unsafe.Pointer(p))
	var c C.EpInfo
	if C.ep_inspect(p, &c) != 0 {
		return Info{}, rejected("the %s file is damaged: %s", name(format), lastError())
	}
	info := Info{Format: format, Width: int(c.width), Height: int(c.height), Bands: int(c.bands), Bits: int(c.bits)}
	if err := info.acceptable(&c, st.Size(), lim); err != nil {
		return Info{}, err
	}
	if info.Profile, err = profileOf(p, format); err != nil {
		return Info{}, err
	}
	if info.Profile == nil {
		return info, nil
	}
	if c.loaded_bands < 3 {
		info.Profile = nil // a grey profile says nothing about three channels
	} else if _, err := colour.ParseICC(info.Profile); errors.Is(err, colour.ErrNotMatrix) {
		info.ToSRGB = true
	} else if err != nil {
		info.Profile = nil
	}
	return info, nil
}

// acceptable says why a picture is not taken, whose file has so many bytes.
func (i Info) acceptable(c *C.EpInfo, size int64, lim Limits) error {
	pixels := int64(i.Width) * int64(i.Height)
	switch {
	case pixels > lim.Pixels:
		return rejected("the picture has %d megapixels; at most %d are taken", pixels/1_000_000, lim.Pixels/1_000_000)
	case i.Format == "jpeg" && size*8 < pixels/64:
		// A block of 8 x 8 pixels takes at least one bit (ITU-T T.81, F.1.2); what is missing would be read as grey.
		return rejected("the JPEG file is damaged: it says %d x %d pixels, and holds too little for so many", i.Width, i.Height)
	case c.pages > 1 && i.Format == "webp":
		return rejected("the picture is animated (%d frames); save the frame you want as a picture of its own", int(c.pages))
	case c.pages > 1:
		return rejected("the file holds %d pages; save the one you want as a picture of its own", int(c.pages))
	case c.interpretation == C.VIPS_INTERPRETATION_CMYK:
		return rejected("the picture is CMYK; convert it to RGB with the profile it was made for, then bring it in")
	case c.interpretation == C.VIPS_INTERPRETATION_LAB || c.interpretation == C.VIPS_INTERPRETATION_LABS:
		return rejected("the picture is CIELAB; convert it to RGB, then bring it in")
	case i.Bits == 0:
		return rejected("the samples are neither 8 nor 16 bit; save the picture with 8 or 16 bits a channel")
	case c.loaded_bands > 4:
		return rejected("the picture has %d channels; RGB with or without transparency is taken", int(c.loaded_bands))
	}
	return nil
}

// profileOf reads the profile inside of a file; nil for none.
func profileOf(path *C.char, format string) ([]byte, error) {
	var data unsafe.Pointer
	var size C.size_t
	if C.ep_profile(path, &data, &size) != 0 {
		return nil, rejected("the %s file is damaged: %s", name(format), lastError())
	}
	if data == nil {
		return nil, nil
	}
	defer C.g_free(C.gpointer(data))
	return C.GoBytes(data, C.int(size)), nil
}

func name(format string) string {
	return map[string]string{"jpeg": "JPEG", "png": "PNG", "webp": "WebP", "tiff": "TIFF"}[format]
}

// Decode writes the picture upright to a raw file: interleaved samples, native byte order for 16 bit.
func Decode(path, raw string, lim Limits) (Info, error) {
	info, err := Inspect(path, lim)
	if err != nil {
		return info, err
	}
	p, r := C.CString(path), C.CString(raw)
	defer C.free(unsafe.Pointer(p))
	defer C.free(unsafe.Pointer(r))
	var c C.EpInfo
	srgb := C.int(0)
	if info.ToSRGB {
		srgb = 1
	}
	switch C.ep_decode(p, r, srgb, C.double(lim.Time.Seconds()), &c) {
	case 0:
	case 1:
		lastError()
		return info, rejected("decoding took longer than %s; the file may be made to be slow", lim.Time)
	default:
		msg := lastError()
		if strings.Contains(msg, "write failed") { // libvips' word for a disk that takes no more
			return info, fmt.Errorf("there is no room to unpack the picture: %s; free some on the disk of %s", msg, filepath.Dir(raw))
		}
		return info, rejected("the %s file is damaged: %s", name(info.Format), msg)
	}
	info.Width, info.Height, info.Bands = int(c.width), int(c.height), int(c.bands)
	return info, nil
}

// Formats are the kinds of file that are written, each with the ending of its names. png and tiff have the picture's own
// bits, png8 and tiff8 have 8.
var Formats = map[string]string{"png": ".png", "png8": ".png", "jpeg": ".jpg", "webp": ".webp", "tiff": ".tif", "tiff8": ".tif", "avif": ".avif"}

// Options say how a file is written. The zero value is full size with the metadata and profile of the original.
type Options struct {
	Longest int `json:"longest,omitempty"` // pixels of the long side; 0 and what is no smaller are full size
	// Profile is srgb, p3 or inks: converted, relative colorimetric, to inks with black point compensation; empty: the picture's own.
	Profile  string `json:"profile,omitempty"`
	Inks     string `json:"inks,omitempty"`     // of inks: SHA-256 of the CMYK profile, which the file has inside
	InkFile  string `json:"-"`                  // and the path of its file, for whoever writes the picture
	Metadata string `json:"metadata,omitempty"` // no-gps or drop; empty keeps all of it
	Chroma   string `json:"chroma,omitempty"`   // of JPEG: 420 halves the colour's resolution; empty is 4:4:4
	Rights   Rights `json:"-"`                  // are written whatever becomes of the other metadata
}

// Validate says which option is out of its range.
func (o Options) Validate() error {
	switch {
	case o.Longest != 0 && (o.Longest < 16 || o.Longest > 65500):
		return rejected("the long side has 16 to 65500 pixels")
	case o.Profile != "" && o.Profile != "srgb" && o.Profile != "p3" && o.Profile != "inks":
		return rejected("the profile %q is not known; use srgb, p3 or inks, or leave it out for the picture's own", o.Profile)
	case (o.Profile == "inks") != (o.Inks != ""):
		return rejected("inks need the profile of the press; bring one into the job first")
	case o.Chroma != "" && o.Chroma != "420":
		return rejected("the chroma sampling %q is not known; use 420, or leave it out for 4:4:4", o.Chroma)
	case o.Metadata != "" && o.Metadata != "no-gps" && o.Metadata != "drop":
		return rejected("metadata is %q; use no-gps or drop, or leave it out to keep all", o.Metadata)
	}
	return nil
}

// InkFormats are the formats that hold CMYK.
var InkFormats = []string{"jpeg", "tiff", "tiff8"}

// fits says whether a format can hold what the options ask for.
func (o Options) fits(format string) error {
	if o.Profile == "inks" && !slices.Contains(InkFormats, format) {
		return rejected("%s holds no CMYK; choose JPEG or TIFF for inks", format)
	}
	return nil
}

// ValidateFor says which option is out of its range, or does not go with a format.
func (o Options) ValidateFor(format string) error {
	if err := o.Validate(); err != nil {
		return err
	}
	return o.fits(format)
}

// Encode writes a raw file (as Decode writes it) in one of Formats. Quality is that of JPEG, WebP and
// AVIF, 1 to 100.
func Encode(raw string, info Info, original, format string, quality int, opts Options, out string) error {
	if err := start(); err != nil {
		return err
	}
	if Formats[format] == "" {
		return rejected("the format %q is not delivered; png, png8, jpeg, webp, tiff, tiff8 and avif are", format)
	}
	if err := opts.ValidateFor(format); err != nil {
		return err
	}
	metadata := map[string]C.int{"": 0, "no-gps": 1, "drop": 2}[opts.Metadata]
	name, inks := opts.Profile, C.int(0)
	if name == "inks" {
		name, inks = opts.InkFile, 1
	}
	r, o, f, t, profile := C.CString(raw), C.CString(original), C.CString(format), C.CString(out), C.CString(name)
	rights, copyright, artist := C.CString(opts.Rights.description()), C.CString(exifText(opts.Rights.Notice)), C.CString(exifText(opts.Rights.Creator))
	for _, s := range []*C.char{r, o, f, t, profile, rights, copyright, artist} {
		defer C.free(unsafe.Pointer(s))
	}
	srgb := C.int(0)
	if info.ToSRGB {
		srgb = 1
	}
	subsample := C.int(0)
	if opts.Chroma == "420" {
		subsample = 1
	}
	write := func(png C.int) error {
		if C.ep_encode(r, C.int(info.Width), C.int(info.Height), C.int(info.Bands), C.int(info.Bits), o, f, C.int(quality), srgb, C.int(opts.Longest), profile, inks, metadata, subsample, rights, copyright, artist, t, png) != 0 {
			return errors.New(lastError())
		}
		return nil
	}
	var err error
	if strings.HasPrefix(format, "png") {
		err = throughRepack(out, func(fd uintptr) error { return write(C.int(fd)) })
	} else {
		err = write(-1)
	}
	if err != nil {
		os.Remove(out)
		return fmt.Errorf("writing %s: %w", format, err)
	}
	return nil
}
