package pattern

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/raster"
)

func plain(tile string) Pattern { return Pattern{Tile: tile, Share: 40, Size: 20, Strength: 100} }

// How much of a pixel each colour covers is the mean of many points in it, for every tile, repeat and number of colours, from near and
// from far.
func TestAPixelIsCoveredByTheMeanOfItsPoints(t *testing.T) {
	for _, tile := range Tiles {
		for _, repeat := range append([]string{""}, Repeats...) {
			for _, n := range []int{1, 2, 3} {
				p := plain(tile)
				p.Repeat, p.Offset = repeat, [2]float64{3.3, -4.7}
				l := NewLay(p, n, Found{})
				for _, step := range []float64{0.25, 1.5} {
					worst, sum, points := 0.0, 0.0, 0
					for i := range 150 {
						x, y := 61*math.Mod(0.618034*float64(i), 1), 53*math.Mod(0.414214*float64(i), 1)
						got := l.Cover(x, y, step)
						var want [MostColours]float64
						const m = 24
						for b := range m {
							for a := range m {
								c := l.Cover(x+step*((float64(a)+0.5)/m-0.5), y+step*((float64(b)+0.5)/m-0.5), 1e-4)
								for k := range want {
									want[k] += float64(c[k]) / (m * m)
								}
							}
						}
						total := 0.0
						for k := range want {
							worst = max(worst, math.Abs(want[k]-float64(got[k])))
							sum, points = sum+math.Abs(want[k]-float64(got[k])), points+1
							total += float64(got[k])
						}
						require.LessOrEqual(t, total, 1.0001)
					}
					assert.Less(t, sum/float64(points), 0.015, "%s %s, %d colours, step %v", tile, repeat, n, step)
					assert.Less(t, worst, 0.3, "%s %s, %d colours, step %v", tile, repeat, n, step)
				}
			}
		}
	}
}

// From so far away that no figure is seen, a pixel has the figures' share.
func TestFromFarAwayAPatternIsItsShare(t *testing.T) {
	for _, tile := range Tiles {
		for _, n := range []int{1, 2} {
			want := 0.4
			if tile == "checks" {
				want = 0.5
			}
			if n == 2 {
				want /= 2
			}
			l := NewLay(plain(tile), n, Found{})
			for i := range 20 {
				c := l.Cover(7.7*float64(i), 3.1*float64(i), 400)
				for k := range n {
					assert.InDelta(t, want, c[k], 0.025, "%s, %d colours", tile, n)
				}
			}
		}
	}
}

// An offset by one repeat changes nothing; turned by a quarter, stripes across are stripes down.
func TestARepeatRepeats(t *testing.T) {
	for _, tile := range Tiles {
		a, b := plain(tile), plain(tile)
		b.Offset = [2]float64{20, -40}
		for i := range 100 {
			x, y := 3.7*float64(i), 1.9*float64(i)
			ca, cb := NewLay(a, 2, Found{}).Cover(x, y, 1), NewLay(b, 2, Found{}).Cover(x, y, 1)
			for k := range ca {
				require.InDelta(t, ca[k], cb[k], 1e-5, tile)
			}
		}
	}
	p, q := plain("stripes"), plain("stripes")
	q.Angle = 90
	for i := range 50 {
		x, y := 1.3*float64(i), 0.7*float64(i)
		assert.InDelta(t, NewLay(p, 1, Found{}).Cover(x, y, 1)[0], NewLay(q, 1, Found{}).Cover(-y, x, 1)[0], 1e-5)
	}
}

// Four corners are where they are said to be, straight lines stay straight, and past the horizon there is no cloth. Heckbert (1989).
func TestClothInPerspective(t *testing.T) {
	p := plain("checks")
	p.Size = 1000
	p.Corners = &[4][2]float64{{100, 80}, {300, 120}, {340, 400}, {60, 380}}
	l := NewLay(p, 1, Found{})
	for i, want := range [4][2]float64{{0, 0}, {1, 0}, {1, 1}, {0, 1}} {
		u, v, ok := l.At(p.Corners[i][0], p.Corners[i][1])
		require.True(t, ok)
		assert.InDelta(t, want[0], u, 1e-9)
		assert.InDelta(t, want[1], v, 1e-9)
	}
	// The diagonals of the square cross in its middle.
	c := p.Corners
	d1, d2 := [2]float64{c[2][0] - c[0][0], c[2][1] - c[0][1]}, [2]float64{c[3][0] - c[1][0], c[3][1] - c[1][1]}
	s := ((c[1][0]-c[0][0])*d2[1] - (c[1][1]-c[0][1])*d2[0]) / (d1[0]*d2[1] - d1[1]*d2[0])
	u, v, ok := l.At(c[0][0]+s*d1[0], c[0][1]+s*d1[1])
	require.True(t, ok)
	assert.InDelta(t, 0.5, u, 1e-9)
	assert.InDelta(t, 0.5, v, 1e-9)
	p.Corners = &[4][2]float64{{100, 100}, {200, 100}, {290, 200}, {10, 200}} // seen from above: its horizon lies over it
	_, _, ok = NewLay(p, 1, Found{}).At(150, -2000)
	assert.False(t, ok)
	assert.Zero(t, NewLay(p, 1, Found{}).Cover(150, -2000, 1))
	// Mirrored corners are cloth seen from behind, and as good.
	p.Corners = &[4][2]float64{{300, 120}, {100, 80}, {60, 380}, {340, 400}}
	require.NoError(t, p.Validate())
	u, v, ok = NewLay(p, 1, Found{}).At(100, 80)
	require.True(t, ok)
	assert.InDelta(t, 1, u, 1e-9)
	assert.InDelta(t, 0, v, 1e-9)
}

// On a cloth whose waves are lit from a side the pattern bends with them: seen from the front by the cloth that lies in what turns away,
// which is the integral of the slope's square; seen from the side by the height as well, which is that of the slope. The waves may run
// any way. On an evenly lit cloth it bends not at all.
func TestAPatternBendsWithTheFolds(t *testing.T) {
	const w, h, wave = 240, 160, 40.0
	mask := raster.NewMask(w, h)
	for i := range mask.Pix {
		if x, y := i%w, i/w; x > 10 && x < 230 && y > 10 && y < 150 {
			mask.Pix[i] = raster.Whole
		}
	}
	for _, way := range []float64{0, 25, 90, -40} {
		sin, cos := math.Sincos(way * math.Pi / 180)
		light := make([]float32, w*h)
		phase := func(x, y float64) float64 { return 2 * math.Pi * ((x-120)*cos + (y-80)*sin) / wave }
		for i := range light {
			light[i] = float32(0.3 * math.Exp(0.4*math.Cos(phase(float64(i%w), float64(i/w)))))
		}
		b := FindBend(light, mask, 2)
		var front, frontTrue, cross, side, sideTrue, sideCross, aslant float64
		for i := range 4000 {
			x, y := 70+100*math.Mod(0.618034*float64(i), 1), 40+80*math.Mod(0.414214*float64(i), 1)
			dx, dy := b.At(2*x+1, 2*y+1, 0)
			sx, sy := b.At(2*x+1, 2*y+1, 100)
			d, s := dx*cos+dy*sin, (sx-dx)*cos+(sy-dy)*sin
			aslant = max(aslant, math.Abs(dy*cos-dx*sin))
			square, height := math.Sin(2*phase(x, y)), math.Sin(phase(x, y))
			front, frontTrue, cross = front+d*d, frontTrue+square*square, cross+d*square
			side, sideTrue, sideCross = side+s*s, sideTrue+height*height, sideCross+s*height
			require.LessOrEqual(t, math.Abs(d), 0.5)
		}
		assert.Greater(t, cross/math.Sqrt(front*frontTrue), 0.85, "the slope's square, at %g", way)
		assert.Greater(t, sideCross/math.Sqrt(side*sideTrue), 0.9, "the height, at %g", way)
		assert.Less(t, aslant, 0.05, "along the folds nothing moves, at %g", way)
		p := plain("stripes")
		p.Folds, p.Angle = 100, way
		moved := 0.0
		for i := range 400 {
			x, y := 100+0.5*float64(i), 100+0.3*float64(i)
			moved = max(moved, math.Abs(float64(NewLay(p, 1, Found{Bend: b}).Cover(x, y, 1)[0]-NewLay(p, 1, Found{}).Cover(x, y, 1)[0])))
		}
		assert.Greater(t, moved, 0.5)
	}
	flat := make([]float32, w*h)
	for i := range flat {
		flat[i] = 0.3
	}
	dx, dy := FindBend(flat, mask, 2).At(200, 160, 100)
	assert.Zero(t, dx)
	assert.Zero(t, dy)
	assert.NotPanics(t, func() { FindBend(flat, raster.NewMask(w, h), 1) })
}

func TestAPatternThatCannotBeIsRefused(t *testing.T) {
	ok := plain("dots")
	require.NoError(t, ok.Validate())
	for says, spoil := range map[string]func(p *Pattern){
		"the tile":     func(p *Pattern) { p.Tile = "hearts" },
		"the repeat":   func(p *Pattern) { p.Repeat = "drop" },
		"the share":    func(p *Pattern) { p.Share = 0 },
		"a repeat of":  func(p *Pattern) { p.Size = 0 },
		"turned":       func(p *Pattern) { p.Angle = math.NaN() },
		"the offset":   func(p *Pattern) { p.Offset[1] = math.Inf(1) },
		"folds":        func(p *Pattern) { p.Folds = 101 },
		"the strength": func(p *Pattern) { p.Strength = -1 },
		"a corner":     func(p *Pattern) { p.Corners = &[4][2]float64{{0, 0}, {1e9, 0}, {9, 9}, {0, 9}} },
		"on a line":    func(p *Pattern) { p.Corners = &[4][2]float64{{0, 0}, {9, 0}, {18, 0}, {0, 9}} },
		"or cross":     func(p *Pattern) { p.Corners = &[4][2]float64{{0, 0}, {9, 9}, {9, 0}, {0, 9}} },
	} {
		p := plain("dots")
		spoil(&p)
		assert.ErrorContains(t, p.Validate(), says)
	}
}
