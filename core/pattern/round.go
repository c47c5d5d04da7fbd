package pattern

import "math"

// mostRound is the half angle, in degrees, of what is all round: at 90 the sides of the square would be seen edge on.
const mostRound = 88

// round brings a place in the square of cloth, 0..1 across and down, to where it is on the cloth where that lies round an upright
// cylinder, the square's sides on both sides of it, seen from far: across, the cloth goes with the arc, as wide at the front as it was
// flat; down, rings are seen as ellipses. ok is false for what lies beyond the cylinder.
func (l *Lay) round(s, t float64) (float64, float64, bool) {
	if l.Round == 0 {
		return s, t, true
	}
	x := (2*s - 1) * l.bulge
	if x < -1 || x > 1 {
		return 0, 0, false
	}
	radius := 1 / (2 * l.bulge) // in widths of the square
	return 0.5 + radius*math.Asin(x), t + l.Above/100*radius*(1-math.Sqrt(1-x*x)), true
}
