package recolour_test

import (
	"fmt"

	"episema/core/colour"
	"episema/core/raster"
	"episema/core/recolour"
)

// A part is learned from once and painted in any colour; its typical lit tone meets the target.
func ExampleLearn() {
	pic, mask := raster.NewRGB(60, 40), raster.NewMask(60, 40)
	for i := range 60 * 40 {
		light := float32(0.4 + 0.6*float64(i%60)/59) // from left to right ever better lit
		pic.Pix[3*i], pic.Pix[3*i+1], pic.Pix[3*i+2] = 0.4*light, 0.04*light, 0.03*light
		mask.Pix[i] = raster.Whole
	}
	part, err := recolour.Learn(pic, mask)
	if err != nil {
		fmt.Println(err)
		return
	}
	target, err := colour.ParseCSS("#1d6a72")
	if err != nil {
		fmt.Println(err)
		return
	}
	plan, tone, err := part.Plan(colour.SRGB, recolour.Request{Goal: colour.SRGB.Linear(target), Settings: recolour.Defaults()})
	if err != nil {
		fmt.Println(err)
		return
	}
	fmt.Printf("%s, %.1f from the target\n", colour.Hex(colour.SRGB.Lab(plan.Result(tone.Linear))), colour.DeltaE00(target, colour.SRGB.Lab(plan.Result(tone.Linear))))
	// Output: #1d6a72, 0.0 from the target
}
