package develop

import (
	"math"

	"episema/core/mend"
	"episema/core/raster"
)

// fit makes a seamless cover ready, from what this has rendered.
func (d *Developed) fit(c *mend.Cover, done raster.Done) (*mend.Cover, error) {
	bare := *d
	bare.Done = done
	step := c.FitStep()
	level := min(d.Levels()-1, int(math.Log2(step)))
	w, h := d.Size(level)
	r := c.FitArea()
	if k := int(step) >> level; k > 1 { // the picture has no level as coarse
		r = raster.Rect{X0: r.X0 * k, Y0: r.Y0 * k, X1: r.X1 * k, Y1: r.Y1 * k}
	}
	r = r.And(raster.Rect{X1: w, Y1: h})
	if r.Empty() {
		return c, nil
	}
	around, err := bare.Render(level, r)
	if err != nil {
		return nil, err
	}
	place := levelPlace(level, r)
	from, at, err := bare.covering(c, place, raster.Rect{X1: r.W(), Y1: r.H()})
	if err != nil {
		return nil, err
	}
	c.Fit(around.After, place, from, at, done)
	return c, nil
}

// levelPlace is where a rectangle of a level lies in the picture.
func levelPlace(level int, r raster.Rect) raster.Place {
	step := float64(int(1) << level)
	return raster.Place{X: float64(r.X0) * step, Y: float64(r.Y0) * step, Step: step}
}

// covering renders what covers an area of a plane at place, at the level that is no coarser than the plane.
func (d *Developed) covering(c *mend.Cover, place raster.Place, area raster.Rect) (*raster.RGB, raster.Place, error) {
	level := c.Move().Level(place.Scale(), d.Levels())
	step := float64(int(1) << level)
	w, h := d.Size(level)
	need := c.Move().Needs(place, area)
	at := func(v, most float64) int { return int(max(0, min(most-1, v))) } // past an edge its last pixels stand for what is not there
	r := raster.Rect{X0: at(math.Floor(need[0]/step)-1, float64(w)), Y0: at(math.Floor(need[1]/step)-1, float64(h)),
		X1: at(math.Ceil(need[2]/step)+1, float64(w)) + 1, Y1: at(math.Ceil(need[3]/step)+1, float64(h)) + 1}
	o, err := d.Render(level, r)
	if err != nil {
		return nil, raster.Place{}, err
	}
	return o.After, levelPlace(level, r), nil
}

// patch covers what a patch covers of what is seen.
func (s *mends) patch(c *canvas, seen raster.Rect, cover *mend.Cover) {
	area := cover.Area(c.place, c.Before.W, c.Before.H).And(seen)
	if area.Empty() {
		return
	}
	bare := s.before
	bare.Done = c.done
	from, at, err := bare.covering(cover, c.place, area)
	if err != nil {
		c.err = err
		return
	}
	cover.Lay(c.After, c.place, area, from, at, c.done)
}
