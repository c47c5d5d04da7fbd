package artwork

import (
	"fmt"
	"math"
	"strconv"
	"strings"

	"episema/core/colour"
)

type paintKind uint8

const (
	paintNone    paintKind = iota
	paintColour            // a colour of its own
	paintCurrent           // the element's color
	paintServer            // a gradient or pattern
	paintOther             // a colour that is worked out from others, or from what is around
	paintInherit
	paintInitial
	paintUnset
	paintInvalid
)

// paint is a value of fill, stroke, color or stop-color.
type paint struct {
	kind  paintKind
	lab   colour.Lab
	key   string  // of the opaque colour, see Key
	alpha float64 // 0..1
	ref   string  // id of the server
}

// Key names a colour: two notations of one colour have the same. It is its hex notation where 8 bit sRGB holds it exactly.
func Key(l colour.Lab) string {
	c := colour.SRGB.Coded(colour.SRGB.Linear(l))
	exact := true
	for _, v := range c {
		if n := v * 255; math.Abs(n-math.Round(n)) > 0.02 || n < -0.02 || n > 255.02 {
			exact = false
		}
	}
	if exact {
		return colour.Hex(l)
	}
	return fmt.Sprintf("lab(%s %s %s)", short(l[0]), short(l[1]), short(l[2]))
}

func short(v float64) string { return strconv.FormatFloat(math.Round(v*1000)/1000+0, 'f', -1, 64) }

// readPaint reads a value as a browser does.
func readPaint(text string) paint {
	s := strings.ToLower(strings.TrimSpace(text))
	switch s {
	case "none":
		return paint{kind: paintNone}
	case "currentcolor":
		return paint{kind: paintCurrent}
	case "inherit":
		return paint{kind: paintInherit}
	case "initial":
		return paint{kind: paintInitial}
	case "unset", "revert", "revert-layer":
		return paint{kind: paintUnset}
	case "context-fill", "context-stroke":
		return paint{kind: paintOther}
	case "transparent":
		return paint{kind: paintColour, lab: colour.Lab{}, key: "#000000"}
	case "":
		return paint{kind: paintInvalid}
	}
	if strings.HasPrefix(s, "url(") {
		t := strings.TrimSpace(text)
		end := strings.IndexByte(t, ')')
		if end < 0 {
			return paint{kind: paintInvalid}
		}
		return paint{kind: paintServer, ref: strings.TrimPrefix(strings.Trim(strings.TrimSpace(t[4:end]), `"'`), "#")}
	}
	opaque, alpha, ok := splitAlpha(s)
	if !ok {
		return paint{kind: paintInvalid}
	}
	lab, err := colour.ParseCSS(opaque)
	if err != nil || colour.Uncalibrated(opaque) {
		for _, f := range []string{"color-mix(", "light-dark(", "contrast-color(", "device-cmyk(", "calc(", "from "} {
			if strings.Contains(s, f) {
				return paint{kind: paintOther}
			}
		}
		return paint{kind: paintInvalid}
	}
	return paint{kind: paintColour, lab: lab, key: Key(lab), alpha: alpha}
}

// splitAlpha takes a colour's transparency out of its notation.
func splitAlpha(s string) (opaque string, alpha float64, ok bool) {
	if strings.HasPrefix(s, "#") {
		switch len(s) {
		case 5:
			n, err := strconv.ParseUint(s[4:], 16, 8)
			return s[:4], float64(n) / 15, err == nil
		case 9:
			n, err := strconv.ParseUint(s[7:], 16, 16)
			return s[:7], float64(n) / 255, err == nil
		}
		return s, 1, true
	}
	open := strings.IndexByte(s, '(')
	if open < 0 || !strings.HasSuffix(s, ")") {
		return s, 1, true
	}
	args, text := s[open+1:len(s)-1], ""
	if main, a, found := strings.Cut(args, "/"); found {
		args, text = strings.TrimSpace(main), a
	} else if f := strings.Split(args, ","); len(f) == 4 {
		args, text = strings.Join(f[:3], ","), f[3]
	} else {
		return s, 1, true
	}
	name := s[:open]
	if name == "rgba" || name == "hsla" {
		name = name[:3]
	}
	text = strings.TrimSpace(text)
	if text == "none" {
		return name + "(" + args + ")", 0, true
	}
	t, percent := strings.CutSuffix(text, "%")
	a, err := strconv.ParseFloat(t, 64)
	if err != nil || math.IsNaN(a) {
		return "", 0, false
	}
	if percent {
		a /= 100
	}
	return name + "(" + args + ")", math.Max(0, math.Min(1, a)), true
}

// write gives a colour in the manner of the notation it replaces: transparency and case of hex digits stay.
func write(l colour.Lab, old paint, was string) string {
	hex := colour.Hex(l)
	if strings.HasPrefix(was, "#") && strings.ToUpper(was) == was && strings.ToLower(was) != was {
		hex = strings.ToUpper(hex)
	}
	if old.alpha < 1 && old.kind == paintColour {
		var v [3]int
		for i := range v {
			n, err := strconv.ParseUint(hex[1+2*i:3+2*i], 16, 8)
			if err != nil {
				panic(err) // Hex writes digits
			}
			v[i] = int(n)
		}
		return fmt.Sprintf("rgba(%d,%d,%d,%s)", v[0], v[1], v[2], strconv.FormatFloat(old.alpha, 'g', 6, 64))
	}
	return hex
}
