package artwork

import (
	"image"
	"image/color"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
)

// ringed draws a disc with an antialiased rim on a ground, transparent outside a larger disc, in coded values as drawing
// programs mix them.
func ringed(disc, ground color.NRGBA) (*image.NRGBA, []float64) {
	const side = 120
	m := image.NewNRGBA(image.Rect(0, 0, side, side))
	share := make([]float64, side*side)
	for y := range side {
		for x := range side {
			d := math.Hypot(float64(x)-59.5, float64(y)-59.5)
			t := math.Max(0, math.Min(1, 30.5-d))
			share[y*side+x] = t
			mix := func(a, b uint8) uint8 { return uint8(math.Round(t*float64(a) + (1-t)*float64(b))) }
			a := math.Max(0, math.Min(1, 55.5-d))
			m.SetNRGBA(x, y, color.NRGBA{mix(disc.R, ground.R), mix(disc.G, ground.G), mix(disc.B, ground.B), uint8(math.Round(255 * a))})
		}
	}
	return m, share
}

// TestFlatRimsAreUnmixed: recolouring a drawing of pixels gives what drawing it in the new colours gives, transparency to
// the bit, rims within a rounding step.
func TestFlatRimsAreUnmixed(t *testing.T) {
	red, cream, teal := color.NRGBA{0x9c, 0x2a, 0x1e, 255}, color.NRGBA{0xf1, 0xea, 0xd8, 255}, color.NRGBA{0x1d, 0x6a, 0x72, 255}
	src, share := ringed(red, cream)
	want, _ := ringed(teal, cream)
	f, ok := NewFlat(src.Pix, 120, 120)
	require.True(t, ok)
	require.Len(t, f.Colours, 2)
	d := f.Drawing()
	families, err := Gather(d.Colours, 2, nil)
	require.NoError(t, err)
	require.Len(t, families, 2)
	l, err := colour.ParseCSS("#1d6a72")
	require.NoError(t, err)
	to := make([]*colour.Lab, 2)
	for i := range f.Colours {
		if f.Colours[i].Key == "#9c2a1e" {
			to[i] = &l
		}
	}
	got := f.Recolour(to)
	rims := 0
	for i := range share {
		require.Equal(t, want.Pix[4*i+3], got[4*i+3], "transparency")
		if want.Pix[4*i+3] == 0 {
			continue
		}
		if share[i] > 0 && share[i] < 1 {
			rims++
		}
		for c := range 3 {
			require.InDelta(t, want.Pix[4*i+c], got[4*i+c], 2.1, "pixel %d, %d, share %.2f", i%120, i/120, share[i])
		}
		if share[i] == 0 {
			require.Equal(t, src.Pix[4*i:4*i+4], got[4*i:4*i+4], "what stays is the very same")
		}
	}
	assert.Greater(t, rims, 100)
	assert.Equal(t, src.Pix, f.Recolour(make([]*colour.Lab, 2)))

	noisy := append([]byte(nil), src.Pix...)
	for i := 0; i < len(noisy); i += 4 {
		noisy[i] ^= byte(i * 7 % 13)
		noisy[i+1] ^= byte(i / 4 * 31 % 11)
	}
	_, ok = NewFlat(noisy, 120, 120)
	assert.False(t, ok, "grain is no flat drawing")
}

// TestThinLinesAreColours: a line of one pixel has no middle, and is a colour all the same.
func TestThinLinesAreColours(t *testing.T) {
	m := image.NewNRGBA(image.Rect(0, 0, 60, 60))
	for y := range 60 {
		for x := range 60 {
			c := color.NRGBA{0xf1, 0xea, 0xd8, 255}
			if x == 30 {
				c = color.NRGBA{0x20, 0x24, 0x2b, 255}
			} else if y > 40 {
				c = color.NRGBA{0xd9, 0xa4, 0x41, 255}
			}
			m.SetNRGBA(x, y, c)
		}
	}
	f, ok := NewFlat(m.Pix, 60, 60)
	require.True(t, ok)
	require.Len(t, f.Colours, 3)
	to := make([]*colour.Lab, 3)
	l, err := colour.ParseCSS("#00ff00")
	require.NoError(t, err)
	to[2] = &l
	got := f.Recolour(to)
	assert.Equal(t, []byte{0, 255, 0, 255}, got[4*(10*60+30):4*(10*60+31)])
	assert.Equal(t, m.Pix[:4*30], got[:4*30])
}
