package isolate

import (
	"container/heap"
	"math"
	"slices"

	"episema/core/mincut"
	"episema/core/raster"
)

// answers are what strokes may mean, each inside the next: the petal, the flower, the bunch.
type answers struct {
	labels [][]bool  // by region
	bias   []float64 // of the cut, in shares of the most
}

const (
	wayWeight   = 1.5  // of which strokes are nearer on a way over few boundaries
	alikeWeight = 1.4  // of which strokes a region is more alike
	partWeight  = 12.0 // of a boundary's length, against the square root of the regions' size
	openness    = 9.0  // how steeply a boundary gets cheaper to part with its strength
	biasSteps   = 12   // answers are looked for with so many biases on each side,
	biasMost    = 1.6  // up to this
)

// answersOf solves strokes over the regions, with ever more in favour of the part: a parametric cut, whose answers are
// nested (Gallo, Grigoriadis and Tarjan, A fast parametric maximum flow algorithm, 1989).
func (r *regions) answersOf(seeds []uint8, done raster.Done) *answers {
	n := len(r.words)
	isIn, isOut := r.seeded(seeds)
	next := r.neighbours()
	pull := r.pulls(isIn, isOut, next)
	size := float32(len(r.of)) / float32(n)
	const steps = 2*biasSteps + 1
	var solved [steps][]bool
	costs := r.costs(partWeight)
	done.Parallel(steps, func(i int) {
		bias := biasMost * float32(i-biasSteps) / biasSteps
		g := r.linked(costs)
		for k := range n {
			switch {
			case isIn[k]:
				g.Term[k] = 1e4
			case isOut[k]:
				g.Term[k] = -1e4
			default:
				g.Term[k] = (pull[k] + bias) * r.area[k] / size
			}
		}
		solved[i] = r.touched(g.Solve(), isIn, next)
	})
	o := &answers{}
	for i, l := range solved {
		if len(o.labels) > 0 && slices.Equal(l, o.labels[len(o.labels)-1]) {
			continue
		}
		o.labels = append(o.labels, l)
		o.bias = append(o.bias, float64(i-biasSteps)/biasSteps)
	}
	return o
}

// costs says of each boundary what it costs to part the two neighbours: the less, the stronger and the shorter it is.
func (r *regions) costs(weight float32) []float32 {
	size := float32(math.Sqrt(float64(float32(len(r.of)) / float32(len(r.words)))))
	o := make([]float32, len(r.near))
	for k, b := range r.near {
		o[k] = weight * (float32(math.Exp(-float64(b.strength)*openness)) + 0.02) * b.length / size
	}
	return o
}

// linked gives a network over the regions with what it costs to part neighbours.
func (r *regions) linked(costs []float32) *mincut.Graph {
	g := mincut.New(len(r.words))
	for k, b := range r.near {
		g.Link(b.a, b.b, costs[k])
	}
	return g
}

// seeded tells which regions the strokes are mostly in, inside and outside.
func (r *regions) seeded(seeds []uint8) (isIn, isOut []bool) {
	n := len(r.words)
	area := [3][]float32{nil, make([]float32, n), make([]float32, n)}
	for i, s := range seeds {
		if s != unknown {
			area[s][r.of[i]]++
		}
	}
	isIn, isOut = make([]bool, n), make([]bool, n)
	for k := range n {
		isIn[k] = area[seedIn][k] > area[seedOut][k]
		isOut[k] = area[seedOut][k] > area[seedIn][k]
	}
	return isIn, isOut
}

// pulls says of each region how much speaks for the part: which strokes are nearer, and which it is more alike.
func (r *regions) pulls(isIn, isOut []bool, next [][]int32) []float32 {
	// Of what is marked nothing more is asked.
	known := make([]bool, len(isIn))
	for k := range known {
		known[k] = isIn[k] || isOut[k]
	}
	wayIn, likeIn := r.ways(isIn, next), r.alike(isIn, known)
	// What nobody marked as outside: the frame where it is unlike and far, and what is least alike.
	marked := slices.Contains(isOut, true)
	far := slices.Clone(isOut)
	for k := range far {
		if !isIn[k] && (r.atRim[k] > 0 && likeIn[k] > 0.45 && wayIn[k] > 0.25 || !marked && likeIn[k] > 0.85) {
			far[k] = true
		}
	}
	wayOut, likeOut := r.ways(far, next), r.alike(far, known)
	focus := r.focusSaid(isIn, isOut)
	pull := make([]float32, len(far))
	for k := range pull {
		way := (wayOut[k] - wayIn[k]) / (wayOut[k] + wayIn[k] + 0.05)
		alike := (likeOut[k] - likeIn[k]) / (likeOut[k] + likeIn[k] + 0.1)
		pull[k] = wayWeight*way + alikeWeight*alike
		if focus != nil {
			pull[k] += focusWeight * focus[k]
		}
	}
	return pull
}

// neighbours lists the borders of each region.
func (r *regions) neighbours() [][]int32 {
	next := make([][]int32, len(r.words))
	for k, b := range r.near {
		next[b.a] = append(next[b.a], int32(k))
		next[b.b] = append(next[b.b], int32(k))
	}
	return next
}

func (b border) other(k int32) int32 { return b.a + b.b - k }

// touched drops what no stroke reaches.
func (r *regions) touched(in, seeds []bool, next [][]int32) []bool {
	out := make([]bool, len(in))
	var stack []int32
	for k, s := range seeds {
		if s && in[k] {
			out[k] = true
			stack = append(stack, int32(k))
		}
	}
	for len(stack) > 0 {
		k := stack[len(stack)-1]
		stack = stack[:len(stack)-1]
		for _, e := range next[k] {
			if j := r.near[e].other(k); in[j] && !out[j] {
				out[j] = true
				stack = append(stack, j)
			}
		}
	}
	return out
}

// ways is each region's distance to the nearest start, over as few boundaries as can be (Dijkstra).
func (r *regions) ways(start []bool, next [][]int32) []float32 {
	d := make([]float32, len(r.words))
	h := &wayHeap{}
	for k := range d {
		d[k] = never
		if start[k] {
			d[k] = 0
			h.at = append(h.at, way{0, int32(k)})
		}
	}
	for h.Len() > 0 {
		w := heap.Pop(h).(way)
		if w.d > d[w.to] {
			continue
		}
		for _, e := range next[w.to] {
			b := r.near[e]
			s := b.strength
			j := b.other(w.to)
			if v := w.d + s*s + 0.003; v < d[j] {
				d[j] = v
				heap.Push(h, way{v, j})
			}
		}
	}
	for k := range d {
		d[k] = min(d[k], 10)
	}
	return d
}

type way struct {
	d  float32
	to int32
}

type wayHeap struct{ at []way }

func (h *wayHeap) Len() int           { return len(h.at) }
func (h *wayHeap) Less(i, j int) bool { return h.at[i].d < h.at[j].d }
func (h *wayHeap) Swap(i, j int)      { h.at[i], h.at[j] = h.at[j], h.at[i] }
func (h *wayHeap) Push(v any)         { h.at = append(h.at, v.(way)) }
func (h *wayHeap) Pop() any {
	v := h.at[len(h.at)-1]
	h.at = h.at[:len(h.at)-1]
	return v
}

// alike is how unlike each region's mixture is to the most alike of the marked ones, the mean of the nearest three; 1
// where nothing is marked. It is not worked out for those that are known.
func (r *regions) alike(marked, known []bool) []float32 {
	var to []int
	for k, m := range marked {
		if m {
			to = append(to, k)
		}
	}
	out := make([]float32, len(r.words))
	raster.Parallel(len(out), func(k int) {
		best := [3]float32{1, 1, 1}
		if known[k] {
			return
		}
		for _, t := range to {
			d := unlike(r.words[k], r.words[t])
			for i := range best {
				if d < best[i] {
					d, best[i] = best[i], d
				}
			}
		}
		switch {
		case len(to) == 0:
			out[k] = 1
		case len(to) < 3:
			out[k] = best[0]
		default:
			out[k] = (best[0] + best[1] + best[2]) / 3
		}
	})
	return out
}

// pixels spreads an answer over the pixels.
func (r *regions) pixels(in []bool) []uint8 {
	o := make([]uint8, len(r.of))
	for i, k := range r.of {
		if in[k] {
			o[i] = 1
		}
	}
	return o
}

// on gives labels at another size.
func (l *Labels) on(w, h int) []uint8 {
	o := make([]uint8, w*h)
	for y := range h {
		for x := range w {
			o[y*w+x] = l.In[min(l.H-1, (2*y+1)*l.H/(2*h))*l.W+min(l.W-1, (2*x+1)*l.W/(2*w))]
		}
	}
	return o
}

// along is how strong the edges are, on average, that the border of a labelling follows within two pixels.
func (r *regions) along(l []uint8) float64 {
	var sum, n float64
	for y := 1; y < r.h; y++ {
		for x := 1; x < r.w; x++ {
			i := y*r.w + x
			if l[i] == l[i-1] && l[i] == l[i-r.w] {
				continue
			}
			e := float32(0)
			for yy := max(0, y-2); yy <= min(r.h-1, y+2); yy++ {
				for xx := max(0, x-2); xx <= min(r.w-1, x+2); xx++ {
					e = max(e, r.edge[yy*r.w+xx])
				}
			}
			sum += float64(e)
			n++
		}
	}
	return sum / max(n, 1)
}

// contrastOf is how unlike the mixtures on both sides of a labelling's border are, region by region.
func (r *regions) contrastOf(l []uint8) float64 {
	in := make([]float32, len(r.words))
	for i, o := range r.of {
		in[o] += float32(l[i])
	}
	var sum, n float64
	for _, b := range r.near {
		ia, ib := in[b.a]/r.area[b.a], in[b.b]/r.area[b.b]
		if (ia > 0.5) != (ib > 0.5) {
			sum += float64(b.length * unlike(r.words[b.a], r.words[b.b]))
			n += float64(b.length)
		}
	}
	return sum / max(n, 1)
}
