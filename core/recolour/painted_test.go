package recolour_test

import (
	"math"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

func painted(p *recolour.Plan, src *raster.RGB, mask *raster.Mask) *raster.RGB {
	out := &raster.RGB{W: src.W, H: src.H, Pix: append([]float32(nil), src.Pix...)}
	p.Apply(src, out, mask, raster.Place{Step: 1}, raster.Rect{X1: src.W, Y1: src.H})
	return out
}

func BenchmarkApply(b *testing.B) {
	for _, scene := range scenes.Truths("../../demo/truth") {
		if scene.Name != "mug" && scene.Name != "seat" {
			continue
		}
		require.NoError(b, scene.Load())
		src, err := scene.Shot(scene.From[0], false)
		require.NoError(b, err)
		learned, err := recolour.Learn(src, scene.Mask)
		require.NoError(b, err)
		p, _, err := learned.Plan(colour.SRGB, recolour.Request{Goal: scenes.Albedos[scene.To[0]], Settings: recolour.Defaults()})
		require.NoError(b, err)
		b.Run(scene.Name, func(b *testing.B) {
			for b.Loop() {
				painted(p, src, scene.Mask)
			}
		})
		b.Run(scene.Name+" again", func(b *testing.B) { // while a hand moves a colour
			p := p.Seeing(recolour.NewSight(recolour.NewRoom(1 << 30)))
			painted(p, src, scene.Mask)
			for b.Loop() {
				painted(p, src, scene.Mask)
			}
		})
	}
}

// mugInTeal returns a plan for the truth's mug, and what it is for.
func mugInTeal(t *testing.T) (*recolour.Plan, *raster.RGB, *raster.Mask) {
	t.Helper()
	s := truthOf(t, "mug")
	src := shot(t, s, s.From[0], true)
	learned, err := recolour.Learn(src, s.Mask)
	require.NoError(t, err)
	p, _, err := learned.Plan(colour.SRGB, recolour.Request{Goal: scenes.Albedos["teal"], Settings: recolour.Defaults()})
	require.NoError(t, err)
	return p, src, s.Mask
}

// A plan that spares hidden pixels makes all others as it would without that.
func TestHiddenPixelsAreSpared(t *testing.T) {
	p, src, mask := mugInTeal(t)
	hidden := make([]bool, len(mask.Pix))
	for i := range hidden {
		x, y := i%src.W, i/src.W
		hidden[i] = x < src.W/3 || (x/7+y/5)%3 == 0 // whole blocks and bits of others
	}
	all, some := painted(p, src, mask), painted(p.Sparing(hidden), src, mask)
	for i, h := range hidden {
		want := all.Pix[3*i : 3*i+3]
		if h {
			want = src.Pix[3*i : 3*i+3]
		}
		if !slices.Equal(want, some.Pix[3*i:3*i+3]) {
			require.Equal(t, want, some.Pix[3*i:3*i+3], "pixel %d", i)
		}
	}
}

// What a mask spilled over on stays as it is, and so it is what shares are added of: in blocks that hold nothing else, too.
func TestSharesOfWhatWasSpilledOverOnAreAdded(t *testing.T) {
	const w, h = 240, 200
	pic, mask, wide := raster.NewRGB(w, h), raster.NewMask(w, h), raster.NewMask(w, h)
	for i := range mask.Pix {
		px := colour.RGB{0.38, 0.36, 0.30}
		if y := i / w; y < 100 {
			px, mask.Pix[i] = colour.RGB{0.02, 0.021, 0.023}, raster.Whole
		}
		wide.Pix[i] = raster.Whole
		for c := range 3 {
			pic.Pix[3*i+c] = float32(px[c])
		}
	}
	learned, err := recolour.Learn(pic, mask)
	require.NoError(t, err)
	p, _, err := learned.Plan(colour.SRGB, recolour.Request{Goal: colour.RGB{0.5, 0.03, 0.05}, Settings: recolour.Defaults()})
	require.NoError(t, err)
	all := painted(p, pic, wide)
	share := slices.Repeat([]float32{0.5}, w*h)
	to := raster.NewRGB(w, h)
	p.Adding(share).Apply(pic, to, wide, raster.Place{Step: 1}, raster.Rect{X1: w, Y1: h})
	for i, v := range all.Pix {
		if i/3/w >= 104 {
			require.Equal(t, pic.Pix[i], v, "the ground stays")
		}
		require.InDelta(t, v/2, to.Pix[i], 1e-6)
	}
}

// A plan that adds shares of what it makes adds just these: all of it to nothing is what it makes of the picture, and where the share is
// nought all stays as it is.
func TestSharesOfWhatIsPaintedAreAdded(t *testing.T) {
	p, src, mask := mugInTeal(t)
	share := make([]float32, len(mask.Pix))
	for i := range share {
		if x, y := i%src.W, i/src.W; x > src.W/2 {
			share[i] = float32((x/7+y/5)%3) / 2
		}
	}
	all := painted(p, src, mask)
	to := raster.NewRGB(src.W, src.H)
	for i := range to.Pix {
		to.Pix[i] = 0.25
	}
	p.Adding(share).Apply(src, to, mask, raster.Place{Step: 1}, raster.Rect{X1: src.W, Y1: src.H})
	changed := 0
	for i, k := range share {
		if mask.Pix[i] == 0 {
			k = 0 // it is not the part's
		}
		for c := range 3 {
			if want := 0.25 + k*all.Pix[3*i+c]; math.Abs(float64(want-to.Pix[3*i+c])) > 1e-6 {
				require.InDelta(t, want, to.Pix[3*i+c], 1e-6, "pixel %d", i)
			}
		}
		if k > 0 {
			changed++
		}
	}
	assert.Greater(t, changed, 1000)
}

// A pixel becomes the same, to the last bit, in whatever rectangle it is painted: views are put together from what was asked for at
// different times.
func TestAPixelIsTheSameInWhateverRectangleItIsPainted(t *testing.T) {
	for _, scene := range []string{"mug", "muff"} { // one of few mixed pixels a block, one of many
		s := truthOf(t, scene)
		src := shot(t, s, s.From[0], true)
		learned, err := recolour.Learn(src, s.Mask)
		require.NoError(t, err)
		p, _, err := learned.Plan(colour.SRGB, recolour.Request{Goal: scenes.Albedos[s.To[0]], Settings: recolour.Defaults()})
		require.NoError(t, err)
		whole := painted(p, src, s.Mask)
		pieces := &raster.RGB{W: src.W, H: src.H, Pix: append([]float32(nil), src.Pix...)}
		for y := 0; y < src.H; y += 157 {
			for x := 0; x < src.W; x += 211 {
				// Each piece by itself, with only as much around it as is looked at.
				inner := raster.Rect{X0: x, Y0: y, X1: min(x+211, src.W), Y1: min(y+157, src.H)}
				outer := inner.Grow(recolour.Margin).And(raster.Rect{X1: src.W, Y1: src.H})
				in := src.Crop(outer)
				out := src.Crop(outer)
				at := raster.Rect{X0: inner.X0 - outer.X0, Y0: inner.Y0 - outer.Y0, X1: inner.X1 - outer.X0, Y1: inner.Y1 - outer.Y0}
				p.Apply(in, out, s.Mask.Crop(outer), raster.Place{X: float64(outer.X0), Y: float64(outer.Y0), Step: 1}, at)
				for yy := at.Y0; yy < at.Y1; yy++ {
					copy(pieces.Pix[3*((yy+outer.Y0)*src.W+inner.X0):][:3*inner.W()], out.Pix[3*(yy*out.W+at.X0):])
				}
			}
		}
		other := 0
		for i, v := range whole.Pix {
			if v != pieces.Pix[i] {
				other++
			}
		}
		assert.Zero(t, other, scene)
	}
}
