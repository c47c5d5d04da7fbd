package colour

import "math"

// DeltaE00 is the CIEDE2000 difference of two CIELAB colours with unit weights (CIE 142-2001; the steps
// as in Sharma, Wu and Dalal, The CIEDE2000 color-difference formula, 2005).
func DeltaE00(a, b Lab) float64 {
	const deg = math.Pi / 180
	c1, c2 := a.Chroma(), b.Chroma()
	cm := (c1 + c2) / 2
	cm7 := math.Pow(cm, 7)
	const p25 = 6103515625 // 25^7
	g := 0.5 * (1 - math.Sqrt(cm7/(cm7+p25)))
	a1, a2 := a[1]*(1+g), b[1]*(1+g)
	c1, c2 = math.Hypot(a1, a[2]), math.Hypot(a2, b[2])
	hue := func(x, y float64) float64 {
		if x == 0 && y == 0 {
			return 0
		}
		h := math.Atan2(y, x) / deg
		if h < 0 {
			h += 360
		}
		return h
	}
	h1, h2 := hue(a1, a[2]), hue(a2, b[2])
	dl, dc := b[0]-a[0], c2-c1
	dh := 0.0
	hm := h1 + h2
	if c1*c2 != 0 {
		// Opposite hues differ by 180 degrees, give or take the rounding of two arctangents.
		const half = 180 + 1e-9
		dh = h2 - h1
		switch {
		case dh > half:
			dh -= 360
		case dh < -half:
			dh += 360
		}
		switch {
		case math.Abs(h1-h2) <= half:
			hm = (h1 + h2) / 2
		case h1+h2 < 360:
			hm = (h1 + h2 + 360) / 2
		default:
			hm = (h1 + h2 - 360) / 2
		}
	}
	dH := 2 * math.Sqrt(c1*c2) * math.Sin(dh/2*deg)
	lm := (a[0] + b[0]) / 2
	cm = (c1 + c2) / 2
	t := 1 - 0.17*math.Cos((hm-30)*deg) + 0.24*math.Cos(2*hm*deg) + 0.32*math.Cos((3*hm+6)*deg) - 0.20*math.Cos((4*hm-63)*deg)
	dTheta := 30 * math.Exp(-sq((hm-275)/25))
	cm7 = math.Pow(cm, 7)
	rc := 2 * math.Sqrt(cm7/(cm7+p25))
	sl := 1 + 0.015*sq(lm-50)/math.Sqrt(20+sq(lm-50))
	sc := 1 + 0.045*cm
	sh := 1 + 0.015*cm*t
	rt := -math.Sin(2*dTheta*deg) * rc
	return math.Sqrt(sq(dl/sl) + sq(dc/sc) + sq(dH/sh) + rt*(dc/sc)*(dH/sh))
}
