package develop

import (
	"math"
	"slices"
	"sync"

	"episema/core/document"
	"episema/core/isolate"
	"episema/core/mend"
	"episema/core/raster"
)

// fit makes a seamless cover ready, from what this has rendered.
func (d *Developed) fit(c *mend.Cover, done raster.Done) (*mend.Cover, error) {
	bare := *d
	bare.Done = done
	level, r := d.fitArea(c)
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

// fitArea returns the level at which a cover is fitted, and what of it it must see.
func (d *Developed) fitArea(c *mend.Cover) (level int, r raster.Rect) {
	step := c.FitStep()
	level = min(d.Levels()-1, int(math.Log2(step)))
	w, h := d.Size(level)
	r = c.FitArea()
	if k := int(step) >> level; k > 1 { // the picture has no level as coarse
		r = raster.Rect{X0: r.X0 * k, Y0: r.Y0 * k, X1: r.X1 * k, Y1: r.Y1 * k}
	}
	return level, r.And(raster.Rect{X1: w, Y1: h})
}

const (
	seenSide = 128 // pixels on the longer side up to which it is looked at which parts lie somewhere
	seenNear = 64  // full-size pixels around it in which parts are taken to lie there, too: edges are soft
)

// seenBy says of each part whether a cover may see it where it lies or where it comes from. A part that casts or is copied may be seen
// anywhere.
func (d *Developed) seenBy(c *mend.Cover) ([]bool, error) {
	level, to := d.fitArea(c)
	place := levelPlace(level, to)
	need := c.Move().Needs(place, raster.Rect{X1: to.W(), Y1: to.H()})
	seen := make([]bool, len(d.Parts))
	for i := range d.Parts {
		seen[i] = d.Parts[i].Cast != nil || d.Parts[i].Copy != nil
	}
	k := place.Scale()
	for _, box := range [][4]float64{{place.X, place.Y, place.X + k*float64(to.W()), place.Y + k*float64(to.H())}, need} {
		if err := d.markIn(box, seen); err != nil {
			return nil, err
		}
	}
	return seen, nil
}

// markIn marks the parts that lie in a box of the full size, or near it.
func (d *Developed) markIn(box [4]float64, seen []bool) error {
	box = [4]float64{box[0] - seenNear, box[1] - seenNear, box[2] + seenNear, box[3] + seenNear}
	level := 0
	for level < d.Levels()-1 && max(box[2]-box[0], box[3]-box[1])/float64(int(1)<<level) > seenSide {
		level++
	}
	w, h := d.Size(level)
	s := float64(int(1) << level)
	at := func(v float64, most int) int { return int(max(0, min(float64(most), v/s))) }
	r := raster.Rect{X0: at(box[0], w), Y0: at(box[1], h), X1: at(box[2]+s, w), Y1: at(box[3]+s, h)}
	if r.Empty() { // past the picture its edge stands for what is not there
		r = raster.Rect{X1: w, Y1: h}
	}
	v, err := d.memo.Do(keyOf("parts in", d.claimed, level, r), func(done raster.Done) (any, error) {
		bare := *d
		bare.Done = done
		masks, err := bare.Masks(level, r)
		if err != nil {
			return nil, err
		}
		in := make([]bool, len(masks))
		for i, m := range masks {
			in[i] = m != nil && slices.ContainsFunc(m.Pix, func(v uint16) bool { return v > 0 })
		}
		return in, nil
	})
	if err != nil {
		return err
	}
	for i, in := range v.([]bool) {
		seen[i] = seen[i] || in
	}
	return nil
}

// outlined are the outlines of all patches: what they cover must go, and is no example for what fills one of them.
type outlined struct {
	patches [][]isolate.Node
	key     string
}

func outlinesOf(doc document.Picture) outlined {
	var o outlined
	filled := false
	for _, m := range doc.Mends {
		if m.Patch != nil && !m.Off {
			o.patches = append(o.patches, m.Patch.Nodes)
			filled = filled || m.Patch.Fill > 0
		}
	}
	if filled { // nobody else asks
		o.key = keyOf("outlines", o.patches)
	}
	return o
}

func (o outlined) paths() (out [][][2]float64) {
	for _, nodes := range o.patches {
		out = append(out, isolate.Flatten(nodes))
	}
	return out
}

// lastFilling is how a patch was filled at rest. It stays so while a hand changes something else.
type lastFilling struct {
	mu      sync.Mutex
	key     string
	filling *mend.Filling
}

// Bytes returns about what it takes in memory.
func (l *lastFilling) Bytes() int { return 1 << 16 }

func (l *lastFilling) get(key string) (*mend.Filling, bool) {
	l.mu.Lock()
	defer l.mu.Unlock()
	return l.filling, l.key == key
}

func (l *lastFilling) put(key string, f *mend.Filling) {
	l.mu.Lock()
	defer l.mu.Unlock()
	l.key, l.filling = key, f
}

// mostFilled is how many pixels are looked at, at most, to set a filling's shifts more finely.
const mostFilled = 4 << 20

// filling finds what fills a patch by example, in the picture as it came in: what is repainted is repainted in it, too.
// While a hand moves that changes the patch itself, what is found is rougher. nth is the mend that it is.
func (d *Developed) filling(c *mend.Cover, nth int, others outlined) (*mend.Filling, error) {
	v, err := d.memo.Do(keyOf("last filling", nth), func(raster.Done) (any, error) { return &lastFilling{}, nil })
	if err != nil {
		return nil, err
	}
	last, key := v.(*lastFilling), keyOf("filling", c.Patch, others.key)
	if f, ok := last.get(key); ok {
		return f, nil
	}
	quick := d.effort == isolate.Quick
	f, err := d.findFilling(c, others, quick, key)
	if err == nil && !quick {
		last.put(key, f)
	}
	return f, err
}

// findFilling works a filling out, under a key that has all it follows from, or remembers it.
func (d *Developed) findFilling(c *mend.Cover, others outlined, quick bool, key string) (*mend.Filling, error) {
	v, err := d.memo.Do(keyOf("filling", key, quick), func(done raster.Done) (any, error) {
		w, h := d.Size(0)
		box := c.FillBox(w, h)
		see := func(step float64) (*raster.RGB, raster.Place, error) {
			level := min(d.Levels()-1, int(math.Log2(step)))
			w, h := d.Size(level)
			k := float64(int(1) << level)
			r := raster.Rect{X0: int(box[0] / k), Y0: int(box[1] / k), X1: int(math.Ceil(box[2] / k)), Y1: int(math.Ceil(box[3] / k))}.And(raster.Rect{X1: w, Y1: h})
			if k < step { // the picture has no level as coarse
				r = raster.Rect{X1: w, Y1: h}
			}
			if r.Empty() || r.W()*r.H() > mostFilled {
				return nil, raster.Place{}, nil
			}
			pic, err := d.Linear(level, r)
			if err != nil {
				return nil, raster.Place{}, err
			}
			at := levelPlace(level, r)
			for ; at.Step < step && min(pic.W, pic.H) > 1; at.Step *= 2 {
				pic = raster.Half(pic)
			}
			return pic, at, nil
		}
		return c.Fill(see, others.paths(), quick, done)
	})
	if err != nil {
		return nil, err
	}
	return v.(*mend.Filling), nil
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
	need := c.Needs(place, area)
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
