package main

import (
	"strconv"
	"strings"

	"episema/core/mend"
	"episema/core/recolour"
)

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
	rebuild, tint := recolour.NewRebuild(), &mend.Cast{Reach: 90}
	rebuild.Amount = 0
	turn, two, curves, finish := &recolour.Turn{}, &recolour.TwoTone{Middle: 50}, &recolour.Curves{}, recolour.NewFinish()
	numbers := map[string]*float64{"strength": &set.Strength, "only_own": &set.OnlyOwn, "finish_black": &finish.Black, "finish_middle": &finish.Middle, "finish_white": &finish.White,
		"finish_out_black": &finish.OutBlack, "finish_out_white": &finish.OutWhite, "finish_exposure": &finish.Exposure, "finish_highlights": &finish.Highlights,
		"finish_shadows": &finish.Shadows, "finish_saturation": &finish.Saturation, "finish_vibrance": &finish.Vibrance, "even": &set.Even, "rebuild": &rebuild.Amount, "rebuild_light": &rebuild.Light, "rebuild_slope": &rebuild.Slope,
		"rebuild_grain": &rebuild.Grain, "cast": &tint.Amount, "cast_reach": &tint.Reach}
	words := map[string]*string{"finish_blend_mode": &finish.Blend}
	points := map[string]*[][2]float64{}
	switch method {
	case "turn-hue":
		numbers["hue"], numbers["saturation"], numbers["lightness"] = &turn.Hue, &turn.Saturation, &turn.Lightness
		set.Turn = turn
	case "two-tone":
		numbers["middle"], words["dark"] = &two.Middle, &two.Dark
		set.TwoTone = two
	case "curves":
		points["all"], points["red"], points["green"], points["blue"] = &curves.All, &curves.Red, &curves.Green, &curves.Blue
		set.Curves = curves
	default:
		numbers["shade_depth"], numbers["highlights"] = &set.ShadeDepth, &set.Highlights
		words["inner"] = &set.Inner
	}
	for _, s := range list {
		name, value, ok := strings.Cut(s, "=")
		switch {
		case !ok:
			return set, nil, usagef("--set %s is not name=value", s)
		case numbers[name] != nil:
			v, err := strconv.ParseFloat(value, 64)
			if err != nil {
				return set, nil, usagef("--set %s is not name=number", s)
			}
			*numbers[name] = v
		case words[name] != nil:
			*words[name] = value
		case points[name] != nil:
			p, ok := readPoints(value)
			if !ok {
				return set, nil, usagef("--set %s: give points as x,y;x,y with both from 0 to 1", s)
			}
			*points[name] = p
		case name == "cast_neutral":
			tint.Neutral = value == "1" || value == "true"
		case name == "free" && method == "curves":
			curves.Free = value == "1" || value == "true"
		default:
			var known []string
			for _, k := range []string{"shade_depth", "highlights", "hue", "saturation", "lightness", "middle", "dark", "all", "red", "green", "blue", "strength", "finish_black", "finish_middle",
				"finish_white", "finish_out_black", "finish_out_white", "finish_exposure", "finish_highlights", "finish_shadows", "finish_saturation", "finish_vibrance", "finish_blend_mode",
				"inner", "only_own", "even", "rebuild", "rebuild_light", "rebuild_slope", "rebuild_grain", "cast", "cast_reach"} {
				if numbers[k] != nil || words[k] != nil || points[k] != nil {
					known = append(known, k)
				}
			}
			return set, nil, usagef("--set %s is not known to %s; these are: %s", name, method, strings.Join(known, ", "))
		}
	}
	if *finish != *recolour.NewFinish() {
		set.Finish = finish
	}
	if rebuild.Amount > 0 {
		set.Rebuild = rebuild
	}
	var cast *mend.Cast
	if tint.Amount > 0 {
		cast = tint
	}
	if err := set.Validate(); err != nil {
		return set, nil, usagef("%v", err)
	}
	if err := cast.Validate(); err != nil {
		return set, nil, usagef("%v", err)
	}
	return set, cast, nil
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
