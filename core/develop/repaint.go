package develop

import (
	"slices"

	"episema/core/document"
	"episema/core/raster"
)

// repaint changes the colour of the parts that have a plan. It looks at no pixel but the one it changes; the margin that
// recolouring itself reads is part of Developed.Margin.
type repaint struct{ d *Developed }

func readyRepaint(d *Developed, _ document.Picture) (step, error) {
	if !slices.ContainsFunc(d.Parts, func(p Part) bool { return p.Plan != nil }) {
		return nil, nil
	}
	return &repaint{d}, nil
}

func (*repaint) margin(float64) int { return 0 }

func (s *repaint) apply(c *canvas, area raster.Rect) {
	in := c.inner
	// Steps after this one look around: what lies there is painted too, but counts elsewhere.
	around := []raster.Rect{{X0: area.X0, Y0: area.Y0, X1: area.X1, Y1: in.Y0}, {X0: area.X0, Y0: in.Y1, X1: area.X1, Y1: area.Y1},
		{X0: area.X0, Y0: in.Y0, X1: in.X0, Y1: in.Y1}, {X0: in.X1, Y0: in.Y0, X1: area.X1, Y1: in.Y1}}
	if c.sights, c.err = s.d.sights(c); c.err != nil {
		return
	}
	for i := range s.d.Parts {
		if s.d.Parts[i].Plan == nil || c.Masks[i] == nil {
			continue
		}
		hidden, err := s.d.underFigures(c, area, i)
		if err != nil {
			c.err = err
			return
		}
		plan := s.d.Parts[i].Plan.Until(c.done).Sparing(hidden)
		c.Stats[i] = plan.Seeing(c.sights.sight(s.d.Parts[i].ID, 0)).Apply(c.Before, c.After, c.Masks[i], c.place, in)
		for _, r := range around {
			if !r.Empty() {
				plan.Apply(c.Before, c.After, c.Masks[i], c.place, r)
			}
		}
	}
}
