package colour

import (
	"fmt"
	"math"
	"strings"
)

// notation is one of CSS Color 4's functions of three values.
type notation struct {
	whole  [3]float64 // what 100 % stands for, a value each; a hue, which takes degrees, where it is none
	commas bool       // it has a legacy form with commas
	lab    func(v [3]float64) (Lab, error)
}

var hue = math.NaN()

// notations are those whose name says the space; color() names it itself, see spaces.
var notations = map[string]notation{
	"rgb": {[3]float64{255, 255, 255}, true, func(v [3]float64) (Lab, error) {
		for i := range v {
			v[i] = clamp(v[i], 0, 255) / 255
		}
		return fromCoded(v), nil
	}},
	"hsl": {[3]float64{hue, 100, 100}, true, func(v [3]float64) (Lab, error) {
		return fromCoded(hsl(v[0], clamp(v[1], 0, 100)/100, clamp(v[2], 0, 100)/100)), nil
	}},
	"hwb":   {[3]float64{hue, 100, 100}, false, func(v [3]float64) (Lab, error) { return fromCoded(hwb(v)), nil }},
	"lab":   {[3]float64{100, 125, 125}, false, ofLab},
	"lch":   {[3]float64{100, 150, hue}, false, func(v [3]float64) (Lab, error) { return ofLab(polar(v)) }},
	"oklab": {[3]float64{1, 0.4, 0.4}, false, func(v [3]float64) (Lab, error) { return ofOklab("oklab", v) }},
	"oklch": {[3]float64{1, 0.4, hue}, false, func(v [3]float64) (Lab, error) { return ofOklab("oklch", polar(v)) }},
}

// spaces are those that color() takes; fromWide has more.
var spaces = map[string]func(v [3]float64) Lab{
	"srgb":        func(v [3]float64) Lab { return fromCoded(v) },
	"srgb-linear": func(v [3]float64) Lab { return SRGB.Lab(v) },
	"display-p3":  func(v [3]float64) Lab { return DisplayP3.Lab(DisplayP3.LinearOf(v)) },
	"xyz":         func(v [3]float64) Lab { return LabOf(toD50.Mul(v), D50) },
	"xyz-d65":     func(v [3]float64) Lab { return LabOf(toD50.Mul(v), D50) },
	"xyz-d50":     func(v [3]float64) Lab { return LabOf(v, D50) },
}

// read reads the values of a function by its name and what stands between the brackets.
func read(name, args string) (Lab, error) {
	if name == "rgba" || name == "hsla" {
		name = name[:3]
	}
	n, ok := notations[name]
	if name == "color" {
		f := strings.Fields(args)
		if len(f) == 0 {
			return Lab{}, fmt.Errorf("color() starts with a space, such as color(display-p3 0.1 0.4 0.5)")
		}
		n, ok = inSpace(f[0]), true
		args = strings.TrimPrefix(strings.TrimSpace(args), f[0])
	}
	if !ok {
		return Lab{}, fmt.Errorf("%s() is not a notation known here; rgb, hsl, hwb, lab, lch, oklab, oklch, color and cmyk are", name)
	}
	if strings.Contains(args, ",") && !n.commas {
		return Lab{}, fmt.Errorf("%s() takes its values with spaces between them, not commas", name)
	}
	f, err := arguments(name, args)
	if err != nil {
		return Lab{}, err
	}
	var v [3]float64
	for i := range v {
		if math.IsNaN(n.whole[i]) {
			v[i], err = angle(f[i])
		} else {
			v[i], err = number(f[i], n.whole[i])
		}
		if err != nil {
			return Lab{}, fmt.Errorf("%q %w", f[i], err)
		}
	}
	return n.lab(v)
}

// inSpace is color() in a space.
func inSpace(space string) notation {
	return notation{[3]float64{1, 1, 1}, false, func(v [3]float64) (Lab, error) {
		if lab, ok := spaces[space]; ok {
			return lab(v), nil
		}
		if l, ok := fromWide(space, v); ok {
			return l, nil
		}
		return Lab{}, fmt.Errorf("the space %q is not known; srgb, srgb-linear, display-p3, a98-rgb, prophoto-rgb, rec2020, xyz, xyz-d50 and xyz-d65 are", space)
	}}
}

// arguments parts what stands between the brackets into three values. What comes after them, the opacity, must be whole.
func arguments(name, args string) ([]string, error) {
	main, alpha, hasAlpha := strings.Cut(args, "/")
	f := strings.Fields(main)
	if strings.Contains(args, ",") {
		f = strings.Split(main, ",")
		if len(f) == 4 {
			alpha, hasAlpha, f = f[3], true, f[:3]
		}
	}
	if len(f) != 3 {
		return nil, fmt.Errorf("%s() takes three values, here are %d", name, len(f))
	}
	for i := range f {
		f[i] = strings.TrimSpace(f[i])
	}
	if !hasAlpha {
		return f, nil
	}
	a, err := number(alpha, 1)
	if err != nil {
		return nil, fmt.Errorf("the part after the slash %w", err)
	}
	if a < 1 {
		return nil, fmt.Errorf("a colour to paint with is opaque; leave the transparency away")
	}
	return f, nil
}

func ofLab(v [3]float64) (Lab, error) {
	if v[0] < 0 || v[0] > 100 {
		return Lab{}, fmt.Errorf("lightness runs from 0 to 100, here it is %g", v[0])
	}
	return Lab(v), nil
}

func ofOklab(name string, v [3]float64) (Lab, error) {
	if v[0] < 0 || v[0] > 1 {
		return Lab{}, fmt.Errorf("lightness in %s() runs from 0 to 1 (or 0%% to 100%%), here it is %g", name, v[0])
	}
	return LabOf(toD50.Mul(Oklab(v).XYZ()), D50), nil
}

// polar turns lightness, chroma and hue to lightness and the two axes.
func polar(v [3]float64) [3]float64 {
	c, h := math.Max(0, v[1]), v[2]*math.Pi/180
	return [3]float64{v[0], c * math.Cos(h), c * math.Sin(h)}
}

// hwb turns hue, whiteness and blackness to coded sRGB (CSS Color 4, section 8.2).
func hwb(v [3]float64) RGB {
	white, black := clamp(v[1], 0, 100)/100, clamp(v[2], 0, 100)/100
	if white+black >= 1 {
		g := white / (white + black)
		return RGB{g, g, g}
	}
	c := hsl(v[0], 1, 0.5)
	for i := range c {
		c[i] = c[i]*(1-white-black) + white
	}
	return c
}
