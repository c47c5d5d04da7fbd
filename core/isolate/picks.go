// Package isolate turns picks into masks: what the retoucher did, step by step, into each pixel's share.
package isolate

import (
	"errors"
	"fmt"
	"math"
	"slices"
	"strings"
)

// Pick is one step in making a mask. Coordinates and lengths are pixels of the full-size picture as shown.
// Which fields count depends on the kind.
type Pick struct {
	Kind string `json:"kind"`
	Join string `json:"join"` // add, subtract or intersect
	Off  bool   `json:"off,omitempty"`

	// sweep, brush
	Strokes  []Stroke `json:"strokes,omitempty"`
	Softness float64  `json:"softness,omitempty"` // brush: share of the radius that is ramp, 0..1
	Strength *float64 `json:"strength,omitempty"` // brush: the most a stroke gives, 0..1; nil is 1
	Flow     *float64 `json:"flow,omitempty"`     // brush: what one pass gives of the strength, 0..1; nil is 1
	Limit    bool     `json:"limit,omitempty"`    // brush: the paint does not run over edges

	// sweep: which of its nested answers, 0 the tightest to 1 the widest; nil for the one that is best supported
	Reach *float64 `json:"reach,omitempty"`

	// subject: which of its answers, 0 the likeliest
	Candidate int `json:"candidate,omitempty"`

	// like
	Samples   [][2]float64 `json:"samples,omitempty"`
	Boxes     [][4]float64 `json:"boxes,omitempty"` // x0, y0, x1, y1
	Not       [][2]float64 `json:"not,omitempty"`
	Colours   [][3]float64 `json:"colours,omitempty"`     // CIELAB D50: samples that were taken elsewhere
	NotLike   [][3]float64 `json:"not_colours,omitempty"` // the same for what it is not
	Tolerance float64      `json:"tolerance,omitempty"`   // CIEDE2000
	Light     float64      `json:"light,omitempty"`       // CIE L* by which light and shade may move a colour
	Connected bool         `json:"connected,omitempty"`

	// outline
	Nodes []Node `json:"nodes,omitempty"`
	Snap  bool   `json:"snap,omitempty"`

	// marks
	Ring    [][2]float64 `json:"ring,omitempty"`
	Inside  []Stroke     `json:"inside,omitempty"`
	Outside []Stroke     `json:"outside,omitempty"`

	// depth (0 far to 1 near), hues (CIE LCh degrees, may wrap), tones (CIE L*)
	From float64 `json:"from,omitempty"`
	To   float64 `json:"to,omitempty"`
	Soft float64 `json:"soft,omitempty"` // width of the ramp outside each end

	File string `json:"file,omitempty"` // mask
	Part string `json:"part,omitempty"` // part: the id of another part of the same picture
}

// Node is a corner or smooth point of an outline. In and Out are the absolute positions of its handles;
// nil where the segment on that side leaves it straight.
type Node struct {
	P   [2]float64  `json:"p"`
	In  *[2]float64 `json:"in,omitempty"`
	Out *[2]float64 `json:"out,omitempty"`
}

// Edge is what is done to a mask after its picks. Lengths are pixels of the full size, areas their count.
type Edge struct {
	Feather         float64      `json:"feather,omitempty"` // the edge runs from none to whole over twice this
	Grow            float64      `json:"grow,omitempty"`    // below 0 shrinks
	Smooth          float64      `json:"smooth,omitempty"`  // what is smaller than this along the edge is evened out
	Tidy            float64      `json:"tidy,omitempty"`    // the edge is looked for again this near
	DropSpecksUnder float64      `json:"drop_specks_under,omitempty"`
	FillHolesUnder  float64      `json:"fill_holes_under,omitempty"`
	DropAt          [][2]float64 `json:"drop_at,omitempty"` // the separate area at each point is dropped
	FillAt          [][2]float64 `json:"fill_at,omitempty"` // the hole at each point is filled
}

// None says whether nothing is done.
func (e *Edge) None() bool {
	return e == nil || e.Feather == 0 && e.Grow == 0 && e.Smooth == 0 && e.Tidy == 0 && !e.areas()
}

func (e *Edge) areas() bool {
	return e != nil && (e.DropSpecksUnder > 0 || e.FillHolesUnder > 0 || len(e.DropAt) > 0 || len(e.FillAt) > 0)
}

// Validate checks the ranges.
func (e *Edge) Validate() error {
	if e == nil {
		return nil
	}
	for _, c := range []struct {
		name      string
		v, lo, hi float64
	}{{"feather", e.Feather, 0, 250}, {"grow", e.Grow, -100, 100}, {"smooth", e.Smooth, 0, 100}, {"tidy", e.Tidy, 0, 50},
		{"drop_specks_under", e.DropSpecksUnder, 0, 1e8}, {"fill_holes_under", e.FillHolesUnder, 0, 1e8}} {
		if !(c.v >= c.lo && c.v <= c.hi) {
			return &InputError{0, fmt.Sprintf("edge: %s is %g; it runs from %g to %g", c.name, c.v, c.lo, c.hi)}
		}
	}
	if len(e.DropAt) > maxAreas || len(e.FillAt) > maxAreas {
		return &InputError{0, fmt.Sprintf("edge: over %d areas are dropped or filled one by one; set a size instead", maxAreas)}
	}
	for _, q := range slices.Concat(e.DropAt, e.FillAt) {
		if !onMap(q) {
			return &InputError{0, fmt.Sprintf("edge: the point %g, %g is in no picture", q[0], q[1])}
		}
	}
	return nil
}

// kinds in the order in which the messages name them.
var kinds = []string{"sweep", "brush", "like", "outline", "marks", "subject", "depth", "hues", "tones", "mask", "part"}

// InputError says what is wrong with a pick and how to mend it.
type InputError struct {
	Pick    int // counted from 1; 0 where it is not about one pick
	Problem string
}

func (e *InputError) Error() string {
	if e.Pick == 0 {
		return e.Problem
	}
	return fmt.Sprintf("pick %d: %s", e.Pick, e.Problem)
}

// Mendable marks it as an error that whoever asked can mend.
func (*InputError) Mendable() {}

// Bounds of what a pick may hold; generous, so that only broken or hostile input meets them.
const (
	maxPicks   = 2000
	maxStrokes = 5000
	maxPoints  = 400000
	maxSamples = 500
	maxNodes   = 5000
	maxAreas   = 2000
	maxCoord   = 1e6
)

func onMap(p [2]float64) bool { return math.Abs(p[0]) <= maxCoord && math.Abs(p[1]) <= maxCoord }

// Validate checks picks without looking at a picture.
func Validate(picks []Pick) error {
	if len(picks) > maxPicks {
		return &InputError{0, fmt.Sprintf("there are %d picks; at most %d are taken", len(picks), maxPicks)}
	}
	points := 0
	for i := range picks {
		n, err := picks[i].validate()
		if err != nil {
			return &InputError{i + 1, err.Error()}
		}
		if points += n; points > maxPoints {
			return &InputError{i + 1, fmt.Sprintf("the picks have over %d points", maxPoints)}
		}
	}
	return nil
}

// validate checks one pick and counts its points.
func (p *Pick) validate() (points int, err error) {
	if !slices.Contains(kinds, p.Kind) {
		return 0, fmt.Errorf("the kind %q is not known; use one of %s", p.Kind, strings.Join(kinds, ", "))
	}
	if p.Join != "add" && p.Join != "subtract" && p.Join != "intersect" {
		return 0, fmt.Errorf("join is %q; use add, subtract or intersect", p.Join)
	}
	switch p.Kind {
	case "sweep", "brush":
		return p.validateBrush()
	case "marks":
		return p.validateMarks()
	case "like":
		return 0, p.validateLike()
	case "outline":
		return 0, p.validateOutline()
	case "depth", "hues", "tones":
		return 0, p.validateRange()
	case "subject":
		if p.Candidate < 0 || p.Candidate >= SubjectCandidates {
			return 0, fmt.Errorf("candidate is %d; it runs from 0, the likeliest, to %d", p.Candidate, SubjectCandidates-1)
		}
	case "mask":
		if p.File == "" {
			return 0, errors.New("a mask pick names its file; add \"file\"")
		}
	case "part":
		if p.Part == "" {
			return 0, errors.New("it names no other part; add \"part\" with that part's id")
		}
	}
	return 0, nil
}

// validateSpots checks that points lie in pictures.
func validateSpots(what string, list ...[2]float64) error {
	for _, q := range list {
		if !onMap(q) {
			return fmt.Errorf("%s lies at %g, %g, which is in no picture", what, q[0], q[1])
		}
	}
	return nil
}

func (p *Pick) validateBrush() (points int, err error) {
	if len(p.Strokes) == 0 {
		return 0, errors.New("it has no strokes; add at least one with a radius and points")
	}
	for _, c := range []struct {
		name string
		v    *float64
	}{{"softness", &p.Softness}, {"strength", p.Strength}, {"flow", p.Flow}, {"reach", p.Reach}} {
		if c.v != nil && !(*c.v >= 0 && *c.v <= 1) {
			return 0, fmt.Errorf("%s is %g; it runs from 0 to 1", c.name, *c.v)
		}
	}
	return validateStrokes("stroke", p.Strokes)
}

func (p *Pick) validateLike() error {
	if len(p.Samples)+len(p.Boxes)+len(p.Colours) == 0 {
		return errors.New("it has neither samples nor boxes; add at least one")
	}
	for _, l := range slices.Concat(p.Colours, p.NotLike) {
		if !(l[0] >= 0 && l[0] <= 100 && math.Abs(l[1]) <= 200 && math.Abs(l[2]) <= 200) {
			return fmt.Errorf("%g %g %g is no CIELAB colour", l[0], l[1], l[2])
		}
	}
	if len(p.Samples)+len(p.Colours) > maxSamples || len(p.Boxes) > maxSamples || len(p.Not)+len(p.NotLike) > maxSamples {
		return fmt.Errorf("it has over %d samples", maxSamples)
	}
	if !(p.Tolerance >= 0 && p.Tolerance <= 100) {
		return fmt.Errorf("tolerance is %g; it runs from 0 to 100 (CIEDE2000)", p.Tolerance)
	}
	if !(p.Light >= 0 && p.Light <= 100) {
		return fmt.Errorf("light is %g; it runs from 0 to 100 (CIE L*)", p.Light)
	}
	if err := validateSpots("a sample", slices.Concat(p.Samples, p.Not)...); err != nil {
		return err
	}
	for _, b := range p.Boxes {
		if err := validateSpots("a box", [2]float64{b[0], b[1]}, [2]float64{b[2], b[3]}); err != nil {
			return err
		}
	}
	return nil
}

func (p *Pick) validateOutline() error {
	if len(p.Nodes) < 2 || len(p.Nodes) == 2 && p.Nodes[0].Out == nil && p.Nodes[0].In == nil && p.Nodes[1].In == nil && p.Nodes[1].Out == nil {
		return fmt.Errorf("an outline of %d nodes encloses nothing; it takes three, or two with handles", len(p.Nodes))
	}
	if len(p.Nodes) > maxNodes {
		return fmt.Errorf("it has %d nodes; at most %d are taken", len(p.Nodes), maxNodes)
	}
	for _, n := range p.Nodes {
		for _, q := range []*[2]float64{&n.P, n.In, n.Out} {
			if q == nil {
				continue
			}
			if err := validateSpots("a node or handle", *q); err != nil {
				return err
			}
		}
	}
	return nil
}

func (p *Pick) validateMarks() (points int, err error) {
	if len(p.Ring) < 3 {
		return 0, fmt.Errorf("its ring has %d points; draw it around the thing, with three or more", len(p.Ring))
	}
	if err := validateSpots("the ring", p.Ring...); err != nil {
		return 0, err
	}
	if len(p.Inside) == 0 {
		return 0, errors.New("it has no stroke inside; add one where the thing surely is")
	}
	a, err := validateStrokes("inside stroke", p.Inside)
	if err != nil {
		return 0, err
	}
	b, err := validateStrokes("outside stroke", p.Outside)
	return a + b + len(p.Ring), err
}

// validateRange checks a pick of depth, hues or tones. Hues go round.
func (p *Pick) validateRange() error {
	hi := map[string]float64{"depth": 1, "hues": 360, "tones": 100}[p.Kind]
	for _, c := range []struct {
		name string
		v    float64
	}{{"from", p.From}, {"to", p.To}, {"soft", p.Soft}} {
		lo := 0.0
		if p.Kind == "hues" && c.name != "soft" {
			lo = -360
		}
		if !(c.v >= lo && c.v <= hi) {
			return fmt.Errorf("%s is %g; for %s it runs from %g to %g", c.name, c.v, p.Kind, lo, hi)
		}
	}
	if p.Kind != "hues" && p.From > p.To {
		return fmt.Errorf("from is %g and to is %g; give the smaller first", p.From, p.To)
	}
	return nil
}

func validateStrokes(what string, strokes []Stroke) (points int, err error) {
	if len(strokes) > maxStrokes {
		return 0, fmt.Errorf("it has %d strokes; at most %d are taken", len(strokes), maxStrokes)
	}
	for s, st := range strokes {
		switch {
		case !(st.Radius > 0 && st.Radius <= 1e5):
			return 0, fmt.Errorf("%s %d has the radius %g; it is above 0 and at most 100000 pixels", what, s+1, st.Radius)
		case len(st.Points) == 0:
			return 0, fmt.Errorf("%s %d has no points", what, s+1)
		case len(st.Pressure) != 0 && len(st.Pressure) != len(st.Points):
			return 0, fmt.Errorf("%s %d has %d points but %d pressures; give one each or none", what, s+1, len(st.Points), len(st.Pressure))
		}
		for _, q := range st.Pressure {
			if !(q >= 0 && q <= 1) {
				return 0, fmt.Errorf("%s %d has the pressure %g; it runs from 0 to 1", what, s+1, q)
			}
		}
		points += len(st.Points)
		for _, q := range st.Points {
			if !onMap(q) {
				return 0, fmt.Errorf("%s %d has a point at %g, %g, which is in no picture", what, s+1, q[0], q[1])
			}
		}
	}
	return points, nil
}
