package recolour

import (
	"math"
	"slices"
)

// BlendModes are the names of W3C Compositing and Blending Level 1, section 9.
var BlendModes = []string{"normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn",
	"hard-light", "soft-light", "difference", "exclusion", "hue", "saturation", "color", "luminosity"}

// KnownBlend says whether a mode is one of them; the empty name is normal.
func KnownBlend(mode string) bool { return mode == "" || slices.Contains(BlendModes, mode) }

// Blend gives B(backdrop, source) of coded values 0..1 (W3C Compositing and Blending Level 1, sections 9.1.2 and
// 9.2 for modes a channel, 10 for those of the whole colour).
func Blend(mode string, backdrop, source [3]float64) [3]float64 {
	switch mode {
	case "hue":
		return setLum(setSat(source, sat(backdrop)), lum(backdrop))
	case "saturation":
		return setLum(setSat(backdrop, sat(source)), lum(backdrop))
	case "color":
		return setLum(source, lum(backdrop))
	case "luminosity":
		return setLum(backdrop, lum(source))
	}
	var o [3]float64
	for c := range o {
		o[c] = blendChannel(mode, backdrop[c], source[c])
	}
	return o
}

func blendChannel(mode string, b, s float64) float64 {
	switch mode {
	case "multiply":
		return b * s
	case "screen":
		return b + s - b*s
	case "overlay":
		return blendChannel("hard-light", s, b)
	case "darken":
		return math.Min(b, s)
	case "lighten":
		return math.Max(b, s)
	case "color-dodge":
		switch {
		case b == 0:
			return 0
		case s >= 1:
			return 1
		}
		return math.Min(1, b/(1-s))
	case "color-burn":
		switch {
		case b >= 1:
			return 1
		case s <= 0:
			return 0
		}
		return 1 - math.Min(1, (1-b)/s)
	case "hard-light":
		if s <= 0.5 {
			return b * 2 * s
		}
		return b + (2*s - 1) - b*(2*s-1)
	case "soft-light":
		if s <= 0.5 {
			return b - (1-2*s)*b*(1-b)
		}
		d := math.Sqrt(b)
		if b <= 0.25 {
			d = ((16*b-12)*b + 4) * b
		}
		return b + (2*s-1)*(d-b)
	case "difference":
		return math.Abs(b - s)
	case "exclusion":
		return b + s - 2*b*s
	}
	return s
}

func lum(c [3]float64) float64 { return 0.3*c[0] + 0.59*c[1] + 0.11*c[2] }
func sat(c [3]float64) float64 { return max(c[0], c[1], c[2]) - min(c[0], c[1], c[2]) }

func setLum(c [3]float64, l float64) [3]float64 {
	d := l - lum(c)
	for i := range c {
		c[i] += d
	}
	lo, hi := min(c[0], c[1], c[2]), max(c[0], c[1], c[2])
	for i := range c {
		if lo < 0 {
			c[i] = l + (c[i]-l)*l/(l-lo)
		}
	}
	if hi > 1 {
		for i := range c {
			c[i] = l + (c[i]-l)*(1-l)/(hi-l)
		}
	}
	return c
}

func setSat(c [3]float64, s float64) [3]float64 {
	lo, hi := min(c[0], c[1], c[2]), max(c[0], c[1], c[2])
	if hi == lo {
		return [3]float64{}
	}
	for i := range c {
		c[i] = (c[i] - lo) * s / (hi - lo)
	}
	return c
}
