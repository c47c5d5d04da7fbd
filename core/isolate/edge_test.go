package isolate

import (
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/require"

	"episema/core/raster"
)

// spots draws labels of a few random discs, some of them across the edge of the picture, and the picture of those discs in two noisy colours.
func spots(r *rand.Rand, level, w, h int) (*sweep, *flat) {
	scale := 1 << level
	lw, lh := (w+scale-1)/scale, (h+scale-1)/scale
	l := &Labels{Level: level, W: lw, H: lh, In: make([]uint8, lw*lh)}
	p := raster.NewRGB(w, h)
	for range 1 + r.Intn(4) {
		cx, cy, radius := r.Float64()*float64(w), r.Float64()*float64(h), 2+r.Float64()*60
		for y := range lh {
			for x := range lw {
				if math.Hypot((float64(x)+0.5)*float64(scale)-cx, (float64(y)+0.5)*float64(scale)-cy) < radius {
					l.In[y*lw+x] = 1
				}
			}
		}
	}
	for y := range h {
		for x := range w {
			v := 0.1 + 0.5*float32(l.In[y/scale*lw+x/scale])
			for c := range 3 {
				p.Pix[3*(y*w+x)+c] = v*float32(1+c)/2 + 0.02*r.Float32()
			}
		}
	}
	return &sweep{l: l}, newPyramid(p)
}

// However a picture is cut into rectangles, each pixel has the share that it has in the whole.
func TestAnEdgeIsTheSameInEachRectangle(t *testing.T) {
	r := rand.New(rand.NewSource(12))
	for range 60 {
		w, h := 150+r.Intn(120), 130+r.Intn(120)
		s, p := spots(r, r.Intn(4), w, h)
		s.rough = r.Intn(5) == 0
		all := raster.Rect{X1: w, Y1: h}
		whole, err := s.refine(p, 0, all)
		require.NoError(t, err)
		for range 12 {
			x, y := r.Intn(w), r.Intn(h)
			q := raster.Rect{X0: x, Y0: y, X1: x + 1 + r.Intn(90), Y1: y + 1 + r.Intn(90)}.And(all)
			part, err := s.refine(p, 0, q)
			require.NoError(t, err)
			for i, v := range raster.Crop(whole, 1, all, q) {
				require.InDelta(t, v, part[i], 2e-4, "labels of level %d, %v of %d x %d, pixel %d", s.l.Level, q, w, h, i)
			}
		}
	}
}
