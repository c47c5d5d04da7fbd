package isolate

import (
	"crypto/sha256"
	"encoding/json"

	"episema/core/colour"
	"episema/core/raster"
)

// Inputs is what picks refer to besides the picture's own pixels. The zero value holds nothing.
type Inputs struct {
	Space *colour.Space           // of the picture; nil is sRGB
	Masks map[string]*raster.Mask // by the name that mask picks give; at the picture's full size
	Depth *raster.Mask            // nearness, 0 far to 65535 near; any size, covers the whole picture
	Parts map[string]*Selection   // other parts, by id
	Start *Selection              // what there is before the first pick; nil for nothing
	Key   string                  // tells all of this from other inputs of the same picture, where solved things are kept
}

func (in *Inputs) space() *colour.Space {
	if in.Space == nil {
		return colour.SRGB
	}
	return in.Space
}

// Selection is a compiled list of picks: what is slow is done, any rectangle at any level is quick.
type Selection struct {
	pyramid Pyramid
	groups  []group
	finish  finish
}

// coverage gives the share, 0..1, of each pixel of a rectangle at a level.
type coverage interface {
	render(p Pyramid, level int, r raster.Rect) ([]float32, error)
}

type group struct {
	join  string
	cover coverage
}

// Solved keeps what picks were solved to, so that a change elsewhere does not solve them again.
// Implementations may forget at any time.
type Solved interface {
	Get(key [32]byte) (any, bool)
	Put(key [32]byte, v any, bytes int)
}

// Labels is a solved region: 1 inside, 0 outside, at a level of the pyramid.
type Labels struct {
	Level, W, H int
	In          []uint8
}

// Effort says how exactly a selection is solved: a hand that is still moving is shown a quick answer.
type Effort int

// The efforts.
const (
	Exact Effort = iota
	Quick        // coarse; the exact one follows when the hand rests
)

// compiler is what the kinds share while they are compiled.
type compiler struct {
	p      Pyramid
	in     Inputs
	solved Solved
	effort Effort
}

// once gives what make gives, from what was solved before where it is there. kind and what tell it from others.
func once[T any](c *compiler, kind string, what any, size func(T) int, make func() (T, error)) (T, error) {
	if c.solved == nil {
		return make()
	}
	key, err := keyOf(kind, what)
	if err != nil {
		var none T
		return none, err
	}
	if v, ok := c.solved.Get(key); ok {
		return v.(T), nil
	}
	doneOf(c.p).Check()
	v, err := make()
	if err == nil {
		c.solved.Put(key, v, size(v))
	}
	return v, err
}

func keyOf(kind string, what any) (key [32]byte, err error) {
	b, err := json.Marshal(what)
	if err != nil {
		return key, err
	}
	return sha256.Sum256(append([]byte(kind+"\x00"), b...)), nil
}

func (c *compiler) labels(kind string, what any, make func() (*Labels, error)) (*Labels, error) {
	return once(c, kind, what, func(l *Labels) int { return len(l.In) }, make)
}

// Compile checks the picks and solves what is slow about them. solved may be nil. Sweeps that add or take
// away and stand next to each other are solved together: a stroke outside tells a sweep before it where the
// rest is. edge may be nil.
func Compile(p Pyramid, picks []Pick, edge *Edge, in Inputs, solved Solved, effort Effort) (s *Selection, err error) {
	defer raster.Recover(&err)
	if err := Validate(picks); err != nil {
		return nil, err
	}
	if err := edge.Validate(); err != nil {
		return nil, err
	}
	c := &compiler{p, in, solved, effort}
	s = &Selection{pyramid: p}
	if in.Start != nil && !in.Start.Empty() {
		s.groups = append(s.groups, group{"add", in.Start})
	}
	var on []int
	for i := range picks {
		if !picks[i].Off {
			on = append(on, i)
		}
	}
	for len(on) > 0 {
		i := on[0]
		var cover coverage
		if picks[i].Kind == "sweep" {
			cover, on, err = c.sweeps(picks, on)
		} else {
			cover, err = c.cover(&picks[i])
			on = on[1:]
		}
		if err != nil {
			if problem, ok := err.(problem); ok {
				return nil, &InputError{i + 1, string(problem)}
			}
			return nil, err
		}
		s.groups = append(s.groups, group{picks[i].Join, cover})
	}
	err = s.finishWith(c, picks, edge)
	s.pyramid = bare(p)
	return s, err
}

// sweeps solves the first of the picks at on, a sweep, together with those right behind it that grow with it, and returns which picks are
// left. A sweep that takes away, with none before it, grows by itself and is then taken away.
func (c *compiler) sweeps(picks []Pick, on []int) (coverage, []int, error) {
	first := &picks[on[0]]
	reach := first.Reach
	var strokes []seeded
	add := func(q *Pick, inside bool) {
		if q.Reach != nil {
			reach = q.Reach // of sweeps that are solved together the last says
		}
		for _, st := range q.Strokes {
			strokes = append(strokes, seeded{st, inside})
		}
	}
	add(first, true)
	on = on[1:]
	for first.Join == "add" && len(on) > 0 && picks[on[0]].Kind == "sweep" && picks[on[0]].Join != "intersect" {
		add(&picks[on[0]], picks[on[0]].Join == "add")
		on = on[1:]
	}
	cover, err := c.sweep(strokes, reach)
	return cover, on, err
}

// cover solves a pick that is no sweep.
func (c *compiler) cover(pick *Pick) (coverage, error) {
	switch pick.Kind {
	case "brush":
		return c.brush(pick), nil
	case "like":
		return c.like(pick)
	case "outline":
		return c.outline(pick)
	case "marks":
		return c.marks(pick)
	case "subject":
		return c.subject(pick.Candidate)
	case "depth":
		return c.depth(pick)
	case "hues", "tones":
		return c.band(pick), nil
	case "mask":
		return c.maskFile(pick)
	}
	return c.part(pick)
}

// problem is what a kind finds wrong with its pick once it sees the picture.
type problem string

func (p problem) Error() string { return string(p) }

// Empty says whether no pick takes part.
func (s *Selection) Empty() bool { return len(s.groups) == 0 }

// Pyramid gives the picture the selection was compiled for.
func (s *Selection) Pyramid() Pyramid { return s.pyramid }

// Render gives the mask of a rectangle, which must lie inside the level, at a level of the pyramid.
func (s *Selection) Render(level int, r raster.Rect) (m *raster.Mask, err error) {
	defer raster.Recover(&err)
	m = raster.NewMask(r.W(), r.H())
	if r.Empty() || s.Empty() {
		return m, nil
	}
	total, err := s.render(s.pyramid, level, r)
	if err != nil {
		return nil, err
	}
	for i, v := range total {
		m.Pix[i] = uint16(max(0, min(1, v))*raster.Whole + 0.5)
	}
	return m, nil
}

// render makes a whole selection a coverage, so that another part can use it.
func (s *Selection) render(p Pyramid, level int, r raster.Rect) ([]float32, error) {
	if s.Empty() {
		return make([]float32, r.W()*r.H()), nil
	}
	s = s.On(p)
	return s.finish.render(s, level, r)
}

// joined gives the picks joined in order, before anything is done to the edge.
func (s *Selection) joined(level int, r raster.Rect) ([]float32, error) {
	total := make([]float32, r.W()*r.H())
	for _, g := range s.groups {
		doneOf(s.pyramid).Check()
		c, err := g.cover.render(s.pyramid, level, r)
		if err != nil {
			return nil, err
		}
		join(total, c, g.join)
	}
	return total, nil
}

func join(total, c []float32, how string) {
	switch how {
	case "add":
		for i, v := range c {
			total[i] = max(total[i], v)
		}
	case "subtract":
		for i, v := range c {
			total[i] = min(total[i], 1-v)
		}
	case "intersect":
		for i, v := range c {
			total[i] = min(total[i], v)
		}
	}
}
