package isolate_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/isolate"
	"episema/core/raster"
	"episema/internal/scenes"
)

// A short stroke through a strip that is missing at the bag's rim used to fill the hole between its handles, which is of
// nearly the bag's colour (intersection over union 0.99, and then 0.88).
func TestASmallCorrectionDoesNotSpillOver(t *testing.T) {
	pic, err := scenes.RGB("../../demo/pictures", "canvas-tote")
	require.NoError(t, err)
	truth, err := scenes.Mask("../../demo/truth", "tote-mask")
	require.NoError(t, err)
	in := func(radius float64, points ...[2]float64) isolate.Pick {
		return isolate.Pick{Kind: "sweep", Join: "add", Strokes: []isolate.Stroke{{Stroke: raster.Stroke{Radius: radius, Points: points}}}}
	}
	picks := []isolate.Pick{
		in(12, [2]float64{790.5, 642.5}, [2]float64{931.5, 802.5}, [2]float64{933.5, 858.5}, [2]float64{1073.5, 1004.5}),
		in(8.5, [2]float64{1093.5, 1121.5}, [2]float64{1149.5, 1099.5}, [2]float64{1173.5, 1067.5}, [2]float64{1173.5, 859.5}, [2]float64{1187.5, 823.5}),
		in(2.7, [2]float64{886.5, 539.5}, [2]float64{910.5, 545.5}, [2]float64{926.5, 543.5}, [2]float64{954.5, 534.5}),
	}
	p, solved := scenes.NewPyramid(pic), scenes.Kept{}
	agrees := func(n int) float64 {
		sel, err := isolate.Compile(p, picks[:n], nil, isolate.Inputs{}, solved, isolate.Exact)
		require.NoError(t, err)
		m, err := sel.Render(0, raster.Rect{X1: pic.W, Y1: pic.H})
		require.NoError(t, err)
		iou, _ := scenes.Compare(m, truth)
		return iou
	}
	two, three := agrees(2), agrees(3)
	assert.Greater(t, two, 0.98)
	assert.Greater(t, three, two-0.01)
}
