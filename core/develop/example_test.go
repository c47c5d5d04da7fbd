package develop_test

import (
	"fmt"

	"episema/core/colour"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

// A document is what somebody did; developed, it gives any rectangle of its picture at any size. Nothing of it is baked in.
func ExampleDevelop() {
	pic := raster.NewRGB(200, 150)
	for i := range 200 * 150 {
		c := [3]float32{0.2, 0.2, 0.2}
		if x, y := i%200, i/200; x >= 60 && x < 140 && y >= 40 && y < 110 {
			c = [3]float32{0.4, 0.04, 0.03}
		}
		copy(pic.Pix[3*i:], c[:])
	}
	doc := document.Picture{Parts: []document.Part{{ID: "badge", Name: "Badge", Settings: recolour.Defaults(), Target: document.Target{CSS: "#1d6a72"},
		Picks: []isolate.Pick{{Kind: "sweep", Join: "add", Strokes: []isolate.Stroke{{Stroke: raster.Stroke{Radius: 6, Points: [][2]float64{{80, 60}, {120, 90}}}}}}}}}}
	d, err := develop.Develop(develop.Source{Pyramid: scenes.NewPyramid(pic), Space: colour.SRGB}, doc, nil, nil, isolate.Exact)
	if err != nil {
		fmt.Println(err)
		return
	}
	r, err := d.Render(0, raster.Rect{X0: 50, Y0: 60, X1: 70, Y1: 61}) // a row across the badge's left edge
	if err != nil {
		fmt.Println(err)
		return
	}
	for _, x := range []int{0, 19} {
		px := r.After.Pix[3*x : 3*x+3]
		fmt.Println(colour.Hex(colour.SRGB.Lab(colour.RGB{float64(px[0]), float64(px[1]), float64(px[2])})))
	}
	// Output:
	// #7c7c7c
	// #1d6a72
}
