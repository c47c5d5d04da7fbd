package isolate

import (
	"math"
	"sync"

	"episema/core/colour"
	"episema/core/mincut"
	"episema/core/raster"
)

// models are the colours of the part and of the rest, with the log-likelihood ratio of each bin.
type models struct {
	in, out mixture
	focus   *focusMap // nil where focus says nothing
	done    raster.Done
}

const (
	farColour  = 14.0 // squared Mahalanobis distance past which a colour is taken for the rest at first
	nearness   = 9.0  // weight of which strokes are nearer, against maxPull
	bandColour = 0.5  // weight of colour where the edge is only placed more finely
	maxPull    = 9.0  // bound of a pixel's colour term, so that one odd pixel cannot outvote its edge
	outside    = -4.6 // log density (up to a constant) of a colour no model has seen
)

// learn makes the first models: the part's from the inside strokes, the rest's from the outside strokes,
// from colours far from the part's, and from the frame of the picture.
func learn(f *planes, seeds []uint8, done raster.Done) *models {
	m := &models{done: done}
	wIn, wOut := make([]float64, len(f.bins)), make([]float64, len(f.bins))
	for i, s := range seeds {
		switch s {
		case seedIn:
			wIn[f.bin[i]]++
		case seedOut:
			wOut[f.bin[i]] += 20
		}
	}
	m.in = fit(f.bins, wIn)
	for b := range f.bins {
		if m.in != nil && m.in.nearest(f.bins[b].v) > farColour {
			wOut[b] += f.bins[b].n
		}
	}
	for x := 0; x < f.w; x++ {
		for _, y := range []int{0, f.h - 1} {
			if seeds[y*f.w+x] != seedIn {
				wOut[f.bin[y*f.w+x]] += 2
			}
		}
	}
	for y := 0; y < f.h; y++ {
		for _, x := range []int{0, f.w - 1} {
			if seeds[y*f.w+x] != seedIn {
				wOut[f.bin[y*f.w+x]] += 2
			}
		}
	}
	m.out = fit(f.bins, wOut)
	return m
}

// pulls gives each bin's log-likelihood ratio: positive towards the part.
func (m *models) pulls(f *planes) []float32 {
	p := make([]float32, len(f.bins))
	for b := range f.bins {
		in, out := outside, outside
		if m.in != nil {
			in = math.Max(in, m.in.log(f.bins[b].v))
		}
		if m.out != nil {
			out = math.Max(out, m.out.log(f.bins[b].v))
		}
		p[b] = float32(math.Max(-maxPull, math.Min(maxPull, in-out)))
	}
	return p
}

const (
	strangeShare = 0.02 // of what a model was learned from: what is less likely to it than this share is strange to it
	strangePull  = 1.0  // a strange colour that may be mixed pulls no more than this
	mixedBy      = 0.05 // how far from the line between two colours their mixture may lie, of how far they lie apart
	mixedTint    = 0.12 // by how much the tints of the two differ, as tolerant has them
	mixedEnds    = 0.08 // nearer to either end, as a share of the line, it is that colour and no mixture
)

// mixed reports whether a colour (as tolerant has it) lies, in light, between one of the thing's colours and one of the rest's.
func (m *models) mixed(v [3]float64) bool {
	light := func(v [3]float64) [3]float64 {
		k := v[0] + 0.12 // see tolerant
		return [3]float64(colour.Oklab{v[0], v[1] * k, v[2] * k}.XYZ())
	}
	c := light(v)
	for _, i := range m.in {
		f := light(i.mean)
		for _, o := range m.out {
			if math.Hypot(i.mean[1]-o.mean[1], i.mean[2]-o.mean[2]) < mixedTint {
				continue // between light and dark of one tint lies its shade
			}
			b := light(o.mean)
			t, long := raster.Unmix(&c, &b, &f)
			if t < mixedEnds || t > 1-mixedEnds {
				continue
			}
			off := raster.Unexplained(&c, &b, &f, t)
			if off < mixedBy*mixedBy*long {
				return true
			}
		}
	}
	return false
}

// doubt weakens the pulls of colours that are strange to the model which they speak for: what is mixed of both is far from either,
// and how far says nothing of its share. wIn and wOut are what the models were learned from, by bin.
func (m *models) doubt(f *planes, pulls []float32, wIn, wOut []float64) {
	least := func(g mixture, w []float64) float64 {
		if g == nil {
			return math.Inf(1)
		}
		logs := make([]float64, len(w))
		for b, v := range w {
			if v > 0 {
				logs[b] = g.log(f.bins[b].v)
			}
		}
		return quantile(logs, w, strangeShare)
	}
	in, out := least(m.in, wIn), least(m.out, wOut)
	for b, v := range pulls {
		strange := v > strangePull && m.in.log(f.bins[b].v) < in || v < -strangePull && m.out.log(f.bins[b].v) < out
		if strange && m.mixed(f.bins[b].v) {
			pulls[b] = max(-strangePull, min(strangePull, v))
		}
	}
}

// dirX and dirY are the steps of mincut.Directions.
var dirX = [8]int{1, 1, 0, -1, -1, -1, 0, 1}
var dirY = [8]int{0, 1, 1, 1, 0, -1, -1, -1}

// links holds, for each pixel and the first four directions, how little it differs from its neighbour there:
// exp(-beta times the squared difference). Made once: cuts and ways ask for them over and over.
type links struct {
	of    [4][]float32
	once  sync.Once
	steps [][4]float32 // what ways cost over them
}

func (f *planes) links(done raster.Done) *links {
	f.linking.Lock()
	defer f.linking.Unlock()
	if f.link == nil {
		beta := f.beta()
		l := &links{}
		for d := range l.of {
			l.of[d] = make([]float32, f.w*f.h)
		}
		done.Parallel(f.h, func(y int) {
			for x := range f.w {
				for d := range l.of {
					xx, yy := x+dirX[d], y+dirY[d]
					if xx >= 0 && yy >= 0 && xx < f.w && yy < f.h {
						i := y*f.w + x
						l.of[d][i] = fall(beta * f.diff2(i, yy*f.w+xx))
					}
				}
			}
		})
		f.link = l
	}
	return f.link
}

// fallen holds exp(-x) at each 256th.
var fallen = func() (t [32*256 + 2]float32) {
	for i := range t {
		t[i] = float32(math.Exp(-float64(i) / 256))
	}
	return t
}()

// fall returns exp(-x) for x of 0 and above, within two millionths: there are four for each pixel, and math.Exp took most of their time.
func fall(x float64) float32 {
	if x >= 32 {
		return 0
	}
	x *= 256
	i := int(x)
	return fallen[i] + float32(x-float64(i))*(fallen[i+1]-fallen[i])
}

// at gives the link of pixel i in any of the eight directions; j is the neighbour there.
func (l *links) at(i, j, d int) float32 {
	if d < 4 {
		return l.of[d][i]
	}
	return l.of[d-4][j]
}

// beta scales colour differences of neighbours by their mean, as Rother et al. do.
func (f *planes) beta() float64 {
	sum, n := 0.0, 0.0
	for y := 0; y < f.h; y++ {
		for x := 0; x < f.w-1; x++ {
			sum += f.diff2(y*f.w+x, y*f.w+x+1)
			n++
		}
	}
	for y := 0; y < f.h-1; y++ {
		for x := 0; x < f.w; x++ {
			sum += f.diff2(y*f.w+x, (y+1)*f.w+x)
			n++
		}
	}
	if sum == 0 {
		return 0
	}
	return 1 / (2 * sum / n)
}

// diff2 is how much neighbours differ, squared; where the planes are sharpened, by the sharpest step between
// them.
func (f *planes) diff2(i, j int) float64 {
	if f.stepX != nil {
		if j < i {
			i, j = j, i
		}
		x, y := f.stepX, f.stepY
		switch j - i {
		case 1:
			return float64(x[i])
		case f.w:
			return float64(y[i])
		case f.w + 1:
			return float64(max(x[i]+y[i+1], y[i]+x[j-1])) / 2
		default: // to the left and down
			return float64(max(x[i-1]+y[i-1], y[i]+x[j])) / 2
		}
	}
	return f.plain2(i, j)
}

func (f *planes) plain2(i, j int) float64 {
	dl, da, db := f.lab[3*i]-f.lab[3*j], f.lab[3*i+1]-f.lab[3*j+1], f.lab[3*i+2]-f.lab[3*j+2]
	// Tint tells things apart where lightness may be a mere shadow.
	return float64(dl*dl + 2.5*(da*da+db*db))
}

// cutWhole alternates cutting and learning over the whole coarse level, and keeps what the strokes reach.
func (m *models) cutWhole(f *planes, seeds []uint8, rounds, scans int) []uint8 {
	n := f.w * f.h
	all := make([]int32, n)
	nodes := make([]int32, n)
	for i := range all {
		all[i], nodes[i] = int32(i), int32(i)
	}
	var labels []uint8
	reach := m.reach(f, seeds, scans)
	for round := range rounds {
		m.done.Check()
		labels = m.solve(f, seeds, all, nodes, nil, reach)
		labels = keepReached(labels, seeds, f.w, f.h)
		if round < rounds-1 {
			m.relearn(f, labels)
		}
	}
	fillHoles(f, m, labels, seeds)
	return labels
}

// relearn refits both models to a labelling. Of holes that are given nothing is learned.
func (m *models) relearn(f *planes, labels []uint8, but ...*hole) {
	wIn, wOut := make([]float64, len(f.bins)), make([]float64, len(f.bins))
	for i, l := range labels {
		if l == 1 {
			wIn[f.bin[i]]++
		} else {
			wOut[f.bin[i]]++
		}
	}
	for _, q := range but {
		for _, i := range q.pixels {
			wOut[f.bin[i]]--
		}
	}
	if in := fit(f.bins, wIn); in != nil {
		m.in = in
	}
	if out := fit(f.bins, wOut); out != nil {
		m.out = out
	}
}

// cutBand cuts again, at twice the size, in the pixels within reach of the coarse edge.
func (m *models) cutBand(f *planes, seeds, labels []uint8, reach int) []uint8 {
	return keepReached(m.cutBandOpen(f, seeds, labels, reach), seeds, f.w, f.h)
}

// cutBandOpen is cutBand that keeps areas no stroke touches.
func (m *models) cutBandOpen(f *planes, seeds, labels []uint8, reach int) []uint8 {
	band := nearEdge(labels, f.w, f.h, reach)
	nodes := make([]int32, f.w*f.h)
	var all []int32
	for i := range nodes {
		nodes[i] = -1
		if band[i] {
			nodes[i] = int32(len(all))
			all = append(all, int32(i))
		}
	}
	if len(all) == 0 {
		return labels
	}
	return m.solve(f, seeds, all, nodes, labels, nil)
}

// nearEdge marks the pixels within reach (a square) of a change of label.
func nearEdge(l []uint8, w, h, reach int) []bool {
	edge := make([]bool, w*h)
	mark := func(x, y int) {
		for yy := max(0, y-reach); yy <= min(h-1, y+reach); yy++ {
			for xx := max(0, x-reach); xx <= min(w-1, x+reach); xx++ {
				edge[yy*w+xx] = true
			}
		}
	}
	for y := 0; y < h; y++ {
		for x := 0; x < w; x++ {
			i := y*w + x
			if x+1 < w && l[i] != l[i+1] || y+1 < h && l[i] != l[i+w] {
				mark(x, y)
			}
		}
	}
	return edge
}

// solve builds and cuts the network over the pixels in all; pixels outside it keep the labels of fixed.
func (m *models) solve(f *planes, seeds []uint8, all, nodes []int32, fixed []uint8, reach []float32) []uint8 {
	link := f.links(m.done)
	m.done.Check()
	pull := m.pulls(f)
	g := mincut.NewGrid(len(all))
	g.Done = m.done
	const hard = 1e4
	for n, i := range all {
		x, y := int(i)%f.w, int(i)/f.w
		switch seeds[i] {
		case seedIn:
			g.Term[n] = hard
		case seedOut:
			g.Term[n] = -hard
		default:
			if reach != nil {
				g.Term[n] = pull[f.bin[i]] + nearness*reach[i]
			} else {
				g.Term[n] = bandColour * pull[f.bin[i]]
			}
			if m.focus != nil {
				by := float32(focusPull)
				if reach == nil {
					by *= bandColour
				}
				g.Term[n] += by * m.focus.at(x, y, f.w, f.h)
			}
		}
		for d, by := range mincut.Directions {
			xx, yy := x+by[0], y+by[1]
			if xx < 0 || yy < 0 || xx >= f.w || yy >= f.h {
				continue
			}
			j := yy*f.w + xx
			w := contrast * link.at(int(i), j, d)
			if d&1 == 1 {
				w *= math.Sqrt2 / 2
			}
			w = w/8 + 0.15
			if k := nodes[j]; k >= 0 {
				g.Next[8*n+d] = k
				g.Cap[8*n+d] = w
			} else if fixed != nil {
				if fixed[j] == 1 {
					g.Term[n] += w
				} else {
					g.Term[n] -= w
				}
			}
		}
	}
	g.Solve()
	labels := make([]uint8, f.w*f.h)
	copy(labels, fixed)
	for n, i := range all {
		labels[i] = 0
		if g.Near(n) {
			labels[i] = 1
		}
	}
	return labels
}

// keepReached drops areas that no inside stroke touches.
func keepReached(labels, seeds []uint8, w, h int) []uint8 {
	o := make([]uint8, len(labels))
	var stack []int
	for i, s := range seeds {
		if s == seedIn && labels[i] == 1 && o[i] == 0 {
			o[i] = 1
			stack = append(stack, i)
		}
	}
	for len(stack) > 0 {
		i := stack[len(stack)-1]
		stack = stack[:len(stack)-1]
		x, y := i%w, i/w
		for d := 0; d < 8; d += 2 {
			xx, yy := x+dirX[d], y+dirY[d]
			if xx < 0 || yy < 0 || xx >= w || yy >= h {
				continue
			}
			if j := yy*w + xx; labels[j] == 1 && o[j] == 0 {
				o[j] = 1
				stack = append(stack, j)
			}
		}
	}
	return o
}

// fillHoles closes enclosed areas that are specks or the light's reflection on the part: brighter than
// what surrounds them and not tinted otherwise. A hole that looks like the rest (inside a handle) stays.
func fillHoles(f *planes, m *models, labels, seeds []uint8) {
	seen := make([]bool, len(labels))
	area := 0
	for _, l := range labels {
		area += int(l)
	}
	var bright []*hole
	for start := range labels {
		if labels[start] == 1 || seen[start] {
			continue
		}
		q := f.holeAt(start, labels, seeds, seen)
		n := float64(len(q.pixels))
		switch {
		case q.open || q.rim == 0:
		case n <= math.Max(4, 0.0006*float64(area)):
			q.fill(labels)
		case q.bright() && n < 0.08*float64(area):
			bright = append(bright, q)
		}
	}
	if len(bright) == 0 {
		return
	}
	// What the holes themselves look like says nothing of the rest: a glint would be taken for it by its own colour.
	rest := &models{in: m.in, out: m.out, done: m.done}
	rest.relearn(f, labels, bright...)
	pull := rest.pulls(f)
	for _, q := range bright {
		sum := 0.0
		for _, i := range q.pixels {
			sum += float64(pull[f.bin[i]])
		}
		if sum/float64(len(q.pixels)) > glintPull*maxPull {
			q.fill(labels)
		}
	}
}

// hole is an area of what is not labelled, with sums over it and over the labelled pixels beside it.
type hole struct {
	pixels        []int
	open          bool // it reaches the frame, or what was marked as outside
	light         float64
	rimLight, rim float64
}

// glintPull is how much of the most colours may say against a glint being the thing's.
const glintPull = -0.6

// bright reports whether it is so much lighter than what is beside it as a glint is.
func (q *hole) bright() bool { return q.light/float64(len(q.pixels)) > q.rimLight/q.rim+0.06 }

func (q *hole) fill(labels []uint8) {
	for _, i := range q.pixels {
		labels[i] = 1
	}
}

// holeAt gathers the area around a pixel, and marks it as seen.
func (f *planes) holeAt(start int, labels, seeds []uint8, seen []bool) *hole {
	q := &hole{pixels: []int{start}}
	seen[start] = true
	for k := 0; k < len(q.pixels); k++ {
		i := q.pixels[k]
		x, y := i%f.w, i/f.w
		if x == 0 || y == 0 || x == f.w-1 || y == f.h-1 || seeds[i] == seedOut {
			q.open = true
		}
		q.light += float64(f.lab[3*i])
		for d := 0; d < 8; d += 2 {
			xx, yy := x+dirX[d], y+dirY[d]
			if xx < 0 || yy < 0 || xx >= f.w || yy >= f.h {
				continue
			}
			j := yy*f.w + xx
			if labels[j] == 1 {
				q.rimLight += float64(f.lab[3*j])
				q.rim++
			} else if !seen[j] {
				seen[j] = true
				q.pixels = append(q.pixels, j)
			}
		}
	}
	return q
}
