// Package isolate turns picks into masks: what the retoucher did, step by step, into each pixel's share.
package isolate

import (
	"fmt"
	"math"
)

// Pick is one step in making a mask. Coordinates and lengths are pixels of the full-size picture as shown.
type Pick struct {
	Kind     string   `json:"kind"`
	Join     string   `json:"join"`
	Off      bool     `json:"off,omitempty"`
	Strokes  []Stroke `json:"strokes,omitempty"`
	Softness float64  `json:"softness,omitempty"`
	Strength *float64 `json:"strength,omitempty"`
	File     string   `json:"file,omitempty"`
}

// Kinds of pick that can be computed, and those of the contract that come later.
var (
	kindsNow   = map[string]bool{"sweep": true, "brush": true, "mask": true}
	kindsLater = map[string]bool{"like": true, "outline": true, "marks": true, "subject": true, "depth": true, "hues": true, "tones": true}
)

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

// Bounds of what a pick may hold; generous, so that only broken or hostile input meets them.
const (
	maxPicks   = 2000
	maxStrokes = 5000
	maxPoints  = 400000
	maxCoord   = 1e6
)

// Validate checks picks without looking at a picture.
func Validate(picks []Pick) error {
	if len(picks) > maxPicks {
		return &InputError{0, fmt.Sprintf("there are %d picks; at most %d are taken", len(picks), maxPicks)}
	}
	points := 0
	for i, p := range picks {
		fail := func(f string, a ...any) error { return &InputError{i + 1, fmt.Sprintf(f, a...)} }
		switch {
		case kindsLater[p.Kind]:
			return fail("the kind %q is not built yet; sweep, brush and mask are", p.Kind)
		case !kindsNow[p.Kind]:
			return fail("the kind %q is not known; use sweep, brush or mask", p.Kind)
		}
		switch p.Join {
		case "add", "subtract", "intersect":
		default:
			return fail("join is %q; use add, subtract or intersect", p.Join)
		}
		if p.Kind == "mask" && p.File == "" {
			return fail("a mask pick names its file; add \"file\"")
		}
		if p.Kind != "mask" && len(p.Strokes) == 0 {
			return fail("it has no strokes; add at least one with a radius and points")
		}
		if len(p.Strokes) > maxStrokes {
			return fail("it has %d strokes; at most %d are taken", len(p.Strokes), maxStrokes)
		}
		if !(p.Softness >= 0 && p.Softness <= 1) {
			return fail("softness is %g; it runs from 0 to 1", p.Softness)
		}
		if p.Strength != nil && !(*p.Strength >= 0 && *p.Strength <= 1) {
			return fail("strength is %g; it runs from 0 to 1", *p.Strength)
		}
		for s, st := range p.Strokes {
			if !(st.Radius > 0 && st.Radius <= 1e5) {
				return fail("stroke %d has the radius %g; it is above 0 and at most 100000 pixels", s+1, st.Radius)
			}
			if len(st.Points) == 0 {
				return fail("stroke %d has no points", s+1)
			}
			if len(st.Pressure) != 0 && len(st.Pressure) != len(st.Points) {
				return fail("stroke %d has %d points but %d pressures; give one each or none", s+1, len(st.Points), len(st.Pressure))
			}
			for _, q := range st.Pressure {
				if !(q >= 0 && q <= 1) {
					return fail("stroke %d has the pressure %g; it runs from 0 to 1", s+1, q)
				}
			}
			points += len(st.Points)
			for _, q := range st.Points {
				if !(math.Abs(q[0]) <= maxCoord && math.Abs(q[1]) <= maxCoord) {
					return fail("stroke %d has a point at %g, %g, which is in no picture", s+1, q[0], q[1])
				}
			}
		}
		if points > maxPoints {
			return fail("the picks have over %d points", maxPoints)
		}
	}
	return nil
}

// ComesLater says whether a kind is in the contract but not built yet.
func ComesLater(kind string) bool { return kindsLater[kind] }
