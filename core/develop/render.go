package develop

import (
	"episema/core/raster"
	"episema/core/recolour"
)

// Rendered is a rectangle of the picture before and after, with each part's mask.
type Rendered struct {
	Given         *raster.RGB    // the picture as it came in
	Before, After *raster.RGB    // the copies that the document sets stand in both
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
	out, err := d.Paint(pic, masks, levelPlace(level, outer), inner)
	if err != nil {
		return nil, err
	}
	select {
	case <-d.Done:
		return nil, raster.ErrStopped // painting may have ended early: what is there must not be kept
	default:
	}
	return out.crop(inner), nil
}

// Overview renders the whole picture at the learning level, with what is remembered of it.
func (d *Developed) Overview() (*Rendered, error) {
	pic, err := d.LearningPicture(d.memo)
	if err != nil {
		return nil, err
	}
	masks := make([]*raster.Mask, len(d.Parts))
	for i := range d.Parts {
		masks[i] = d.Parts[i].mask
	}
	return d.Paint(pic, masks, raster.Place{Step: float64(int(1) << d.LearnLevel())}, raster.Rect{X1: pic.W, Y1: pic.H})
}

func (r *Rendered) crop(to raster.Rect) *Rendered {
	whole := raster.Rect{X1: r.Before.W, Y1: r.Before.H}
	if to == whole {
		return r
	}
	given := r.Given.Crop(to)
	before := given
	if r.Before != r.Given {
		before = r.Before.Crop(to)
	}
	o := &Rendered{Given: given, Before: before, After: r.After.Crop(to), Masks: make([]*raster.Mask, len(r.Masks)), Stats: r.Stats}
	if r.Meant != nil {
		o.Meant = raster.Crop(r.Meant, 1, whole, to)
	}
	for i, m := range r.Masks {
		if m != nil {
			o.Masks[i] = m.Crop(to)
		}
	}
	return o
}
