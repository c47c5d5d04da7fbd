// Package everyfield gives tests a document for each field of the model: one in which that field alone was set, with the
// document it was set in. What a test does with a document it can so do with every field, those of tomorrow too.
package everyfield

import (
	"math"
	"math/rand/v2"

	"episema/core/colour"
	"episema/core/raster"
)

// W and H are the size of the scene.
const (
	W, H = 300, 240
)

// Scene is two red discs on a pale floor that takes of their colour, lit ever better to the right: a large one with a pale
// spot, an orange half and light that clips in it, a small one beside it, and a speck of their red.
func Scene() *raster.RGB {
	r := rand.New(rand.NewPCG(1, 1))
	p := raster.NewRGB(W, H)
	red, orange, pale, floor := colour.RGB{0.65, 0.05, 0.04}, colour.RGB{0.65, 0.2, 0.03}, colour.RGB{0.6, 0.6, 0.55}, colour.RGB{0.3, 0.3, 0.31}
	for y := range H {
		for x := range W {
			at := func(cx, cy, r float64) float64 {
				return math.Max(0, math.Min(1, r+0.5-math.Hypot(float64(x)+0.5-cx, float64(y)+0.5-cy)))
			}
			big, small, speck, spot := at(130, 120, 55), at(245, 60, 26), at(40, 40, 3), at(150, 100, 4)
			v := floor
			far := math.Hypot(float64(x)-130, float64(y)-120) - 55
			for c := range 3 {
				v[c] *= 1 + 1.2*math.Exp(-math.Max(0, far)/20)*red[c]
				own := red[c]
				if y > 130 {
					own = orange[c]
				}
				v[c] += big * (own - v[c])
				v[c] += max(small, speck) * (red[c] - v[c])
				v[c] += spot * (pale[c] - v[c])
			}
			e := (0.5 + 0.5*float64(x)/W) * (1 + 0.03*r.NormFloat64())
			e *= 1 + 1.2*math.Exp(-(math.Pow(float64(x)-122, 2)+math.Pow(float64(y)-94, 2))/700) // here the red clips
			for c := range 3 {
				p.Pix[3*(y*W+x)+c] = float32(math.Max(0, math.Min(1, v[c]*e)))
			}
		}
	}
	return p
}

// Near is the depth of the scene: nearer to the right.
func Near() *raster.Mask {
	m := raster.NewMask(W, H)
	for y := range H {
		for x := range W {
			m.Pix[y*W+x] = uint16(raster.Whole * x / W)
		}
	}
	return m
}

// Stored is a mask of the scene: its left third.
func Stored() *raster.Mask {
	m := raster.NewMask(W, H)
	for y := range H {
		for x := range W / 3 {
			m.Pix[y*W+x] = raster.Whole
		}
	}
	return m
}

// Drawing is what the families are of: reds and a blue as fills and strokes, on two boards.
const Drawing = `<svg xmlns="http://www.w3.org/2000/svg" width="200" height="100" viewBox="0 0 200 100">` +
	`<g id="left"><rect width="90" height="90" fill="#c83232"/><circle cx="40" cy="40" r="20" fill="#e07070" stroke="#c83232" stroke-width="4"/></g>` +
	`<svg id="right" x="100" width="100" height="100"><rect width="90" height="90" fill="#c83232"/><rect width="20" height="20" fill="#2244aa"/></svg></svg>`
