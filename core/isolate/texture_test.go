package isolate

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"

	"episema/core/raster"
)

// lit is a picture of greys of a lightness (Oklab) that a function gives.
func lit(w, h int, lightness func(x, y int) float64) *planes {
	p := raster.NewRGB(w, h)
	for i := range w * h {
		v := float32(math.Pow(lightness(i%w, i/w), 3))
		p.Pix[3*i], p.Pix[3*i+1], p.Pix[3*i+2] = v, v, v
	}
	return features(p, nil)
}

func TestTheEdgeOfASmoothThingIsNoTexture(t *testing.T) {
	f := lit(90, 60, func(x, y int) float64 {
		if x+y/3 < 50 {
			return 0.3
		}
		return 0.8
	})
	for k, band := range textureBands {
		most := float32(0)
		for i, v := range f.detail(band, nil) {
			// The last pixels before an edge have no quarter of their own that is calm.
			if x, y := i%f.w, i/f.w; math.Abs(float64(x)+float64(y)/3-50) > 1+3*band[1] {
				most = max(most, v)
			}
		}
		assert.Less(t, most, float32(textureFloor), "band %d", k)
	}
}

// TestDetailIsItsStrength: a wave of one length has the root mean square of its amplitude over the square root of two, and all of
// it is in the band that it belongs to.
func TestDetailIsItsStrength(t *testing.T) {
	for k, length := range []float64{2, 8, 20} {
		f := lit(120, 120, func(x, _ int) float64 { return 0.5 + 0.1*math.Cos(2*math.Pi*float64(x)/length) })
		most, at := float32(0), -1
		for b, band := range textureBands {
			d := f.detail(band, nil)
			if v := d[60*f.w+60]; v > most {
				most, at = v, b
			}
		}
		assert.Equal(t, k, at, "a wave of %g pixels", length)
	}
	// A chequer of pixels is all in the finest: its amplitude is its root mean square.
	f := lit(60, 60, func(x, y int) float64 { return 0.5 + 0.1*float64(1-2*((x+y)%2)) })
	assert.InDelta(t, 0.1, f.detail(textureBands[0], nil)[30*60+30], 0.002)
}
