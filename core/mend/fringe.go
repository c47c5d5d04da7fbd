// Package mend finds and takes away what recolouring leaves behind around a part: fringes of the old colour, its
// cast on the neighbours, and whatever a hand brushes over.
package mend

import (
	"math"
	"slices"
	"sort"

	"episema/core/colour"
	"episema/core/raster"
)

// Fringe is what is left of the old colour around a part's edge, a pixel of a rectangle each.
type Fringe struct {
	W, H   int
	Found  []bool       // the old colour survives here, and it shows
	Share  []float32    // of the pixel that is the old colour
	change [3][]float32 // what becomes of the part's colour just inside
}

const (
	fringeReach  = 3.5  // how far outside the edge the old colour is looked for, in pixels
	fringeIn     = 2.5  // and how far inside
	fringeBody   = 3.5  // how far inside the part is seen as it is
	fringeAway   = 6.5  // and how far outside what surrounds it
	fringeShare  = 0.25 // what of a pixel must be the old colour to count
	fringeMisfit = 12   // a pixel that no mixture explains better is something else altogether
	fringeSure   = 12   // how much better than the mask's a mixture must explain it
	fringeTells  = 6    // and how much of a difference (CIEDE2000) it must make
)

// FringeMargin is how much more than a rectangle FindFringe must see to tell it as the whole would.
const FringeMargin = 24

// FindFringe looks for the old colour of a part around its edge. A pixel of the picture as it came in near the edge
// is a mixture of the part just inside and of what surrounds it just outside, seen along the edge's normal. Where it
// has more of the part than the mask says, that much of the old colour is left. A reflection, a cast or a shadow
// goes on outside and so is part of what surrounds. step is how many full-size pixels one is wide.
func FindFringe(space *colour.Space, before, after *raster.RGB, mask *raster.Mask, step float64) *Fringe {
	w, h := mask.W, mask.H
	k := 1 / max(1, step)
	f := &Fringe{W: w, H: h, Found: make([]bool, w*h), Share: make([]float32, w*h)}
	for c := range 3 {
		f.change[c] = make([]float32, w*h)
	}
	edge := make([][]int, h)
	inward := make([]int32, w*h) // the next pixel inward; -1 where nothing is known
	for i := range inward {
		inward[i] = -1
	}
	deep, far := max(1.5, fringeIn*k), max(1.5, fringeReach*k)
	const beside = 3 // where a direction is read from: two pixels across and down
	d := raster.SignedDistanceWithin(func(i int) bool { return mask.Pix[i] >= raster.Whole/2 }, w, h, max(deep, far)+beside)
	raster.Parallel(h, func(y int) {
		for i := y * w; i < (y+1)*w; i++ {
			if float64(d[i]) > deep || float64(d[i]) < -far {
				continue
			}
			n, ok := normal(d, w, h, i%w, y)
			if !ok {
				continue
			}
			in, ok1 := alongside(mask, n, i%w, y, max(2, fringeBody*k)-float64(d[i]), true)
			out, ok2 := alongside(mask, n, i%w, y, -max(2.5, fringeAway*k)-float64(d[i]), false)
			if !ok1 || !ok2 {
				continue
			}
			body, now, side := in.of(before), in.of(after), out.of(before)
			var px [3]float64
			for c := range 3 {
				px[c] = float64(before.Pix[3*i+c])
			}
			more, light := share(px, body, side, float64(mask.Pix[i])/raster.Whole)
			// What was mended already is changed more than the mask alone would have.
			var done, whole float64
			for c := range 3 {
				v := light * (now[c] - body[c])
				f.change[c][i] = float32(v)
				done, whole = done+v*(float64(after.Pix[3*i+c])-px[c]), whole+v*v
			}
			if done > 0 && whole > 0 {
				more -= max(0, done/whole-float64(mask.Pix[i])/raster.Whole)
			}
			f.Share[i] = float32(max(0, more))
			inward[i] = int32(clamp(y+int(math.Round(n[1])), h)*w + clamp(i%w+int(math.Round(n[0])), w))
			edge[y] = append(edge[y], i)
		}
	})
	// Further in, no pixel has less of the part than further out.
	all := slices.Concat(edge...)
	sort.SliceStable(all, func(a, b int) bool { return d[all[a]] < d[all[b]] })
	for _, i := range all {
		if j := int(inward[i]); inward[j] >= 0 && d[j] > d[i] && f.Share[i] >= fringeShare {
			f.Share[j] = max(f.Share[j], min(1, f.Share[i]+float32(mask.Pix[i])/raster.Whole)-float32(mask.Pix[j])/raster.Whole)
		}
	}
	raster.Parallel(h, func(y int) {
		for _, i := range edge[y] {
			if f.Share[i] < fringeShare {
				continue
			}
			var is, mended colour.RGB
			for c := range 3 {
				is[c] = float64(after.Pix[3*i+c])
				mended[c] = max(0, is[c]+float64(f.Share[i]*f.change[c][i]))
			}
			f.Found[i] = colour.DeltaE00(space.Lab(is), space.Lab(mended)) > fringeTells
		}
	})
	return f
}

func clamp(v, n int) int { return max(0, min(n-1, v)) }

// normal gives the direction straight inward at a pixel near an edge.
func normal(d []float32, w, h, x, y int) (n [2]float64, ok bool) {
	for yy := -2; yy <= 2; yy++ {
		for xx := -2; xx <= 2; xx++ {
			v := float64(d[max(0, min(h-1, y+yy))*w+max(0, min(w-1, x+xx))])
			n[0] += float64(xx) * v
			n[1] += float64(yy) * v
		}
	}
	l := math.Hypot(n[0], n[1])
	if l < 5 { // of 50 for a straight edge: a corner or a thread
		return n, false
	}
	return [2]float64{n[0] / l, n[1] / l}, true
}

// spots are a few pixels of a plane.
type spots []int

// alongside gives pixels around the one so far along the normal that lie wholly in the part, or wholly out of it: at
// once there, or in a wider look.
func alongside(mask *raster.Mask, n [2]float64, x, y int, by float64, inside bool) (spots, bool) {
	cx, cy := int(math.Round(float64(x)+n[0]*by)), int(math.Round(float64(y)+n[1]*by))
	for _, wide := range []int{1, 3} {
		var s spots
		for yy := max(0, cy-wide); yy <= min(mask.H-1, cy+wide); yy++ {
			for xx := max(0, cx-wide); xx <= min(mask.W-1, cx+wide); xx++ {
				i := yy*mask.W + xx
				if inside && mask.Pix[i] >= raster.Whole*98/100 || !inside && mask.Pix[i] == 0 {
					s = append(s, i)
				}
			}
		}
		if len(s) >= 4 {
			return s, true
		}
	}
	return nil, false
}

func (s spots) of(p *raster.RGB) (o [3]float64) {
	for _, i := range s {
		for c := range o {
			o[c] += float64(p.Pix[3*i+c]) / float64(len(s))
		}
	}
	return o
}

// likely weighs how a pixel may have come about: a of it the body, the rest what surrounds, each somewhat lighter or
// darker here than where it was seen (things curve away at their edges; shadows lie beside them). It gives the
// squared misfit of the best such mixture, in units of what grain and texture do with the changes of light weighed,
// and the body's light in it.
func likely(px, body, side [3]float64, a float64) (misfit, light float64) {
	const bodyLight, sideLight, grain, texture = 0.3, 0.12, 0.006, 0.05
	s2 := grain * grain
	for c := range 3 {
		s2 += texture * texture * px[c] * px[c] / 3
	}
	// Least squares over both lights, from 1: two steps of it with the prior are enough of a bend.
	kb, ks := 1.0, 1.0
	var bb, bs, ss float64
	for c := range 3 {
		b, s := a*body[c], (1-a)*side[c]
		bb, bs, ss = bb+b*b, bs+b*s, ss+s*s
	}
	var rb, rs float64
	for c := range 3 {
		e := px[c] - a*body[c] - (1-a)*side[c]
		rb, rs = rb+e*a*body[c], rs+e*(1-a)*side[c]
	}
	m11, m22 := bb+s2/(bodyLight*bodyLight), ss+s2/(sideLight*sideLight)
	det := m11*m22 - bs*bs
	kb += (rb*m22 - rs*bs) / det
	ks += (rs*m11 - rb*bs) / det
	kb, ks = max(0.3, min(2, kb)), max(0.5, min(1.5, ks))
	cost := (kb-1)*(kb-1)/(bodyLight*bodyLight) + (ks-1)*(ks-1)/(sideLight*sideLight)
	for c := range 3 {
		e := px[c] - a*kb*body[c] - (1-a)*ks*side[c]
		cost += e * e / s2
	}
	return cost, kb
}

// share is how much more of a pixel is body than the mask says, 0 where what the mask says explains it, and the
// body's light there.
func share(px, body, side [3]float64, mask float64) (more, light float64) {
	best, at := math.Inf(1), mask
	for n := 0; n <= 10; n++ {
		a := float64(n) / 10
		if l, k := likely(px, body, side, a); l < best {
			best, at, light = l, a, k
		}
	}
	if was, _ := likely(px, body, side, mask); at <= mask || best > fringeMisfit || was-best < fringeSure {
		return 0, 1
	}
	return at - mask, light
}

// Mend recolours what the mask left out: the share of the old colour that was found becomes the new one, as the part
// just inside did. wanted says which pixels to mend (nil: all);
// one that is mended is not mended again.
func (f *Fringe) Mend(dst *raster.RGB, wanted func(x, y int) bool) {
	for i := range f.Found {
		x, y := i%f.W, i/f.W
		s := f.Share[i]
		if s <= 0 || wanted != nil && !wanted(x, y) || !f.near(x, y) {
			continue
		}
		for c := range 3 {
			dst.Pix[3*i+c] = max(0, dst.Pix[3*i+c]+s*f.change[c][i])
		}
		f.Share[i] = 0
	}
}

func (f *Fringe) near(x, y int) bool {
	for yy := max(0, y-1); yy <= min(f.H-1, y+1); yy++ {
		for xx := max(0, x-1); xx <= min(f.W-1, x+1); xx++ {
			if f.Found[yy*f.W+xx] {
				return true
			}
		}
	}
	return false
}
