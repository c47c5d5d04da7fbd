package colour

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A plane holds just the colours that CSS Color 4 means by its oklch(), in percentages, as far as sRGB has them.
func TestAPlaneIsTheColoursOfOneHue(t *testing.T) {
	const w, h = 60, 50
	for _, hue := range []float64{0, 29.2, 110, 187, 264, 359} {
		pix := Plane(hue, w, h, nil)
		shown, hidden, edge := 0, 0, 0
		for y := range h {
			for x := range w {
				p := pix[4*(y*w+x):][:4]
				css := fmt.Sprintf("oklch(%.6f%% %.6f%% %g)", 100*(1-(float64(y)+0.5)/h), 85*(float64(x)+0.5)/w, hue)
				l, err := ParseCSS(css)
				require.NoError(t, err)
				light := SRGB.Linear(l)
				if least := min(light[0], light[1], light[2]); least < 0 && least > -1e-4 {
					continue // whether it is shown is a matter of the allowance for rounding
				}
				switch {
				case InGamut(light):
					shown++
					c := SRGB.Coded(light)
					for k := range 3 {
						require.InDelta(t, max(0, min(255, 255*c[k])), float64(p[k]), 0.75, css)
					}
					require.EqualValues(t, 255, p[3], css)
				case p[3] == 255: // the line along the edge
					edge++
					require.Equal(t, []byte{40, 40, 40, 255}, p, css)
					beside := false
					for _, i := range []int{y*w + x - 1, (y-1)*w + x, (y+1)*w + x} {
						beside = beside || i >= 0 && pix[4*i+3] == 255 && pix[4*i] != 40
					}
					require.True(t, beside, "right beside what is shown")
				default:
					hidden++
				}
			}
		}
		assert.Greater(t, shown, 300, "hue %g", hue)
		assert.Greater(t, hidden, 300, "hue %g", hue)
		assert.Greater(t, edge, 20, "hue %g", hue)
	}
}

func TestOklchAndBack(t *testing.T) {
	for _, css := range []string{"#1d6a72", "#ff00ff", "#123456", "oklch(70% 20% 359)", "oklch(20% 5% 181)"} {
		lab, err := ParseCSS(css)
		require.NoError(t, err)
		o := SRGB.Oklab(SRGB.Linear(lab))
		l, c, h := o.Oklch()
		assert.True(t, h >= 0 && h < 360, "%s: hue %g", css, h)
		back := OklabOfPolar(l, c, h)
		for k := range o {
			assert.InDelta(t, o[k], back[k], 1e-9, css)
		}
		again, err := ParseCSS(fmt.Sprintf("oklch(%.8f %.8f %.6f)", l, c, h))
		require.NoError(t, err)
		assert.Less(t, DeltaE00(lab, again), 1e-3, css)
	}
	_, c, h := SRGB.Oklab(RGB{0.2, 0.2, 0.2}).Oklch()
	assert.Less(t, c, 2e-4)
	assert.Zero(t, h, "a grey has no hue")
}

// Of inks the edge of what they reach is dotted, on its inner side, and nothing else is changed.
func TestThePlaneShowsWhatInksReach(t *testing.T) {
	const w, h = 90, 70
	all := tableOf(t, 3, func(c RGB) (RGB, RGB, float64) { return c, c, 0 })
	plain := Plane(30, w, h, nil)
	assert.Equal(t, plain, Plane(30, w, h, all), "inks that reach all have no edge here")
	bright := tableOf(t, 33, func(c RGB) (RGB, RGB, float64) { return c, c, 40 * max(0, c[0]-0.6) }) // missed from 0.65 of red on
	pix := Plane(30, w, h, bright)
	light, dark := 0, 0
	for i := range w * h {
		was, is := plain[4*i:][:4], pix[4*i:][:4]
		if string(was) == string(is) {
			continue
		}
		require.True(t, is[0] == is[1] && is[1] == is[2] && (is[0] == 0 || is[0] == 255), "black or white")
		require.LessOrEqual(t, float64(was[0])/255, 0.66, "within what is reached")
		beyond := 0.0
		for _, j := range []int{i - 1, i + 1, i - w, i + w} {
			if j >= 0 && j < w*h && plain[4*j+3] == 255 {
				beyond = max(beyond, float64(plain[4*j])/255)
			}
		}
		require.Greater(t, beyond, 0.64, "beside what is not")
		if is[0] == 0 {
			dark++
		} else {
			light++
		}
	}
	assert.Greater(t, light, 10)
	assert.Greater(t, dark, 10)
}
