package proof

import (
	"math"
	"sort"

	"episema/core/colour"
	"episema/core/develop"
	"episema/core/mend"
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

const leftLeast = 20 // pixels of the smallest place

// OldColourLeft looks for the old colour of a part around its edge in a rendered rectangle that covers the
// whole level; see mend.FindFringe.
func OldColourLeft(space *colour.Space, r *develop.Rendered, part int, scale int) Left {
	m := r.Masks[part]
	if m == nil {
		return Left{}
	}
	return gather(mend.FindFringe(space, r.Before, r.After, m, 1).Found, m.W, m.H, scale)
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
func DetailKept(r *develop.Rendered, part int) float64 {
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
	const deep = 5 // pixels from the edge on
	inner := raster.SignedDistanceWithin(func(i int) bool { return m.Pix[i] >= raster.Whole*98/100 }, m.W, m.H, deep)
	var n, sa, sb, saa, sbb, sab float64
	for i, d := range inner {
		if d < deep {
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
func sharpest(d *develop.Developed) int {
	for l := range d.Levels() {
		if w, h := d.Size(l); w*h <= 8_000_000 {
			return l
		}
	}
	return d.Levels() - 1
}

// Close is what looking at a part at (nearly) full size tells.
type Close struct {
	Left   Left
	Detail float64 // correlation of fine luminance before and after
	Specks []Place // separate areas and holes of the mask too small to be meant, largest first
}

const speck = 60 // pixels: what is smaller is no part of anything

// Closely looks at a part: what of the old colour is left, how much detail is kept, and what specks its mask has. It calls between as
// isolate.Selection.Areas does.
func Closely(d *develop.Developed, part int, between func()) (c Close, err error) {
	defer raster.Recover(&err)
	level := sharpest(d)
	w, h := d.Size(level)
	r, err := d.Ground().Render(level, raster.Rect{X1: w, Y1: h})
	if err != nil {
		return Close{}, err
	}
	d.Done.Check()
	c = Close{Left: OldColourLeft(d.Space, r, part, 1<<level)}
	d.Done.Check()
	c.Detail = DetailKept(r, part)
	areas, err := d.Parts[part].Selection.Until(d.Done).Areas(between)
	if err != nil {
		return c, err
	}
	for k, a := range areas {
		if a.Pixels < speck && k > 0 {
			c.Specks = append(c.Specks, Place{int(a.At[0]), int(a.At[1]), a.Pixels})
		}
	}
	return c, nil
}
