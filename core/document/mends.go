package document

import (
	"encoding/json"
	"fmt"
	"math"

	"episema/core/colour"
	"episema/core/mend"
	"episema/core/raster"
	"episema/core/recolour"
)

// Mend is something mended on the result: a stroke of the mending brush, or the old colour taken out around a part's
// edge. Mends apply in order, after all parts.
type Mend struct {
	Kind    string        `json:"kind"` // brush or edge
	Off     bool          `json:"off,omitempty"`
	Part    string        `json:"part,omitempty"` // of edge: whose old colour
	Box     *[4]float64   `json:"box,omitempty"`  // of edge: x0, y0, x1, y1 of the full size; nil: the whole edge
	Strokes []mend.Stroke `json:"strokes,omitempty"`
}

// MaxMends bounds the mends of a picture.
const MaxMends = 2000

func (p *Picture) validateMends() error {
	if len(p.Mends) > MaxMends {
		return &Error{"document", fmt.Sprintf("it has over %d mends", MaxMends)}
	}
	ids := map[string]bool{}
	for i := range p.Parts {
		ids[p.Parts[i].ID] = true
	}
	for i, m := range p.Mends {
		where := fmt.Sprintf("mend %d", i+1)
		switch m.Kind {
		case "brush":
			for _, s := range m.Strokes {
				if err := s.Validate(); err != nil {
					return &Error{where, err.Error()}
				}
			}
		case "edge":
			switch {
			case !ids[m.Part]:
				return &Error{where, "it mends a part that is not in this picture; take it out"}
			case len(m.Strokes) > 0:
				return &Error{where, "it mends an edge and has strokes; make a mend of the kind brush for these"}
			}
			if m.Box != nil {
				for _, v := range m.Box {
					if !(v >= -1e6 && v <= 1e6) {
						return &Error{where, "its box is not made of numbers within a million"}
					}
				}
			}
		default:
			return &Error{where, fmt.Sprintf("the kind %q is not known; use brush or edge", m.Kind)}
		}
	}
	return nil
}

// mending is a mend with all it needs.
type mending struct {
	Mend
	part    int
	samples []*colour.RGB // a stroke each
}

// prepareMends finds the colours that strokes sampled: what the place has become.
func (d *Developed) prepareMends(doc Picture) error {
	for _, m := range doc.Mends {
		if m.Off {
			continue
		}
		q := mending{Mend: m, part: -1}
		for i := range d.Parts {
			if d.Parts[i].ID == m.Part {
				q.part = i
			}
		}
		for _, s := range m.Strokes {
			var c *colour.RGB
			if s.Sample != nil {
				var err error
				if c, err = d.colourAt(s.Sample[0], s.Sample[1]); err != nil {
					return err
				}
			}
			q.samples = append(q.samples, c)
		}
		d.mends = append(d.mends, q)
	}
	return nil
}

// colourAt gives the mean colour of 5 x 5 full-size pixels after all parts are painted.
func (d *Developed) colourAt(x, y float64) (*colour.RGB, error) {
	key := fmt.Sprintf("colour at %g %g %s", x, y, d.painted)
	v, err := d.memo.Do(key, func(done raster.Done) (any, error) {
		w, h := d.Size(0)
		cx, cy := clampInt(int(x), w), clampInt(int(y), h)
		bare := *d
		bare.mends, bare.Done = nil, done
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

// paintedKey tells what all parts are painted to be.
func paintedKey(doc Picture) string {
	type painted struct {
		ID, Own string
		Hidden  bool
		Target  Target
		Match   *[2]float64
		S       recolour.Settings
		Cast    *mend.Cast
	}
	var all []painted
	for _, p := range doc.Parts {
		all = append(all, painted{p.ID, p.Own, p.Hidden, p.Target, p.Match, p.Settings, p.Cast})
	}
	b, _ := json.Marshal(all) // plain numbers and strings: it cannot fail
	return string(b)
}

// Margin is how much more than a rectangle must be read on each side to render it as the whole would be, in pixels
// that are step full-size pixels wide.
func (d *Developed) Margin(step float64) int {
	m := 0
	for i := range d.mends {
		if d.mends[i].Kind == "edge" {
			m = max(m, mend.FringeMargin)
		}
		for _, s := range d.mends[i].Strokes {
			m = max(m, s.Margin(step))
		}
	}
	return m + recolour.Margin
}

// touches says whether casts or mends change anything at all.
func (d *Developed) touches() bool {
	for i := range d.Parts {
		if d.Parts[i].cast != nil {
			return true
		}
	}
	return len(d.mends) > 0
}

// afterwards turns casts and mends what the parts' painting left, and tells which pixels that changed.
func (d *Developed) afterwards(pic, after *raster.RGB, masks []*raster.Mask, place raster.Place, inner raster.Rect) []bool {
	if !d.touches() {
		return nil
	}
	was := append([]float32(nil), after.Pix...)
	all := union(masks)
	for i := range d.Parts {
		if p := &d.Parts[i]; p.cast != nil {
			p.cast.Turn(after, all, place, raster.Rect{X1: pic.W, Y1: pic.H}, p.Cast, d.Space.Linear(p.Want))
		}
	}
	fringes := map[int]*mend.Fringe{}
	for _, m := range d.mends {
		if m.Kind == "edge" {
			if m.part < 0 || masks[m.part] == nil || d.Parts[m.part].Plan == nil {
				continue
			}
			f := fringes[m.part]
			if f == nil {
				f = mend.FindFringe(d.Space, pic, after, masks[m.part], place.Scale())
				fringes[m.part] = f
			}
			var wanted func(x, y int) bool
			if b := m.Box; b != nil {
				wanted = func(x, y int) bool {
					fx, fy := place.Full(x, y)
					return fx >= b[0] && fy >= b[1] && fx < b[2] && fy < b[3]
				}
			}
			f.Mend(after, wanted)
		}
		for k, s := range m.Strokes {
			s.Apply(after, all, place, m.samples[k])
		}
	}
	meant := make([]bool, pic.W*pic.H)
	for i := range meant {
		meant[i] = was[3*i] != after.Pix[3*i] || was[3*i+1] != after.Pix[3*i+1] || was[3*i+2] != after.Pix[3*i+2]
	}
	gamut(d.Space, after, meant)
	return meant
}

// gamut brings what was changed back into what the picture's space holds.
func gamut(space *colour.Space, p *raster.RGB, where []bool) {
	for i, w := range where {
		q := p.Pix[3*i : 3*i+3]
		if w && (q[0] < 0 || q[1] < 0 || q[2] < 0 || q[0] > 1 || q[1] > 1 || q[2] > 1) {
			c := space.MapToGamut(colour.RGB{float64(q[0]), float64(q[1]), float64(q[2])})
			for k := range q {
				q[k] = float32(c[k])
			}
		}
	}
}

// union gives the share that all masks have of each pixel together; nil for none.
func union(masks []*raster.Mask) *raster.Mask {
	var all *raster.Mask
	for _, m := range masks {
		if m == nil {
			continue
		}
		if all == nil {
			all = &raster.Mask{W: m.W, H: m.H, Pix: append([]uint16(nil), m.Pix...)}
			continue
		}
		for i, v := range m.Pix {
			all.Pix[i] = uint16(min(raster.Whole, uint32(all.Pix[i])+uint32(v)))
		}
	}
	return all
}

// findCast looks for the part's tint on its neighbours, at the learning level.
func (d *Developed) findCast(p *DevelopedPart, own colour.RGB) error {
	pic, err := d.learningPicture(d.memo)
	if err != nil {
		return err
	}
	masks := make([]*raster.Mask, len(d.Parts))
	for i := range d.Parts {
		masks[i] = d.Parts[i].mask
	}
	key := fmt.Sprintf("cast %s %s %.4f %g", p.ID, d.claimed, own, p.Cast.Reach)
	v, err := d.memo.Do(key, func(raster.Done) (any, error) {
		scale := float64(int(1) << d.LearnLevel())
		return mend.FindCast(pic, p.mask, union(masks), own, scale, p.Cast.Reach), nil
	})
	if err != nil {
		return err
	}
	p.cast = v.(*mend.Field)
	return nil
}

// CastOf gives how strong the part's strongest cast on its neighbours is, before anything is done, and where.
func (p *DevelopedPart) CastOf() (weight, x, y float64) {
	if p.cast == nil {
		return 0, 0, 0
	}
	return p.cast.Most()
}

// faintCast is the share of the light below which a cast is hardly one.
const faintCast = 0.08

// CastMask shows where the part's cast was found, the strongest of it white: as a share of the light there it is small, and
// would hardly be seen. What is hardly a cast stays dark. nil where none was looked for.
func (p *DevelopedPart) CastMask(place raster.Place, w, h int) *raster.Mask {
	if p.cast == nil {
		return nil
	}
	m := p.cast.Mask(place, w, h)
	most, _, _ := p.cast.Most()
	for i, v := range m.Pix {
		m.Pix[i] = uint16(math.Min(raster.Whole, float64(v)/math.Max(most, faintCast)))
	}
	return m
}

// illuminant estimates the tint of a picture's light, with a mean channel of 1: shades of grey (Finlayson and Trezzi,
// Shades of gray and colour constancy, 2004) with the sixth power.
func illuminant(pic *raster.RGB) (o [3]float64) {
	for i, v := range pic.Pix {
		if v < 0.98 {
			o[i%3] += math.Pow(float64(v), 6)
		}
	}
	m := 0.0
	for c := range o {
		o[c] = math.Pow(o[c], 1.0/6)
		m += o[c] / 3
	}
	for c := range o {
		o[c] = max(0.4, min(2.5, o[c]/max(m, 1e-9)))
	}
	return o
}
