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
	f := blendOf(mode)
	var o [3]float64
	for c := range o {
		o[c] = f(backdrop[c], source[c])
	}
	return o
}

// blendOf gives the function of a separable mode, nil for a mode of the whole colour.
func blendOf(mode string) func(b, s float64) float64 {
	switch mode {
	case "multiply":
		return func(b, s float64) float64 { return b * s }
	case "screen":
		return func(b, s float64) float64 { return b + s - b*s }
	case "overlay":
		return func(b, s float64) float64 { return hardLight(s, b) }
	case "darken":
		return func(b, s float64) float64 { return min(b, s) }
	case "lighten":
		return func(b, s float64) float64 { return max(b, s) }
	case "color-dodge":
		return dodge
	case "color-burn":
		return burn
	case "hard-light":
		return hardLight
	case "soft-light":
		return softLight
	case "difference":
		return func(b, s float64) float64 { return math.Abs(b - s) }
	case "exclusion":
		return func(b, s float64) float64 { return b + s - 2*b*s }
	case "hue", "saturation", "color", "luminosity":
		return nil
	}
	return func(_, s float64) float64 { return s }
}

func dodge(b, s float64) float64 {
	switch {
	case b == 0:
		return 0
	case s >= 1:
		return 1
	}
	return min(1, b/(1-s))
}

func burn(b, s float64) float64 {
	switch {
	case b >= 1:
		return 1
	case s <= 0:
		return 0
	}
	return 1 - min(1, (1-b)/s)
}

func hardLight(b, s float64) float64 {
	if s <= 0.5 {
		return b * 2 * s
	}
	return b + (2*s - 1) - b*(2*s-1)
}

func softLight(b, s float64) float64 {
	if s <= 0.5 {
		return b - (1-2*s)*b*(1-b)
	}
	d := math.Sqrt(b)
	if b <= 0.25 {
		d = ((16*b-12)*b + 4) * b
	}
	return b + (2*s-1)*(d-b)
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
