package isolate

import (
	"math"
	"slices"

	"episema/core/raster"
)

// found is what the Subject pick found, the likeliest first, and how sure it is of each, 0 to 1.
type found struct {
	labels []*Labels
	sure   []float64
}

// SubjectUnsure is the sureness below which the interface says that the subject may be wrong.
const SubjectUnsure = 0.35

// Subject tells how sure the Subject pick is of each of its candidates on a picture, 0 to 1; there may be fewer than
// SubjectCandidates.
func Subject(p Pyramid, in Inputs, solved Solved) (sure []float64, err error) {
	defer raster.Recover(&err)
	f, err := (&compiler{p: p, in: in, solved: solved}).found()
	if err != nil {
		return nil, err
	}
	return f.sure, nil
}

// subject gives one of the candidates; where there are fewer, the last.
func (c *compiler) subject(candidate int) (coverage, error) {
	f, err := c.found()
	if err != nil {
		return nil, err
	}
	return &sweep{l: f.labels[min(candidate, len(f.labels)-1)]}, nil
}

// found looks for the picture's main thing: a cut seeded by what stands out from the borders of the picture, and sets of
// regions that are closed, unlike their surroundings and stand out.
func (c *compiler) found() (*found, error) {
	size := func(f *found) (n int) {
		for _, l := range f.labels {
			n += len(l.In)
		}
		return n
	}
	return once(c, "subjects", c.effort, size, func() (*found, error) {
		level := c.levelBelow(320)
		w, h := c.p.Size(level)
		pic, err := c.p.Linear(level, raster.Rect{X1: w, Y1: h})
		if err != nil {
			return nil, err
		}
		s := saliency(features(pic, doneOf(c.p)))
		doneOf(c.p).Check()
		hi, lo := split(s)
		seedsAt := func(nw, nh, _ int) []uint8 {
			seeds := make([]uint8, nw*nh)
			for y := range nh {
				for x := range nw {
					v := s[min(h-1, y*h/nh)*w+min(w-1, x*w/nw)]
					switch {
					case v >= hi:
						seeds[y*nw+x] = seedIn
					case v <= lo:
						seeds[y*nw+x] = seedOut
					}
				}
			}
			return seeds
		}
		focus, err := c.focusOf(seedsAt)
		if err != nil {
			return nil, err
		}
		base, _, err := c.grow(seedsAt, focus, c.sharpened, c.sharpenedPlain)
		if err != nil {
			return nil, err
		}
		r, err := c.regions()
		if err != nil {
			return nil, err
		}
		stands := make([]float32, len(r.words))
		for i, o := range r.of {
			x, y := i%r.w, i/r.w
			stands[o] += s[min(h-1, y*h/r.h)*w+min(w-1, x*w/r.w)] / r.area[o]
		}
		all := r.things(stands, doneOf(c.p))
		at := base.on(r.w, r.h)
		in := r.mostly(at)
		own := newThing(in, r.objectness(in, stands)+baseSays)
		f := &found{}
		var taken []thing
		for len(f.labels) < SubjectCandidates {
			last := len(all)
			if len(f.labels) == SubjectCandidates-1 && !slices.ContainsFunc(taken, func(o thing) bool { return o.overlap(own) >= sameThing }) {
				last = 0 // the cut in the pixels is always one of them: no set of regions follows smooth things as closely
			}
			next, ok := another(own, all[:last], taken)
			if !ok {
				break
			}
			l, t := base, own
			if next >= 0 {
				t = all[next]
				if l, err = c.edged(r, t.in, nil); err != nil {
					return nil, err
				}
			}
			f.labels = append(f.labels, l)
			f.sure = append(f.sure, sureness(s, w, h, l))
			taken = append(taken, t)
		}
		return f, nil
	})
}

// another returns the likeliest thing that is another one than those taken: the index in all, or -1 for own; ok is false where there is none.
// What it shares with those that were taken counts against it.
func another(own thing, all, taken []thing) (next int, ok bool) {
	best := 0.0
	for k := -1; k < len(all); k++ {
		t := own
		if k >= 0 {
			t = all[k]
		}
		shares := 0.0
		for _, o := range taken {
			shares = max(shares, t.overlap(o))
		}
		if v := t.score - sharing*shares; shares < sameThing && (!ok || v > best) {
			best, next, ok = v, k, true
		}
	}
	return next, ok
}

// mostly gives the regions of which a labelling has the larger half.
func (r *regions) mostly(l []uint8) []bool {
	n := make([]float32, len(r.words))
	for i, o := range r.of {
		n[o] += float32(l[i])
	}
	in := make([]bool, len(n))
	for k := range in {
		in[k] = 2*n[k] > r.area[k]
	}
	return in
}

// split gives the values above which a pixel surely stands out and below which it surely does not, on either
// side of the threshold that parts the values best (Otsu, A threshold selection method from gray-level
// histograms, 1979).
func split(s []float32) (hi, lo float32) {
	var hist [256]float64
	for _, v := range s {
		hist[int(max(0, min(255, v*255)))]++
	}
	var n, sum float64
	for i, c := range hist {
		n += c
		sum += c * float64(i)
	}
	best, at := 0.0, 128
	var n0, s0 float64
	for i, c := range hist {
		n0 += c
		s0 += c * float64(i)
		if n0 == 0 || n0 == n {
			continue
		}
		d := s0/n0 - (sum-s0)/(n-n0)
		if v := n0 * (n - n0) * d * d; v > best {
			best, at = v, i
		}
	}
	t := (float32(at) + 0.5) / 255
	return t + 0.30*(1-t), t * 0.5
}

// saliency says of each pixel how far it is from the borders of the picture: by the minimum barrier distance,
// the least span of values on a way to the border (Strand et al., The minimum barrier distance, 2013; in
// raster scans as in Zhang et al., Minimum barrier salient object detection at 80 fps, 2015), and by how
// unlike the colours of the borders it is (their backgroundness cue).
func saliency(f *planes) []float32 {
	n := f.w * f.h
	total := make([]float32, n)
	parts := make([][]float32, 3)
	raster.Parallel(3, func(c int) { parts[c] = barrier(f, c) })
	for i := range total {
		// Tint counts more than lightness, which shadows change too.
		total[i] = parts[0][i] + 1.6*(parts[1][i]+parts[2][i])
	}
	spread(total)
	unlike := unlikeBorder(f)
	spread(unlike)
	for i := range total {
		total[i] += unlike[i]
	}
	// Things are in one piece: openings and closings would do; a few box means keep it simple.
	for range 2 {
		raster.BoxSum(total, f.w, f.h, 2)
	}
	spread(total)
	for i, v := range total {
		// The middle of a picture is where things are put.
		x, y := (float64(i%f.w)+0.5)/float64(f.w)-0.5, (float64(i/f.w)+0.5)/float64(f.h)-0.5
		total[i] = v * float32(0.6+0.4*math.Exp(-4*(x*x+y*y)))
	}
	spread(total)
	return total
}

// spread brings values to 0..1 by their extremes but for the outermost half percent.
func spread(v []float32) {
	s := slices.Clone(v)
	slices.Sort(s)
	lo, hi := s[len(s)/200], s[len(s)-1-len(s)/200]
	if hi <= lo {
		clear(v)
		return
	}
	for i := range v {
		v[i] = max(0, min(1, (v[i]-lo)/(hi-lo)))
	}
}

func barrier(f *planes, c int) []float32 {
	w, h := f.w, f.h
	at := func(i int) float32 { return f.lab[3*i+c] }
	d, top, low := make([]float32, w*h), make([]float32, w*h), make([]float32, w*h)
	for y := range h {
		for x := range w {
			i := y*w + x
			top[i], low[i] = at(i), at(i)
			if x > 0 && y > 0 && x < w-1 && y < h-1 {
				d[i] = 1e9
			}
		}
	}
	step := func(i, j int) {
		v := at(i)
		hi, lo := max(top[j], v), min(low[j], v)
		if b := hi - lo; b < d[i] {
			d[i], top[i], low[i] = b, hi, lo
		}
	}
	for range 3 {
		for y := range h {
			for x := range w {
				i := y*w + x
				if x > 0 {
					step(i, i-1)
				}
				if y > 0 {
					step(i, i-w)
				}
			}
		}
		for y := h - 1; y >= 0; y-- {
			for x := w - 1; x >= 0; x-- {
				i := y*w + x
				if x < w-1 {
					step(i, i+1)
				}
				if y < h-1 {
					step(i, i+w)
				}
			}
		}
	}
	return d
}

// unlikeBorder is the Mahalanobis distance to the colours along each side of the picture, the largest left
// out: the thing may reach over one side.
func unlikeBorder(f *planes) []float32 {
	w, h := f.w, f.h
	deep := max(2, min(w, h)/12)
	out := make([]float32, w*h)
	all := raster.Rect{X1: w, Y1: h} // a picture may be thinner than its border
	sides := [4]raster.Rect{{X1: w, Y1: deep}, {Y0: h - deep, X1: w, Y1: h}, {X1: deep, Y1: h}, {X0: w - deep, X1: w, Y1: h}}
	for i := range sides {
		sides[i] = sides[i].And(all)
	}
	far := make([][]float32, len(sides))
	raster.Parallel(len(sides), func(s int) {
		r := sides[s]
		var mean [3]float64
		n := 0.0
		each := func(g func(v [3]float64)) {
			for y := r.Y0; y < r.Y1; y++ {
				for x := r.X0; x < r.X1; x++ {
					i := 3 * (y*w + x)
					g([3]float64{float64(f.lab[i]), float64(f.lab[i+1]), float64(f.lab[i+2])})
				}
			}
		}
		each(func(v [3]float64) {
			for c := range 3 {
				mean[c] += v[c]
			}
			n++
		})
		for c := range mean {
			mean[c] /= n
		}
		var v [6]float64
		each(func(p [3]float64) {
			x, y, z := p[0]-mean[0], p[1]-mean[1], p[2]-mean[2]
			for c, q := range [6]float64{x * x, x * y, x * z, y * y, y * z, z * z} {
				v[c] += q / n
			}
		})
		inv, _ := symmetric(v).plus(1e-4).inverse()
		far[s] = make([]float32, w*h)
		for i := range far[s] {
			x, y, z := float64(f.lab[3*i])-mean[0], float64(f.lab[3*i+1])-mean[1], float64(f.lab[3*i+2])-mean[2]
			q := inv[0]*x*x + inv[3]*y*y + inv[5]*z*z + 2*(inv[1]*x*y+inv[2]*x*z+inv[4]*y*z)
			far[s][i] = float32(math.Min(12, math.Sqrt(math.Max(0, q))))
		}
	})
	for i := range out {
		var sum, most float32
		for s := range far {
			sum += far[s][i]
			most = max(most, far[s][i])
		}
		out[i] = sum - most
	}
	return out
}

// sureness weighs how much the thing stands out, and whether it is of a size and place that things have.
func sureness(s []float32, w, h int, l *Labels) float64 {
	var in, out, nIn, nOut, edge float64
	for y := range h {
		for x := range w {
			v := float64(s[y*w+x])
			if l.In[min(l.H-1, y*l.H/h)*l.W+min(l.W-1, x*l.W/w)] == 1 {
				in += v
				nIn++
				if x == 0 || y == 0 || x == w-1 || y == h-1 {
					edge++
				}
			} else {
				out += v
				nOut++
			}
		}
	}
	if nIn == 0 || nOut == 0 {
		return 0
	}
	apart := math.Max(0, math.Min(1, (in/nIn-out/nOut-0.25)/0.4))
	share := nIn / (nIn + nOut)
	size := math.Min(1, share/0.02) * math.Min(1, (1-share)/0.3)
	return apart * size * math.Max(0, 1-edge/float64(w+h))
}
