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
