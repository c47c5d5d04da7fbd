package recolour

import (
	"math"
	"runtime"
	"sync/atomic"
	"unsafe"

	"episema/core/raster"
)

// table holds what a plan makes of colours, for hands that move: what a pixel becomes follows from its colour and, on some
// bodies, from the light around it, and both are read off between a few that were worked out. Of a picture's colours a part
// has few, so that a place of the table is worked out when a pixel first asks for it.
type table struct {
	bend  float32                         // colours up to about its square get half of the nodes
	slabs [tableSide]atomic.Pointer[slab] // a value of blue each: one side of the cube lies idle mostly
	light *lightField                     // around a place, as places between the levels; nil where it does not matter and the first level is all there is
}

// slab holds the nodes of a value of blue: those of red and of green, and the lights of each together.
type slab [tableSide * tableSide * tableLights]node

// node is what one colour in one light becomes, as the square roots of linear light.
type node struct {
	state atomic.Uint32
	is    [3]float32
}

const (
	nodeMissing = iota
	nodeBegun
	nodeReady
	nodePair // and the same colour in the next light is ready, too

	tableSide   = 41 // nodes a channel, over the square root of its linear light: there Repaint is nearly a straight line
	tableLights = 11 // nodes over the light around a place,
	lightLeast  = 0.02
	lightMost   = 2.5 // evenly between the logarithms of these two
)

// QuickBytes is what applying a quick plan takes at most, besides what it is applied to.
const QuickBytes = tableSide * int64(unsafe.Sizeof(slab{}))

// quickFrom is from how many pixels on a table pays.
const quickFrom = 20_000

// Quick returns a plan that is applied in less than half of the time, and within what an eye sees while a hand moves: the plan itself
// where a pixel's place says more than the light there, as on dark glossy bodies, on which all is steep.
func (p *Plan) Quick() *Plan {
	if p == nil || p.rebuilt != nil || p.codedRims || p.body != nil {
		return p
	}
	q := *p
	q.quick = true
	return &q
}

// withTable returns the plan with a table to read from. It is let go once the plan was applied: documents have many parts.
func (p *Plan) withTable() *Plan {
	t := &table{bend: 4}
	if o := max(p.own[0], p.own[1], p.own[2]); o > 0 && p.other == nil {
		t.bend = float32(math.Sqrt(float64(o)))
	}
	if p.large != nil {
		at := *p.large
		at.light = make([]float32, len(p.large.light))
		for i, v := range p.large.light {
			at.light[i] = float32(max(0, min(tableLights-1.0001, math.Log(float64(max(v, 1e-6))/lightLeast)/math.Log(lightMost/lightLeast)*(tableLights-1))))
		}
		t.light = &at
	}
	q := *p
	q.table = t
	return &q
}

// slab returns the nodes of a value of blue.
func (t *table) slab(k int) *slab {
	if s := t.slabs[k].Load(); s != nil {
		return s
	}
	t.slabs[k].CompareAndSwap(nil, new(slab))
	return t.slabs[k].Load()
}

// make works a node and that in the next light out, where that was not done yet.
func (t *table) make(p *Plan, n *[2]node, blue, at int) {
	t.makeOne(p, &n[0], blue, at)
	if t.light != nil {
		t.makeOne(p, &n[1], blue, at+1)
	}
	n[0].state.Store(nodePair)
}

func (t *table) makeOne(p *Plan, n *node, blue, at int) {
	if !n.state.CompareAndSwap(nodeMissing, nodeBegun) {
		for n.state.Load() < nodeReady {
			runtime.Gosched() // another core is at it
		}
		return
	}
	level, red, green := at%tableLights, at/tableLights%tableSide, at/tableLights/tableSide
	v := func(k int) float32 {
		u := float32(k) / (tableSide - 1)
		s := t.bend * u / (1 + t.bend - u)
		return s * s
	}
	var s run
	s.add(v(red), v(green), v(blue))
	if t.light != nil {
		s.light[0] = float32(lightLeast * math.Pow(lightMost/lightLeast, float64(level)/(tableLights-1)))
	}
	s.paint(p)
	r, g, b := s.o.at(0)
	for k, v := range [3]float32{r, g, b} {
		n.is[k] = float32(math.Copysign(math.Sqrt(math.Abs(float64(v))), float64(v)))
	}
	n.state.CompareAndSwap(nodeBegun, nodeReady)
}

// of returns what a colour becomes at a place between the levels of light. It reads between the corners of a cell: those of the
// tetrahedron, of the six that share its grey diagonal, in which the colour lies (Kasson, Plouffe and Nin, 1993), so that greys stay grey.
func (t *table) of(p *Plan, r, g, b, place float32) (float32, float32, float32) {
	const n, dx, dy = tableSide - 1, tableLights, tableLights * tableSide
	u, v, w := t.bent(r)*n, t.bent(g)*n, t.bent(b)*n
	i, j, k, l := min(n-1, int(u)), min(n-1, int(v)), min(n-1, int(w)), int(place)
	u, v, w, place = u-float32(i), v-float32(j), w-float32(k), place-float32(l)
	near, far := t.slab(k), t.slab(k+1)
	at := j*dy + i*dx + l
	var s1, s2 *slab       // where the corners between the near one and the far one are
	var at1, at2 int       // and at which places there
	var k0, k1, k2 float32 // the fractions, the largest first
	switch {
	case u >= v && v >= w:
		s1, at1, s2, at2, k0, k1, k2 = near, dx, near, dx+dy, u, v, w
	case u >= w && w >= v:
		s1, at1, s2, at2, k0, k1, k2 = near, dx, far, dx, u, w, v
	case w >= u && u >= v:
		s1, at1, s2, at2, k0, k1, k2 = far, 0, far, dx, w, u, v
	case v >= u && u >= w:
		s1, at1, s2, at2, k0, k1, k2 = near, dy, near, dx+dy, v, u, w
	case v >= w && w >= u:
		s1, at1, s2, at2, k0, k1, k2 = near, dy, far, dy, v, w, u
	default:
		s1, at1, s2, at2, k0, k1, k2 = far, 0, far, dy, w, v, u
	}
	n0, n1, n2, n3 := (*[2]node)(near[at:]), (*[2]node)(s1[at+at1:]), (*[2]node)(s2[at+at2:]), (*[2]node)(far[at+dx+dy:])
	if n0[0].state.Load()&n1[0].state.Load()&n2[0].state.Load()&n3[0].state.Load() != nodePair {
		blue := func(s *slab) int {
			if s == near {
				return k
			}
			return k + 1
		}
		t.make(p, n0, k, at)
		t.make(p, n1, blue(s1), at+at1)
		t.make(p, n2, blue(s2), at+at2)
		t.make(p, n3, k+1, at+dx+dy)
	}
	k0, k1, k2 = 1-k0, k0-k1, k1-k2
	k3 := 1 - k0 - k1 - k2
	var o [3]float32
	for c := range o {
		o[c] = k0*n0[0].is[c] + k1*n1[0].is[c] + k2*n2[0].is[c] + k3*n3[0].is[c]
	}
	if t.light != nil {
		for c := range o {
			o[c] += place * (k0*n0[1].is[c] + k1*n1[1].is[c] + k2*n2[1].is[c] + k3*n3[1].is[c] - o[c])
		}
	}
	return square(o[0]), square(o[1]), square(o[2])
}

// square undoes the square root, which goes on below nothing as it does above.
func square(v float32) float32 { return v * float32(math.Abs(float64(v))) }

// bent returns where a channel lies on the table's side, 0..1.
func (t *table) bent(v float32) float32 {
	if v <= 0 {
		return 0
	}
	if v >= 1 {
		return 1
	}
	s := float32(math.Sqrt(float64(v)))
	return s * (1 + t.bend) / (s + t.bend)
}

// lightStep is over how many pixels the light around a place is read off in one go.
const lightStep = 8

// lights is the light along a piece of a row, as places between the levels.
type lights [block/lightStep + 1]float32

// along reads the light of a row of a block.
func (t *table) along(l *lights, place raster.Place, x0, y int) {
	if t.light == nil {
		return
	}
	for i := range l {
		fx, fy := place.Full(x0+i*lightStep, y)
		l[i] = raster.Sample(t.light.light, t.light.w, t.light.h, fx/t.light.cell-0.5, fy/t.light.cell-0.5)
	}
}

func (l *lights) at(dx int) float32 {
	i := dx / lightStep
	return l[i] + float32(dx%lightStep)*(1.0/lightStep)*(l[i+1]-l[i])
}
