package copies

import (
	"encoding/json"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
)

// Where a share of a pixel is a thing's and the rest what is behind it, both colours are told, and their mix is the pixel.
func TestUnmixTellsWhatIsBeforeFromWhatIsBehind(t *testing.T) {
	const w, h = 120, 60
	pic, share := raster.NewRGB(w, h), make([]float32, w*h)
	before := func(x, y int) [3]float32 { return [3]float32{0.5 + 0.002*float32(x), 0.2, 0.1} }
	behind := func(x, y int) [3]float32 { return [3]float32{0.1, 0.3 + 0.003*float32(y), 0.5} }
	for i := range share {
		x, y := i%w, i/w
		share[i] = max(0, min(1, (float32(x)-57.5)/6)) // an edge six pixels wide
		f, b := before(x, y), behind(x, y)
		for c := range 3 {
			pic.Pix[3*i+c] = share[i]*f[c] + (1-share[i])*b[c]
		}
	}
	fore, back := Unmix(pic, share, 1, nil)
	for i, a := range share {
		x, y := i%w, i/w
		if a <= 0 || a >= 1 || y < 8 || y > h-8 {
			continue
		}
		f, b := before(x, y), behind(x, y)
		for c := range 3 {
			if a > 0.2 {
				assert.InDelta(t, f[c], fore.Pix[3*i+c], 0.03, "before, %d %d", x, y)
			}
			if a < 0.8 {
				assert.InDelta(t, b[c], back.Pix[3*i+c], 0.03, "behind, %d %d", x, y)
			}
			assert.InDelta(t, pic.Pix[3*i+c], a*fore.Pix[3*i+c]+(1-a)*back.Pix[3*i+c], 1e-3, "%d %d", x, y)
		}
	}
}

// A shadow is as long as it is told to, lies on the floor below what hangs over it, and of nothing there is none.
func TestCast(t *testing.T) {
	m := raster.NewMask(200, 120)
	for y := 40; y < 80; y++ { // a block with an arm that hangs over the floor to its right
		for x := 60; x < 80; x++ {
			m.Pix[y*200+x] = raster.Whole
		}
		if y < 50 {
			for x := 80; x < 100; x++ {
				m.Pix[y*200+x] = raster.Whole
			}
		}
	}
	reach := func(length float64) float64 {
		f := (&Shadow{Direction: 0, Length: length, Softness: 0, Strength: 100}).Cast(m, 1, nil)
		far := 0.0
		for x := range 260 {
			for y := 40; y < 100; y++ {
				if f.At(float64(x)+0.5, float64(y)+0.5) > 0.4 {
					far = max(far, float64(x))
				}
			}
		}
		return far
	}
	assert.InDelta(t, 99, reach(0), 3, "straight down, below the arm")
	assert.InDelta(t, 99+40, reach(1), 4, "the arm's, as far as it is high above the foot")
	under := (&Shadow{Direction: 0, Length: 0, Strength: 100}).Cast(m, 1, nil)
	assert.Greater(t, under.At(90, 79.5), float32(0.5), "on the floor below the arm")
	assert.Less(t, under.At(90, 60), float32(0.05), "not in the air")
	none := (&Shadow{Length: 1, Softness: 9, Strength: 100}).Cast(raster.NewMask(30, 20), 4, nil)
	assert.Zero(t, none.At(40, 40))
	assert.True(t, none.Area(raster.Place{}, 100, 100).W() <= 1)
	left := (&Shadow{Strength: 50, Colour: "#ffffff"}).Left(colour.SRGB)(1)
	assert.InDeltaSlice(t, []float32{1, 1, 1}, left[:], 1e-4, "a white shadow takes nothing away")
}

// The light on a thing that is bright on its left is turned to its right, and no place gets more than three times its light.
func TestLightIsTurned(t *testing.T) {
	pic, m := raster.NewRGB(100, 40), raster.NewMask(100, 40)
	for i := range m.Pix {
		x := i % 100
		if x >= 20 && x < 80 {
			m.Pix[i] = raster.Whole
			for c := range 3 {
				pic.Pix[3*i+c] = float32(math.Exp(-0.03 * float64(x-20)))
			}
		}
	}
	l := LightOn(pic, m, 2)
	assert.InDelta(t, 100, l.middle, 0.5)
	assert.InDelta(t, math.Exp(0.03*30), l.Turned(2*65, 40), 0.3, "across has what lies thirty pixels nearer to the light")
	assert.InDelta(t, 1, l.Turned(100, 40), 0.02)
	for x := range 100 {
		k := l.Turned(2*float64(x), 40)
		require.True(t, k >= 1./mostLight-1e-6 && k <= mostLight+1e-6)
	}
	assert.EqualValues(t, 1, LightOn(pic, raster.NewMask(100, 40), 1).Turned(3, 3), "of nothing")
}

// What is read as a copy either says what is wrong with it or can be set: there and back again.
func FuzzCopy(f *testing.F) {
	f.Add([]byte(`{"of":"mug","about":[900,700],"at":[1250,780],"turn":20,"scale":0.8,"flip":true,"shadow":{"direction":30,"length":0.4,"softness":20,"strength":60,"colour":"#102030"}}`))
	f.Add([]byte(`{"cut":{"file":"5e1f0000000000000000000000000000000000000000000000000000000000aa","size":[3,2]},"about":[1,1],"at":[2,2]}`))
	f.Add([]byte(`{"cut":{"size":[-1,4194305]}}`))
	f.Fuzz(func(t *testing.T, b []byte) {
		var c Copy
		if json.Unmarshal(b, &c) != nil || c.Validate() != nil {
			return
		}
		m := c.Move()
		x, y := m.Forth(m.Back(3, 4))
		require.InDelta(t, 3, x, 0.1)
		require.InDelta(t, 4, y, 0.1)
		if c.Shadow != nil {
			left := c.Shadow.Left(colour.SRGB)(1)
			for _, v := range left {
				require.True(t, v >= 0 && v <= 1)
			}
		}
		if c.Cut != nil && c.Cut.Size[0]*c.Cut.Size[1] < 1000 {
			thing, err := c.Cut.Open(raster.NewMask(c.Cut.Size[0], 4*c.Cut.Size[1]), colour.SRGB)
			require.NoError(t, err)
			pic, share, k := thing.Small(5)
			require.True(t, pic.W <= 5 && pic.H <= 5 && len(share.Pix) == pic.W*pic.H && k >= 1)
		}
	})
}
