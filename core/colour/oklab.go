package colour

import "math"

// Oklab is Björn Ottosson's space (A perceptual color space for image processing, 2020), L in 0..1.
type Oklab [3]float64

var (
	oklabM1 = Matrix{
		{0.8190224379967030, 0.3619062600528904, -0.1288737815209879},
		{0.0329836539323885, 0.9292868615863434, 0.0361446663506424},
		{0.0481771893596242, 0.2642395317527308, 0.6335478284694309}}
	oklabM2 = Matrix{
		{0.2104542683093140, 0.7936177747023054, -0.0040720430116193},
		{1.9779985324311684, -2.4285922420485799, 0.4505937096174110},
		{0.0259040424655478, 0.7827717124575296, -0.8086757549230774}}
	oklabM1Inv, _ = oklabM1.Inverse()
	oklabM2Inv, _ = oklabM2.Inverse()
)

// OklabOf turns XYZ D65 into Oklab (matrices as in CSS Color 4's sample code).
func OklabOf(c XYZ) Oklab {
	lms := oklabM1.Mul(c)
	return Oklab(oklabM2.Mul([3]float64{math.Cbrt(lms[0]), math.Cbrt(lms[1]), math.Cbrt(lms[2])}))
}

// XYZ is the inverse of OklabOf.
func (o Oklab) XYZ() XYZ {
	l := oklabM2Inv.Mul(o)
	return XYZ(oklabM1Inv.Mul([3]float64{l[0] * l[0] * l[0], l[1] * l[1] * l[1], l[2] * l[2] * l[2]}))
}

// Oklab gives the Oklab of a linear RGB of the space.
func (s *Space) Oklab(linear RGB) Oklab {
	return OklabOf(XYZ(toD65.Mul(s.ToD50.Mul(linear))))
}

// FromOklab gives the linear RGB of the space, out of 0..1 where it is out of gamut.
func (s *Space) FromOklab(o Oklab) RGB {
	return RGB(s.FromD50.Mul(toD50.Mul(o.XYZ())))
}

// MapToGamut brings a linear RGB into the space's gamut at constant Oklch hue, lowering chroma by
// bisection and clipping where the clipped colour is within a just noticeable difference (0.02), as in
// CSS Color 4, section 13.2.
func (s *Space) MapToGamut(c RGB) RGB {
	if InGamut(c) {
		return clip(c)
	}
	o := s.Oklab(c)
	return s.mapOklab(o)
}

func (s *Space) mapOklab(o Oklab) RGB {
	const jnd, eps = 0.02, 0.0001
	if o[0] >= 1 {
		return s.clipWhite()
	}
	if o[0] <= 0 || math.IsNaN(o[0]) {
		return RGB{}
	}
	chroma := math.Hypot(o[1], o[2])
	at := func(k float64) RGB { return s.FromOklab(Oklab{o[0], o[1] * k, o[2] * k}) }
	dist := func(k float64, c RGB) float64 {
		a := s.Oklab(c)
		return math.Sqrt(sq(a[0]-o[0]) + sq(a[1]-o[1]*k) + sq(a[2]-o[2]*k))
	}
	clipped := clip(at(1))
	if InGamut(at(1)) || dist(1, clipped) < jnd {
		return clipped
	}
	lo, hi, loIn := 0.0, 1.0, true
	// Far out of gamut the steps end where doubles do, before they are as small as wanted.
	for n := 0; n < 60 && (hi-lo)*chroma > eps; n++ {
		k := (lo + hi) / 2
		now := at(k)
		clipped = clip(now)
		if loIn && InGamut(now) {
			lo = k
			continue
		}
		e := dist(k, clipped)
		if e < jnd {
			if jnd-e < eps {
				return clipped
			}
			loIn = false
			lo = k
		} else {
			hi = k
		}
	}
	return clipped
}

func (s *Space) clipWhite() RGB { return RGB{1, 1, 1} }

func clip(c RGB) RGB {
	for i := range c {
		c[i] = math.Max(0, math.Min(1, c[i]))
	}
	return c
}

func sq(v float64) float64 { return v * v }
