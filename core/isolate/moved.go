package isolate

import "episema/core/raster"

// moved is a selection that is set elsewhere in the picture.
type moved struct {
	of *Selection
	by raster.Move
}

// Moved returns a selection as it is where a move takes it to. Nothing is selected where it comes from beyond the picture.
func Moved(s *Selection, by raster.Move) *Selection {
	o := &Selection{pyramid: s.pyramid}
	if !s.Empty() {
		o.groups = []group{{"add", &moved{s, by}}}
	}
	return o
}

func (m *moved) render(p Pyramid, level int, r raster.Rect) ([]float32, error) {
	step := float64(int(1) << level)
	place := raster.Place{X: float64(r.X0) * step, Y: float64(r.Y0) * step, Step: step}
	area := raster.Rect{X1: r.W(), Y1: r.H()}
	from := m.by.Level(step, p.Levels())
	w, h := p.Size(from)
	q, at := m.by.From(place, area, from, w, h)
	inner := q.And(raster.Rect{X1: w, Y1: h})
	if inner.Empty() {
		return make([]float32, r.W()*r.H()), nil
	}
	share, err := m.of.render(p, from, inner)
	if err != nil {
		return nil, err
	}
	share = raster.Framed(share, 1, inner, q)
	return m.by.Take(place, area, share, 1, q.W(), q.H(), at, doneOf(p)), nil
}

// placed is a share of pixels from elsewhere, set in the picture.
type placed struct {
	share []float32
	w, h  int
	place raster.Place
	by    raster.Move
}

// Placed returns a selection of a share of pixels, w x h at a place of their own, where a move takes it to. There must be nothing at
// its edges.
func Placed(p Pyramid, share []float32, w, h int, place raster.Place, by raster.Move) *Selection {
	return &Selection{pyramid: p, groups: []group{{"add", &placed{share, w, h, place, by}}}}
}

func (t *placed) render(p Pyramid, level int, r raster.Rect) ([]float32, error) {
	step := float64(int(1) << level)
	place := raster.Place{X: float64(r.X0) * step, Y: float64(r.Y0) * step, Step: step}
	return t.by.Take(place, raster.Rect{X1: r.W(), Y1: r.H()}, t.share, 1, t.w, t.h, t.place, doneOf(p)), nil
}
