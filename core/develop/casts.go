package develop

import (
	"math"

	"episema/core/colour"
	"episema/core/document"
	"episema/core/mend"
	"episema/core/raster"
)

// casts turns the tint that parts throw on their neighbours to their new colours. Each pixel follows from itself and from the
// field that was found at the learning level.
type casts struct{ d *Developed }

func readyCasts(d *Developed, _ document.Picture) (step, error) {
	any := false
	for i := range d.Parts {
		if p := &d.Parts[i]; p.Plan != nil && p.Cast != nil && p.Cast.Amount > 0 {
			any = true
			if err := d.findCast(p, d.Space.Linear(p.Own)); err != nil {
				return nil, err
			}
		}
	}
	if !any {
		return nil, nil
	}
	return &casts{d}, nil
}

func (*casts) margin(float64) int { return 0 }

func (s *casts) apply(c *canvas, area raster.Rect) {
	for i := range s.d.Parts {
		if p := &s.d.Parts[i]; p.cast != nil {
			p.cast.Turn(c.After, c.parts(), c.place, area, p.Cast, s.d.Space.Linear(p.Want))
		}
	}
}

// findCast looks for the part's tint on its neighbours, at the learning level.
func (d *Developed) findCast(p *Part, own colour.RGB) error {
	pic, err := d.seen(p)
	if err != nil {
		return err
	}
	masks := make([]*raster.Mask, len(d.Parts))
	for i := range d.Parts {
		masks[i] = d.Parts[i].mask
	}
	v, err := d.memo.Do(keyOf("cast", p.ID, d.claimed, own, p.Cast.Reach), func(raster.Done) (any, error) {
		scale := float64(int(1) << d.LearnLevel())
		return mend.FindCast(pic, p.mask, union(masks), own, scale, p.Cast.Reach), nil
	})
	if err != nil {
		return err
	}
	p.cast = v.(*mend.Field)
	return nil
}

// CastOf returns how strong the part's strongest cast on its neighbours is, before anything is done, and where.
func (p *Part) CastOf() (weight, x, y float64) {
	if p.cast == nil {
		return 0, 0, 0
	}
	return p.cast.Most()
}

// faintCast is the share of the light below which a cast is hardly one.
const faintCast = 0.08

// CastMask shows where the part's cast was found, the strongest of it white: as a share of the light there it is small, and
// would hardly be seen. What is hardly a cast stays dark. nil where none was looked for.
func (p *Part) CastMask(place raster.Place, w, h int) *raster.Mask {
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
