package colour

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"golang.org/x/image/colornames"
)

// SyntaxError says what is wrong with a typed colour and how to mend it.
type SyntaxError struct{ Input, Problem string }

func (e *SyntaxError) Error() string {
	return fmt.Sprintf("%q is not a colour: %s", e.Input, e.Problem)
}

// Mendable marks it as an error that whoever asked can mend.
func (*SyntaxError) Mendable() {}

// ParseCSS reads a CSS Color 4 colour into CIELAB D50. Colours out of the sRGB gamut keep their values.
// Opaque colours only; system colours are none, and relative ones (see ParseFrom) are not colours of their own.
func ParseCSS(input string) (Lab, error) {
	fail := func(f string, a ...any) (Lab, error) {
		return Lab{}, &SyntaxError{input, fmt.Sprintf(f, a...)}
	}
	if len(input) > 200 {
		input = input[:40] + "…"
		return fail("it is longer than a colour can be")
	}
	s := strings.ToLower(strings.TrimSpace(input))
	if s == "" {
		return fail("nothing was typed; try #1d6a72 or lab(41 -21 -9)")
	}
	if Relative(s) {
		return fail("it starts from a thing's own colour, and here is no thing; type the colour itself")
	}
	if s[0] == '#' {
		return parseHex(s[1:], fail)
	}
	if c, ok := colornames.Map[s]; ok {
		return fromCoded(RGB{float64(c.R) / 255, float64(c.G) / 255, float64(c.B) / 255}), nil
	}
	if s == "rebeccapurple" {
		return fromCoded(RGB{0x66 / 255., 0x33 / 255., 0x99 / 255.}), nil
	}
	name, rest, found := strings.Cut(s, "(")
	if !found {
		return fail("it is neither a name CSS knows nor a notation; try #1d6a72, teal or lab(41 -21 -9)")
	}
	if !strings.HasSuffix(rest, ")") {
		return fail("the closing bracket is missing")
	}
	args := strings.TrimSuffix(rest, ")")
	if name == "cmyk" || name == "device-cmyk" {
		return parseCMYK(args, name == "device-cmyk", fail)
	}
	if name == "rgba" || name == "hsla" {
		name = name[:3]
	}
	switch name {
	case "rgb", "hsl", "hwb", "lab", "lch", "oklab", "oklch", "color":
	default:
		return fail("%s() is not a notation known here; rgb, hsl, hwb, lab, lch, oklab, oklch, color and cmyk are", name)
	}
	space := ""
	if name == "color" {
		f := strings.Fields(args)
		if len(f) == 0 {
			return fail("color() starts with a space, such as color(display-p3 0.1 0.4 0.5)")
		}
		space, args = f[0], strings.TrimSpace(strings.TrimPrefix(strings.TrimSpace(args), f[0]))
	}
	legacy := strings.Contains(args, ",")
	if legacy && name != "rgb" && name != "hsl" {
		return fail("%s() takes its values with spaces between them, not commas", name)
	}
	main, alpha, hasAlpha := strings.Cut(args, "/")
	var f []string
	if legacy {
		for _, v := range strings.Split(main, ",") {
			f = append(f, strings.TrimSpace(v))
		}
		if len(f) == 4 {
			alpha, hasAlpha, f = f[3], true, f[:3]
		}
	} else {
		f = strings.Fields(main)
	}
	if len(f) != 3 {
		return fail("%s() takes three values, here are %d", name, len(f))
	}
	if hasAlpha {
		a, err := number(alpha, 1)
		if err != nil {
			return fail("the part after the slash %v", err)
		}
		if a < 1 {
			return fail("a colour to paint with is opaque; leave the transparency away")
		}
	}
	// ref is what 100 % stands for, a component each; NaN marks a hue.
	hue := math.NaN()
	get := func(ref ...float64) (v [3]float64, err error) {
		for i := range v {
			if math.IsNaN(ref[i]) {
				v[i], err = angle(f[i])
			} else {
				v[i], err = number(f[i], ref[i])
			}
			if err != nil {
				return v, fmt.Errorf("%q %w", f[i], err)
			}
		}
		return v, nil
	}
	polar := func(l, c, h float64) [3]float64 {
		return [3]float64{l, math.Max(0, c) * math.Cos(h*math.Pi/180), math.Max(0, c) * math.Sin(h*math.Pi/180)}
	}
	switch name {
	case "rgb":
		v, err := get(255, 255, 255)
		if err != nil {
			return fail("%v", err)
		}
		for i := range v {
			v[i] = clamp(v[i], 0, 255) / 255
		}
		return fromCoded(v), nil
	case "hsl", "hwb":
		v, err := get(hue, 100, 100)
		if err != nil {
			return fail("%v", err)
		}
		a, b := clamp(v[1], 0, 100)/100, clamp(v[2], 0, 100)/100
		if name == "hsl" {
			return fromCoded(hsl(v[0], a, b)), nil
		}
		if a+b >= 1 {
			g := a / (a + b)
			return fromCoded(RGB{g, g, g}), nil
		}
		c := hsl(v[0], 1, 0.5)
		for i := range c {
			c[i] = c[i]*(1-a-b) + a
		}
		return fromCoded(c), nil
	case "lab", "lch":
		ref := []float64{100, 125, 125}
		if name == "lch" {
			ref = []float64{100, 150, hue}
		}
		v, err := get(ref...)
		if err != nil {
			return fail("%v", err)
		}
		if v[0] < 0 || v[0] > 100 {
			return fail("lightness runs from 0 to 100, here it is %g", v[0])
		}
		if name == "lch" {
			v = polar(v[0], v[1], v[2])
		}
		return Lab(v), nil
	case "oklab", "oklch":
		ref := []float64{1, 0.4, 0.4}
		if name == "oklch" {
			ref = []float64{1, 0.4, hue}
		}
		v, err := get(ref...)
		if err != nil {
			return fail("%v", err)
		}
		if v[0] < 0 || v[0] > 1 {
			return fail("lightness in %s() runs from 0 to 1 (or 0%% to 100%%), here it is %g", name, v[0])
		}
		if name == "oklch" {
			v = polar(v[0], v[1], v[2])
		}
		return LabOf(toD50.Mul(Oklab(v).XYZ()), D50), nil
	default: // color()
		v, err := get(1, 1, 1)
		if err != nil {
			return fail("%v", err)
		}
		switch space {
		case "srgb":
			return fromCoded(v), nil
		case "srgb-linear":
			return SRGB.Lab(v), nil
		case "display-p3":
			return DisplayP3.Lab(DisplayP3.LinearOf(v)), nil
		case "xyz", "xyz-d65":
			return LabOf(toD50.Mul(v), D50), nil
		case "xyz-d50":
			return LabOf(v, D50), nil
		}
		if l, ok := fromWide(space, v); ok {
			return l, nil
		}
		return fail("the space %q is not known; srgb, srgb-linear, display-p3, a98-rgb, prophoto-rgb, rec2020, xyz, xyz-d50 and xyz-d65 are", space)
	}
}

func fromCoded(c RGB) Lab { return SRGB.Lab(SRGB.LinearOf(c)) }

func parseHex(h string, fail func(string, ...any) (Lab, error)) (Lab, error) {
	if len(h) == 3 || len(h) == 4 {
		long := ""
		for _, r := range h {
			long += string(r) + string(r)
		}
		h = long
	}
	if len(h) != 6 && len(h) != 8 {
		return fail("a hex colour has 3 or 6 digits after the #, such as #1d6a72")
	}
	v, err := strconv.ParseUint(h, 16, 64)
	if err != nil {
		return fail("hex digits are 0 to 9 and a to f")
	}
	if len(h) == 8 {
		if v&255 != 255 {
			return fail("a colour to paint with is opaque; leave the last two digits away")
		}
		v >>= 8
	}
	return fromCoded(RGB{float64(v>>16) / 255, float64(v>>8&255) / 255, float64(v&255) / 255}), nil
}

func number(s string, ref float64) (float64, error) {
	s = strings.TrimSpace(s)
	if s == "none" {
		return 0, nil
	}
	t, percent := strings.CutSuffix(s, "%")
	v, err := strconv.ParseFloat(t, 64)
	if err != nil || math.IsNaN(v) || math.IsInf(v, 0) || strings.ContainsAny(t, "xp_in") {
		return 0, fmt.Errorf("is not a number")
	}
	if percent {
		v *= ref / 100
	}
	return clamp(v, -1e4, 1e4), nil
}

func angle(s string) (float64, error) {
	for unit, k := range map[string]float64{"grad": 0.9, "turn": 360, "rad": 180 / math.Pi, "deg": 1} {
		if t, ok := strings.CutSuffix(s, unit); ok && (unit != "rad" || !strings.HasSuffix(t, "g")) {
			v, err := number(t, 1)
			return v * k, err
		}
	}
	if strings.HasSuffix(s, "%") {
		return 0, fmt.Errorf("is a hue and takes degrees")
	}
	return number(s, 1)
}

func hsl(h, s, l float64) RGB {
	f := func(n float64) float64 {
		k := math.Mod(n+h/30, 12)
		if k < 0 {
			k += 12
		}
		return l - s*math.Min(l, 1-l)*math.Max(-1, math.Min(math.Min(k-3, 9-k), 1))
	}
	return RGB{f(0), f(8), f(4)}
}

func clamp(v, lo, hi float64) float64 { return math.Max(lo, math.Min(hi, v)) }

// Hex gives the nearest sRGB hex notation, mapped into gamut where it must be.
func Hex(l Lab) string {
	c := SRGB.Coded(SRGB.MapToGamut(SRGB.Linear(l)))
	return fmt.Sprintf("#%02x%02x%02x", byte(clamp(c[0]*255+0.5, 0, 255)), byte(clamp(c[1]*255+0.5, 0, 255)), byte(clamp(c[2]*255+0.5, 0, 255)))
}

// Uncalibrated says whether a colour is given in inks without a profile, so that its look is a guess.
func Uncalibrated(css string) bool {
	s := strings.ToLower(strings.TrimSpace(css))
	return strings.HasPrefix(s, "cmyk(") || strings.HasPrefix(s, "device-cmyk(")
}

// Inks gives the shares of ink (cyan, magenta, yellow, black; 0..1) of a colour in cmyk() or device-cmyk().
func Inks(css string) (inks [4]float64, ok bool) {
	name, rest, _ := strings.Cut(strings.ToLower(strings.TrimSpace(css)), "(")
	if !Uncalibrated(css) || !strings.HasSuffix(rest, ")") {
		return inks, false
	}
	inks, problem := shares(strings.TrimSuffix(rest, ")"), name == "device-cmyk")
	return inks, problem == ""
}

// shares reads four shares of ink: percentages, or plain numbers from 0 to 100 for cmyk() and from 0 to 1 for device-cmyk().
func shares(args string, device bool) (v [4]float64, problem string) {
	f := strings.FieldsFunc(args, func(r rune) bool { return r == ' ' || r == ',' || r == '\t' })
	if len(f) != 4 {
		return v, "cmyk takes four shares of ink from 0 to 100, such as cmyk(80 30 40 10)"
	}
	for i, t := range f {
		n, err := strconv.ParseFloat(strings.TrimSuffix(t, "%"), 64)
		if device && !strings.HasSuffix(t, "%") {
			n *= 100
		}
		if err != nil || !(n >= 0 && n <= 100) {
			return v, fmt.Sprintf("%q is no share of ink from 0 to 100", t)
		}
		v[i] = n / 100
	}
	return v, ""
}

// parseCMYK turns shares of ink to sRGB by the plain formula of CSS Color 5, section 10.1.
func parseCMYK(args string, device bool, fail func(string, ...any) (Lab, error)) (Lab, error) {
	v, problem := shares(args, device)
	if problem != "" {
		return fail("%s", problem)
	}
	var c RGB
	for i := range c {
		c[i] = 1 - math.Min(1, v[i]*(1-v[3])+v[3])
	}
	return fromCoded(c), nil
}
