// Package scenes reads the demo's ground truth for tests and benchmarks.
package scenes

import (
	"image"
	"image/png"
	"os"
	"path/filepath"

	"episema/core/colour"
	"episema/core/raster"
)

// Albedos are the linear sRGB colours that parts have in the truth, by name; the first five are those of demo/render.
var Albedos = map[string]colour.RGB{
	"red":    {0.42, 0.034, 0.018},
	"teal":   {0.013, 0.145, 0.168},
	"white":  {0.82, 0.80, 0.74},
	"black":  {0.020, 0.022, 0.026},
	"pastel": {0.48, 0.58, 0.74},

	"hide":  {0.030, 0.021, 0.018}, // nearly black leather
	"olive": {0.115, 0.105, 0.035},
	"navy":  {0.035, 0.055, 0.17},
	"clay":  {0.44, 0.185, 0.095},
	"sage":  {0.24, 0.33, 0.22},

	"apricot": {0.62, 0.24, 0.09},
	"brick":   {0.27, 0.125, 0.085},
	"tan":     {0.34, 0.24, 0.15},
	"sand":    {0.40, 0.31, 0.21},
}

// Names are the scenes with truth; Colours are the colours in a fixed order.
var (
	Names   = []string{"mug", "scarf", "tote"}
	Colours = []string{"red", "teal", "white", "black", "pastel"}
)

// RGB reads a truth picture into linear light.
func RGB(dir, name string) (*raster.RGB, error) {
	img, err := read(dir, name)
	if err != nil {
		return nil, err
	}
	return FromImage(img, Coded8), nil
}

// FromImage gives an image's pixels; value turns a channel of 16 bits into linear light.
func FromImage(img image.Image, value func(v uint32) float32) *raster.RGB {
	b := img.Bounds()
	o := raster.NewRGB(b.Dx(), b.Dy())
	for y := range o.H {
		for x := range o.W {
			red, green, blue, _ := img.At(x+b.Min.X, y+b.Min.Y).RGBA()
			i := 3 * (y*o.W + x)
			o.Pix[i], o.Pix[i+1], o.Pix[i+2] = value(red), value(green), value(blue)
		}
	}
	return o
}

// Coded8 turns a channel of 16 bits that holds 8 bits coded for sRGB into linear light.
func Coded8(v uint32) float32 { return colour.Light8[v>>8] }

// Mask reads a truth mask.
func Mask(dir, name string) (*raster.Mask, error) {
	img, err := read(dir, name)
	if err != nil {
		return nil, err
	}
	b := img.Bounds()
	o := raster.NewMask(b.Dx(), b.Dy())
	for y := 0; y < o.H; y++ {
		for x := 0; x < o.W; x++ {
			r, _, _, _ := img.At(x+b.Min.X, y+b.Min.Y).RGBA()
			o.Pix[y*o.W+x] = uint16(r)
		}
	}
	return o, nil
}

func read(dir, name string) (image.Image, error) {
	f, err := os.Open(filepath.Join(dir, name+".png"))
	if err != nil {
		return nil, err
	}
	defer f.Close()
	return png.Decode(f)
}

// Pyramid is an in-memory picture at halved sizes.
type Pyramid struct{ Level []*raster.RGB }

// NewPyramid halves a picture until its long side is at most 256.
func NewPyramid(p *raster.RGB) *Pyramid {
	o := &Pyramid{[]*raster.RGB{p}}
	for max(p.W, p.H) > 256 {
		p = raster.Half(p)
		o.Level = append(o.Level, p)
	}
	return o
}

// Size gives the size of a level.
func (p *Pyramid) Size(l int) (int, int) { return p.Level[l].W, p.Level[l].H }

// Levels gives their number.
func (p *Pyramid) Levels() int { return len(p.Level) }

// Linear copies a rectangle of a level.
func (p *Pyramid) Linear(l int, r raster.Rect) (*raster.RGB, error) {
	s := p.Level[l]
	o := raster.NewRGB(r.W(), r.H())
	for y := range o.H {
		copy(o.Pix[3*y*o.W:3*(y+1)*o.W], s.Pix[3*((y+r.Y0)*s.W+r.X0):])
	}
	return o, nil
}
