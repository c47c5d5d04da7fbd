package colour

import "math"

// The wider RGB spaces of CSS Color 4, section 10, made from their primaries and white points.
var (
	a98ToD50      = toD50.Times(fromPrimaries([3][2]float64{{0.64, 0.33}, {0.21, 0.71}, {0.15, 0.06}}, d65xy))
	rec2020ToD50  = toD50.Times(fromPrimaries([3][2]float64{{0.708, 0.292}, {0.170, 0.797}, {0.131, 0.046}}, d65xy))
	prophotoToD50 = fromPrimaries([3][2]float64{{0.734699, 0.265301}, {0.159597, 0.840403}, {0.036598, 0.000105}}, [2]float64{0.3457, 0.3585})
	d65xy         = [2]float64{0.3127, 0.3290}
)

// fromPrimaries gives the matrix from linear RGB to XYZ for primaries and a white point as chromaticities.
func fromPrimaries(p [3][2]float64, white [2]float64) Matrix {
	var m Matrix
	for c, q := range p {
		m[0][c], m[1][c], m[2][c] = q[0]/q[1], 1, (1-q[0]-q[1])/q[1]
	}
	inv, _ := m.Inverse() // primaries span the plane
	s := inv.Mul([3]float64{white[0] / white[1], 1, (1 - white[0] - white[1]) / white[1]})
	for r := range m {
		for c := range m[r] {
			m[r][c] *= s[c]
		}
	}
	return m
}

// fromWide reads coded values of a98-rgb, prophoto-rgb or rec2020 into CIELAB D50.
func fromWide(space string, v RGB) (Lab, bool) {
	curve := func(f func(v float64) float64) RGB {
		var o RGB
		for i, x := range v {
			o[i] = math.Copysign(f(math.Abs(x)), x)
		}
		return o
	}
	switch space {
	case "a98-rgb":
		return LabOf(a98ToD50.Mul(curve(func(v float64) float64 { return math.Pow(v, 563.0/256) })), D50), true
	case "prophoto-rgb":
		return LabOf(prophotoToD50.Mul(curve(func(v float64) float64 {
			if v <= 16.0/512 {
				return v / 16
			}
			return math.Pow(v, 1.8)
		})), D50), true
	case "rec2020":
		const a, b = 1.09929682680944, 0.018053968510807
		return LabOf(rec2020ToD50.Mul(curve(func(v float64) float64 {
			if v < 4.5*b {
				return v / 4.5
			}
			return math.Pow((v+a-1)/a, 1/0.45)
		})), D50), true
	}
	return Lab{}, false
}
