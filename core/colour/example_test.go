package colour_test

import (
	"fmt"

	"episema/core/colour"
)

// Any CSS notation becomes CIELAB under D50; what cannot be read says why.
func ExampleParseCSS() {
	for _, css := range []string{"#1d6a72", "oklch(0.48 0.07 205)", "cmyk(80 0 20 40)", "#1d6a7"} {
		l, err := colour.ParseCSS(css)
		if err != nil {
			fmt.Println(err)
			continue
		}
		fmt.Printf("%s is L* %.1f, a* %.1f, b* %.1f\n", css, l[0], l[1], l[2])
	}
	// Output:
	// #1d6a72 is L* 40.6, a* -21.6, b* -11.6
	// oklch(0.48 0.07 205) is L* 40.3, a* -20.8, b* -11.1
	// cmyk(80 0 20 40) is L* 56.4, a* -39.3, b* 6.5
	// "#1d6a7" is not a colour: a hex colour has 3 or 6 digits after the #, such as #1d6a72
}

// CIEDE2000 says how far two colours lie apart; below 1 hardly anybody sees it.
func ExampleDeltaE00() {
	a, b := colour.Lab{50, 2.6772, -79.7751}, colour.Lab{50, 0, -82.7485} // the first pair of Sharma, Wu and Dalal (2005)
	fmt.Printf("%.4f\n", colour.DeltaE00(a, b))
	// Output: 2.0425
}

// A colour that a screen cannot show keeps its hue and lightness and loses as much chroma as it must.
func ExampleSpace_MapToGamut() {
	vivid, err := colour.ParseCSS("color(display-p3 0 0.7 0.3)")
	if err != nil {
		fmt.Println(err)
		return
	}
	light := colour.SRGB.Linear(vivid)
	shown := colour.SRGB.MapToGamut(light)
	was, is := colour.SRGB.Oklab(light), colour.SRGB.Oklab(shown)
	fmt.Println(colour.InGamut(light), colour.InGamut(shown))
	fmt.Printf("lightness %.2f, then %.2f\n", was[0], is[0])
	// Output:
	// false true
	// lightness 0.66, then 0.66
}
