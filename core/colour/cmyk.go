package colour

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

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
