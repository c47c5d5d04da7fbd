package document

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"strings"

	"episema/core/colour"
	"episema/core/isolate"
	"episema/core/mend"
	"episema/core/raster"
	"episema/core/recolour"
)

// Source is a picture to develop: its pixels at halved sizes and the space they are in.
type Source struct {
	isolate.Pyramid
	Space *colour.Space
	Masks map[string]*raster.Mask // files that mask picks name
	Depth *raster.Mask            // nearness; nil where there is none
	// DepthKey tells the depth map from any other.
	DepthKey string
	// Done, where given, ends work early once it is closed, with raster.ErrStopped; painting then gives pixels worth nothing.
	Done raster.Done
}

// learnAt is the long side of the level from which a part's own colour and measurements are taken.
const learnAt = 700

// LearnLevel gives the level at which parts are learned and measured.
func (s Source) LearnLevel() int {
	for l := range s.Levels() {
		if w, h := s.Size(l); max(w, h) <= learnAt {
			return l
		}
	}
	return s.Levels() - 1
}

// Developed is a document made ready to render any rectangle of its picture.
type Developed struct {
	Source
	memo  Memo
	Parts []DevelopedPart
	mends []mending

	claimed, painted string // tell who has which pixel, and what all is painted to be
}

// DevelopedPart is a part with its selection and, where it has a target, its plan.
type DevelopedPart struct {
	Part
	Selection *isolate.Selection
	Key       string         // tells the selection from any other of the same picture
	Plan      *recolour.Plan // nil: left as it is
	Tone      recolour.Tone  // where the result must equal the target; pixels of the learning level
	Own       colour.Lab     // the colour in the picture at the typical lit tone
	Want      colour.Lab     // the target
	Share     float64        // of the picture, 0..1
	Aim       colour.Lab     // the target as it is in this picture's light
	mask      *raster.Mask   // at the learning level, as settled among the parts
	cast      *mend.Field    // nil: none is looked for
}

// Memo remembers what is costly and depends on a part's picks alone. make is called where the key is not
// known (any more). What it is given is closed once nobody waits for the result.
type Memo interface {
	Do(key string, make func(done raster.Done) (any, error)) (any, error)
}

type noMemo struct{ done raster.Done }

func (m noMemo) Do(_ string, f func(done raster.Done) (any, error)) (any, error) { return f(m.done) }

// isolated is a part's selection and its mask at the learning level, before claims are settled.
type isolated struct {
	selection *isolate.Selection
	mask      *raster.Mask
}

// Bytes estimates what it takes in memory.
func (i *isolated) Bytes() int {
	if i.mask == nil {
		return 1 << 10
	}
	return 2*len(i.mask.Pix) + 1<<10
}

// Develop compiles every part. A part without picks, or whose mask is empty, is left as it is. memo and
// solved may be nil. With a quick effort the result is what a hand that moves is shown meanwhile.
func Develop(src Source, doc Picture, solved isolate.Solved, memo Memo, effort isolate.Effort) (d *Developed, err error) {
	defer raster.Recover(&err)
	if memo == nil {
		memo = noMemo{src.Done}
	}
	d = &Developed{Source: src, memo: memo}
	order, err := doc.order()
	if err != nil {
		return nil, err
	}
	d.painted = paintedKey(doc)
	d.Parts = make([]DevelopedPart, len(doc.Parts))
	raw := make([]*raster.Mask, len(doc.Parts))
	made := map[string]*isolate.Selection{}
	keys := map[string]string{}
	for _, i := range order {
		part := doc.Parts[i]
		what := struct {
			Picks  []isolate.Pick
			Edge   *isolate.Edge
			Reused []string
			Effort isolate.Effort
			Depth  string
		}{part.Picks, part.Edge, nil, effort, src.DepthKey}
		for _, k := range part.Picks {
			if k.Kind == "part" {
				what.Reused = append(what.Reused, keys[k.Part])
			}
		}
		b, err := json.Marshal(what)
		if err != nil {
			return nil, err
		}
		sum := sha256.Sum256(b)
		keys[part.ID] = hex.EncodeToString(sum[:])
		v, err := memo.Do("isolated "+keys[part.ID], func(done raster.Done) (any, error) {
			in := isolate.Inputs{Space: src.Space, Masks: src.Masks, Depth: src.Depth, Parts: made, Key: keys[part.ID]}
			return isolatePart(src, done, part, in, solved, effort)
		})
		if errors.Is(err, raster.ErrStopped) || errors.Is(err, context.Canceled) {
			return nil, err
		}
		if err != nil {
			return nil, &Error{"part \"" + part.Name + "\"", err.Error()}
		}
		iso := v.(*isolated)
		made[part.ID] = iso.selection
		d.Parts[i] = DevelopedPart{Part: part, Selection: iso.selection.On(src.Pyramid), Key: keys[part.ID]}
		raw[i] = iso.mask
	}
	var all strings.Builder // who has a pixel may depend on every part
	for i := range d.Parts {
		fmt.Fprintf(&all, "%s %s %s %t;", d.Parts[i].ID, d.Parts[i].Key, d.Parts[i].Within, d.Parts[i].Overlap)
	}
	d.claimed = all.String()
	v, err := memo.Do("claims "+d.claimed, func(raster.Done) (any, error) { return Claims(doc.Parts, raw), nil })
	if err != nil {
		return nil, err
	}
	flat, err := memo.Do("flat", func(raster.Done) (any, error) { return isolate.IsFlat(src.Pyramid) })
	if err != nil {
		return nil, err
	}
	for i := range d.Parts {
		src.Done.Check()
		p := &d.Parts[i]
		if p.mask = v.([]*raster.Mask)[i]; p.mask == nil {
			continue
		}
		if effort == isolate.Quick && (p.Target.CSS == "" || p.Hidden) {
			continue // nothing is painted: what the part would say about itself can wait
		}
		key := "learned " + p.Key
		if p.mask != raw[i] {
			key = "learned " + p.ID + all.String()
		}
		v, err := memo.Do(key, func(raster.Done) (any, error) { return src.learn(p.mask, memo) })
		if err != nil {
			return nil, err
		}
		l := v.(*learnedPart)
		p.Share = l.share
		if l.learned != nil {
			if err := p.plan(src, l.learned, flat.(bool), memo); err != nil {
				return nil, err
			}
		}
	}
	for i := range d.Parts {
		if p := &d.Parts[i]; p.Plan != nil && p.Cast != nil && p.Cast.Amount > 0 {
			if err := d.findCast(p, src.Space.Linear(p.Own)); err != nil {
				return nil, err
			}
		}
	}
	return d, d.prepareMends(doc)
}

func isolatePart(src Source, done raster.Done, part Part, in isolate.Inputs, solved isolate.Solved, effort isolate.Effort) (*isolated, error) {
	sel, err := isolate.Compile(isolate.Until(src.Pyramid, done), part.Picks, part.Edge, in, solved, effort)
	if err != nil || sel.Empty() {
		return &isolated{selection: sel}, err
	}
	w, h := src.Size(src.LearnLevel())
	mask, err := sel.Until(done).Render(src.LearnLevel(), raster.Rect{X1: w, Y1: h})
	return &isolated{sel, mask}, err
}

// learnedPart is what a mask says about its part; learned is nil for an empty mask.
type learnedPart struct {
	learned *recolour.Learned
	share   float64
}

// Bytes estimates what it takes in memory: its mask is another's, but the light it finds, and what films hide, are its own.
func (*learnedPart) Bytes() int { return 2 << 20 }

func (s Source) learn(mask *raster.Mask, memo Memo) (*learnedPart, error) {
	pic, err := s.learningPicture(memo)
	if err != nil {
		return nil, err
	}
	sum := 0.0
	for _, v := range mask.Pix {
		sum += float64(v) / raster.Whole
	}
	shades, err := memo.Do("shades", func(raster.Done) (any, error) { return recolour.ShadesOf(pic), nil })
	if err != nil {
		return nil, err
	}
	learned, err := recolour.LearnIn(pic, mask, shades.(*recolour.Shades))
	if err != nil && !errors.Is(err, recolour.ErrEmptyMask) {
		return nil, err
	}
	return &learnedPart{learned, sum / float64(len(mask.Pix))}, nil
}

// learningPicture gives the whole picture at the learning level.
func (s Source) learningPicture(memo Memo) (*raster.RGB, error) {
	level := s.LearnLevel()
	w, h := s.Size(level)
	v, err := memo.Do("learning level", func(raster.Done) (any, error) { return s.Linear(level, raster.Rect{X1: w, Y1: h}) })
	if err != nil {
		return nil, err
	}
	return v.(*raster.RGB), nil
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

func (p *DevelopedPart) plan(src Source, learned *recolour.Learned, flat bool, memo Memo) error {
	space := src.Space
	p.Own, p.Tone = space.Lab(learned.Tone.Linear), learned.Tone
	if p.Target.CSS == "" || p.Hidden {
		return nil
	}
	var err error
	if p.Want, err = colour.ParseCSS(p.Target.CSS); err != nil {
		return &Error{"part \"" + p.Name + "\"", err.Error()}
	}
	q := recolour.Request{Goal: space.Linear(p.Want), Settings: p.Settings, Coded: flat, Scale: float64(int(1) << src.LearnLevel()),
		Fine: func(r raster.Rect) (*raster.RGB, error) { return src.Linear(0, r) }}
	if p.Part.Own != "" {
		own, err := colour.ParseCSS(p.Part.Own)
		if err != nil {
			return &Error{"part \"" + p.Name + "\"", err.Error()}
		}
		l := space.Linear(own)
		q.Own = &l
	}
	p.Aim = p.Want
	if p.Target.Neutral && q.Own == nil {
		pic, err := src.learningPicture(memo)
		if err != nil {
			return err
		}
		v, err := memo.Do("illuminant", func(raster.Done) (any, error) { return illuminant(pic), nil })
		if err != nil {
			return err
		}
		for c, t := range v.([3]float64) {
			q.Goal[c] *= t
		}
		p.Aim = space.Lab(q.Goal)
	}
	if p.Match != nil {
		level := src.LearnLevel()
		w, h := src.Size(level)
		k := 1 / float64(int(1)<<level)
		q.Match = &[2]int{clampInt(int(p.Match[0]*k), w), clampInt(int(p.Match[1]*k), h)}
	}
	p.Plan, p.Tone, err = learned.Plan(space, q)
	return err
}

func clampInt(v, n int) int { return max(0, min(n-1, v)) }

// Rendered is a rectangle of the picture before and after, with each part's mask.
type Rendered struct {
	Before, After *raster.RGB
	Masks         []*raster.Mask // nil for a part without picks
	Stats         []recolour.Stats
	Meant         []bool // pixels that casts and mends changed; nil: none
}

// Render gives a rectangle of a level. The rectangle must lie inside the level.
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

// ChangedMask gives how much of each pixel is changed: the part's share in it, less what does not have its colours.
func (p *DevelopedPart) ChangedMask(pic *raster.RGB, mask *raster.Mask) *raster.Mask {
	if p.Plan == nil || mask == nil {
		return mask
	}
	o := raster.NewMask(mask.W, mask.H)
	for i, v := range mask.Pix {
		if v > 0 {
			o.Pix[i] = uint16(float32(v)*p.Plan.Member(pic.Pix[3*i], pic.Pix[3*i+1], pic.Pix[3*i+2]) + 0.5)
		}
	}
	return o
}

// Settle decides among the parts who has which pixel of masks that were rendered for each.
func (d *Developed) Settle(masks []*raster.Mask) []*raster.Mask {
	parts := make([]Part, len(d.Parts))
	for i := range parts {
		parts[i] = d.Parts[i].Part
	}
	return Claims(parts, masks)
}

// Paint recolours a rectangle of pixels that somebody read or resampled, with a mask a part (nil: none).
func (d *Developed) Paint(pic *raster.RGB, masks []*raster.Mask, place raster.Place, inner raster.Rect) *Rendered {
	after := &raster.RGB{W: pic.W, H: pic.H, Pix: append([]float32(nil), pic.Pix...)}
	stats := make([]recolour.Stats, len(d.Parts))
	var around []raster.Rect
	if len(d.mends) > 0 {
		o := inner.Grow(d.Margin(place.Scale()) - recolour.Margin).And(raster.Rect{X1: pic.W, Y1: pic.H})
		around = []raster.Rect{{X0: o.X0, Y0: o.Y0, X1: o.X1, Y1: inner.Y0}, {X0: o.X0, Y0: inner.Y1, X1: o.X1, Y1: o.Y1},
			{X0: o.X0, Y0: inner.Y0, X1: inner.X0, Y1: inner.Y1}, {X0: inner.X1, Y0: inner.Y0, X1: o.X1, Y1: inner.Y1}}
	}
	for i := range d.Parts {
		if d.Parts[i].Plan != nil && masks[i] != nil {
			plan := d.Parts[i].Plan.Until(d.Done)
			stats[i] = plan.Apply(pic, after, masks[i], place, inner)
			// Mends look around: what lies there is painted too, but counts elsewhere.
			for _, r := range around {
				plan.Apply(pic, after, masks[i], place, r)
			}
		}
	}
	return &Rendered{pic, after, masks, stats, d.afterwards(pic, after, masks, place, inner)}
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

// Reachable says whether the target lies in the picture's gamut, and the nearest colour that does.
func (p *DevelopedPart) Reachable(space *colour.Space) (bool, colour.Lab) {
	l := space.Linear(p.Aim)
	if colour.InGamut(l) {
		return true, p.Aim
	}
	return false, space.Lab(space.MapToGamut(l))
}
