// Package proof measures a result: how far it is from what was asked for.
package proof

import (
	"episema/core/colour"
	"episema/core/develop"
)

// Part is the proof of one part.
type Part struct {
	ID, Name   string
	State      string     // "as it is", "within", "outside", "unreachable"; told from Whole, not from the match point
	Own        colour.Lab // in the picture, at the typical lit tone
	Want, Got  colour.Lab // target and result at the match point
	Nearest    colour.Lab // the target, or the nearest colour the picture's space can hold
	DeltaE     float64    // CIEDE2000 of target and result at the match point
	Tolerance  float64
	At         [2]float64 // the match point, in pixels of the full-size picture
	OutOfGamut float64    // percent of the part's pixels
	Clipped    float64    // percent of the part's pixels
	Share      float64    // percent of the picture
	Painted    bool

	Whole              Whole      // what the state is decided by
	Aim                colour.Lab // the target as it is in this picture's light
	LitTone            colour.Lab // median colour of the result there
	LitAt              Spot       // a place that has it
	Beyond             float64    // CIEDE2000 from the aim to the nearest colour that can be reached
	GamutAt, ClippedAt *Spot      // where it is worst
	Vivid              *float64   // strength in percent past which the photo has nothing as vivid; nil: none
	Cast               float64    // strongest tint on the neighbours, as a share of the light there; 0: not looked for
	CastAt             Spot
	Ink                *Ink // nil where no inks were given
}

// DefaultTolerance is what a colour without a tolerance of its own may differ by; common practice for
// brand colours lies between 2 and 3.
const DefaultTolerance = 2.0

// Measure proves every part at the learning level. changedOutside counts pixels without any share in a
// part whose value changed; it must be 0.
func Measure(d *develop.Developed) (parts []Part, changedOutside int, err error) {
	return MeasureInInk(d, nil)
}

// MeasureInInk is Measure, and tells of every part what some inks can do of it.
func MeasureInInk(d *develop.Developed, inks *colour.InkTable) (parts []Part, changedOutside int, err error) {
	r, err := d.Ground().Overview()
	if err != nil {
		return nil, 0, err
	}
	scale := float64(int(1) << d.LearnLevel())
	for i := range d.Parts {
		p := &d.Parts[i]
		q := Part{ID: p.ID, Name: p.Name, State: "as it is", Own: p.Own, Share: 100 * p.Share, Tolerance: p.Target.Tolerance}
		if q.Tolerance == 0 {
			q.Tolerance = DefaultTolerance
		}
		if p.Plan != nil {
			q.Painted = true
			q.Want = p.Want
			q.At = [2]float64{(float64(p.Tone.X) + 0.5) * scale, (float64(p.Tone.Y) + 0.5) * scale}
			q.Got = d.Space.Lab(p.Plan.Result(p.Tone.Linear))
			q.DeltaE = colour.DeltaE00(p.Aim, q.Got)
			ok, near := p.Reachable(d.Space)
			q.Nearest, q.Aim = near, p.Aim
			q.Beyond = colour.DeltaE00(p.Aim, near)
			q.Whole = whole(d, r, i)
			var pixel int
			q.LitTone, pixel = lit(d, r, i)
			q.LitAt = Spot{(float64(pixel%r.After.W) + 0.5) * scale, (float64(pixel/r.After.W) + 0.5) * scale}
			q.GamutAt, q.ClippedAt = worst(d, r, i, scale)
			q.Vivid = vividStrength(d, r, p, q.Got)
			q.Cast, q.CastAt[0], q.CastAt[1] = p.CastOf()
			switch {
			case !ok && q.Beyond > q.Tolerance:
				q.State = "unreachable"
			case q.Whole.Meets(q.Tolerance):
				q.State = "within"
			default:
				q.State = "outside"
			}
			if st := r.Stats[i]; st.Inside > 0 {
				q.OutOfGamut = 100 * float64(st.OutOfGamut) / float64(st.Inside)
				q.Clipped = 100 * float64(st.Clipped) / float64(st.Inside)
			}
		}
		if inks != nil {
			of := q.Own
			if q.Painted {
				of = q.Aim
			}
			q.Ink = inInk(d, r, i, of, inks, scale)
		}
		parts = append(parts, q)
	}
	return parts, ChangedOutside(r), nil
}

// ChangedOutside counts pixels that changed although no part has a share in them.
func ChangedOutside(r *develop.Rendered) int {
	n := 0
	for i := 0; i < r.Given.W*r.Given.H; i++ {
		if r.Given.Pix[3*i] == r.After.Pix[3*i] && r.Given.Pix[3*i+1] == r.After.Pix[3*i+1] && r.Given.Pix[3*i+2] == r.After.Pix[3*i+2] {
			continue
		}
		inside := r.Meant != nil && r.Meant[i]
		for _, m := range r.Masks {
			inside = inside || m != nil && m.Pix[i] > 0
		}
		if !inside {
			n++
		}
	}
	return n
}
