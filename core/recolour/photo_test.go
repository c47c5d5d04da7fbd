package recolour_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"sync"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

// truthOf loads a scene of the demo's truth.
// What was read once is kept: most tests look at the same few pictures, and none changes them.
var (
	truths = kept[*scenes.Truth]{m: map[string]*scenes.Truth{}}
	shots  = kept[*raster.RGB]{m: map[string]*raster.RGB{}}
)

type kept[T any] struct {
	sync.Mutex
	m map[string]T
}

func (k *kept[T]) get(key string, make func() T) T {
	k.Lock()
	defer k.Unlock()
	v, ok := k.m[key]
	if !ok {
		v = make()
		k.m[key] = v
	}
	return v
}

func truthOf(t *testing.T, name string) *scenes.Truth {
	t.Helper()
	return truths.get(name, func() *scenes.Truth { return readTruth(t, name) })
}

func readTruth(t *testing.T, name string) *scenes.Truth {
	t.Helper()
	for _, s := range scenes.Truths("../../demo/truth") {
		if s.Name == name {
			require.NoError(t, s.Load())
			return s
		}
	}
	t.Fatalf("there is no scene %q", name)
	return nil
}

func shot(t *testing.T, s *scenes.Truth, name string, clean bool) *raster.RGB {
	t.Helper()
	return shots.get(fmt.Sprint(s.Name, name, clean), func() *raster.RGB {
		p, err := s.Shot(name, clean)
		require.NoError(t, err)
		return p
	})
}

func labAt(p *raster.RGB, i int) colour.Lab {
	return colour.SRGB.Lab(colour.RGB{float64(p.Pix[3*i]), float64(p.Pix[3*i+1]), float64(p.Pix[3*i+2])})
}

// inside is the mean CIEDE2000 over the pixels that lie wholly in a mask.
func inside(a, b *raster.RGB, m *raster.Mask) float64 {
	var s, n float64
	for i := 0; i < len(m.Pix); i += 5 {
		if m.Pix[i] == raster.Whole {
			s, n = s+colour.DeltaE00(labAt(a, i), labAt(b, i)), n+1
		}
	}
	return s / n
}

// Through a camera with a tone curve, a wrong white balance, noise and compression, the result is nearly what the camera
// would have seen. The limits are 1.2 times what was measured; bench/truth prints the whole table.
func TestWhatTheCameraWouldHaveSeen(t *testing.T) {
	for _, c := range []struct {
		scene, from   string
		clean, camera float64
	}{{"pouch", "navy", 2.6, 3.2}, {"seat", "hide", 4.2, 4.8}, {"muff", "olive", 1.8, 5.4}, {"pot", "clay", 2.3, 2.8}} {
		s := truthOf(t, c.scene)
		own := scenes.Albedos[c.from]
		for clean, limit := range map[bool]float64{true: c.clean, false: c.camera} {
			src := shot(t, s, c.from, clean)
			sum := 0.0
			for _, to := range s.To {
				o, _, _ := apply(t, src, s.Mask, recolour.Request{Own: &own, Goal: scenes.Albedos[to], Settings: recolour.Defaults()})
				sum += inside(o, shot(t, s, to, clean), s.Mask)
			}
			assert.LessOrEqual(t, sum/float64(len(s.To)), limit, "%s, clean: %t", c.scene, clean)
		}
	}
}

func TestANeutralTargetTakesNoTint(t *testing.T) {
	for scene, from := range map[string]string{"pouch": "navy", "muff": "olive"} {
		s := truthOf(t, scene)
		for _, clean := range []bool{true, false} {
			src := shot(t, s, from, clean)
			for _, to := range []string{"offblack", "grey", "offwhite"} {
				o, _, _ := apply(t, src, s.Mask, recolour.Request{Goal: scenes.Albedos[to], Settings: recolour.Defaults()})
				var chroma []float64
				mean := 0.0
				for i, m := range s.Mask.Pix {
					if m == raster.Whole {
						c := labAt(o, i).Chroma()
						chroma, mean = append(chroma, c), mean+c
					}
				}
				slices.Sort(chroma)
				name := fmt.Sprintf("%s to %s, clean: %t", scene, to, clean)
				assert.LessOrEqual(t, mean/float64(len(chroma)), 3.0, name)
				assert.LessOrEqual(t, chroma[len(chroma)*95/100], 8.0, name)
			}
		}
	}
}

func TestNothingBurnsOrIsCrushedBeyondThePhoto(t *testing.T) {
	code := func(v float32) float64 { return math.Round(255 * float64(colour.Coded32(v))) }
	for scene, from := range map[string]string{"pouch": "navy", "muff": "olive", "seat": "hide"} {
		s := truthOf(t, scene)
		for _, clean := range []bool{true, false} {
			src := shot(t, s, from, clean)
			for _, to := range []string{"offblack", "offwhite"} {
				o, _, _ := apply(t, src, s.Mask, recolour.Request{Goal: scenes.Albedos[to], Settings: recolour.Defaults()})
				var n, burned, crushed float64
				for i, m := range s.Mask.Pix {
					if m < raster.Whole {
						continue
					}
					n++
					a, b := src.Pix[3*i:3*i+3], o.Pix[3*i:3*i+3]
					if code(slices.Max(b)) >= 254 && code(slices.Max(a)) < 254 {
						burned++
					}
					if code(slices.Min(b)) == 0 && code(slices.Min(a)) > 0 {
						crushed++
					}
				}
				assert.LessOrEqual(t, burned/n, 0.01, "%s to %s, clean: %t: burned", scene, to, clean)
				assert.LessOrEqual(t, crushed/n, 0.01, "%s to %s, clean: %t: crushed", scene, to, clean)
			}
		}
	}
}

// ramp is a body of one colour under light that grows from left to right.
func ramp(own colour.RGB) (*raster.RGB, *raster.Mask) {
	const w, h = 160, 40
	p, m := raster.NewRGB(w, h), raster.NewMask(w, h)
	for y := range h {
		for x := range w {
			for c := range 3 {
				p.Pix[3*(y*w+x)+c] = float32(math.Min(1, own[c]*(0.05+1.1*float64(x)/w)))
			}
			m.Pix[y*w+x] = raster.Whole
		}
	}
	return p, m
}

func TestLightnessRisesWithTheLightOnABody(t *testing.T) {
	for from, own := range someColours {
		p, m := ramp(own)
		for _, css := range []string{"#1b1b1f", "#808080", "#f4f4f0", "#1d6a72", "#b7c9e0", "#c8102e"} {
			want, err := colour.ParseCSS(css)
			require.NoError(t, err)
			o, _, _ := apply(t, p, m, recolour.Request{Goal: colour.SRGB.Linear(want), Settings: recolour.Defaults()})
			last := -1.0
			for x := range p.W {
				l := labAt(o, 20*p.W+x)[0]
				require.GreaterOrEqual(t, l, last-0.05, "%s to %s at %d", from, css, x)
				last = l
			}
			assert.Greater(t, last, labAt(o, 20*p.W)[0]+3, "%s to %s: the shade is there", from, css)
		}
	}
}

// grown is a mask that spills over its edge by n pixels.
func grown(m *raster.Mask, n float32) *raster.Mask {
	d := raster.SignedDistance(func(i int) bool { return m.Pix[i] >= raster.Whole/2 }, m.W, m.H)
	o := raster.NewMask(m.W, m.H)
	for i, v := range d {
		o.Pix[i] = uint16(raster.Whole * max(0, min(1, v+n+0.5)))
	}
	return o
}

func TestAMaskThatSpilledOverLeavesASecondMaterialAlone(t *testing.T) {
	s := truthOf(t, "pouch") // a white belt and an amber print on cloth
	spilled := grown(s.Mask, 10)
	d := raster.SignedDistance(func(i int) bool { return s.Mask.Pix[i] >= raster.Whole/2 }, s.Mask.W, s.Mask.H)
	for _, clean := range []bool{true, false} {
		src := shot(t, s, "navy", clean)
		for _, to := range []string{"vivid", "grey", "offblack", "offwhite"} {
			q := recolour.Request{Goal: scenes.Albedos[to], Settings: recolour.Defaults()}
			o, plan, _ := apply(t, src, spilled, q)
			q.Settings.OnlyOwn = 0
			all, _, _ := apply(t, src, spilled, q)
			exact, _, _ := apply(t, src, s.Mask, q)
			changed := plan.Changed(src, spilled)
			var moved, without, n, in, ni, held float64
			for i := range d {
				switch {
				case d[i] < -3 && spilled.Pix[i] == raster.Whole: // what the mask should not have
					moved, without, n = moved+colour.DeltaE00(labAt(o, i), labAt(src, i)), without+colour.DeltaE00(labAt(all, i), labAt(src, i)), n+1
				case d[i] > 3:
					in, ni = in+colour.DeltaE00(labAt(o, i), labAt(exact, i)), ni+1
					held += 1 - float64(changed.Pix[i])/raster.Whole
				}
			}
			name := fmt.Sprintf("to %s, clean: %t", to, clean)
			assert.Less(t, moved/n, 2.0, name)
			assert.Greater(t, without/n, 4.0, "%s: without it what spilled over is changed", name)
			assert.Less(t, in/ni, 1.5, "%s: the part itself is recoloured as with the exact mask", name)
			assert.Less(t, held/ni, 0.02, "%s: nothing of the part is held back", name)
		}
	}
}

// TestWhatIsFarBrighterIsNotTheParts spills the mask of a dark book over its pages, which have the cover's hue and thirty times its light.
func TestWhatIsFarBrighterIsNotTheParts(t *testing.T) {
	const w, h = 240, 160
	r := rand.New(rand.NewPCG(3, 3))
	pic, mask := raster.NewRGB(w, h), raster.NewMask(w, h)
	for i := range mask.Pix {
		x, y := i%w, i/w
		px := colour.RGB{0.020, 0.016, 0.009}
		switch {
		case y >= 110 && y < 124:
			px = colour.RGB{0.38, 0.29, 0.17} // the pages
		case y >= 124 || x < 10 || x >= w-10 || y < 10:
			px = colour.RGB{0.05, 0.06, 0.09} // the table
		}
		k := 0.75 + 0.5*r.Float64()
		for c := range 3 {
			pic.Pix[3*i+c] = float32(k * px[c])
		}
		if x >= 10 && x < w-10 && y >= 10 && y < 117 {
			mask.Pix[i] = raster.Whole
		}
	}
	goal := colour.RGB{0.8, 0.13, 0.02}
	out, plan, _ := apply(t, pic, mask, recolour.Request{Goal: goal, Settings: recolour.Defaults()})
	changed := plan.Changed(pic, mask)
	var pages, n, cover, all float64
	for i, m := range mask.Pix {
		if m == 0 {
			continue
		}
		if y := i / w; y >= 111 {
			pages += colour.DeltaE00(labAt(pic, i), labAt(out, i))
			n++
		} else if y < 108 {
			cover += float64(changed.Pix[i]) / raster.Whole
			all++
		}
	}
	assert.Less(t, pages/n, 2.0)
	assert.Greater(t, cover/all, 0.99)
}

func TestStricterHoldsBackMore(t *testing.T) {
	s := truthOf(t, "pouch")
	spilled := grown(s.Mask, 10)
	src := shot(t, s, "navy", true)
	last := 1e12
	for _, strict := range []float64{0, 20, 50, 80, 100} {
		q := recolour.Request{Goal: scenes.Albedos["vivid"], Settings: recolour.Defaults()}
		q.Settings.OnlyOwn = strict
		_, plan, _ := apply(t, src, spilled, q)
		sum := 0.0
		for _, v := range plan.Changed(src, spilled).Pix {
			sum += float64(v)
		}
		assert.LessOrEqual(t, sum, last, "strictness %g", strict)
		last = sum
	}
}

// TestFineLightAndDarkOutlivesADarkTarget looks for the picture's own fine light and dark in results whose tones lie close together.
func TestFineLightAndDarkOutlivesADarkTarget(t *testing.T) {
	s := truthOf(t, "scarf")
	src := shot(t, s, "teal", false)
	learned, err := recolour.Learn(src, s.Mask)
	require.NoError(t, err)
	for css, least := range map[string]float64{"#1b1b1f": 0.86, "#f4f4f0": 0.9} {
		c, err := colour.ParseCSS(css)
		require.NoError(t, err)
		p, _, err := learned.Plan(colour.SRGB, recolour.Request{Goal: colour.SRGB.Linear(c), Settings: recolour.Defaults()})
		require.NoError(t, err)
		out := &raster.RGB{W: src.W, H: src.H, Pix: slices.Clone(src.Pix)}
		p.Apply(src, out, s.Mask, raster.Place{}, raster.Rect{X1: src.W, Y1: src.H})
		got, _ := scenes.FineKept(src, out, s.Mask)
		require.Greater(t, got, least, css)
	}
}

// TestWhatBlackLeatherMirrorsIsNoTintOfWhite paints a nearly black thing white that mirrors a blue sky at one end and a brown floor at the other.
func TestWhatBlackLeatherMirrorsIsNoTintOfWhite(t *testing.T) {
	const w, h = 200, 120
	pic, mask := raster.NewRGB(w, h), raster.NewMask(w, h)
	for i := range mask.Pix {
		x, y := i%w, i/w
		px := colour.RGB{0.3, 0.25, 0.2}
		if x > 20 && x < w-20 && y > 20 && y < h-20 {
			u, light := float64(x)/w, 0.5+float64(y)/h
			sky, floor := colour.RGB{0.010, 0.014, 0.022}, colour.RGB{0.016, 0.012, 0.007}
			for c := range px {
				px[c] = 0.045*light + u*sky[c] + (1-u)*floor[c]
			}
			mask.Pix[i] = raster.Whole
		}
		for c, v := range px {
			pic.Pix[3*i+c] = float32(v)
		}
	}
	for css, most := range map[string]float64{"#808080": 1, "#f4f4f0": 2.5} { // the latter has 2 of its own
		want, err := colour.ParseCSS(css)
		require.NoError(t, err)
		out, _, _ := apply(t, pic, mask, recolour.Request{Goal: colour.SRGB.Linear(want), Settings: recolour.Defaults()})
		var n, chroma float64
		for i, m := range mask.Pix {
			if m > 0 {
				n, chroma = n+1, chroma+labAt(out, i).Chroma()
			}
		}
		assert.Less(t, chroma/n, most, css)
	}
}

// TestALittleEvennessTakesLittleAway evens the tints of muted cloth by a hundredth: that is what they lose, and no half of them.
func TestALittleEvennessTakesLittleAway(t *testing.T) {
	const w, h = 120, 80
	pic, mask := raster.NewRGB(w, h), raster.NewMask(w, h)
	for i := range mask.Pix {
		x, y := i%w, i/w
		tint := 0.15 * math.Sin(float64(x)/7)
		cloth := colour.RGB{0.22 * (1 + tint), 0.185, 0.16 * (1 - tint)}
		for c, v := range cloth {
			pic.Pix[3*i+c] = float32(v * (0.7 + 0.5*float64(y)/h))
		}
		if x > 10 && x < w-10 && y > 10 && y < h-10 {
			mask.Pix[i] = raster.Whole
		}
	}
	q := recolour.Request{Own: &colour.RGB{0.22, 0.185, 0.16}, Goal: colour.RGB{0.1, 0.2, 0.4}, Settings: recolour.Defaults()}
	plain, _, _ := apply(t, pic, mask, q)
	q.Settings.Even = 1
	evened, _, _ := apply(t, pic, mask, q)
	assert.Less(t, inside(plain, evened, mask), 0.05)
}

// TestWornPaintShowsNoStrangeColours paints worn orange paint, redder here and yellower there, dark blue. What its green lacks in a redder
// place cannot be taken away from a blue that has hardly any: it would be violet there, and more vivid than anything in the photo.
func TestWornPaintShowsNoStrangeColours(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 11))
	const w, h = 160, 120
	pic, mask := raster.NewRGB(w, h), raster.NewMask(w, h)
	for i := range mask.Pix {
		own := colour.RGB{0.08, 0.09, 0.14}
		if x, y := i%w, i/w; x > 20 && x < w-20 && y > 20 && y < h-20 {
			own = colour.RGB{0.85, 0.24 * (0.6 + 0.8*r.Float64()), 0.06}
			mask.Pix[i] = raster.Whole
		}
		for c, v := range own {
			pic.Pix[3*i+c] = float32(v * (0.8 + 0.3*float64(i%w)/w))
		}
	}
	want, err := colour.ParseCSS("#1c2f6e")
	require.NoError(t, err)
	goal := colour.SRGB.Linear(want)
	out, _, _ := apply(t, pic, mask, recolour.Request{Goal: goal, Settings: recolour.Defaults()})
	var chroma []float64
	for i, m := range mask.Pix {
		if m > 0 {
			chroma = append(chroma, labAt(out, i).Chroma())
		}
	}
	slices.Sort(chroma)
	assert.Less(t, chroma[len(chroma)*99/100], 1.25*colour.SRGB.Lab(goal).Chroma())
}

// TestAStrangeColourOnADarkTargetIsNoStronger paints a pale wall nearly black that has a tan and a navy place: they become dim, not vivid.
func TestAStrangeColourOnADarkTargetIsNoStronger(t *testing.T) {
	const w, h = 200, 120
	pic, mask := raster.NewRGB(w, h), raster.NewMask(w, h)
	strange := map[int]colour.RGB{0: {0.69, 0.52, 0.31}, 1: {0.01, 0.03, 0.07}}
	places := map[int][]int{}
	for i := range mask.Pix {
		x, y := i%w, i/w
		px := colour.RGB{0.86, 0.82, 0.76}
		for k, c := range strange {
			if x0 := 60 + 60*k; x >= x0 && x < x0+16 && y >= 50 && y < 66 {
				px = c
				places[k] = append(places[k], i)
			}
		}
		for c := range 3 {
			pic.Pix[3*i+c] = float32(px[c])
		}
		if x > 20 && x < w-20 && y > 20 && y < h-20 {
			mask.Pix[i] = raster.Whole
		}
	}
	for _, css := range []string{"#1b1b1f", "#808080"} {
		target, err := colour.ParseCSS(css)
		require.NoError(t, err)
		out, _, _ := apply(t, pic, mask, recolour.Request{Goal: colour.SRGB.Linear(target), Settings: recolour.Defaults()})
		for k, at := range places {
			for _, i := range at {
				was, now := labAt(pic, i), labAt(out, i)
				// Less light makes the chroma of a colour less by its cube root, and L* is that but for 16.
				require.LessOrEqual(t, now.Chroma(), 1.1*was.Chroma()*(now[0]+16)/(was[0]+16), "%s, place %d: %v became %v", css, k, was, now)
			}
		}
	}
}

// shotOfRed is what a camera sees of a red board that is lit the more the farther right, before a wall of shaded tiles of many colours.
func shotOfRed(bright float64) (*raster.RGB, *raster.Mask) {
	r := rand.New(rand.NewPCG(7, 7))
	const w, h, tile = 480, 320, 16
	pic, mask := raster.NewRGB(w, h), raster.NewMask(w, h)
	tiles := map[[2]int]colour.RGB{}
	for i := range mask.Pix {
		x, y := i%w, i/w
		own, light := colour.RGB{0.85, 0.02, 0.015}, bright*(0.5+5*float64(x)/w)
		if x < 30 || x >= w-30 || y < 30 || y >= h-30 {
			at := [2]int{x / tile, y / tile}
			if _, ok := tiles[at]; !ok {
				tiles[at] = colour.RGB{0.05 + 0.4*r.Float64(), 0.05 + 0.3*r.Float64(), 0.02 + 0.1*r.Float64()}
			}
			own, light = tiles[at], 0.4+float64(x%tile+y%tile)/tile
		} else {
			mask.Pix[i] = raster.Whole
		}
		for c, v := range own {
			pic.Pix[3*i+c] = float32(v * light)
		}
	}
	return scenes.Camera(pic, 3), mask
}

// TestAChannelAtItsEndIsNoGlare paints a red thing that was lit so strongly that its red is at its end over half of it, while the rest of
// the picture speaks of a film's curve. In grey it is lit as smoothly as it was: it neither glares nor has an edge where the red ended.
func TestAChannelAtItsEndIsNoGlare(t *testing.T) {
	for _, bright := range []float64{1, 2} { // with the latter the typical place is at its end too
		src, mask := shotOfRed(bright)
		c, err := colour.ParseCSS("#808080")
		require.NoError(t, err)
		out, _, _ := apply(t, src, mask, recolour.Request{Goal: colour.SRGB.Linear(c), Settings: recolour.Defaults()})
		var light, step float64
		was := -1.0
		for x := 40; x < src.W-40; x++ {
			sum := 0.0
			for y := 40; y < src.H-40; y++ {
				sum += scenes.LabAt(out, y*src.W+x)[0] / float64(src.H-80)
			}
			if was >= 0 {
				step = max(step, math.Abs(sum-was))
			}
			light, was = max(light, sum), sum
		}
		assert.Less(t, light, 60.0, "it glares at %g", bright)
		assert.Less(t, step, 2.0, "there is an edge at %g", bright)
	}
}
