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
	lab, err := read(name, args)
	if err != nil {
		return fail("%v", err)
	}
	return lab, nil
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
