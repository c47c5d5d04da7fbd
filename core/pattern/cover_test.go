package pattern

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
)

// What a pixel is covered by is the mean of what lies in it, which is told here by looking at many points of it: in every way to repeat,
// turned, in perspective, round, across the lines where tiles meet.
func TestCoverIsTheMeanOfWhatLiesInAPixel(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 4))
	// The limits are 1.2 times what was measured, for pixels half, 3 and 8 wide where a repeat is 40 to 70.
	most := map[string][3]float64{"checks": {0.0022, 0.0136, 0.025}, "dots": {0.0035, 0.015, 0.041}, "stripes": {0.0047, 0.018, 0.034}, "zigzag": {0.0055, 0.031, 0.082}}
	seam, seams := 0.0, 0.0 // of pixels on lines where tiles do not go on in each other
	for _, tile := range Tiles {
		for _, repeat := range append([]string{""}, Repeats...) {
			for _, seen := range []string{"from the front", "in perspective", "round"} {
				p := Pattern{Tile: tile, Repeat: repeat, Share: 45, Size: 40 + 30*r.Float64(), Angle: 360*r.Float64() - 180, Offset: [2]float64{9, 4}, Strength: 80}
				if seen != "from the front" {
					p.Size = 150
					p.Corners = &[4][2]float64{{20, 30}, {420, 60}, {380, 400}, {60, 360}}
				}
				if seen == "round" {
					p.Round, p.Above = 80, 40
				}
				l := NewLay(p, 2, Found{})
				for s, step := range []float64{0.5, 3, 8} {
					sum, n := 0.0, 0.0
					for range 150 {
						x, y := 80+260*r.Float64(), 90+260*r.Float64()
						got := l.Cover(x, y, step)
						var want [2]float64
						const fine = 12
						for i := range fine * fine {
							c := l.Cover(x+step*((float64(i%fine)+0.5)/fine-0.5), y+step*((float64(i/fine)+0.5)/fine-0.5), 1e-4)
							want[0], want[1] = want[0]+float64(c[0])/(fine*fine), want[1]+float64(c[1])/(fine*fine)
						}
						off := math.Abs(float64(got[0])-want[0]) + math.Abs(float64(got[1])-want[1])
						u, v, _ := l.At(x, y)
						ux, vx, _ := l.At(x+step, y)
						uy, vy, _ := l.At(x, y+step)
						if l.onSeam(u, v, math.Abs(ux-u)+math.Abs(uy-u), math.Abs(vx-v)+math.Abs(vy-v)) {
							seam, seams = seam+off, seams+2
						}
						sum, n = sum+off, n+2
						assert.LessOrEqual(t, got[0]+got[1], float32(0.8001))
					}
					assert.Less(t, sum/n, most[tile][s], "%s, repeated %q, %s, pixels of %g", tile, repeat, seen, step)
				}
			}
		}
	}
	assert.Greater(t, seams, 1000.0)
	assert.Less(t, seam/seams, 0.0127)
}
