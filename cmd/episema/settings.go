package main

import (
	"strconv"
	"strings"

	"episema/core/mend"
	"episema/core/recolour"
)

// named are the settings that --set knows for a method: where each value goes, by its name.
type named struct {
	order   []string // of the names, as they are listed
	numbers map[string]*float64
	words   map[string]*string
	points  map[string]*[][2]float64
	flags   map[string]*bool
}

func (n *named) number(name string, to *float64) {
	n.numbers[name], n.order = to, append(n.order, name)
}

func (n *named) word(name string, to *string) { n.words[name], n.order = to, append(n.order, name) }

func (n *named) curve(name string, to *[][2]float64) {
	n.points[name], n.order = to, append(n.order, name)
}

func (n *named) flag(name string, to *bool) { n.flags[name], n.order = to, append(n.order, name) }

// read puts one name=value where it goes.
func (n *named) read(s, method string) error {
	name, value, ok := strings.Cut(s, "=")
	switch {
	case !ok:
		return usagef("--set %s is not name=value", s)
	case n.numbers[name] != nil:
		v, err := strconv.ParseFloat(value, 64)
		if err != nil {
			return usagef("--set %s is not name=number", s)
		}
		*n.numbers[name] = v
	case n.words[name] != nil:
		*n.words[name] = value
	case n.points[name] != nil:
		p, ok := readPoints(value)
		if !ok {
			return usagef("--set %s: give points as x,y;x,y with both from 0 to 1", s)
		}
		*n.points[name] = p
	case n.flags[name] != nil:
		*n.flags[name] = value == "1" || value == "true"
	default:
		return usagef("--set %s is not known to %s; these are: %s", name, method, strings.Join(n.order, ", "))
	}
	return nil
}

// readSettings reads --method and --set name=value. The names are those of the document's settings; those of
// the finish begin with finish_, those of rebuilding with rebuild_, those of the cast with cast_.
func readSettings(method string, list settings) (recolour.Settings, *mend.Cast, error) {
	set := recolour.Defaults()
	if method != "repaint" {
		set.Method = method
	}
	if err := set.Validate(); err != nil {
		return set, nil, usagef("--method %s: %v", method, err)
	}
	rebuild, cast, finish := recolour.NewRebuild(), &mend.Cast{Reach: 90}, recolour.NewFinish()
	rebuild.Amount = 0
	n := &named{numbers: map[string]*float64{}, words: map[string]*string{}, points: map[string]*[][2]float64{}, flags: map[string]*bool{}}
	n.ofMethod(method, &set)
	n.number("strength", &set.Strength)
	n.ofFinish(finish)
	n.number("only_own", &set.OnlyOwn)
	n.number("even", &set.Even)
	n.number("rebuild", &rebuild.Amount)
	n.number("rebuild_light", &rebuild.Light)
	n.number("rebuild_slope", &rebuild.Slope)
	n.number("rebuild_grain", &rebuild.Grain)
	n.number("cast", &cast.Amount)
	n.number("cast_reach", &cast.Reach)
	n.flag("cast_neutral", &cast.Neutral)
	for _, s := range list {
		if err := n.read(s, method); err != nil {
			return set, nil, err
		}
	}
	if *finish != *recolour.NewFinish() {
		set.Finish = finish
	}
	if rebuild.Amount > 0 {
		set.Rebuild = rebuild
	}
	if cast.Amount == 0 {
		cast = nil
	}
	if err := set.Validate(); err != nil {
		return set, nil, usagef("%v", err)
	}
	if err := cast.Validate(); err != nil {
		return set, nil, usagef("%v", err)
	}
	return set, cast, nil
}

// ofMethod knows the settings of a method, which become part of set.
func (n *named) ofMethod(method string, set *recolour.Settings) {
	switch method {
	case "turn-hue":
		set.Turn = &recolour.Turn{}
		n.number("hue", &set.Turn.Hue)
		n.number("saturation", &set.Turn.Saturation)
		n.number("lightness", &set.Turn.Lightness)
	case "two-tone":
		set.TwoTone = &recolour.TwoTone{Middle: 50}
		n.number("middle", &set.TwoTone.Middle)
		n.word("dark", &set.TwoTone.Dark)
	case "curves":
		set.Curves = &recolour.Curves{}
		n.curve("all", &set.Curves.All)
		n.curve("red", &set.Curves.Red)
		n.curve("green", &set.Curves.Green)
		n.curve("blue", &set.Curves.Blue)
		n.flag("free", &set.Curves.Free)
	default:
		n.number("shade_depth", &set.ShadeDepth)
		n.number("highlights", &set.Highlights)
		n.word("inner", &set.Inner)
	}
}

func (n *named) ofFinish(f *recolour.Finish) {
	n.number("finish_black", &f.Black)
	n.number("finish_middle", &f.Middle)
	n.number("finish_white", &f.White)
	n.number("finish_out_black", &f.OutBlack)
	n.number("finish_out_white", &f.OutWhite)
	n.number("finish_exposure", &f.Exposure)
	n.number("finish_highlights", &f.Highlights)
	n.number("finish_shadows", &f.Shadows)
	n.number("finish_saturation", &f.Saturation)
	n.number("finish_vibrance", &f.Vibrance)
	n.word("finish_blend_mode", &f.Blend)
}

func readPoints(text string) ([][2]float64, bool) {
	var out [][2]float64
	for _, p := range strings.Split(text, ";") {
		x, y, ok := strings.Cut(p, ",")
		a, err1 := strconv.ParseFloat(strings.TrimSpace(x), 64)
		b, err2 := strconv.ParseFloat(strings.TrimSpace(y), 64)
		if !ok || err1 != nil || err2 != nil {
			return nil, false
		}
		out = append(out, [2]float64{a, b})
	}
	return out, true
}
