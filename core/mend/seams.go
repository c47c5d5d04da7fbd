package mend

import (
	"math"

	"episema/core/mincut"
	"episema/core/raster"
)

// filling is a patch being filled.
type filling struct {
	place   raster.Place
	w, h    int
	light   []float32 // three coded values a pixel
	open    []bool    // is filled
	taken   []bool    // is no example: it is filled, or must go as well
	pixels  []int     // that are filled
	node    []int32   // of each pixel among them; -1: none
	offsets [][2]int
	favour  []float32 // what a pixel costs by each, whatever it makes
	source  []int32   // of each shift, where each pixel that is filled comes from; -1: nowhere
	label   []uint8
}

func newFilling(c *Cover, pic *raster.RGB, place raster.Place, others [][][2]float64) *filling {
	w, h := pic.W, pic.H
	s := &filling{place: place, w: w, h: h, light: make([]float32, 3*w*h), open: make([]bool, w*h), taken: make([]bool, w*h), node: make([]int32, w*h), label: make([]uint8, w*h)}
	for i, v := range pic.Pix {
		s.light[i] = coded(v)
	}
	share := c.share(place, raster.Rect{X1: w, Y1: h})
	for i := range share {
		s.node[i], s.label[i] = -1, noLabel
		for y := max(0, i/w-1); y <= min(h-1, i/w+1); y++ { // what is drawn more finely may reach into the next pixel
			for x := max(0, i%w-1); x <= min(w-1, i%w+1); x++ {
				s.open[i] = s.open[i] || share[y*w+x] > 0
			}
		}
		if s.open[i] {
			s.taken[i], s.node[i] = true, int32(len(s.pixels))
			s.pixels = append(s.pixels, i)
		}
	}
	for _, path := range others {
		for i, v := range raster.FillPath(path, place, w, h) {
			s.taken[i] = s.taken[i] || v > 0
		}
	}
	return s
}

const (
	noExample = 4.0  // what a place costs that would come from nowhere
	rimSeen   = 3    // pixels on the way out of the patch that must go on in it
	seamCosts = 0.01 // what a seam costs that cannot be seen: fewer and larger areas are better
)

// from returns the pixel that a pixel is filled from by a shift; -1 where there is none that could be taken.
func (s *filling) from(i, label int) int {
	o := s.offsets[label]
	x, y := i%s.w+o[0], i/s.w+o[1]
	if x < 0 || y < 0 || x >= s.w || y >= s.h || s.taken[y*s.w+x] {
		return -1
	}
	return y*s.w + x
}

// apart is how far two pixels are apart; where one of them is none, as far as can be.
func (s *filling) apart(a, b int) float32 {
	if a < 0 || b < 0 {
		if a == b {
			return 0
		}
		return noExample / 2
	}
	var d float32
	for k := range 3 {
		e := s.light[3*a+k] - s.light[3*b+k]
		d += e * e
	}
	return float32(math.Sqrt(float64(d)))
}

// seam is what it costs that two neighbours, of the pixels that are filled, are filled by two shifts: what each of the two shifts makes of
// both of them.
func (s *filling) seam(p, q, a, b int) float32 {
	if a == b {
		return 0
	}
	n := len(s.pixels)
	return seamCosts + s.apart(int(s.source[a*n+p]), int(s.source[b*n+p])) + s.apart(int(s.source[a*n+q]), int(s.source[b*n+q]))
}

// alone is what it costs to fill a pixel by a shift, whatever the others are filled by: what is beside the patch goes on in it.
func (s *filling) alone(i, label int) float32 {
	cost := s.favour[label]
	if s.from(i, label) < 0 {
		cost += noExample
	}
	for k, j := range s.beside(i) {
		for range rimSeen {
			if j < 0 || s.open[j] {
				break
			}
			cost += s.apart(s.from(j, label), j)
			j = s.beside(j)[k]
		}
	}
	return cost
}

// beside returns the pixels to the right, below, to the left and above; -1 for none.
func (s *filling) beside(i int) (out [4]int) {
	x, y := i%s.w, i/s.w
	out = [4]int{i + 1, i + s.w, i - 1, i - s.w}
	for k, past := range [4]bool{x+1 == s.w, y+1 == s.h, x == 0, y == 0} {
		if past {
			out[k] = -1
		}
	}
	return out
}

// solve finds which shift each pixel is filled by, by the moves that are called expansions (Boykov, Veksler and Zabih, 2001): for one
// shift after the other, which pixels had better take it. It begins from the labels of start, if there are any; -1 is none.
func (s *filling) solve(start []int, done raster.Done) {
	n, m := len(s.pixels), len(s.offsets)
	alone := make([]float32, n*m)
	s.source = make([]int32, n*m)
	raster.Parallel(m, func(k int) {
		done.Check()
		for p, i := range s.pixels {
			s.source[k*n+p] = int32(s.from(i, k))
			alone[k*n+p] = s.alone(i, k)
		}
	})
	label := make([]int, n)
	for p := range label {
		if start != nil && start[p] >= 0 {
			label[p] = start[p]
			continue
		}
		for k := range m {
			if alone[k*n+p] < alone[label[p]*n+p] {
				label[p] = k
			}
		}
	}
	for range 2 {
		changed := false
		for k := range m {
			done.Check()
			if s.expand(label, alone, k, done) {
				changed = true
			}
		}
		if !changed {
			break
		}
	}
	for p, i := range s.pixels {
		s.label[i] = uint8(label[p])
	}
}

// expand lets one shift spread where all costs less then (Kolmogorov and Zabih, What energy functions can be minimized via graph cuts?,
// 2004). It reports whether anything changed.
func (s *filling) expand(label []int, alone []float32, to int, done raster.Done) bool {
	n := len(label)
	g := mincut.NewGrid(n) // on the near side a pixel keeps what it has
	g.Done = done
	for p, i := range s.pixels {
		g.Term[p] += alone[to*n+p] - alone[label[p]*n+p]
		after := s.beside(i)
		for k, j := range after[:2] {
			if j < 0 || s.node[j] < 0 {
				continue
			}
			q := int(s.node[j])
			keep, second, first := s.seam(p, q, label[p], label[q]), s.seam(p, q, label[p], to), s.seam(p, q, to, label[q])
			g.Term[p] += first - keep
			g.Term[q] -= first
			d := 2 * k // to the right, or down
			g.Next[8*p+d], g.Cap[8*p+d] = int32(q), max(0, second+first-keep)
			g.Next[8*q+d+4] = int32(p)
		}
	}
	g.Solve()
	changed := false
	for p := range label {
		if !g.Near(p) && label[p] != to {
			label[p], changed = to, true
		}
	}
	return changed
}

// mostTaken returns the shift that fills most of the patch.
func (s *filling) mostTaken() int {
	n := make([]int, len(s.offsets))
	for _, i := range s.pixels {
		n[s.label[i]]++
	}
	most := 0
	for k, v := range n {
		if v > n[most] {
			most = k
		}
	}
	return most
}

// finer returns the same filling in a picture twice as large: of the shifts that were taken each and its neighbours are tried there. Where
// things run aslant or in perspective, what is best on one side and on the other differs by little.
func (s *filling) finer(t *filling, done raster.Done) *filling {
	first := make([]int, len(s.offsets)) // where a shift's neighbours begin among those of t; -1: nothing took it
	for k := range first {
		first[k] = -1
	}
	for _, i := range s.pixels {
		k := s.label[i]
		if first[k] >= 0 || len(t.offsets) > noLabel-5 {
			continue
		}
		first[k] = len(t.offsets)
		o := s.offsets[k]
		for _, e := range [5][2]int{{}, {0, 1}, {0, -1}, {1, 0}, {-1, 0}} {
			t.offsets, t.favour = append(t.offsets, [2]int{2*o[0] + e[0], 2*o[1] + e[1]}), append(t.favour, s.favour[k])
		}
	}
	start := make([]int, len(t.pixels))
	for p, i := range t.pixels {
		x, y := t.place.Full(i%t.w, i/t.w)
		u, v := int((x-s.place.X)/s.place.Scale()), int((y-s.place.Y)/s.place.Scale())
		start[p] = -1
		if u >= 0 && v >= 0 && u < s.w && v < s.h && s.label[v*s.w+u] != noLabel {
			start[p] = first[s.label[v*s.w+u]]
		}
	}
	t.solve(start, done)
	return t
}
