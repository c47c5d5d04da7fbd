package mend

import (
	"cmp"
	"math"
	"slices"

	"episema/core/raster"
)

// Found is a place that could cover a patch.
type Found struct {
	Shift [2]float64 // as Patch has it, in pixels of the full size
	// Repeats says that the place stands near by and has something in it that will be seen twice.
	Repeats bool
}

// Bounds of the search: how large the picture is at most that is searched, and how many places around and inside are compared.
const (
	searched = 512
	compared = 240
)

// FindCovers looks for places that could cover a patch: their surroundings are like the patch's, but for an even difference, which
// seamless covers lose; inside they hold nothing that stands out from these; and they hold none of what must go. The best come
// first, at most so many, each at another place. pic is the whole picture, scale full-size pixels of it wide.
func FindCovers(pic *raster.RGB, scale float64, p Patch, most int, done raster.Done) []Found {
	for max(pic.W, pic.H) > searched {
		pic, scale = raster.Half(pic), 2*scale
	}
	s := newSearch(pic, scale, p)
	if s == nil {
		return nil
	}
	var out []Found
	var taken []place
	for _, q := range s.places(done) {
		if len(out) == most {
			break
		}
		if slices.ContainsFunc(taken, func(o place) bool { return math.Hypot(float64(o.dx-q.dx), float64(o.dy-q.dy)) < 0.5*float64(s.size) }) {
			continue
		}
		taken = append(taken, q)
		out = append(out, Found{Shift: [2]float64{float64(q.dx) * scale, float64(q.dy) * scale},
			Repeats: math.Hypot(float64(q.dx), float64(q.dy)) < 3*float64(s.size) && standsOut(s.light, s.around, s.within, q.dy*s.w+q.dx)})
	}
	return out
}

// search is a patch in a picture in which covers for it are looked for.
type search struct {
	w, h           int
	inside         []bool // the patch
	box            raster.Rect
	size           int // the longer side of the box
	around, within []int
	light          [][3]float32 // of each pixel, coded
	mean           [3]float32   // of what is around
}

// place is a shift with how badly it would cover.
type place struct {
	dx, dy int
	cost   float64
}

// newSearch returns nil where nothing is in the patch, or nothing around it.
func newSearch(pic *raster.RGB, scale float64, p Patch) *search {
	w, h := pic.W, pic.H
	s := &search{w: w, h: h, inside: make([]bool, w*h), box: raster.Rect{X0: w, Y0: h}}
	for i, v := range raster.FillPath(NewCover(p).path, raster.Place{Step: scale}, w, h) {
		if v > 0 {
			s.inside[i] = true
			x, y := i%w, i/w
			s.box = raster.Rect{X0: min(s.box.X0, x), Y0: min(s.box.Y0, y), X1: max(s.box.X1, x+1), Y1: max(s.box.Y1, y+1)}
		}
	}
	if s.box.Empty() {
		return nil
	}
	s.size = max(s.box.W(), s.box.H())
	s.around, s.within = besides(s.inside, w, h, s.box, s.margin())
	if len(s.around) == 0 {
		return nil
	}
	s.light = make([][3]float32, w*h)
	for i := range s.light {
		s.light[i] = [3]float32{coded(pic.Pix[3*i]), coded(pic.Pix[3*i+1]), coded(pic.Pix[3*i+2])}
	}
	for _, i := range s.around {
		for k := range s.mean {
			s.mean[k] += s.light[i][k] / float32(len(s.around))
		}
	}
	return s
}

// margin is how far around the patch its surroundings go, in pixels.
func (s *search) margin() int { return max(2, s.size/8) }

// places lists where the patch could be covered from, the best first. Every second shift is looked at, those along a row or column among
// them.
func (s *search) places(done raster.Done) []place {
	room := raster.Rect{X0: -s.box.X0 &^ 1, Y0: -s.box.Y0 &^ 1, X1: s.w - s.box.X1 + 1, Y1: s.h - s.box.Y1 + 1}
	rows := make([][]place, (room.H()+1)/2)
	raster.Parallel(len(rows), func(r int) {
		done.Check()
		dy := room.Y0 + 2*r
		for dx := room.X0; dx < room.X1; dx += 2 {
			if !s.fits(dx, dy) {
				continue
			}
			if v := s.cost(dx, dy); !math.IsInf(v, 1) {
				rows[r] = append(rows[r], place{dx, dy, v})
			}
		}
	})
	all := slices.Concat(rows...)
	slices.SortFunc(all, func(a, b place) int { return cmp.Compare(a.cost, b.cost) })
	return all
}

// fits reports whether what is around lies in the picture too, where there is room for it.
func (s *search) fits(dx, dy int) bool {
	b, m := s.box, s.margin()
	return b.X0+dx >= min(m, b.X0) && b.Y0+dy >= min(m, b.Y0) && b.X1+dx <= max(s.w-m, b.X1) && b.Y1+dy <= max(s.h-m, b.Y1)
}

// cost is how badly a place would cover; infinite where it holds some of what must go.
func (s *search) cost(dx, dy int) float64 {
	by := dy*s.w + dx
	for _, i := range s.within {
		if s.inside[i+by] {
			return math.Inf(1)
		}
	}
	var sum, square [3]float64
	for _, i := range s.around {
		for k := range 3 {
			d := float64(s.light[i+by][k] - s.light[i][k])
			sum[k], square[k] = sum[k]+d, square[k]+d*d
		}
	}
	total, n := 0.0, float64(len(s.around))
	for k := range 3 {
		m := sum[k] / n
		total += square[k]/n - m*m + 0.15*m*m
	}
	for _, i := range s.within {
		for k := range 3 {
			d := float64(s.light[i+by][k]-s.mean[k]) - sum[k]/n
			total += 0.5 * d * d / float64(len(s.within))
		}
	}
	return total + 2e-6*math.Hypot(float64(dx), float64(dy))
}

// besides returns pixels just outside of what is inside, and some of those inside, as places in the plane.
func besides(inside []bool, w, h int, box raster.Rect, wide int) (around, within []int) {
	r := box.Grow(wide).And(raster.Rect{X1: w, Y1: h})
	near := make([]float32, r.W()*r.H())
	for y := range r.H() {
		for x := range r.W() {
			if inside[(y+r.Y0)*w+x+r.X0] {
				near[y*r.W()+x] = 1
			}
		}
	}
	raster.BoxSum(near, r.W(), r.H(), wide)
	for y := range r.H() {
		for x := range r.W() {
			i := (y+r.Y0)*w + x + r.X0
			if inside[i] {
				within = append(within, i)
			} else if near[y*r.W()+x] > 0.5 {
				around = append(around, i)
			}
		}
	}
	return evenly(around, compared), evenly(within, compared)
}

// standsOut reports whether something inside a place is unlike what is around it: a twentieth of it differs by more than an eighth of
// the range of lightness from the mean around, and by more than twice what is usual there.
func standsOut(light [][3]float32, around, within []int, by int) bool {
	grey := func(i int) float64 {
		c := light[i+by]
		return 0.3*float64(c[0]) + 0.6*float64(c[1]) + 0.1*float64(c[2])
	}
	mean := 0.0
	for _, i := range around {
		mean += grey(i) / float64(len(around))
	}
	off := func(list []int) float64 {
		d := make([]float64, len(list))
		for k, i := range list {
			d[k] = math.Abs(grey(i) - mean)
		}
		slices.Sort(d)
		return d[len(d)*19/20]
	}
	o := off(within)
	return o > 0.125 && o > 2*off(around)
}
