package pattern

import (
	"image"
	"image/color"
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/draw"
	"golang.org/x/image/math/f64"

	"episema/core/colour"
	"episema/core/raster"
)

// tileOf is a tile of two figures, 96 x 64: a disc, and a bar across that goes on in the next tile.
func tileOf(t *testing.T) (*Drawn, func(x, y float64) int) {
	t.Helper()
	const w, h, fine = 96, 64, 8
	figure := func(x, y float64) int {
		x, y = x-w*math.Floor(x/w), y-h*math.Floor(y/h)
		switch {
		case math.Hypot(x-30, y-26) < 17:
			return 0
		case math.Abs(y-54) < 5:
			return 1
		}
		return -1
	}
	m := raster.NewMask(w, 2*h)
	for y := range h {
		for x := range w {
			var n [2]int
			for i := range fine * fine {
				if k := figure(float64(x)+(float64(i%fine)+0.5)/fine, float64(y)+(float64(i/fine)+0.5)/fine); k >= 0 {
					n[k]++
				}
			}
			for k := range n {
				m.Pix[(k*h+y)*w+x] = uint16(n[k] * raster.Whole / (fine * fine))
			}
		}
	}
	d, err := NewDrawn(m, 2)
	require.NoError(t, err)
	return d, figure
}

// A drawn tile covers what its figures cover, enlarged, made small, turned, and seen at a slant; a repeat on is the same.
func TestADrawnTileIsWhatWasDrawn(t *testing.T) {
	d, figure := tileOf(t)
	slant := [4][2]float64{{0, 0}, {300, 40}, {280, 90}, {20, 70}}
	for name, p := range map[string]Pattern{
		"as it is":    {Size: 96},
		"large":       {Size: 400},
		"small":       {Size: 31},
		"turned":      {Size: 80, Angle: 33, Offset: [2]float64{5, -3}},
		"mirrored":    {Size: 70, Repeat: "mirrored"},
		"half-drop":   {Size: 70, Repeat: "half-drop"},
		"at a slant":  {Size: 120, Corners: &slant},
		"brick, slid": {Size: 70, Repeat: "brick", Offset: [2]float64{-900, 333}},
	} {
		p.Tile, p.Strength, p.Share = TileDrawn, 100, 50
		l := NewLay(p, 2, Found{Drawn: d})
		worst, sum, n := 0.0, 0.0, 0
		for i := range 400 {
			x, y := 20+240*math.Mod(0.618034*float64(i), 1), 30+40*math.Mod(0.414214*float64(i), 1)
			got := l.Cover(x, y, 1)
			var want [2]float64
			const m = 12
			for j := range m * m {
				u, v, ok := l.At(x+(float64(j%m)+0.5)/m-0.5, y+(float64(j/m)+0.5)/m-0.5)
				require.True(t, ok)
				u, v = l.repeated(u, v)
				if k := figure(96*u, 64*v); k >= 0 {
					want[k] += 1. / (m * m)
				}
			}
			for k, v := range want {
				e := math.Abs(v - float64(got[k]))
				worst, sum, n = max(worst, e), sum+e, n+1
			}
			on := l.Cover(x, y, 1)
			assert.Equal(t, got, on)
		}
		assert.Less(t, sum/float64(n), 0.03, name)
		assert.Less(t, worst, 0.6, name)
	}
	near, far := NewLay(Pattern{Tile: TileDrawn, Size: 50, Strength: 100}, 2, Found{Drawn: d}), [2]float64{}
	for i := range 30 {
		c := near.Cover(7.3*float64(i), 5.1*float64(i), 500)
		far[0], far[1] = max(far[0], math.Abs(float64(c[0])-math.Pi*17*17/(96*64))), max(far[1], math.Abs(float64(c[1])-10./64))
	}
	assert.Less(t, max(far[0], far[1]), 0.02, "from far away it is the figures' share")
}

// On what is flat a tile is resampled as a general-purpose library does it (golang.org/x/image/draw, Catmull-Rom).
func TestADrawnTileIsResampledAsALibraryDoes(t *testing.T) {
	d, _ := tileOf(t)
	base := d.levels[0]
	for _, size := range []float64{48, 77, 200} {
		src := image.NewGray16(image.Rect(0, 0, 3*base.w, 3*base.h)) // tiles all around
		for y := range 3 * base.h {
			for x := range 3 * base.w {
				src.SetGray16(x, y, color.Gray16{Y: uint16(base.pix[y%base.h*base.w+x%base.w][0]*65535 + 0.5)})
			}
		}
		k := size / float64(base.w)
		w, h := int(size), int(size*float64(base.h)/float64(base.w))
		dst := image.NewGray16(image.Rect(0, 0, w, h))
		draw.CatmullRom.Transform(dst, f64.Aff3{k, 0, -k * float64(base.w), 0, k, -k * float64(base.h)}, src, src.Bounds(), draw.Src, nil)
		l := NewLay(Pattern{Tile: TileDrawn, Size: size, Strength: 100}, 2, Found{Drawn: d})
		ink, cloth := colour.RGB{0.05, 0.15, 0.2}, colour.RGB{0.8, 0.75, 0.6}
		mixed := func(a float64) colour.Lab {
			var c colour.RGB
			for i := range c {
				c[i] = cloth[i] + a*(ink[i]-cloth[i])
			}
			return colour.SRGB.Lab(c)
		}
		sum := 0.0
		for y := range h {
			for x := range w {
				a := float64(l.Cover(float64(x)+0.5, float64(y)+0.5, 1)[0])
				b := float64(dst.Gray16At(x, y).Y) / 65535
				sum += colour.DeltaE00(mixed(a), mixed(b))
			}
		}
		assert.Less(t, sum/float64(w*h), 0.5, "mean CIEDE2000 at %g", size)
	}
}

func TestATileThatCannotBe(t *testing.T) {
	for _, m := range []*raster.Mask{nil, raster.NewMask(0, 0), raster.NewMask(4, 3), raster.NewMask(3000, 6000)} {
		_, err := NewDrawn(m, 2)
		assert.Error(t, err)
	}
	_, err := NewDrawn(raster.NewMask(4, 4), 5)
	assert.Error(t, err)
	one, err := NewDrawn(raster.NewMask(1, 1), 1)
	require.NoError(t, err)
	assert.Zero(t, NewLay(Pattern{Tile: TileDrawn, Size: 2, Strength: 100}, 1, Found{Drawn: one}).Cover(3, 4, 1)[0])
}

// drawing is a picture of flat colours with soft rims: a cream ground, a teal disc, a red bar over it, a small black dot.
func drawing(w, h int) []byte {
	pix := make([]byte, 4*w*h)
	const fine = 4
	for i := range w * h {
		var sum [3]float64
		for j := range fine * fine {
			x, y := (float64(i%w)+(float64(j%fine)+0.5)/fine)/float64(w), (float64(i/w)+(float64(j/fine)+0.5)/fine)/float64(h)
			c := [3]float64{241, 234, 216}
			switch {
			case math.Hypot(x-0.8, y-0.8) < 0.06:
				c = [3]float64{20, 22, 28}
			case math.Abs(y-0.4) < 0.06:
				c = [3]float64{156, 42, 30}
			case math.Hypot(x-0.4, y-0.4) < 0.25:
				c = [3]float64{29, 106, 114}
			}
			for k := range sum {
				sum[k] += c[k] / (fine * fine)
			}
		}
		for k := range sum {
			pix[4*i+k] = byte(sum[k] + 0.5)
		}
		pix[4*i+3] = 255
	}
	return pix
}

// A drawing is taken apart into its ground and its figures, the largest first, each with its colour and its share; rims belong to
// the two that they are between, not to a third.
func TestADrawingIsTakenApart(t *testing.T) {
	const w, h = 240, 160
	f, err := TakeApart(drawing(w, h), w, h, nil)
	require.NoError(t, err)
	require.NotNil(t, f.Ground)
	assert.Equal(t, "#f1ead8", colour.Hex(*f.Ground))
	var hex []string
	for _, c := range f.Colours {
		hex = append(hex, colour.Hex(c))
	}
	require.Equal(t, []string{"#1d6a72", "#9c2a1e", "#14161c"}, hex)
	require.Equal(t, [2]int{w / 2, 3 * h / 2}, [2]int{f.Mask.W, f.Mask.H})
	share := make([]float64, 3)
	for i, v := range f.Mask.Pix {
		share[i/(w*h/4)] += float64(v) / raster.Whole / (w * h / 4)
	}
	bar := 0.12
	disc := math.Pi*0.25*0.25 - 2*(0.06*math.Sqrt(0.0625-0.0036)+0.0625*math.Asin(0.06/0.25))
	for k, want := range []float64{disc, bar, math.Pi * 0.06 * 0.06} {
		assert.InDelta(t, want, share[k], 0.006, hex[k])
	}
	// What is transparent is the ground.
	clear := drawing(w, h)
	for i := 0; i < len(clear); i += 4 {
		if clear[i] > 200 {
			clear[i+3] = 0
		}
	}
	f, err = TakeApart(clear, w, h, nil)
	require.NoError(t, err)
	assert.Nil(t, f.Ground)
	assert.Len(t, f.Colours, 3)
	_, err = TakeApart(make([]byte, 4*w*h), w, h, nil)
	assert.Error(t, err, "of nothing")
	white := make([]byte, 4*w*h)
	for i := range white {
		white[i] = 255
	}
	_, err = TakeApart(white, w, h, nil)
	assert.ErrorContains(t, err, "one colour")
	_, err = TakeApart(nil, 0, 0, nil)
	assert.Error(t, err)
}

// Colours that are each next to nothing of a picture are its figures all the same: noise has no colour that is more, and a tile of a few pixels no
// pixel that is none of a rim.
func TestAPictureOfNoColourThatIsMuchHasFiguresToo(t *testing.T) {
	r := rand.New(rand.NewSource(7))
	noise := make([]byte, 4*64*64)
	for i := range noise {
		noise[i] = byte(r.Intn(256))
		if i%4 == 3 {
			noise[i] = 255
		}
	}
	out, err := TakeApart(noise, 64, 64, nil)
	require.NoError(t, err)
	assert.NotEmpty(t, out.Colours)

	few := make([]byte, 4*3*2)
	copy(few[4:], []byte{200, 40, 30, 255})
	out, err = TakeApart(few, 3, 2, nil)
	require.NoError(t, err)
	require.Len(t, out.Colours, 1)
	assert.Equal(t, "#c8281e", colour.Hex(out.Colours[0]))
	_, err = TakeApart(make([]byte, 4*3*2), 3, 2, nil)
	assert.ErrorContains(t, err, "one colour")
}

// A photo comes to at most four figures, and their shares with the ground's are all of it.
func FuzzTakeApart(f *testing.F) {
	f.Add([]byte{1, 2, 3, 255, 9, 9, 200, 255, 40, 200, 3, 0}, uint8(3))
	f.Add(drawing(16, 8), uint8(16))
	f.Fuzz(func(t *testing.T, pix []byte, w uint8) {
		n := int(w)
		if n == 0 {
			n = 1
		}
		h := len(pix) / 4 / n
		out, err := TakeApart(pix[:4*n*h], n, h, nil)
		if err != nil {
			return
		}
		require.NotEmpty(t, out.Colours)
		require.LessOrEqual(t, len(out.Colours), MostColours)
		per := (n / 2) * (h / 2)
		for i := range per {
			all := 0
			for k := range out.Colours {
				all += int(out.Mask.Pix[k*per+i])
			}
			require.LessOrEqual(t, all, raster.Whole+4)
		}
		_, err = NewDrawn(out.Mask, len(out.Colours))
		require.NoError(t, err)
	})
}

// What is mixed of two colours at a rim is not taken for a third that stands elsewhere: grey between black and white, beside a grey thing.
func TestARimIsNoThirdColour(t *testing.T) {
	const w, h = 200, 200
	pix := make([]byte, 4*w*h)
	for i := range w * h {
		x, y := float64(i%w)+0.5, float64(i/w)+0.5
		black := max(0, min(1, (50-math.Hypot(x-70, y-70))/3+0.5)) // three pixels soft
		v := 255 * (1 - black)
		if x > 150 && y > 150 && x < 190 && y < 190 {
			v = 128
		}
		copy(pix[4*i:], []byte{byte(v), byte(v), byte(v), 255})
	}
	f, err := TakeApart(pix, w, h, nil)
	require.NoError(t, err)
	require.Len(t, f.Colours, 2)
	grey := 0.0
	for _, v := range f.Mask.Pix[100*100:] {
		grey += float64(v) / raster.Whole
	}
	assert.InDelta(t, 20*20, grey, 12, "the square alone")
}

// Between the last pixel of a tile and the first of the next lies their mean.
func TestATileGoesOnInTheNext(t *testing.T) {
	m := raster.NewMask(2, 2)
	m.Pix[1], m.Pix[2], m.Pix[3] = raster.Whole, 0, raster.Whole
	d, err := NewDrawn(m, 1)
	require.NoError(t, err)
	assert.InDelta(t, 0.5, d.levels[0].at(1.5, 0)[0], 1e-6)
	assert.InDelta(t, 0.5, d.levels[0].at(-0.5, 0)[0], 1e-6)
	assert.InDelta(t, 1, d.levels[0].at(3, 7)[0], 1e-6)
	m.Pix[1], m.Pix[2], m.Pix[3] = 0, raster.Whole, raster.Whole
	if d, err = NewDrawn(m, 1); assert.NoError(t, err) {
		assert.InDelta(t, 0.5, d.levels[0].at(0, 1.5)[0], 1e-6)
	}
}
