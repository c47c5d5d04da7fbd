package copies

import (
	"math"

	"episema/core/raster"
)

const (
	shadeWide = 0.06 // of a thing's width: what is finer is its texture, and stays where it is
	mostLight = 3    // no place gets more times its light than this, or less than the inverse
)

// Light is the broad light on a thing.
type Light struct {
	Field
	middle float64 // the column, in pixels of the full size, that has as much of the thing to its left as to its right
}

// LightOn finds the light on what a mask covers, at a level whose pixels are scale full-size pixels wide. Beside the thing it is
// continued by what is near.
func LightOn(pic *raster.RGB, mask *raster.Mask, scale float64) *Light {
	w, h := pic.W, pic.H
	l := &Light{Field{raster.Rect{X1: w, Y1: h}, scale, make([]float32, w*h)}, middle(mask, scale)}
	weight := make([]float32, w*h)
	x0, x1 := w, 0
	for i, v := range mask.Pix {
		if v == 0 {
			continue
		}
		x0, x1 = min(x0, i%w), max(x1, i%w+1)
		weight[i] = float32(v) / raster.Whole
		l.Pix[i] = weight[i] * max(1e-4, 0.25*pic.Pix[3*i]+0.6*pic.Pix[3*i+1]+0.15*pic.Pix[3*i+2])
	}
	if x1 <= x0 {
		return l
	}
	sigma := max(1, shadeWide*float64(x1-x0))
	raster.Gauss(l.Pix, w, h, sigma)
	raster.Gauss(weight, w, h, sigma)
	for i, v := range weight {
		if v > 1e-4 {
			l.Pix[i] /= v
		} else {
			l.Pix[i] = 0 // nobody looks so far off
		}
	}
	return l
}

// Turned returns how much more light there is at a place of the original, in pixels of the full size, once it comes from the other side:
// what the place across has, over what it has itself.
func (l *Light) Turned(x, y float64) float32 {
	here, across := l.At(x, y), l.At(2*l.middle-x, y)
	if here <= 0 || across <= 0 {
		return 1
	}
	return max(1/float32(mostLight), min(mostLight, across/here))
}

func middle(mask *raster.Mask, scale float64) float64 {
	var sum, all float64
	for i, v := range mask.Pix {
		sum, all = sum+float64(v)*(float64(i%mask.W)+0.5), all+float64(v)
	}
	return scale * sum / math.Max(1, all)
}
