package recolour

import (
	"math"
	"math/rand"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
)

// folds is a part of one paint, lit from dark to light in many places, with grain; all of it is wholly inside.
func folds(w, h int, own [3]float64, seed int64) (*raster.RGB, *raster.Mask) {
	r := rand.New(rand.NewSource(seed))
	pic, mask := raster.NewRGB(w, h), raster.NewMask(w, h)
	for i := range mask.Pix {
		mask.Pix[i] = raster.Whole
		light := 0.2 + 0.8*r.Float64()
		for c := range 3 {
			pic.Pix[3*i+c] = float32(own[c] * light)
		}
	}
	return pic, mask
}

func TestTheTypicalLitToneIsTheMeanOfTheLitQuarter(t *testing.T) {
	pic, mask := folds(50, 40, [3]float64{0.6, 0.3, 0.1}, 2)
	// Glints that clipped, a dark ground outside and a rim of both never count.
	for i := range 100 {
		copy(pic.Pix[3*i:], []float32{1, 1, 1})
	}
	for i := 1900; i < 2000; i++ {
		mask.Pix[i] = raster.Whole / 2
		copy(pic.Pix[3*i:], []float32{0.9, 0.9, 0.9})
	}
	var y []float64
	for i := 100; i < 1900; i++ {
		y = append(y, float64(pic.Pix[3*i]))
	}
	slices.Sort(y)
	sum, n := 0.0, 0.0
	for _, v := range y[len(y)*60/100 : len(y)*85/100] {
		sum, n = sum+v, n+1
	}
	got, err := LitTone(pic, mask)
	require.NoError(t, err)
	assert.InDelta(t, sum/n, got.Linear[0], 2e-3)
	assert.InDelta(t, sum/n/2, got.Linear[1], 1e-3)
	assert.InDelta(t, sum/n/6, got.Linear[2], 1e-3)
	assert.InDelta(t, got.Linear[0], pic.Pix[3*(got.Y*50+got.X)], 2e-3, "and a pixel of it is where it is said to be")
}

func TestTheSteadyLineIsTheNearestToWhatAPlanMakes(t *testing.T) {
	pic, mask := folds(120, 90, [3]float64{0.45, 0.4, 0.12}, 3)
	l, err := Learn(pic, mask)
	require.NoError(t, err)
	goal := colour.RGB{0.2, 0.3, 0.5}
	p, met, err := l.Plan(colour.SRGB, Request{Goal: goal, Settings: Defaults()})
	require.NoError(t, err)
	got := l.steadyOf(p, met, 1, 0.5, 1)
	require.NotNil(t, got)
	// The least squares over all pixels, as a school book has them.
	var n, mx, my, xx, xy float64
	each := func(f func(x, y float64)) {
		for i := range mask.Pix {
			px := pic.Pix[3*i : 3*i+3]
			var s run
			s.add(px[0], px[1], px[2])
			if p.placed() {
				s.place(p, []float64{float64(i%120) + 0.5}, float64(i/120)+0.5, 1)
			}
			s.paint(p)
			f(lightness(px[0], px[1], px[2]), lightness(s.o.at(0)))
		}
	}
	each(func(x, y float64) { n, mx, my = n+1, mx+x, my+y })
	each(func(x, y float64) { xx, xy = xx+(x-mx/n)*(x-mx/n), xy+(x-mx/n)*(y-my/n) })
	assert.InDelta(t, xy/xx, got.slope, 0.01)
	assert.Greater(t, got.slope, float32(0.3))
	assert.InDelta(t, lightness(float32(met.Linear[0]), float32(met.Linear[1]), float32(met.Linear[2])), got.at, 1e-6)
	assert.InDelta(t, lightness(float32(goal[0]), float32(goal[1]), float32(goal[2])), got.to, 0.01, "the tone that is met becomes the target")
	assert.Equal(t, float32(0.5), got.weight)
}

func TestTheMatchPointIsTheMeanOfFiveByFivePixels(t *testing.T) {
	pic, mask := folds(30, 20, [3]float64{0.5, 0.4, 0.3}, 4)
	for i := range mask.Pix {
		if i%30 < 11 {
			mask.Pix[i] = raster.Whole / 4
		}
	}
	mean := func(x0, y0, x1, y1 int) (s float64) {
		n := 0.0
		for y := y0; y < y1; y++ {
			for x := x0; x < x1; x++ {
				w := float64(mask.Pix[y*30+x])
				s, n = s+w*float64(pic.Pix[3*(y*30+x)]), n+w
			}
		}
		return s / n
	}
	assert.InDelta(t, mean(9, 6, 14, 11), patch(pic, mask, 11, 8, Tone{}).Linear[0], 1e-9, "each by its share")
	assert.InDelta(t, mean(27, 0, 30, 3), patch(pic, mask, 29, 0, Tone{}).Linear[0], 1e-9, "at a corner by what is there")
	clear(mask.Pix)
	was := Tone{Linear: colour.RGB{1, 2, 3}, X: 7}
	assert.Equal(t, Tone{Linear: colour.RGB{1, 2, 3}, X: 4, Y: 5}, patch(pic, mask, 4, 5, was), "where it has no share the typical tone stands")
}

func TestTheLightIsWhatIsSeenOverWhatTheThingIs(t *testing.T) {
	own := colour.RGB{0.5, 0.4, 0.3}
	for _, light := range [][3]float64{{1, 1, 1}, {0.5, 0.5, 0.5}, {0.66, 0.6, 0.54}} {
		seen := colour.RGB{own[0] * light[0], own[1] * light[1], own[2] * light[2]}
		got := lightAt(seen, own)
		for c := range 3 {
			assert.InDelta(t, light[c], got[c], 0.04*light[c], "%v", light)
		}
	}
	// A channel in which the thing has next to nothing tells nothing of the light's tint.
	got := lightAt(colour.RGB{0.5, 0.4, 0.02}, colour.RGB{0.5, 0.4, 0.001})
	assert.InDelta(t, 1, got[2], 0.1)
	assert.Equal(t, [3]float64{1, 1, 1}, lightAt(colour.RGB{}, own), "where nothing is seen")
}

func TestTheSlopeOfWhatIsRebuiltRisesTowardsTheLight(t *testing.T) {
	const w, h, k = 60, 60, 4.0
	known, inside := make([]bool, w*h), make([]bool, w*h)
	burnt := func(i int) bool { return math.Hypot(float64(i%w)-30, float64(i/w)-30) < 20 }
	for i := range known {
		inside[i], known[i] = true, !burnt(i)
	}
	for angle, up := range map[float64][2]int{0: {1, 0}, 90: {0, -1}, 180: {-1, 0}, -90: {0, 1}} {
		o := &rebuilt{w: w, h: h, scale: k, light: make([]float32, w*h)}
		for i := range o.light {
			o.light[i] = 1
		}
		o.slope(known, inside, &Rebuild{Slope: 50, Light: angle})
		at := func(f int) float32 { return o.light[(30+f*up[1])*w+30+f*up[0]] }
		assert.InDelta(t, 1, at(0), 0.01, "%v: nothing in the middle", angle)
		// Half of 0.6, by how far it lies over twice the depth of 20.
		assert.InDelta(t, 1+0.3*10.0/40, at(10), 0.02, "%v", angle)
		assert.InDelta(t, 1-0.3*10.0/40, at(-10), 0.02, "%v", angle)
		assert.InDelta(t, 1, o.light[(30+10*up[0])*w+30+10*up[1]], 0.02, "%v: nothing across", angle)
		assert.Equal(t, float32(1), at(25), "what did not clip stays")
		assert.Less(t, at(19), at(14), "it grows from nothing at the border")
	}
	// A stroke takes it back within its radius of the full size, softly at its rim.
	o := &rebuilt{w: w, h: h, scale: k, amount: make([]float32, w*h)}
	for i := range o.amount {
		o.amount[i] = 1
	}
	o.away(raster.Stroke{Radius: 10 * k, Points: [][2]float64{{30.5 * k, 30.5 * k}}})
	for i, v := range o.amount {
		d := math.Hypot(float64(i%w)-30, float64(i/w)-30)
		want := 1.0
		if d < 10.5 {
			want = max(0, min(1, (d-7)/3.5))
		}
		require.InDelta(t, want, v, 1e-5, "%.2f pixels away", d)
	}
}
