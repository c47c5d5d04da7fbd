package develop

import (
	"episema/core/colour"
	"episema/core/copies"
	"episema/core/document"
	"episema/core/mend"
	"episema/core/raster"
	"episema/core/recolour"
)

// mends brushes over what is left and takes the old colour out of edges, in the order of the document. Zoomed out it does what
// is seen of it at full size, as far as a level shows it.
type mends struct {
	d      *Developed
	before Developed // what the steps before it have left: patches take their covers from there
	list   []mending
}

// mending is a mend with all it needs.
type mending struct {
	document.Mend
	part    int           // index of the part whose edge it is; -1 for none
	samples []*colour.RGB // a stroke each; nil where it takes its colour from beside it
	cover   *mend.Cover   // of a patch
}

func readyMends(d *Developed, doc document.Picture) (step, error) {
	s := &mends{d: d, before: *d} // what a stroke samples is what the steps before have left
	before := &s.before
	outlines := outlinesOf(doc)
	for i, m := range doc.Mends {
		if m.Off {
			continue
		}
		q := mending{Mend: m, part: -1}
		for k := range d.Parts {
			if d.Parts[k].ID == m.Part {
				q.part = k
			}
		}
		for _, stroke := range m.Strokes {
			var c *colour.RGB
			if stroke.Sample != nil {
				var err error
				if c, err = before.colourAt(stroke.Sample[0], stroke.Sample[1], paintedAs(doc, nil)); err != nil {
					return nil, err
				}
			}
			q.samples = append(q.samples, c)
		}
		if m.Patch != nil {
			q.cover = mend.NewCover(*m.Patch)
			if m.Patch.Fill > 0 {
				f, err := d.filling(q.cover, i, outlines)
				if err != nil {
					return nil, err
				}
				if f == nil { // nothing could be an example
					d.Unfilled = append(d.Unfilled, i)
					continue
				}
				q.cover = q.cover.Filled(f)
			} else if q.cover.Move().Still() {
				continue
			}
			if m.Patch.Seamless && m.Patch.Fill == 0 {
				seen, err := before.seenBy(q.cover)
				if err != nil {
					return nil, err
				}
				v, err := before.memo.Do(keyOf("patch", m.Patch, d.claimed, paintedAs(doc, seen)), func(done raster.Done) (any, error) { return before.fit(q.cover, done) })
				if err != nil {
					return nil, err
				}
				q.cover = v.(*mend.Cover)
			}
		}
		s.list = append(s.list, q)
	}
	if len(s.list) == 0 {
		return nil, nil
	}
	return s, nil
}

// paintedAs is all that the look of the parts follows from, beside their masks; of those that seen says, or of all.
func paintedAs(doc document.Picture, seen []bool) any {
	type painted struct {
		ID, Own  string
		Hidden   bool
		Target   document.Target
		Match    *[2]float64
		Settings recolour.Settings
		Cast     *mend.Cast
		Pattern  *document.Pattern
		Copy     *copies.Copy
	}
	var all []any
	if doc.Grey != nil {
		all = append(all, doc.Grey)
	}
	for i, p := range doc.Parts {
		if seen != nil && !seen[i] {
			continue
		}
		all = append(all, painted{p.ID, p.Own, p.Hidden, p.Target, p.Match, p.Settings, p.Cast, p.Pattern, p.Copy})
	}
	return all
}

// colourAt returns the mean colour of 5 x 5 full-size pixels around a point.
func (d *Developed) colourAt(x, y float64, painted any) (*colour.RGB, error) {
	v, err := d.memo.Do(keyOf("colour at", x, y, d.claimed, painted), func(done raster.Done) (any, error) {
		w, h := d.Size(0)
		cx, cy := clampInt(int(x), w), clampInt(int(y), h)
		bare := *d
		bare.Done = done
		r, err := bare.Render(0, raster.Rect{X0: cx - 2, Y0: cy - 2, X1: cx + 3, Y1: cy + 3}.And(raster.Rect{X1: w, Y1: h}))
		if err != nil {
			return nil, err
		}
		var c colour.RGB
		n := float64(r.After.W * r.After.H)
		for i, v := range r.After.Pix {
			c[i%3] += float64(v) / n
		}
		return &c, nil
	})
	if err != nil {
		return nil, err
	}
	return v.(*colour.RGB), nil
}

func (s *mends) margin(step float64) int {
	m := 0
	for i := range s.list {
		if s.list[i].Kind == "edge" {
			m = max(m, mend.FringeMargin)
		}
		for _, stroke := range s.list[i].Strokes {
			m = max(m, stroke.Margin(step))
		}
	}
	return m
}

func (s *mends) apply(c *canvas, area raster.Rect) {
	seen := area.Grow(s.margin(c.place.Scale())).And(c.whole()) // by mends that look around
	fringes := map[int]*mend.Fringe{}
	for _, m := range s.list {
		if m.Kind == "edge" {
			s.edge(c, m, fringes)
			continue
		}
		if m.Kind == "patch" {
			s.patch(c, seen, m.cover)
			continue
		}
		for k, stroke := range m.Strokes {
			stroke.Apply(c.After, c.parts(), c.place, m.samples[k])
		}
	}
}

// edge takes the old colour out around a part, within the mend's box if it has one. fringes remembers what was found for a part.
func (s *mends) edge(c *canvas, m mending, fringes map[int]*mend.Fringe) {
	if m.part < 0 || c.Masks[m.part] == nil || s.d.Parts[m.part].Plan == nil {
		return
	}
	f := fringes[m.part]
	if f == nil {
		f = mend.FindFringe(s.d.Space, c.Before, c.After, c.Masks[m.part], c.place.Scale())
		fringes[m.part] = f
	}
	var wanted func(x, y int) bool
	if b := m.Box; b != nil {
		wanted = func(x, y int) bool {
			fx, fy := c.place.Full(x, y)
			return fx >= b[0] && fy >= b[1] && fx < b[2] && fy < b[3]
		}
	}
	f.Mend(c.After, wanted)
}
