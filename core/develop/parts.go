package develop

import (
	"errors"

	"episema/core/colour"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/mend"
	"episema/core/raster"
	"episema/core/recolour"
)

// Part is a part of a document with its selection and, where it has a target, its plan.
type Part struct {
	document.Part
	Selection *isolate.Selection
	Key       string           // tells the selection from any other of the same picture
	Plan      *recolour.Plan   // nil: left as it is
	figures   []*recolour.Plan // what each colour of the pattern makes of the thing
	Tone      recolour.Tone    // where the result must equal the target; pixels of the learning level
	Own       colour.Lab       // the colour in the picture at the typical lit tone
	Want      colour.Lab       // the target
	Share     float64          // of the picture, 0..1
	Aim       colour.Lab       // the target as it is in this picture's light
	mask      *raster.Mask     // at the learning level, as settled among the parts
	cast      *mend.Field      // nil: none is looked for
}

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

func isolatePart(src Source, done raster.Done, part document.Part, in isolate.Inputs, solved isolate.Solved, effort isolate.Effort) (*isolated, error) {
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

// learn learns what a mask covers in the picture at the learning level.
func (s Source) learn(pic *raster.RGB, mask *raster.Mask, memo Memo) (*learnedPart, error) {
	sum := 0.0
	for _, v := range mask.Pix {
		sum += float64(v) / raster.Whole
	}
	shades, err := memo.Do("shades", func(raster.Done) (any, error) {
		whole, err := s.LearningPicture(memo)
		if err != nil {
			return nil, err
		}
		return recolour.ShadesOf(whole), nil
	})
	if err != nil {
		return nil, err
	}
	learned, err := recolour.LearnIn(pic, mask, shades.(*recolour.Shades))
	if err != nil && !errors.Is(err, recolour.ErrEmptyMask) {
		return nil, err
	}
	return &learnedPart{learned, sum / float64(len(mask.Pix))}, nil
}

// planPart plans what a part becomes, by what was learned of it at a level. grey is the picture's grey card, if it has one.
func (d *Developed) planPart(p *Part, learned *recolour.Learned, level int, flat bool, grey *document.Grey) error {
	src, space := d.Source, d.Space
	p.Own, p.Tone = space.Lab(learned.Tone.Linear), learned.Tone
	if p.Hidden || p.Target.CSS == "" && p.Pattern == nil {
		return nil
	}
	var err error
	relative := colour.Relative(p.Target.CSS)
	origin := p.Own
	if p.Part.Own != "" {
		if origin, err = colour.ParseCSS(p.Part.Own); err != nil {
			return wrong(p.Part, err)
		}
	}
	p.Want = origin
	if p.Target.CSS != "" {
		if p.Want, err = colour.ParseFrom(p.Target.CSS, origin); err != nil {
			return wrong(p.Part, err)
		}
	}
	q := recolour.Request{Goal: space.Linear(p.Want), Settings: p.Settings, Coded: flat, Scale: float64(int(1) << level),
		Fine: func(r raster.Rect) (*raster.RGB, error) { return d.closely(p, r) }}
	if p.Part.Own != "" {
		own := space.Linear(origin)
		q.Own = &own
	}
	p.Aim = p.Want
	if p.Target.Neutral && q.Own == nil && !relative { // what is relative to a colour in this light is in it already
		light, err := d.light(grey)
		if err != nil {
			return err
		}
		for c, t := range light {
			q.Goal[c] *= t
		}
		p.Aim = space.Lab(q.Goal)
	}
	if p.Match != nil {
		w, h := src.Size(level)
		k := 1 / float64(int(1)<<level)
		q.Match = &[2]int{clampInt(int(p.Match[0]*k), w), clampInt(int(p.Match[1]*k), h)}
	}
	if p.Pattern != nil {
		if err := p.planFigures(space, learned, q, origin); err != nil {
			return err
		}
	}
	if p.Target.CSS == "" {
		return nil
	}
	p.Plan, p.Tone, err = learned.Plan(space, q)
	return err
}

// planFigures plans what each colour of the part's pattern makes of the thing. What is printed takes away from the light of the ground;
// origin is the thing's own colour.
func (p *Part) planFigures(space *colour.Space, learned *recolour.Learned, q recolour.Request, origin colour.Lab) error {
	ground := q.Goal
	if p.Target.CSS == "" {
		ground = space.Linear(origin)
	}
	for _, t := range p.Pattern.Colours {
		c, err := colour.ParseFrom(t.CSS, origin)
		if err != nil {
			return wrong(p.Part, err)
		}
		q.Goal = space.Linear(c)
		if p.Pattern.Lay.Print {
			for k := range q.Goal {
				q.Goal[k] *= max(0, ground[k])
			}
		}
		plan, _, err := learned.Plan(space, q)
		if err != nil {
			return err
		}
		p.figures = append(p.figures, plan)
	}
	return nil
}

func clampInt(v, n int) int { return max(0, min(n-1, v)) }

// Reachable reports whether the target lies in the picture's gamut, and the nearest colour that does.
func (p *Part) Reachable(space *colour.Space) (bool, colour.Lab) {
	l := space.Linear(p.Aim)
	if colour.InGamut(l) {
		return true, p.Aim
	}
	return false, space.Lab(space.MapToGamut(l))
}

// ChangedMask returns how much of each pixel a part changes: its share in it, less what does not have its colours. Once nobody waits the mask
// is worth nothing.
func (d *Developed) ChangedMask(part int, pic *raster.RGB, mask *raster.Mask) *raster.Mask {
	p := d.Parts[part].Plan
	if p == nil || mask == nil {
		return mask
	}
	return p.Until(d.Done).Changed(pic, mask)
}

// wrong says which part an error is about.
func wrong(p document.Part, err error) error {
	return &document.Error{Where: "part \"" + p.Name + "\"", Problem: err.Error()}
}
