package colour

import (
	"fmt"
	"math"
	"strconv"
	"strings"
)

// Relative reports whether a colour is said in terms of another one: currentcolor, or a relative colour of CSS Color 5 that
// starts from it, such as oklch(from currentcolor l calc(c * 1.2) h).
func Relative(css string) bool {
	s := strings.ToLower(strings.TrimSpace(css))
	if s == "currentcolor" {
		return true
	}
	_, args, found := strings.Cut(s, "(")
	f := strings.Fields(args)
	return found && len(f) > 0 && f[0] == "from"
}

// ParseFrom reads a colour as ParseCSS does, and one that is said in terms of origin (see Relative) as CSS Color 5, section 4,
// reads it: in lab, lch, oklab or oklch each value is a number, a percentage, the letter of one of the origin's own values, or a
// calc() of numbers and these letters. Errors are *SyntaxError.
func ParseFrom(css string, origin Lab) (Lab, error) {
	if !Relative(css) {
		return ParseCSS(css)
	}
	fail := func(f string, a ...any) (Lab, error) { return Lab{}, &SyntaxError{css, fmt.Sprintf(f, a...)} }
	if len(css) > 200 {
		css = css[:40] + "…"
		return fail("it is longer than a colour can be")
	}
	s := strings.ToLower(strings.TrimSpace(css))
	if s == "currentcolor" {
		return origin, nil
	}
	name, args, _ := strings.Cut(s, "(")
	letters := map[string]string{"lab": "lab", "oklab": "lab", "lch": "lch", "oklch": "lch"}[name]
	if letters == "" {
		return fail("a colour that starts from another one is written in oklch, oklab, lch or lab, such as oklch(from currentcolor l c h)")
	}
	if !strings.HasSuffix(args, ")") {
		return fail("the closing bracket is missing")
	}
	rest := strings.TrimSpace(strings.TrimPrefix(strings.TrimSpace(strings.TrimSuffix(args, ")")), "from"))
	after, found := strings.CutPrefix(rest, "currentcolor ")
	if !found {
		return fail("after from comes currentcolor, the thing's own colour")
	}
	values, err := split(after)
	if err != nil {
		return fail("%v", err)
	}
	if len(values) != 3 {
		return fail("%s() takes three values after the colour it starts from, here are %d", name, len(values))
	}
	was := valuesOf(origin, name)
	known := map[string]float64{}
	for i, v := range was {
		known[letters[i:i+1]] = v
	}
	plain := make([]string, 3)
	for i, v := range values {
		if plain[i], err = resolve(v, known); err != nil {
			return fail("%q %v", v, err)
		}
	}
	// Lightness that a calc() carries past an end is that end: how light the thing is was not known when it was written.
	if l, err := strconv.ParseFloat(plain[0], 64); err == nil {
		most := 100.0
		if name[0] == 'o' {
			most = 1
		}
		plain[0] = decimal(clamp(l, 0, most))
	}
	l, err := ParseCSS(name + "(" + strings.Join(plain, " ") + ")")
	if err != nil {
		return fail("with the values it comes to, %v", err)
	}
	return l, nil
}

// valuesOf returns a colour's three values in one of the notations lab, lch, oklab and oklch. A hue that has no power, by the
// limits of CSS Color 4, sections 9.3 and 9.4, is 0.
func valuesOf(c Lab, name string) [3]float64 {
	v, grey := [3]float64(c), 0.0015
	if name[0] == 'o' {
		v, grey = SRGB.Oklab(SRGB.Linear(c)), 4e-6
	}
	if strings.HasSuffix(name, "lch") {
		v[1], v[2] = math.Hypot(v[1], v[2]), math.Atan2(v[2], v[1])*180/math.Pi
		if v[1] <= grey {
			v[2] = 0
		}
	}
	return v
}

// split cuts values at the spaces outside of brackets.
func split(s string) ([]string, error) {
	var out []string
	depth, from := 0, -1
	for i, r := range s + " " {
		switch {
		case r == '(':
			depth++
		case r == ')':
			depth--
		}
		if depth < 0 || depth > 16 {
			return nil, fmt.Errorf("its brackets do not match")
		}
		if space := depth == 0 && (r == ' ' || r == '\t'); !space && from < 0 {
			from = i
		} else if space && from >= 0 {
			out, from = append(out, s[from:i]), -1
		}
	}
	if depth != 0 {
		return nil, fmt.Errorf("its brackets do not match")
	}
	return out, nil
}

// resolve returns a value as a plain one: a letter as what it stands for, a calc() as what it comes to.
func resolve(s string, known map[string]float64) (string, error) {
	if v, ok := known[s]; ok {
		return decimal(v), nil
	}
	if !strings.HasPrefix(s, "calc(") {
		return s, nil
	}
	c := sum{text: s[len("calc"):], known: known}
	v, err := c.factor()
	if err == nil && strings.TrimSpace(c.text) != "" {
		err = fmt.Errorf("goes on after its end")
	}
	if err == nil && (math.IsNaN(v) || math.IsInf(v, 0)) {
		err = fmt.Errorf("divides by nothing")
	}
	return decimal(v), err
}

func decimal(v float64) string { return strconv.FormatFloat(v, 'f', 9, 64) }

// sum reads what stands in a calc(): numbers and letters with + - * / and brackets.
type sum struct {
	text  string // what is left to be read
	known map[string]float64
}

func (c *sum) next() byte {
	c.text = strings.TrimLeft(c.text, " \t")
	if c.text == "" {
		return 0
	}
	return c.text[0]
}

func (c *sum) terms() (float64, error) {
	v, err := c.product()
	for err == nil {
		op := c.next()
		if op != '+' && op != '-' {
			break
		}
		c.text = c.text[1:]
		var w float64
		if w, err = c.product(); op == '-' {
			w = -w
		}
		v += w
	}
	return v, err
}

func (c *sum) product() (float64, error) {
	v, err := c.factor()
	for err == nil {
		op := c.next()
		if op != '*' && op != '/' {
			break
		}
		c.text = c.text[1:]
		var w float64
		if w, err = c.factor(); op == '*' {
			v *= w
		} else {
			v /= w
		}
	}
	return v, err
}

func (c *sum) factor() (float64, error) {
	switch b := c.next(); {
	case b == '(': // split bounds how deep brackets go
		c.text = c.text[1:]
		v, err := c.terms()
		if err == nil && c.next() != ')' {
			err = fmt.Errorf("has something that is no number, letter or bracket: %q", c.text)
		}
		c.text = strings.TrimPrefix(c.text, ")")
		return v, err
	case b >= 'a' && b <= 'z':
		v, ok := c.known[c.text[:1]]
		if !ok || len(c.text) > 1 && c.text[1] >= 'a' && c.text[1] <= 'z' {
			return 0, fmt.Errorf("has a letter that this notation has no value for: %q", c.text)
		}
		c.text = c.text[1:]
		return v, nil
	}
	n := 0
	for n < len(c.text) && (strings.IndexByte("0123456789.", c.text[n]) >= 0 || n == 0 && (c.text[0] == '-' || c.text[0] == '+')) {
		n++
	}
	v, err := strconv.ParseFloat(c.text[:n], 64)
	if err != nil {
		return 0, fmt.Errorf("has something that is no number, letter or bracket: %q", c.text)
	}
	c.text = c.text[n:]
	return v, nil
}
