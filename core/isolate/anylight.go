package isolate

import (
	"math"

	"episema/core/colour"
)

// litSample is a sample as it looks in more and in less light: a linear colour times the light.
type litSample struct {
	share             float64 // of the tolerance for light, 0 near neutral
	darkest, lightest float64 // CIE L* between which it is taken for the same paint
	looks             [101]colour.Lab
}

const (
	neutralChroma  = 4.0  // CIE C* up to which only lightness tells things apart, so that light is not tolerated
	colouredChroma = 18.0 // and from which it is in full
)

// lightShare says how much of a tolerance for light a colour is given: none near neutral, where lightness alone tells things apart.
func lightShare(lab colour.Lab) float64 {
	t := math.Max(0, math.Min(1, (lab.Chroma()-neutralChroma)/(colouredChroma-neutralChroma)))
	return t * t * (3 - 2*t)
}

// newLitSample works out the looks of a linear colour whose L* light may move by at most a share of light either way.
func newLitSample(space *colour.Space, c colour.RGB, light, share float64) litSample {
	lab := space.Lab(c)
	light *= share
	s := litSample{share: share, darkest: math.Max(0, lab[0]-light), lightest: math.Min(100, lab[0]+light)}
	y := lightOfL(lab[0])
	for i := range s.looks {
		k := lightOfL(float64(i)) / math.Max(y, 1e-6)
		s.looks[i] = space.Lab(colour.RGB{c[0] * k, c[1] * k, c[2] * k})
	}
	return s
}

// lightOfL gives the luminance (white 1) of a CIE L*.
func lightOfL(l float64) float64 { return colour.XYZOf(colour.Lab{l}, colour.XYZ{1, 1, 1})[1] }

// at gives the look that is nearest in lightness to l.
func (s *litSample) at(l float64) colour.Lab {
	l = math.Max(s.darkest, math.Min(s.lightest, l))
	i := min(99, int(l))
	a, b, t := s.looks[i], s.looks[i+1], l-float64(i)
	return colour.Lab{a[0] + t*(b[0]-a[0]), a[1] + t*(b[1]-a[1]), a[2] + t*(b[2]-a[2])}
}
