package isolate

import (
	"cmp"
	"slices"

	"episema/core/raster"
)

// Area is a separate piece of a mask, or a hole in it, at full size.
type Area struct {
	Hole   bool
	Pixels int
	Box    raster.Rect
	At     [2]float64 // a point in it
}

// run is a stretch of a row that belongs to one area.
type run struct {
	y, x0, x1 int32
	area      int32
}

// areaMap is a mask parted into areas: what is picked hangs together over corners, holes over sides.
type areaMap struct {
	runs  []run // by row, then column
	areas []Area
	open  []bool // of a hole: it reaches the picture's frame, so it is none
}

const (
	areaShare = 0.1 // a pixel of less share belongs to no area
	areaStrip = 256 // rows looked at a time
)

// labelAreas goes through a mask in strips of the full size and joins runs of rows (union and find). After each strip it calls between, which
// may be nil.
func labelAreas(w, h int, between func(), render func(level int, r raster.Rect) ([]float32, error)) (*areaMap, error) {
	m := &areaMap{}
	var parent []int32
	find := func(a int32) int32 {
		for parent[a] != a {
			parent[a] = parent[parent[a]]
			a = parent[a]
		}
		return a
	}
	var holes []bool // by run: not picked
	prev := 0        // the first run of the row before
	for y0 := 0; y0 < h; y0 += areaStrip {
		r := raster.Rect{Y0: y0, X1: w, Y1: min(h, y0+areaStrip)}
		strip, err := render(0, r)
		if err != nil {
			return nil, err
		}
		for y := r.Y0; y < r.Y1; y++ {
			row := strip[(y-y0)*w : (y-y0+1)*w]
			first := len(m.runs)
			for x := 0; x < w; {
				in := row[x] >= areaShare
				e := x + 1
				for e < w && (row[e] >= areaShare) == in {
					e++
				}
				n := int32(len(m.runs))
				m.runs = append(m.runs, run{int32(y), int32(x), int32(e), n})
				holes = append(holes, !in)
				parent = append(parent, n)
				x = e
			}
			if y > 0 {
				joinRows(m.runs, holes, prev, first, func(a, b int) {
					if i, j := find(int32(a)), find(int32(b)); i != j {
						parent[max(i, j)] = min(i, j)
					}
				})
			}
			prev = first
		}
		if between != nil {
			between()
		}
	}
	number := make([]int32, len(m.runs))
	for i := range m.runs {
		q := &m.runs[i]
		root := find(int32(i))
		if root == int32(i) {
			number[i] = int32(len(m.areas))
			m.areas = append(m.areas, Area{Hole: holes[i], Box: raster.Rect{X0: w, Y0: h}})
			m.open = append(m.open, false)
		}
		q.area = number[root]
		a := &m.areas[q.area]
		a.Pixels += int(q.x1 - q.x0)
		b := &a.Box
		b.X0, b.Y0, b.X1, b.Y1 = min(b.X0, int(q.x0)), min(b.Y0, int(q.y)), max(b.X1, int(q.x1)), max(b.Y1, int(q.y)+1)
		if q.x0 == 0 || int(q.x1) == w || q.y == 0 || int(q.y) == h-1 {
			m.open[q.area] = true
		}
	}
	// A point of each area: the middle of its longest run.
	longest := make([]int32, len(m.areas))
	for _, q := range m.runs {
		if l := q.x1 - q.x0; l > longest[q.area] {
			longest[q.area] = l
			m.areas[q.area].At = [2]float64{float64(q.x0+q.x1) / 2, float64(q.y) + 0.5}
		}
	}
	return m, nil
}

// joinRows joins runs of two rows: the rows are runs[prev:first] and runs[first:].
func joinRows(runs []run, holes []bool, prev, first int, join func(a, b int)) {
	for a, b := prev, first; a < first && b < len(runs); {
		p, q := &runs[a], &runs[b]
		if holes[a] == holes[b] {
			join(a, b) // the walk is such that they lie over each other
		}
		switch {
		case p.x1 < q.x1:
			a++
		case p.x1 > q.x1:
			b++
		default:
			// Both end here: picked runs of the two rows may meet over the corner.
			if holes[a] != holes[b] && a+1 < first && b+1 < len(runs) {
				if holes[b] {
					join(a, b+1)
				} else {
					join(a+1, b)
				}
			}
			a++
			b++
		}
	}
}

// list gives the separate areas and the holes, largest first; what reaches the frame is no hole.
func (m *areaMap) list() []Area {
	var out []Area
	for i, a := range m.areas {
		if !a.Hole || !m.open[i] {
			out = append(out, a)
		}
	}
	slices.SortStableFunc(out, func(a, b Area) int { return cmp.Compare(b.Pixels, a.Pixels) })
	return out
}

// Areas lists the separate areas of a selection and the holes in them, largest first, at full size. It goes through a large picture in pieces and
// calls between after each, where others may be let go first; nil lets nobody.
func (s *Selection) Areas(between func()) (list []Area, err error) {
	defer raster.Recover(&err)
	if s.Empty() {
		return nil, nil
	}
	w, h := s.pyramid.Size(0)
	m, err := labelAreas(w, h, between, func(level int, r raster.Rect) ([]float32, error) { return s.render(s.pyramid, level, r) })
	if err != nil {
		return nil, err
	}
	return m.list(), nil
}

// areaEdits are runs to drop from a mask and runs to fill in it, by row.
type areaEdits struct{ drop, fill []run }

func (m *areaMap) edits(e *Edge) *areaEdits {
	named := map[int32]bool{}
	mark := func(points [][2]float64, hole bool) {
		for _, p := range points {
			x, y := int32(p[0]), int32(p[1])
			at, ok := slices.BinarySearchFunc(m.runs, [2]int32{y, x}, func(q run, k [2]int32) int {
				if c := cmp.Compare(q.y, k[0]); c != 0 {
					return c
				}
				switch {
				case q.x1 <= k[1]:
					return -1
				case q.x0 > k[1]:
					return 1
				}
				return 0
			})
			if ok && m.areas[m.runs[at].area].Hole == hole {
				named[m.runs[at].area] = true
			}
		}
	}
	mark(e.DropAt, false)
	mark(e.FillAt, true)
	o := &areaEdits{}
	for _, q := range m.runs {
		a := &m.areas[q.area]
		switch {
		case a.Hole && !m.open[q.area] && (named[q.area] || float64(a.Pixels) < e.FillHolesUnder):
			o.fill = append(o.fill, q)
		case !a.Hole && (named[q.area] || float64(a.Pixels) < e.DropSpecksUnder):
			o.drop = append(o.drop, q)
		}
	}
	return o
}

// apply drops and fills in a rectangle of a level.
func (o *areaEdits) apply(m []float32, level int, r raster.Rect) {
	if d := cover(o.drop, level, r); d != nil {
		for i, v := range d {
			m[i] = max(0, m[i]-v)
		}
	}
	if f := cover(o.fill, level, r); f != nil {
		for i, v := range f {
			m[i] = max(m[i], min(1, m[i]+v))
		}
	}
}

// cover gives how much of each pixel the runs take; at full size each a pixel wider: its faint rim goes with it.
func cover(runs []run, level int, r raster.Rect) []float32 {
	wider := int32(0)
	if level == 0 {
		wider = 1
	}
	y0, y1 := int32(r.Y0<<level)-wider, int32(r.Y1<<level)+wider
	at, _ := slices.BinarySearchFunc(runs, y0, func(q run, y int32) int { return cmp.Compare(q.y, y) })
	if at == len(runs) || runs[at].y >= y1 {
		return nil
	}
	out := make([]float32, r.W()*r.H())
	n := int32(1) << level
	part := 1 / float32(n*n)
	for _, q := range runs[at:] {
		if q.y >= y1 {
			break
		}
		for y := q.y - wider; y <= q.y+wider; y++ {
			py := y>>level - int32(r.Y0)
			if py < 0 || int(py) >= r.H() {
				continue
			}
			for x := max(q.x0-wider, int32(r.X0)<<level); x < min(q.x1+wider, int32(r.X1)<<level); x++ {
				i := int(py)*r.W() + int(x>>level) - r.X0
				if level == 0 {
					out[i] = 1
				} else {
					out[i] = min(1, out[i]+part)
				}
			}
		}
	}
	return out
}
