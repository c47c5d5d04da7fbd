package recolour

import (
	"math"

	"episema/core/raster"
)

// grain is the fine texture of a part, to be continued where there is none: a square taken from it, as deviations
// from its surroundings in shares of them, at halved sizes.
type grain struct{ levels []grainLevel }

type grainLevel struct {
	n   int
	dev []float32
}

const (
	grainSquare = 64 // side of the square, in pixels of the full size
	grainCell   = 20 // side of the triangles among which squares are blended
)

// grainOf takes the square from the brightest place of the part that lies wholly in it and did not clip. It gives
// nil where the part has no such place.
func grainOf(pic *raster.RGB, mask *raster.Mask, known []bool, scale float64, fine Fine) (*grain, error) {
	half := int(math.Ceil(grainSquare / scale / 2))
	good := raster.SignedDistance(func(i int) bool { return mask.Pix[i] >= sureIn && known[i] }, pic.W, pic.H)
	best, at := float32(0), -1
	for i, d := range good {
		if d < float32(half)*1.25 {
			continue
		}
		if l := luma(pic.Pix[3*i], pic.Pix[3*i+1], pic.Pix[3*i+2]); l > best {
			best, at = l, i
		}
	}
	if at < 0 {
		return nil, nil
	}
	cx, cy := int((float64(at%pic.W)+0.5)*scale), int((float64(at/pic.W)+0.5)*scale)
	const around = 12
	r := raster.Rect{X0: cx - grainSquare/2 - around, Y0: cy - grainSquare/2 - around, X1: cx + grainSquare/2 + around, Y1: cy + grainSquare/2 + around}
	full := raster.Rect{X1: int(float64(pic.W) * scale), Y1: int(float64(pic.H) * scale)}
	if r.And(full) != r {
		return nil, nil
	}
	px, err := fine(r)
	if err != nil {
		return nil, err
	}
	l := make([]float32, px.W*px.H)
	for i := range l {
		l[i] = luma(px.Pix[3*i], px.Pix[3*i+1], px.Pix[3*i+2])
	}
	soft := append([]float32(nil), l...)
	raster.Gauss(soft, px.W, px.H, 5)
	dev := make([]float32, grainSquare*grainSquare)
	for y := range grainSquare {
		for x := range grainSquare {
			i := (y+around)*px.W + x + around
			dev[y*grainSquare+x] = max(-0.5, min(0.5, l[i]/max(soft[i], 1e-4)-1))
		}
	}
	g := &grain{}
	for n := grainSquare; n >= 8; n /= 2 {
		g.levels = append(g.levels, grainLevel{n, dev})
		next := make([]float32, (n/2)*(n/2))
		for y := range n / 2 {
			for x := range n / 2 {
				next[y*(n/2)+x] = (dev[2*y*n+2*x] + dev[2*y*n+2*x+1] + dev[(2*y+1)*n+2*x] + dev[(2*y+1)*n+2*x+1]) / 4
			}
		}
		dev = next
	}
	return g, nil
}

// at gives the deviation at a place of the full size, seen in steps of so many pixels. Squares put at random to the
// corners of a grid of triangles are blended so that the spread stays (Heitz and Neyret, High-performance
// by-example noise using a histogram-preserving blending operator, 2018, for a Gaussian input).
func (g *grain) at(fx, fy, step float64) float32 {
	k := 0
	for k < len(g.levels)-1 && float64(int(2)<<k) <= step*1.0001 {
		k++
	}
	if step > float64(int(2)<<(len(g.levels)-1)) {
		return 0 // too far out to see any
	}
	l := g.levels[k]
	// Skewed coordinates of the triangle grid.
	u, v := fx/grainCell, fy/grainCell
	su, sv := u-v*0.57735027, v*1.15470054
	iu, iv := math.Floor(su), math.Floor(sv)
	a, b := su-iu, sv-iv
	c := 1 - a - b
	var w [3]float64
	var n [3][2]float64
	if c > 0 {
		w, n = [3]float64{c, b, a}, [3][2]float64{{iu, iv}, {iu, iv + 1}, {iu + 1, iv}}
	} else {
		w, n = [3]float64{-c, 1 - b, 1 - a}, [3][2]float64{{iu + 1, iv + 1}, {iu + 1, iv}, {iu, iv + 1}}
	}
	sum, norm := 0.0, 0.0
	for i := range w {
		x0, y0 := (n[i][0]+n[i][1]*0.5)*grainCell, n[i][1]*0.8660254*grainCell
		room := float64(grainSquare - 2*grainCell - 2)
		hx, hy := hash2(int64(n[i][0]), int64(n[i][1]))
		x, y := fx-x0+grainCell+hx*room, fy-y0+grainCell+hy*room
		s := float64(int(1) << k)
		px, py := max(0, min(l.n-1, int(x/s))), max(0, min(l.n-1, int(y/s)))
		sum += w[i] * float64(l.dev[py*l.n+px])
		norm += w[i] * w[i]
	}
	return float32(sum / math.Sqrt(norm))
}

// hash2 gives two numbers in 0..1 for a corner of the grid, always the same.
func hash2(x, y int64) (float64, float64) {
	h := uint64(x)*0x9E3779B97F4A7C15 ^ uint64(y)*0xC2B2AE3D27D4EB4F
	h ^= h >> 29
	h *= 0xBF58476D1CE4E5B9
	h ^= h >> 32
	return float64(h&0xffffff) / 0x1000000, float64(h>>24&0xffffff) / 0x1000000
}
