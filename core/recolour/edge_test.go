package recolour_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
	"episema/core/recolour"
)

// An edge of red paint that becomes grey or black is not cyan where the mask says more than the pixel has of the paint, nor where a glint lay on
// it that the camera could not hold.
func TestAnEdgeDoesNotTakeTheOppositeTint(t *testing.T) {
	own := colour.RGB{0.9, 0.07, 0.05}
	for name, edge := range map[string]colour.RGB{
		"half as much as the mask says": {0.25*0.9 + 0.01, 0.25*0.07 + 0.01, 0.25*0.05 + 0.01},
		"under a glint":                 {1, 0.8, 0.8},
	} {
		pic := book(own, nil)
		mask := bookMask(0)
		for i := range bookW * bookH {
			y := i / bookW
			for c := range 3 {
				switch {
				case y == bookEdge+1:
					pic.Pix[3*i+c] = float32(edge[c])
				case y > bookEdge+1:
					pic.Pix[3*i+c] = 0.03
				case y >= bookEdge-2:
					pic.Pix[3*i+c] = float32(own[c])
				}
			}
		}
		for to, goal := range map[string]colour.RGB{"grey": {0.216, 0.216, 0.216}, "black": {0.011, 0.011, 0.013}} {
			out, plan, _ := apply(t, pic, mask, recolour.Request{Goal: goal, Own: &own, Settings: recolour.Defaults()})
			at := 3 * ((bookEdge+1)*bookW + bookW/2)
			made := out.Pix[at : at+3]
			require.Less(t, made[1]-made[0], float32(0.02), "%s, to %s", name, to)
			require.Less(t, made[2]-made[0], float32(0.02), "%s, to %s", name, to)
			if name != "under a glint" {
				require.InDelta(t, 0.28, float64(plan.Changed(pic, mask).Pix[at/3])/raster.Whole, 0.05, "no more is said to be changed than is")
			}
		}
	}
}
