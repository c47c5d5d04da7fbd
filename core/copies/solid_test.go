package copies

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"episema/core/raster"
)

// silhouette is what a test says is in it.
func silhouette(w, h int, in func(x, y float64) bool) *raster.Mask {
	m := raster.NewMask(w, h)
	for i := range m.Pix {
		if in(float64(i%w)+0.5, float64(i/w)+0.5) {
			m.Pix[i] = raster.Whole
		}
	}
	return m
}

// What stands on the floor is read off its silhouette: an upright cylinder has slices as deep as its foot, wherever it is seen from,
// and stands in the middle of it; a board that is seen from its front has none; and a line that falls to one side is followed.
func TestASilhouetteTellsHowAThingStands(t *testing.T) {
	for _, deep := range []float64{0.15, 0.3, 0.45} {
		can := silhouette(300, 300, func(x, y float64) bool {
			ellipse := func(cy float64) bool { return math.Hypot((x-150)/70, (y-cy)/(70*deep)) < 1 }
			return ellipse(240) || ellipse(80) || math.Abs(x-150) < 70 && y > 80 && y < 240
		})
		s := solidOf(can)
		assert.InDelta(t, deep, s.depth, 0.04)
		assert.InDelta(t, 240, s.foot, 3)
		assert.InDelta(t, 80, s.top, 4)
		assert.Zero(t, s.slant)
	}
	board := solidOf(silhouette(300, 200, func(x, y float64) bool { return math.Abs(x-150) < 80 && math.Abs(y-100) < 60 }))
	assert.Zero(t, board.depth)
	assert.Equal(t, 159, board.foot)
	assert.InDelta(t, 40, board.top, 1)
	wagon := solidOf(silhouette(400, 200, func(x, y float64) bool { y -= 0.1 * x; return math.Abs(x-200) < 120 && y > 60 && y < 120 }))
	assert.InDelta(t, 0.1, wagon.slant, 0.01)
	assert.InDelta(t, 60, wagon.height(), 3)
}

// What is wider above than at its foot throws a shadow beyond what its silhouette has below: all of it, with nothing cut off.
func TestTheShadowOfABowlIsWhole(t *testing.T) {
	bowl := silhouette(400, 300, func(x, y float64) bool {
		across := 40 + (200-y)*1.1 // the wall flares
		return math.Hypot((x-200)/40, (y-200)/16) < 1 || y > 110 && y < 200 && math.Abs(x-200) < across || math.Hypot((x-200)/139, (y-110)/55) < 1
	})
	s := solidOf(bowl)
	f := (&Shadow{Direction: 90, Length: 0.5, Strength: 100}).Cast(bowl, 1, nil)
	lowest := float64(s.foot) + 0.5*s.height() + s.depth*139 // of the shadow of its rim
	assert.Greater(t, lowest, float64(s.box.Y1)+0.5*s.height()+20, "it goes on below")
	assert.Greater(t, f.At(200, lowest-4), float32(0.8))
	assert.Less(t, f.At(200, lowest+4), float32(0.1))
}

// A shadow goes down with the line on which the thing stands, and its handle throws a thin one.
func TestAShadowFollowsTheFloorsLine(t *testing.T) {
	wagon := silhouette(400, 220, func(x, y float64) bool { y -= 0.1 * x; return math.Abs(x-200) < 120 && y > 60 && y < 120 })
	f := (&Shadow{Direction: 90, Length: 0.4, Strength: 100}).Cast(wagon, 1, nil)
	for x := 100.; x <= 300; x += 25 {
		foot := 120 + 0.1*x
		assert.Greater(t, f.At(x, foot+12), float32(0.9), "%g: towards the viewer", x)
		assert.Less(t, f.At(x, foot+34), float32(0.1), "%g: no further than it is long", x)
		assert.Less(t, f.At(x, foot-40), float32(0.1), "%g: not up the thing", x)
	}
}
