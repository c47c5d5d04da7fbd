// Package export writes developed pictures as files: the picture itself, its masks, its layers.
package export

import (
	"bufio"
	"fmt"
	"os"
	"path/filepath"
	"sync/atomic"

	"episema/core/develop"
	"episema/core/raster"
	"episema/imagefile"
)

// Totals are counts over a full-size result.
type Totals struct {
	Inside, OutOfGamut, Clipped int64
	ChangedOutside              int
}

// Percent gives n as a percentage of the pixels inside parts.
func (t Totals) Percent(n int64) float64 {
	if t.Inside == 0 {
		return 0
	}
	return 100 * float64(n) / float64(t.Inside)
}

// Deliverable returns an error for a result that nobody may have: what lies outside every part is the picture as it came in.
func (t Totals) Deliverable() error {
	if t.ChangedOutside != 0 {
		return fmt.Errorf("%d pixels outside every part would have changed; nothing was delivered", t.ChangedOutside)
	}
	return nil
}

const strip = 256 // rows rendered at a time

// Encoder writes a raw file in a format; imagefile.Encode is one.
type Encoder func(raw string, info imagefile.Info, original, format string, quality int, opts imagefile.Options, out string) error

// Picture renders a developed picture at full size, in strips, and writes it with the original file's
// metadata. Samples of pixels outside all masks are copied, not computed. progress may be nil; it gets
// 0..1 and stops the export by returning an error.
func Picture(d *develop.Developed, p *imagefile.Pyramid, original, work, format string, quality int, opts imagefile.Options, out string, progress func(float64) error, encode Encoder) (Totals, error) {
	var t Totals
	var outside atomic.Int64
	raw := filepath.Join(work, "result.raw")
	f, err := os.Create(raw)
	if err != nil {
		return t, err
	}
	defer os.Remove(raw)
	defer f.Close()
	w := bufio.NewWriterSize(f, 1<<20)
	width, height := p.Size(0)
	for y := 0; y < height; y += strip {
		r := raster.Rect{X0: 0, Y0: y, X1: width, Y1: min(height, y+strip)}
		coded, err := p.Coded(0, r)
		if err != nil {
			return t, fmt.Errorf("reading the picture: %w", err)
		}
		o, err := d.Render(0, r)
		if err != nil {
			return t, err
		}
		for _, s := range o.Stats {
			t.Inside += s.Inside
			t.OutOfGamut += s.OutOfGamut
			t.Clipped += s.Clipped
		}
		p.Encode(o.After, coded, func(i int) bool {
			a, b := o.After.Pix[3*i:3*i+3], o.Given.Pix[3*i:3*i+3]
			if a[0] == b[0] && a[1] == b[1] && a[2] == b[2] {
				return false
			}
			if o.Meant != nil && o.Meant[i] {
				return true
			}
			for _, m := range o.Masks {
				if m != nil && m.Pix[i] > 0 {
					return true
				}
			}
			outside.Add(1)
			return true
		})
		if _, err := w.Write(coded); err != nil {
			return t, err
		}
		if progress != nil {
			if err := progress(0.8 * float64(r.Y1) / float64(height)); err != nil {
				return t, err
			}
		}
	}
	t.ChangedOutside = int(outside.Load())
	if err := w.Flush(); err != nil {
		return t, err
	}
	info := p.Info
	return t, encode(raw, info, original, format, quality, opts, out)
}
