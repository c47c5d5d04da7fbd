// Package develop makes pixels of a document: it selects and learns the parts, settles who has which pixel, and does to any
// rectangle of any level, one after the other, the steps that the document asks for.
package develop

import (
	"context"
	"errors"

	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/core/recolour"
)

// Developed is a document made ready to render any rectangle of its picture.
type Developed struct {
	Source
	Parts  []Part // as the document has them
	memo   Memo
	steps  []step
	effort isolate.Effort
	// standing sets copies into the picture; nil where there are none.
	standing *standing
	// claimed tells who has which pixel.
	claimed string
	// Unfilled are the mends, by their places in the document, that shall be filled by example where nothing around can be one.
	Unfilled []int
	// Again says that the same rectangles will be rendered with other colours: what is found out about their pixels is kept. Who is Ahead
	// renders what nobody asked for yet: of what was asked for last, or of something else, which is not kept.
	Again, Ahead bool
}

// Develop makes a document ready. A part without picks, or whose mask is empty, is left as it is. memo and solved may be nil.
// With a quick effort the result is what a hand that moves is shown meanwhile. A document that cannot be developed is a
// *document.Error; work that was cut short is raster.ErrStopped.
func Develop(src Source, doc document.Picture, solved isolate.Solved, memo Memo, effort isolate.Effort) (d *Developed, err error) {
	defer raster.Recover(&err)
	if memo == nil {
		memo = noMemo{src.Done}
	}
	d = &Developed{Source: src, memo: memo, effort: effort, Parts: make([]Part, len(doc.Parts))}
	alone, err := d.selectParts(doc, solved, effort)
	if err != nil {
		return nil, err
	}
	if err := d.settleParts(doc, alone); err != nil {
		return nil, err
	}
	if d.standing, err = d.readyCopies(doc, alone); err != nil {
		return nil, err
	}
	if err := d.planParts(doc, alone, effort); err != nil {
		return nil, err
	}
	for _, ready := range steps {
		s, err := ready(d, doc)
		if err != nil {
			return nil, err
		}
		if s != nil {
			d.steps = append(d.steps, s)
		}
	}
	return d, nil
}

// selectParts compiles the picks of every part. It returns their masks at the learning level, each as if it were alone.
func (d *Developed) selectParts(doc document.Picture, solved isolate.Solved, effort isolate.Effort) ([]*raster.Mask, error) {
	order, err := doc.Order()
	if err != nil {
		return nil, err
	}
	alone := make([]*raster.Mask, len(doc.Parts))
	made := map[string]*isolate.Selection{}
	keys := map[string]string{}
	for _, i := range order {
		part := doc.Parts[i]
		var reused []string
		for _, k := range part.Picks {
			if k.Kind == "part" {
				reused = append(reused, keys[k.Part])
			}
		}
		key := keyOf("isolated", keyOfPicks(part.Picks), part.Edge, reused, effort, d.DepthKey)
		var start *isolate.Selection
		if c := part.Copy; c != nil {
			if part.Hidden { // it is not there for now
				part.Picks = nil
			} else if start, err = d.copied(c, made); err != nil {
				return nil, wrong(part, err)
			}
			key = keyOf("copied", key, keys[c.Of], c.Cut, part.Hidden, c.About, c.At, c.Turn, c.Scale, c.Flip)
		}
		keys[part.ID] = key
		v, err := d.memo.Do(key, func(done raster.Done) (any, error) {
			in := isolate.Inputs{Space: d.Space, Masks: d.Source.Masks, Depth: d.Depth, Parts: made, Start: start, Key: key}
			return isolatePart(d.Source, done, part, in, solved, effort)
		})
		if errors.Is(err, raster.ErrStopped) || errors.Is(err, context.Canceled) {
			return nil, err
		}
		if err != nil {
			return nil, wrong(part, err)
		}
		iso := v.(*isolated)
		made[part.ID] = iso.selection
		d.Parts[i] = Part{Part: part, Selection: iso.selection.On(d.Pyramid), Key: key}
		alone[i] = iso.mask
	}
	return alone, nil
}

// settleParts decides at the learning level who has which pixel.
func (d *Developed) settleParts(doc document.Picture, alone []*raster.Mask) error {
	type claim struct {
		ID, Key, Within string
		Overlap         bool
	}
	var claims []claim // who has a pixel may depend on every part
	for i := range d.Parts {
		p := &d.Parts[i]
		claims = append(claims, claim{p.ID, p.Key, p.Within, p.Overlap})
	}
	d.claimed = keyOf("claims", claims)
	v, err := d.memo.Do(d.claimed, func(raster.Done) (any, error) { return Claims(doc.Parts, alone), nil })
	if err != nil {
		return err
	}
	for i, m := range v.([]*raster.Mask) {
		d.Parts[i].mask = m
	}
	return nil
}

// planParts learns what every part is and plans what it becomes.
func (d *Developed) planParts(doc document.Picture, alone []*raster.Mask, effort isolate.Effort) error {
	flat, err := d.memo.Do("flat", func(raster.Done) (any, error) { return isolate.IsFlat(d.Pyramid) })
	if err != nil {
		return err
	}
	for i := range d.Parts {
		d.Done.Check()
		p := &d.Parts[i]
		if p.mask == nil {
			continue
		}
		if effort == isolate.Quick && (p.Target.CSS == "" && p.Pattern == nil || p.Hidden) {
			continue // nothing is painted: what the part would say about itself can wait
		}
		key := keyOf("learned", p.Key)
		if p.mask != alone[i] {
			key = keyOf("learned", p.ID, d.claimed)
		}
		level := d.LearnLevel()
		if p.Copy != nil && d.standing != nil {
			if effort == isolate.Quick {
				level = min(level+1, d.Levels()-1) // it is another thing wherever a hand moves it
			}
			key = keyOf("learned", p.ID, d.claimed, d.standing.key, level)
		}
		v, err := d.memo.Do(key, func(done raster.Done) (any, error) { return d.learnAt(i, level, done) })
		if err != nil {
			return err
		}
		l := v.(*learnedPart)
		p.Share = l.share
		if l.learned != nil {
			if err := d.planPart(p, l.learned, level, flat.(bool), doc.Grey); err != nil {
				return err
			}
		}
	}
	return nil
}

// learnAt learns a part as it is seen at a level; parts that are no copies are seen at the learning level.
func (d *Developed) learnAt(part, level int, done raster.Done) (*learnedPart, error) {
	p := &d.Parts[part]
	if level == d.LearnLevel() {
		pic, err := d.seen(p)
		if err != nil {
			return nil, err
		}
		return d.learn(pic, p.mask, d.memo)
	}
	w, h := d.Size(level)
	all := raster.Rect{X1: w, Y1: h}
	pic, err := d.Linear(level, all)
	if err != nil {
		return nil, err
	}
	masks, err := d.Masks(level, all)
	if err != nil {
		return nil, err
	}
	if pic, err = d.withCopies(pic, masks, levelPlace(level, all), done); err != nil {
		return nil, err
	}
	return d.learn(pic, masks[part], d.memo)
}

// Masks renders a rectangle of every part's mask, settled; nil for a part without picks.
func (d *Developed) Masks(level int, r raster.Rect) ([]*raster.Mask, error) {
	masks := make([]*raster.Mask, len(d.Parts))
	for i := range d.Parts {
		if d.Parts[i].Selection.Empty() {
			continue
		}
		m, err := d.Parts[i].Selection.Until(d.Done).Render(level, r)
		if err != nil {
			return nil, err
		}
		masks[i] = m
	}
	return d.Settle(masks), nil
}

// Settle decides among the parts who has which pixel of masks that were rendered for each.
func (d *Developed) Settle(masks []*raster.Mask) []*raster.Mask {
	parts := make([]document.Part, len(d.Parts))
	for i := range parts {
		parts[i] = d.Parts[i].Part
	}
	return Claims(parts, masks)
}

// Margin is how much more than a rectangle must be read on each side to render it as the whole would be, in pixels
// that are step full-size pixels wide.
func (d *Developed) Margin(step float64) int { return recolour.Margin + d.around(0, step) }
