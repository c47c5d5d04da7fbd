package develop

import (
	"math"

	"episema/core/copies"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
)

// standing sets copies of parts into the picture, in the order of the document, before anything is painted: to all that comes after
// they are things that stood there when the picture was taken.
type standing struct {
	d    *Developed
	list []copied
	key  any // all that it follows from, beside the masks
}

// copied is a copy with all it needs.
type copied struct {
	part   int // its index
	of     *isolate.Selection
	ofKey  string
	box    raster.Rect // of the original, at the learning level
	move   raster.Move
	thing  *copies.Thing // of another picture; nil for a copy of a part
	light  *copies.Light // nil: the light on it stays
	shadow *copies.Field
	left   func(share float32) [3]float32
}

// readyCopies makes the copies of a document ready. alone has the parts' masks at the learning level.
func (d *Developed) readyCopies(doc document.Picture, alone []*raster.Mask) (*standing, error) {
	at := map[string]int{}
	for i := range doc.Parts {
		at[doc.Parts[i].ID] = i
	}
	s := &standing{d: d}
	var keys []any
	scale := float64(int(1) << d.LearnLevel())
	for i := range doc.Parts {
		c := doc.Parts[i].Copy
		if c == nil || alone[i] == nil {
			continue
		}
		q := copied{part: i, move: c.Move()}
		of := at[c.Of]
		switch {
		case c.Cut != nil:
			var err error
			if q.thing, err = d.thing(c.Cut); err != nil {
				return nil, err
			}
		case alone[of] == nil:
			continue // there is nothing to copy
		default:
			q.of, q.ofKey, q.box = d.Parts[of].Selection, d.Parts[of].Key, within(alone[of])
		}
		if c.Relit {
			v, err := d.memo.Do(keyOf("light on", c.Cut, q.ofKey), func(raster.Done) (any, error) {
				if q.thing != nil {
					return copies.LightOn(q.thing.Small(learnAt)), nil
				}
				pic, err := d.LearningPicture(d.memo)
				if err != nil {
					return nil, err
				}
				return copies.LightOn(pic, alone[of], scale), nil
			})
			if err != nil {
				return nil, err
			}
			q.light = v.(*copies.Light)
		}
		if sh := c.Shadow; sh != nil && sh.Strength > 0 {
			v, err := d.memo.Do(keyOf("shadow", d.Parts[i].Key, sh.Direction, sh.Length, sh.Softness), func(done raster.Done) (any, error) {
				return sh.Cast(alone[i], scale, done), nil
			})
			if err != nil {
				return nil, err
			}
			q.shadow, q.left = v.(*copies.Field), sh.Left(d.Space)
		}
		s.list = append(s.list, q)
		keys = append(keys, d.Parts[i].Key, c)
	}
	if len(s.list) == 0 {
		return nil, nil
	}
	s.key = keys
	return s, nil
}

// thing opens what was cut out of another picture.
func (d *Developed) thing(c *copies.Cut) (*copies.Thing, error) {
	v, err := d.memo.Do(keyOf("cut", c), func(raster.Done) (any, error) { return c.Open(d.Source.Masks[c.File], d.Space) })
	if err != nil {
		return nil, err
	}
	return v.(*copies.Thing), nil
}

// copied selects a copy where it stands; made has the selections of the parts so far.
func (d *Developed) copied(c *copies.Copy, made map[string]*isolate.Selection) (*isolate.Selection, error) {
	if c.Cut == nil {
		return isolate.Moved(made[c.Of], c.Move()), nil
	}
	t, err := d.thing(c.Cut)
	if err != nil {
		return nil, err
	}
	return isolate.Placed(d.Pyramid, t.Share, t.Colours.W, t.Colours.H, t.Place, c.Move()), nil
}

// readyStanding is the step that readyCopies made.
func readyStanding(d *Developed, _ document.Picture) (step, error) {
	if d.standing == nil {
		return nil, nil
	}
	return d.standing, nil
}

// margin is how far around a pixel its colours before and behind are looked for.
func (*standing) margin(step float64) int { return copies.Margin(step) }

// apply sets the copies into the whole canvas, whatever the area: painting looks further than the steps say.
func (s *standing) apply(c *canvas, _ raster.Rect) {
	for _, q := range s.list {
		if m := c.Masks[q.part]; m != nil {
			front := s.front(c, q.part)
			s.shade(c, q, front)
			if c.err = s.set(c, q, m, front); c.err != nil {
				return
			}
		}
	}
	c.Before = &raster.RGB{W: c.After.W, H: c.After.H, Pix: append([]float32(nil), c.After.Pix...)}
}

// front returns the share of each pixel that the parts after one have, which stand before it; nil for none. Copies among them are not
// counted: they are set over it.
func (s *standing) front(c *canvas, part int) []float32 {
	var out []float32
	for i := part + 1; i < len(s.d.Parts); i++ {
		m := c.Masks[i]
		if m == nil || s.d.Parts[i].Copy != nil || s.d.Parts[i].Overlap {
			continue
		}
		c.done.Check()
		for k, v := range m.Pix {
			if v > 0 {
				if out == nil {
					out = make([]float32, len(m.Pix))
				}
				out[k] = min(1, out[k]+float32(v)/raster.Whole)
			}
		}
	}
	return out
}

// shade lets a copy's shadow fall on what is below it.
func (s *standing) shade(c *canvas, q copied, front []float32) {
	if q.shadow == nil {
		return
	}
	area := q.shadow.Area(c.place, c.After.W, c.After.H)
	c.done.Parallel(area.H(), func(row int) {
		y := area.Y0 + row
		for x := area.X0; x < area.X1; x++ {
			i := y*c.After.W + x
			v := q.shadow.At(c.place.Full(x, y))
			if front != nil {
				v *= 1 - front[i]
			}
			if v < 1e-4 {
				continue
			}
			for k, left := range q.left(v) {
				c.After.Pix[3*i+k] *= left
			}
		}
	})
}

// set puts a copy's own colours where its mask is, and behind what stands before it.
func (s *standing) set(c *canvas, q copied, mask *raster.Mask, front []float32) error {
	area := within(mask)
	if area.Empty() || q.thing == nil && q.move.Still() && q.light == nil { // it stands in its original
		return nil
	}
	before, at, err := s.colours(c, q, area)
	if err != nil {
		return err
	}
	px := q.move.Take(c.place, area, before.Pix, 3, before.W, before.H, at, c.done)
	behind, seen := s.behind(c, area, front)
	c.done.Parallel(area.H(), func(row int) {
		y := area.Y0 + row
		for x := area.X0; x < area.X1; x++ {
			i := y*mask.W + x
			a := float32(mask.Pix[i]) / raster.Whole
			if a == 0 {
				continue
			}
			k := float32(1)
			if q.light != nil {
				fx, fy := q.move.Back(c.place.Full(x, y))
				k = q.light.Turned(fx, fy)
			}
			p, b := 3*(row*area.W()+x-area.X0), 3*((y-seen.Y0)*behind.W+x-seen.X0)
			for ch := range 3 {
				is := &c.After.Pix[3*i+ch]
				*is = max(0, min(1, *is+a*(min(1, k*px[p+ch])-behind.Pix[b+ch])))
			}
		}
	})
	return nil
}

// behind returns what a copy in an area of the canvas covers, without what stands before it, and the rectangle that this has.
func (s *standing) behind(c *canvas, area raster.Rect, front []float32) (*raster.RGB, raster.Rect) {
	rim := false // does something stand before it that lets a part of it through?
	for y := area.Y0; front != nil && y < area.Y1 && !rim; y++ {
		for _, v := range front[y*c.After.W+area.X0 : y*c.After.W+area.X1] {
			if v > 0 && v < 1 {
				rim = true
				break
			}
		}
	}
	if !rim {
		return c.After, c.whole()
	}
	step := c.place.Scale()
	around := area.Grow(copies.Margin(step)).And(c.whole())
	_, behind := copies.Unmix(c.After.Crop(around), raster.Crop(front, 1, c.whole(), around), step, c.done)
	return behind, around
}

// colours returns what a copy takes its colours from to fill an area of the canvas, without what was behind them, and where it lies.
func (s *standing) colours(c *canvas, q copied, area raster.Rect) (*raster.RGB, raster.Place, error) {
	if q.thing != nil {
		return q.thing.Colours, q.thing.Place, nil
	}
	d := s.d
	level := q.move.Level(c.place.Scale(), d.Levels())
	step := float64(int(1) << level)
	w, h := d.Size(level)
	margin := copies.Margin(step)
	whole := d.boxAt(q.box, level).Grow(margin).And(raster.Rect{X1: w, Y1: h})
	if whole.W()*whole.H() <= mostRemembered { // wherever it is set, it has the same colours
		v, err := d.memo.Do(keyOf("colours", q.ofKey, level), func(done raster.Done) (any, error) { return d.coloursOf(q.of, level, whole, done) })
		if err != nil {
			return nil, raster.Place{}, err
		}
		return v.(*raster.RGB), levelPlace(level, whole), nil
	}
	r, _ := q.move.From(c.place, area, level, w, h)
	if r = r.Grow(margin).And(whole); r.Empty() {
		r = raster.Rect{X0: whole.X0, Y0: whole.Y0, X1: whole.X0 + 1, Y1: whole.Y0 + 1}
	}
	before, err := d.coloursOf(q.of, level, r, c.done)
	return before, levelPlace(level, r), err
}

// mostRemembered is of how many pixels of a part its colours are remembered, at one level.
const mostRemembered = 1_500_000

// coloursOf returns the colours of what is selected, in a rectangle of a level, without those of what is behind it.
func (d *Developed) coloursOf(of *isolate.Selection, level int, r raster.Rect, done raster.Done) (*raster.RGB, error) {
	pic, err := isolate.Until(d.Pyramid, done).Linear(level, r)
	if err != nil {
		return nil, err
	}
	m, err := of.Until(done).Render(level, r)
	if err != nil {
		return nil, err
	}
	before, _ := copies.Unmix(pic, m.Shares(), float64(int(1)<<level), done)
	return before, nil
}

// boxAt returns what a box of the learning level is at another one, and a little around it; it may go past the level's edges.
func (d *Developed) boxAt(box raster.Rect, level int) raster.Rect {
	k := math.Exp2(float64(d.LearnLevel() - level))
	at := func(v int) int { return int(math.Floor(float64(v) * k)) }
	return raster.Rect{X0: at(box.X0 - 1), Y0: at(box.Y0 - 1), X1: at(box.X1+1) + 1, Y1: at(box.Y1+1) + 1}
}

// within is the smallest rectangle that has all of a mask.
func within(m *raster.Mask) raster.Rect {
	r := raster.Rect{X0: m.W, Y0: m.H}
	for y := range m.H {
		for x, v := range m.Pix[y*m.W : (y+1)*m.W] {
			if v > 0 {
				r = raster.Rect{X0: min(r.X0, x), Y0: min(r.Y0, y), X1: max(r.X1, x+1), Y1: y + 1}
			}
		}
	}
	return r
}

// seen returns the picture at the learning level as a part is seen in it: a copy stands in it with the others.
func (d *Developed) seen(p *Part) (*raster.RGB, error) {
	pic, err := d.LearningPicture(d.memo)
	if err != nil || p.Copy == nil || d.standing == nil {
		return pic, err
	}
	v, err := d.memo.Do(keyOf("with copies", d.claimed, d.standing.key), func(done raster.Done) (any, error) {
		masks := make([]*raster.Mask, len(d.Parts))
		for i := range d.Parts {
			masks[i] = d.Parts[i].mask
		}
		return d.withCopies(pic, masks, raster.Place{Step: float64(int(1) << d.LearnLevel())}, done)
	})
	if err != nil {
		return nil, err
	}
	return v.(*raster.RGB), nil
}

// closely returns a rectangle of the full-size picture as a part is seen in it.
func (d *Developed) closely(p *Part, r raster.Rect) (*raster.RGB, error) {
	pic, err := d.Linear(0, r)
	if err != nil || p.Copy == nil || d.standing == nil {
		return pic, err
	}
	masks, err := d.Masks(0, r)
	if err != nil {
		return nil, err
	}
	return d.withCopies(pic, masks, levelPlace(0, r), d.Done)
}

func (d *Developed) withCopies(pic *raster.RGB, masks []*raster.Mask, place raster.Place, done raster.Done) (*raster.RGB, error) {
	c := newCanvas(d, pic, masks, place, raster.Rect{X1: pic.W, Y1: pic.H}, done)
	d.standing.apply(c, c.whole())
	return c.Before, c.err
}

// CutOut returns a part as it can be set into another picture: its colours as they came in, without those behind it, and its share of
// each pixel, at the finest level at which both have no more than most pixels; step is how many full-size pixels one of these is wide.
// Of a part with nothing in it the share is nil.
func (d *Developed) CutOut(part, most int) (pic *raster.RGB, share []float32, step float64, err error) {
	defer raster.Recover(&err)
	p := &d.Parts[part]
	if p.mask == nil || p.Copy != nil {
		return nil, nil, 0, nil
	}
	box := within(p.mask)
	if box.Empty() {
		return nil, nil, 0, nil
	}
	for level := range d.Levels() {
		w, h := d.Size(level)
		r := d.boxAt(box, level).And(raster.Rect{X1: w, Y1: h})
		if r.W()*r.H() > most {
			continue
		}
		step = float64(int(1) << level)
		around := r.Grow(copies.Margin(step)).And(raster.Rect{X1: w, Y1: h})
		before, err := d.coloursOf(p.Selection, level, around, d.Done)
		if err != nil {
			return nil, nil, 0, err
		}
		masks, err := d.Masks(level, r)
		if err != nil {
			return nil, nil, 0, err
		}
		inner := raster.Rect{X0: r.X0 - around.X0, Y0: r.Y0 - around.Y0, X1: r.X1 - around.X0, Y1: r.Y1 - around.Y0}
		return before.Crop(inner), masks[part].Shares(), step, nil
	}
	return nil, nil, 0, nil
}
