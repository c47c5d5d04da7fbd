package raster_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"episema/core/raster"
)

func TestUnmixGivesBackWhatWasMixed(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 5))
	for range 200 {
		var a, b, c, side [3]float64
		share := r.Float64()*1.4 - 0.2
		for k := range 3 {
			a[k], b[k] = r.Float64(), r.Float64()
			c[k] = a[k] + share*(b[k]-a[k])
		}
		got, apart2 := raster.Unmix(&c, &a, &b)
		assert.InDelta(t, share, got, 1e-6)
		assert.InDelta(t, math.Sqrt(apart2), math.Hypot(math.Hypot(a[0]-b[0], a[1]-b[1]), a[2]-b[2]), 1e-9)
		assert.InDelta(t, 0, raster.Unexplained(&c, &a, &b, got), 1e-9)
		// What stands off the line at a right angle changes no share, and is what is left unexplained.
		d := [3]float64{b[1] - a[1], a[0] - b[0], 0}
		for k := range 3 {
			side[k] = c[k] + d[k]
		}
		off, _ := raster.Unmix(&side, &a, &b)
		assert.InDelta(t, share, off, 1e-6)
		assert.InDelta(t, d[0]*d[0]+d[1]*d[1], raster.Unexplained(&side, &a, &b, off), 1e-6)
	}
	one := [3]float32{1, 0, 0}
	share, apart2 := raster.Unmix(&one, &one, &one)
	assert.Zero(t, share)
	assert.Zero(t, apart2)
}

// Every pixel within reach is met, with its distance, and none beyond; a reach of infinity is no work without end.
func TestAlongMeetsWhatIsNear(t *testing.T) {
	points := [][2]float64{{3, 4}, {12.5, 9}, {12.5, 2}}
	box := raster.Rect{X0: 2, Y0: 1, X1: 18, Y1: 14}
	reach := func(end int) float64 { return []float64{0, 2.5, 1.2}[end] }
	got := map[[3]int]float64{}
	raster.Along(points, reach, box, nil, func(end, x, y int, d float64) { got[[3]int{end, x, y}] = d })
	for end := 1; end < 3; end++ {
		for y := -2; y < 20; y++ {
			for x := -2; x < 20; x++ {
				d := raster.ToSegment(float64(x)+0.5, float64(y)+0.5, points[end-1], points[end])
				at, met := got[[3]int{end, x, y}]
				inside := x >= box.X0 && x < box.X1 && y >= box.Y0 && y < box.Y1
				assert.Equal(t, inside && d <= reach(end), met, "%d: %d, %d", end, x, y)
				if met {
					assert.InDelta(t, d, at, 1e-12)
				}
			}
		}
	}
	n := 0
	raster.Along([][2]float64{{1e300, -1e300}, {5, 5}}, func(int) float64 { return math.Inf(1) }, box, nil, func(int, int, int, float64) { n++ })
	assert.LessOrEqual(t, n, 2*box.W()*box.H())
}
