package recolour

import (
	"episema/core/colour"
	"episema/core/raster"
)

// ErrEmptyMask is returned where a mask has no pixel to learn the own colour from.
var ErrEmptyMask error = emptyMask{}

type emptyMask struct{}

func (emptyMask) Error() string { return "the mask is empty; nothing would be recoloured" }

// Mendable marks it as an error that whoever asked can mend.
func (emptyMask) Mendable() {}

// Tone is a part's typical lit tone: its colour, and where in the picture it stands.
type Tone struct {
	Linear colour.RGB
	X, Y   int // in pixels of the plane it was estimated on
}

// LitTone estimates the part's typical lit tone: the mean colour of the pixels whose lightness is between the
// 60th and the 85th percentile, shadows below and sheen above left out, and clipped pixels never counted.
func LitTone(pic *raster.RGB, mask *raster.Mask) (Tone, error) { return litTone(pic, mask, false) }

// litTone estimates the typical lit tone. If strict, pixels with one clipped channel do not count either.
func litTone(pic *raster.RGB, mask *raster.Mask, strict bool) (Tone, error) {
	var all []int
	y := func(i int) float32 { return 0.21*pic.Pix[3*i] + 0.72*pic.Pix[3*i+1] + 0.07*pic.Pix[3*i+2] }
	for pass := 0; pass < 2 && len(all) < 12; pass++ {
		all = all[:0]
		for i, m := range mask.Pix {
			if (pass == 0 && m < sureIn) || m == 0 {
				continue
			}
			r, g, b := pic.Pix[3*i], pic.Pix[3*i+1], pic.Pix[3*i+2]
			if pass == 0 && (min(r, g, b) > 0.985 || strict && max(r, g, b) > 0.985) {
				continue
			}
			all = append(all, i)
		}
	}
	if len(all) == 0 {
		return Tone{}, ErrEmptyMask
	}
	band := raster.Between(all, y, 0.6, 0.85)
	var t Tone
	for _, i := range band {
		for c := range 3 {
			t.Linear[c] += float64(pic.Pix[3*i+c]) / float64(len(band))
		}
	}
	best := 1e9
	for _, i := range band {
		d := 0.0
		for c := range 3 {
			v := float64(pic.Pix[3*i+c]) - t.Linear[c]
			d += v * v
		}
		if d < best {
			best, t.X, t.Y = d, i%pic.W, i/pic.W
		}
	}
	return t, nil
}
