package develop

import (
	"episema/core/raster"
	"episema/core/recolour"
)

// Rendered is a rectangle of the picture before and after, with each part's mask.
type Rendered struct {
	Before, After *raster.RGB
	Masks         []*raster.Mask // nil for a part without picks
	Stats         []recolour.Stats
	Meant         []bool // pixels that a step after the painting of the parts changed; nil: none
}

// Render returns a rectangle of a level. The rectangle must lie inside the level.
func (d *Developed) Render(level int, r raster.Rect) (*Rendered, error) {
	select {
	case <-d.Done:
		return nil, raster.ErrStopped
	default:
	}
	w, h := d.Size(level)
	outer := r.Grow(d.Margin(float64(int(1) << level))).And(raster.Rect{X1: w, Y1: h})
	pic, err := d.Linear(level, outer)
	if err != nil {
		return nil, err
	}
	masks, err := d.Masks(level, outer)
	if err != nil {
		return nil, err
	}
	inner := raster.Rect{X0: r.X0 - outer.X0, Y0: r.Y0 - outer.Y0, X1: r.X1 - outer.X0, Y1: r.Y1 - outer.Y0}
	step := float64(int(1) << level)
	out := d.Paint(pic, masks, raster.Place{X: float64(outer.X0) * step, Y: float64(outer.Y0) * step, Step: step}, inner)
	select {
	case <-d.Done:
		return nil, raster.ErrStopped // painting may have ended early: what is there must not be kept
	default:
	}
	return out.crop(inner), nil
}

// Overview renders the whole picture at the learning level, with what is remembered of it.
func (d *Developed) Overview() (*Rendered, error) {
	pic, err := d.learningPicture(d.memo)
	if err != nil {
		return nil, err
	}
	masks := make([]*raster.Mask, len(d.Parts))
	for i := range d.Parts {
		masks[i] = d.Parts[i].mask
	}
	return d.Paint(pic, masks, raster.Place{Step: float64(int(1) << d.LearnLevel())}, raster.Rect{X1: pic.W, Y1: pic.H}), nil
}

func (r *Rendered) crop(to raster.Rect) *Rendered {
	if to.X0 == 0 && to.Y0 == 0 && to.X1 == r.Before.W && to.Y1 == r.Before.H {
		return r
	}
	o := &Rendered{Before: cropRGB(r.Before, to), After: cropRGB(r.After, to), Stats: r.Stats}
	if r.Meant != nil {
		for y := to.Y0; y < to.Y1; y++ {
			o.Meant = append(o.Meant, r.Meant[y*r.Before.W+to.X0:y*r.Before.W+to.X1]...)
		}
	}
	for _, m := range r.Masks {
		if m == nil {
			o.Masks = append(o.Masks, nil)
			continue
		}
		if to.X0 == 0 && to.X1 == m.W { // whole rows: the same memory
			o.Masks = append(o.Masks, &raster.Mask{W: m.W, H: to.H(), Pix: m.Pix[to.Y0*m.W : to.Y1*m.W]})
			continue
		}
		c := raster.NewMask(to.W(), to.H())
		for y := range c.H {
			copy(c.Pix[y*c.W:(y+1)*c.W], m.Pix[(y+to.Y0)*m.W+to.X0:])
		}
		o.Masks = append(o.Masks, c)
	}
	return o
}

func cropRGB(p *raster.RGB, to raster.Rect) *raster.RGB {
	if to.X0 == 0 && to.X1 == p.W {
		return &raster.RGB{W: p.W, H: to.H(), Pix: p.Pix[3*to.Y0*p.W : 3*to.Y1*p.W]}
	}
	o := raster.NewRGB(to.W(), to.H())
	for y := range o.H {
		copy(o.Pix[3*y*o.W:3*(y+1)*o.W], p.Pix[3*((y+to.Y0)*p.W+to.X0):])
	}
	return o
}
