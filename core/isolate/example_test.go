package isolate_test

import (
	"fmt"

	"episema/core/isolate"
	"episema/core/raster"
	"episema/internal/scenes"
)

// square is a red square on a grey ground.
func square() *raster.RGB {
	p := raster.NewRGB(200, 150)
	for i := range 200 * 150 {
		c := [3]float32{0.2, 0.2, 0.2}
		if x, y := i%200, i/200; x >= 60 && x < 140 && y >= 40 && y < 110 {
			c = [3]float32{0.4, 0.04, 0.03}
		}
		copy(p.Pix[3*i:], c[:])
	}
	return p
}

// One stroke inside a thing takes the thing.
func ExampleCompile() {
	pic := scenes.NewPyramid(square())
	sweep := isolate.Pick{Kind: "sweep", Join: "add", Strokes: []isolate.Stroke{{Stroke: raster.Stroke{Radius: 6, Points: [][2]float64{{80, 60}, {120, 90}}}}}}
	sel, err := isolate.Compile(pic, []isolate.Pick{sweep}, nil, isolate.Inputs{}, nil, isolate.Exact)
	if err != nil {
		fmt.Println(err)
		return
	}
	m, err := sel.Render(0, raster.Rect{X1: 200, Y1: 150})
	if err != nil {
		fmt.Println(err)
		return
	}
	n := 0
	for _, v := range m.Pix {
		if v > raster.Whole/2 {
			n++
		}
	}
	fmt.Println(n, "pixels of", 80*70)
	// Output: 5600 pixels of 5600
}
