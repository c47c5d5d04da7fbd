package proof

import (
	"math"
	"sort"

	"episema/core/colour"
	"episema/core/document"
	"episema/core/raster"
)

// Left is where the old colour survives in or around a part's edge.
type Left struct {
	Pixels int
	Places []Place // largest first
}

// Place is one spot of it.
type Place struct {
	X, Y   int // its middle, in pixels of the full size
	Pixels int
}

const (
	leftReach = 3    // how far around the edge the old colour is looked for, in pixels of the level
	leftLook  = 11   // how far around a pixel the colours of the part and of what surrounds it are gathered
	leftShare = 0.25 // what of a pixel must be the old colour to count
	leftTells = 8    // and how much of a difference (CIEDE2000) it must make
	leftLeast = 10   // pixels of the smallest place
)

// OldColourLeft looks for the old colour of a part around its edge in a rendered rectangle that covers the
// whole level. Each pixel of the result near the edge is explained as a mixture of three colours from its
// neighbourhood: the part's new one, its old one and the surroundings'; what only the old one explains counts.
func OldColourLeft(space *colour.Space, r *document.Rendered, part int, scale int) Left {
	m := r.Masks[part]
	if m == nil {
		return Left{}
	}
	w, h := m.W, m.H
	d := raster.SignedDistance(func(i int) bool { return m.Pix[i] >= raster.Whole/2 }, w, h)
	sums := make([][]float32, 12) // old, new and surroundings: three channels and a count each
	for i := range sums {
		sums[i] = make([]float32, w*h)
	}
	for i := range d {
		switch {
		case m.Pix[i] >= raster.Whole*98/100 && d[i] > 1.5:
			for c := range 3 {
				sums[c][i], sums[4+c][i] = r.Before.Pix[3*i+c], r.After.Pix[3*i+c]
			}
			sums[3][i], sums[7][i] = 1, 1
		case m.Pix[i] == 0 && d[i] < -leftReach:
			for c := range 3 {
				sums[8+c][i] = r.Before.Pix[3*i+c]
			}
			sums[11][i] = 1
		}
	}
	raster.Parallel(len(sums), func(k int) { raster.BoxSum(sums[k], w, h, leftLook) })
	found := make([]bool, w*h)
	raster.Parallel(h, func(y int) {
		for i := y * w; i < (y+1)*w; i++ {
			if d[i] > 2.5 || d[i] < -leftReach || sums[3][i] < 8 || sums[11][i] < 8 {
				continue
			}
			var old, now, around, px [3]float64
			for c := range 3 {
				old[c] = float64(sums[c][i] / sums[3][i])
				now[c] = float64(sums[4+c][i] / sums[7][i])
				around[c] = float64(sums[8+c][i] / sums[11][i])
				px[c] = float64(r.After.Pix[3*i+c])
			}
			s := oldShare(px, old, now, around)
			if s < leftShare {
				continue
			}
			var without colour.RGB
			for c := range 3 {
				without[c] = px[c] - s*(old[c]-around[c])
			}
			found[i] = colour.DeltaE00(space.Lab(px), space.Lab(without)) > leftTells
		}
	})
	return gather(found, w, h, scale)
}

// oldShare solves px = around + a (now - around) + s (old - around) for shares that are not below none.
func oldShare(px, old, now, around [3]float64) float64 {
	var uu, uv, vv, pu, pv float64
	for c := range 3 {
		u, v, p := now[c]-around[c], old[c]-around[c], px[c]-around[c]
		uu, uv, vv, pu, pv = uu+u*u, uv+u*v, vv+v*v, pu+p*u, pv+p*v
	}
	if vv < 1e-5 {
		return 0
	}
	det := uu*vv - uv*uv
	if det < 0.02*uu*vv { // new and surroundings are on one line with the old: only it is told
		return math.Max(0, math.Min(1, pv/vv))
	}
	a, s := (pu*vv-pv*uv)/det, (pv*uu-pu*uv)/det
	if a < 0 {
		s = pv / vv
	}
	var rest float64
	for c := range 3 {
		u, v, p := now[c]-around[c], old[c]-around[c], px[c]-around[c]
		e := p - math.Max(0, a)*u - s*v
		rest += e * e
	}
	if rest > 0.25*s*s*vv {
		return 0 // something else altogether
	}
	return math.Max(0, math.Min(1, s))
}

// gather joins what was found into places.
func gather(found []bool, w, h, scale int) Left {
	var l Left
	seen := make([]bool, w*h)
	var stack []int
	for start := range found {
		if !found[start] || seen[start] {
			continue
		}
		stack = append(stack[:0], start)
		seen[start] = true
		n, sx, sy := 0, 0, 0
		for len(stack) > 0 {
			i := stack[len(stack)-1]
			stack = stack[:len(stack)-1]
			x, y := i%w, i/w
			n, sx, sy = n+1, sx+x, sy+y
			for yy := max(0, y-2); yy <= min(h-1, y+2); yy++ {
				for xx := max(0, x-2); xx <= min(w-1, x+2); xx++ {
					if j := yy*w + xx; found[j] && !seen[j] {
						seen[j] = true
						stack = append(stack, j)
					}
				}
			}
		}
		if n < leftLeast {
			continue
		}
		l.Pixels += n * scale * scale
		l.Places = append(l.Places, Place{(sx/n)*scale + scale/2, (sy/n)*scale + scale/2, n * scale * scale})
	}
	sort.Slice(l.Places, func(a, b int) bool { return l.Places[a].Pixels > l.Places[b].Pixels })
	return l
}

// DetailKept is the correlation of fine luminance before and after over the pixels that lie wholly in a part: 1
// where its texture is all there. 1 too where it has none.
func DetailKept(r *document.Rendered, part int) float64 {
	m := r.Masks[part]
	if m == nil {
		return 1
	}
	fine := func(p *raster.RGB) []float32 {
		l := make([]float32, p.W*p.H)
		for i := range l {
			l[i] = float32(math.Cbrt(float64(0.2126*p.Pix[3*i] + 0.7152*p.Pix[3*i+1] + 0.0722*p.Pix[3*i+2])))
		}
		soft := append([]float32(nil), l...)
		raster.Gauss(soft, p.W, p.H, 2)
		for i := range l {
			l[i] -= soft[i]
		}
		return l
	}
	a, b := fine(r.Before), fine(r.After)
	inner := raster.SignedDistance(func(i int) bool { return m.Pix[i] >= raster.Whole*98/100 }, m.W, m.H)
	var n, sa, sb, saa, sbb, sab float64
	for i, d := range inner {
		if d < 5 {
			continue
		}
		x, y := float64(a[i]), float64(b[i])
		n, sa, sb, saa, sbb, sab = n+1, sa+x, sb+y, saa+x*x, sbb+y*y, sab+x*y
	}
	va, vb := saa-sa*sa/math.Max(n, 1), sbb-sb*sb/math.Max(n, 1)
	if n == 0 || va < 1e-12 || vb < 1e-12 {
		return 1
	}
	return (sab - sa*sb/n) / math.Sqrt(va*vb)
}

// sharpest is the level at which old colour and detail are looked for: the finest of at most eight megapixels.
func sharpest(d *document.Developed) int {
	for l := range d.Levels() {
		if w, h := d.Size(l); w*h <= 8_000_000 {
			return l
		}
	}
	return d.Levels() - 1
}

// Closely looks at a part at (nearly) full size: what of the old colour is left, and how much detail is kept.
func Closely(d *document.Developed, part int) (Left, float64, error) {
	level := sharpest(d)
	w, h := d.Size(level)
	r, err := d.Render(level, raster.Rect{X1: w, Y1: h})
	if err != nil {
		return Left{}, 0, err
	}
	return OldColourLeft(d.Space, r, part, 1<<level), DetailKept(r, part), nil
}
