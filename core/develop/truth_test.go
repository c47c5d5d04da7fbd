package develop_test

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/copies"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/pattern"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

const truthDir = "../../demo/truth"

// masked is a picture with a part whose mask is known exactly.
func masked(t *testing.T, picture, mask string) (*raster.RGB, *raster.Mask, develop.Source, document.Part) {
	t.Helper()
	pic, err := scenes.RGB(truthDir, picture)
	require.NoError(t, err)
	m, err := scenes.Mask(truthDir, mask)
	require.NoError(t, err)
	src := develop.Source{Pyramid: scenes.NewPyramid(pic), Space: colour.SRGB, Masks: map[string]*raster.Mask{storedMask: m}}
	p := document.Part{ID: "it", Name: "It", Settings: recolour.Defaults(), Picks: []isolate.Pick{{Kind: "mask", Join: "add", File: storedMask}}}
	return pic, m, src, p
}

// The second pail of the scene, rendered there, against a copy of the first: the edge of the copy, on another ground, is as the
// scene has it, and there is less of the old ground in it than where the picture's own pixels are laid over.
func TestACopyIsAsItsSceneHasIt(t *testing.T) {
	pic, m, src, pail := masked(t, "pair-one", "pair-mask")
	two, err := scenes.RGB(truthDir, "pair-two")
	require.NoError(t, err)
	there, err := scenes.Mask(truthDir, "pair-second-mask")
	require.NoError(t, err)
	const by = 0.33 * 900 / 0.75 // how far it stands to the right, in pixels
	copied := document.Part{ID: "second", Name: "Second", Settings: recolour.Defaults(), Copy: &copies.Copy{Of: "it", About: [2]float64{0, 0}, At: [2]float64{by, 0}}}
	d, err := develop.Develop(src, document.Picture{Parts: []document.Part{pail, copied}}, nil, nil, isolate.Exact)
	require.NoError(t, err)
	r, err := d.Render(0, raster.Rect{X1: pic.W, Y1: pic.H})
	require.NoError(t, err)
	assert.Greater(t, scenesIoU(r.Masks[1], there), 0.985, "it stands where the scene has it")

	naive := &raster.RGB{W: pic.W, H: pic.H, Pix: append([]float32(nil), pic.Pix...)}
	move := copied.Copy.Move()
	px := move.Take(raster.Place{}, raster.Rect{X1: pic.W, Y1: pic.H}, pic.Pix, 3, pic.W, pic.H, raster.Place{}, nil)
	for i, v := range r.Masks[1].Pix {
		a := float32(v) / raster.Whole
		for c := range 3 {
			naive.Pix[3*i+c] += a * (px[3*i+c] - naive.Pix[3*i+c])
		}
	}
	edge := func(x, y int) bool { // where both grounds have a share, but for where the second pail throws its shadow
		v := there.Pix[y*there.W+x]
		return v > raster.Whole/20 && v < raster.Whole*19/20 && x < 642 && y < 380
	}
	body := func(x, y int) bool { return there.Pix[y*there.W+x] == raster.Whole && m.Pix[y*m.W+x] == 0 }
	ours, plain, in := deltaE(r.After, two, edge), deltaE(naive, two, edge), deltaE(r.After, two, body)
	t.Logf("edge %.2f, laid over as it is %.2f, body %.2f", ours, plain, in)
	assert.LessOrEqual(t, ours, 3.0)
	assert.Less(t, ours, 0.3*plain)
	assert.LessOrEqual(t, in, 1.0)
}

// The shadow that the scene's light has the second pail throw, against that of a copy with the light's direction: most of what the shadow
// takes away is taken away, where it lies.
func TestACopyThrowsTheShadowThatItsSceneHas(t *testing.T) {
	pic, _, src, pail := masked(t, "pair-one", "pair-mask")
	two, err := scenes.RGB(truthDir, "pair-two")
	require.NoError(t, err)
	there, err := scenes.Mask(truthDir, "pair-second-mask")
	require.NoError(t, err)
	// The light comes from (-4, 7, -5): what is 7 above the floor falls 4 to the right and 5 away. The camera sees the floor from
	// an elevation whose tangent is 0.535, so that heights are as long in the picture as its cosine, and what goes away as its sine.
	const sin, cos = 0.4717, 0.8817
	right, away := 4./7/cos, 5./7*sin/cos
	shadow := &copies.Shadow{Direction: -math.Atan2(away, right) * 180 / math.Pi, Length: math.Hypot(right, away), Softness: 2, Strength: 71} // of the light, as in the scene
	doc := func(s *copies.Shadow) document.Picture {
		return document.Picture{Parts: []document.Part{pail, {ID: "second", Name: "Second", Settings: recolour.Defaults(), Copy: &copies.Copy{Of: "it", At: [2]float64{0.33 * 900 / 0.75, 0}, Shadow: s}}}}
	}
	shown := func(s *copies.Shadow) *raster.RGB {
		d, err := develop.Develop(src, doc(s), nil, nil, isolate.Exact)
		require.NoError(t, err)
		r, err := d.Render(0, raster.Rect{X1: pic.W, Y1: pic.H})
		require.NoError(t, err)
		return r.After
	}
	light := func(p *raster.RGB, i int) float32 { return 0.25*p.Pix[3*i] + 0.6*p.Pix[3*i+1] + 0.15*p.Pix[3*i+2] }
	fell := func(x, y int) bool { // on the floor, in the scene
		i := y*pic.W + x
		return there.Pix[i] == 0 && light(two, i) < 0.6*light(pic, i)
	}
	with, without := shown(shadow), shown(nil)
	hit, either := 0, 0
	for i := range pic.W * pic.H {
		x, y := i%pic.W, i/pic.W
		ours := there.Pix[i] == 0 && light(with, i) < 0.6*light(without, i)
		if fell(x, y) && ours {
			hit++
		}
		if fell(x, y) || ours {
			either++
		}
	}
	iou, is, was := float64(hit)/float64(either), deltaE(with, two, fell), deltaE(without, two, fell)
	t.Logf("it lies where the scene's does: IoU %.3f; in it %.2f, without one %.2f", iou, is, was)
	assert.Greater(t, iou, 0.9)
	assert.Less(t, is, 2.5)
}

func linearCSS(c colour.RGB) string {
	return fmt.Sprintf("color(srgb-linear %g %g %g)", c[0], c[1], c[2])
}

func scenesIoU(a, b *raster.Mask) float64 {
	iou, _ := scenes.Compare(a, b)
	return iou
}

// places is where on its thing each pixel of a scene lies.
func places(t *testing.T, name string) (u, v []float64, w, h int) {
	t.Helper()
	p, err := scenes.Linear16(truthDir, name)
	require.NoError(t, err)
	u, v = make([]float64, p.W*p.H), make([]float64, p.W*p.H)
	for i := range u {
		u[i], v[i] = float64(p.Pix[3*i]), float64(p.Pix[3*i+1])
	}
	return u, v, p.W, p.H
}

// checked is a thing of a scene on which checks were painted: the plain picture, the one with checks, and what is well inside the thing.
type checked struct {
	plain, checks *raster.RGB
	teal          *raster.RGB // the plain one, repainted in the colour of the checks
	u, v          []float64
	w, h          int
	inner         func(x, y int) bool
}

func checkedScene(t *testing.T, name string, ground colour.RGB) checked {
	t.Helper()
	pic, m, src, part := masked(t, name+"-plain", name+"-mask")
	want, err := scenes.RGB(truthDir, name+"-checks")
	require.NoError(t, err)
	u, v, w, h := places(t, name+"-places")
	part.Own = linearCSS(ground)
	part.Target = document.Target{CSS: linearCSS(colour.RGB{0.013, 0.145, 0.168})}
	d, err := develop.Develop(src, document.Picture{Parts: []document.Part{part}}, nil, nil, isolate.Exact)
	require.NoError(t, err)
	r, err := d.Render(0, raster.Rect{X1: w, Y1: h})
	require.NoError(t, err)
	return checked{pic, want, r.After, u, v, w, h, func(x, y int) bool {
		if x < 2 || y < 2 || x > w-3 || y > h-3 {
			return false
		}
		for j := -2; j <= 2; j++ {
			for i := -2; i <= 2; i++ {
				if m.Pix[(y+j)*w+x+i] < raster.Whole {
					return false
				}
			}
		}
		return v[y*w+x] > 0 && math.Abs(u[y*w+x]-u[y*w+x-1]) < 0.02 && math.Abs(v[y*w+x]-v[(y-1)*w+x]) < 0.02
	}}
}

// laid returns the plain picture with checks of ours on it, and its mean CIEDE2000 to the scene's; cover is how much of a pixel they take.
func (c checked) laid(cover func(x, y int) float32) float64 {
	ours := &raster.RGB{W: c.w, H: c.h, Pix: append([]float32(nil), c.plain.Pix...)}
	for y := range c.h {
		for x := range c.w {
			if !c.inner(x, y) {
				continue
			}
			i := y*c.w + x
			a := cover(x, y)
			for k := range 3 {
				ours.Pix[3*i+k] += a * (c.teal.Pix[3*i+k] - c.plain.Pix[3*i+k])
			}
		}
	}
	return deltaE(ours, c.checks, c.inner)
}

// byPlaces covers pixels with checks by where the scene says that they lie on the thing; across and up are its units in pixels of cloth.
func (c checked) byPlaces(lay *pattern.Lay, across, up float64) func(x, y int) float32 {
	return func(x, y int) float32 {
		i := y*c.w + x
		step := max(math.Hypot(across*(c.u[i]-c.u[i-1]), up*(c.v[i]-c.v[i-1])), math.Hypot(across*(c.u[i]-c.u[i-c.w]), up*(c.v[i]-c.v[i-c.w])))
		return lay.Cover(across*c.u[i], up*c.v[i], max(step, 1e-3))[0]
	}
}

// Laid by the scene's own coordinates, checks of ours are as the scene's are: the thing's light and shade, and where it turns away.
func TestAPatternIsAsItsSceneHasIt(t *testing.T) {
	for _, c := range []struct {
		name       string
		ground     colour.RGB
		across, up float64 // pixels of cloth in a unit of the scene's places
		size       float64 // of a repeat, in pixels of cloth
		offset     float64
	}{
		{"scarf-checked", colour.RGB{0.36, 0.05, 0.075}, 10000, 10000, 1200, 0},
		{"tin", colour.RGB{0.60, 0.50, 0.34}, tinAround, tinUp, tinRepeat, tinRepeat / 2},
	} {
		s := checkedScene(t, c.name, c.ground)
		lay := pattern.NewLay(pattern.Pattern{Tile: "checks", Share: 50, Size: c.size, Offset: [2]float64{c.offset, 0}, Strength: 100}, 1, pattern.Found{})
		e := s.laid(s.byPlaces(lay, c.across, c.up))
		t.Logf("%s: mean CIEDE2000 %.2f; without the checks %.2f", c.name, e, deltaE(s.plain, s.checks, s.inner))
		assert.LessOrEqual(t, e, 3.0, c.name)
	}
}

// The tin's wall, in tenths of a millimetre: once around, up, and a repeat of its checks, of which twelve go around.
const (
	tinAround = 2 * math.Pi * 550
	tinUp     = 1200 / 0.999
	tinRepeat = tinAround / 12
	// And of a square of cloth as wide as what is seen of the wall between 60 degrees to the left and to the right, in thousandths.
	tinSize = 1000 * tinRepeat / (550 * 1.7320508)
)

// A pattern that is laid round the tin as a hand would, by four corners on its rims and the two controls, lies where the scene's does.
func TestAPatternRoundATinLiesAsItsSceneHasIt(t *testing.T) {
	s := checkedScene(t, "tin", colour.RGB{0.60, 0.50, 0.34})
	const middle, half = 0.5341, 60.0 / 360 // of the wall that the camera sees, in turns; the corners lie so far to both sides
	corners := [4][2]float64{seenOfTin(s, middle-half, 1), seenOfTin(s, middle+half, 1), seenOfTin(s, middle+half, 0), seenOfTin(s, middle-half, 0)}
	p := pattern.Pattern{Tile: "checks", Share: 50, Size: tinSize, Corners: &corners, Round: 60. / 88 * 100, Strength: 100}
	// off is how far from where the scene has them pixels lie in the pattern, in squares of its checks, once somebody moved all of it to
	// where it lies best.
	off := func(above float64) (mean, most float64) {
		p.Above = above
		lay := pattern.NewLay(p, 1, pattern.Found{})
		var all [][2]float64
		var middleOf [2]float64
		s.across(t, lay, middle, half, func(i int, u, v float64) {
			d := [2]float64{2 * (u - (s.u[i]-middle)*12), 2 * (v*1200/1000*tinSize/tinRepeat + s.v[i]/0.999*1200/tinRepeat)} // the square of cloth is not as high as the wall
			all, middleOf = append(all, d), [2]float64{middleOf[0] + d[0], middleOf[1] + d[1]}
		})
		n := float64(len(all))
		for _, d := range all {
			e := math.Hypot(d[0]-middleOf[0]/n, d[1]-middleOf[1]/n)
			mean, most = mean+e/n, max(most, e)
		}
		return mean, most
	}
	best, above := math.Inf(1), 0.0
	for a := -100.0; a <= 100; a++ {
		if e, _ := off(a); e < best {
			best, above = e, a
		}
	}
	mean, most := off(above)
	p.Round = 0
	flat, _ := off(0)
	t.Logf("from above %.0f: off by %.3f squares, at most %.3f; as if it were flat %.3f", above, mean, most, flat)
	assert.LessOrEqual(t, mean, 0.06)
	assert.LessOrEqual(t, most, 0.13)
	assert.Greater(t, flat, 3*mean)
}

// So does one on a grid whose nodes somebody set where the wall's own lines cross, and that is not told that the thing is round.
func TestAPatternOnAGridOverATinLiesAsItsSceneHasIt(t *testing.T) {
	s := checkedScene(t, "tin", colour.RGB{0.60, 0.50, 0.34})
	const middle, half = 0.5341, 60.0 / 360
	at := func(i, j int) [2]float64 { return seenOfTin(s, middle+half*(2*float64(i)/3-1), 1-float64(j)/3) }
	corners := [4][2]float64{at(0, 0), at(3, 0), at(3, 3), at(0, 3)}
	grid := [12][2]float64{at(1, 0), at(2, 0), at(0, 1), at(1, 1), at(2, 1), at(3, 1), at(0, 2), at(1, 2), at(2, 2), at(3, 2), at(1, 3), at(2, 3)}
	p := pattern.Pattern{Tile: "checks", Share: 50, Size: 1000, Corners: &corners, Grid: &grid, Strength: 100}
	require.NoError(t, p.Validate())
	lay := pattern.NewLay(p, 1, pattern.Found{Grid: pattern.NewGrid(&p, nil)})
	mean, most, n := 0.0, 0.0, 0.0
	s.across(t, lay, middle, half, func(i int, u, v float64) {
		e := 2 * math.Hypot((u-0.5)*2*half*12-(s.u[i]-middle)*12, (v+s.v[i]/0.999-1)*1200/tinRepeat)
		mean, most, n = mean+e, max(most, e), n+1
	})
	t.Logf("off by %.3f squares, at most %.3f", mean/n, most)
	assert.LessOrEqual(t, mean/n, 0.092)
	assert.LessOrEqual(t, most, 0.25)
}

// across calls at for pixels of the wall that lie within half, in turns, of a middle, with where they lie in a pattern.
func (c checked) across(t *testing.T, lay *pattern.Lay, middle, half float64, at func(i int, u, v float64)) {
	t.Helper()
	for y := 2; y < c.h-2; y += 3 {
		for x := 2; x < c.w-2; x += 3 {
			i := y*c.w + x
			if !c.inner(x, y) || math.Abs(c.u[i]-middle) > half {
				continue
			}
			u, v, ok := lay.At(float64(x)+0.5, float64(y)+0.5)
			require.True(t, ok)
			at(i, u, v)
		}
	}
}

// seenOfTin returns where the scene's camera sees a place of the tin's wall, in pixels: u in turns from the back, v of its height.
func seenOfTin(s checked, u, v float64) [2]float64 {
	const radius, height = 0.055, 0.12
	unit := func(a [3]float64) [3]float64 {
		n := math.Sqrt(a[0]*a[0] + a[1]*a[1] + a[2]*a[2])
		return [3]float64{a[0] / n, a[1] / n, a[2] / n}
	}
	cross := func(a, b [3]float64) [3]float64 {
		return [3]float64{a[1]*b[2] - a[2]*b[1], a[2]*b[0] - a[0]*b[2], a[0]*b[1] - a[1]*b[0]}
	}
	dot := func(a, b [3]float64) float64 { return a[0]*b[0] + a[1]*b[1] + a[2]*b[2] }
	eye := [3]float64{0.25, 0.50, -1.15}
	ahead := unit([3]float64{-eye[0], 0.062 - eye[1], -eye[2]})
	right := unit(cross([3]float64{0, 1, 0}, ahead))
	up := cross(ahead, right)
	sin, cos := math.Sincos(2 * math.Pi * (u - 0.5))
	p := [3]float64{radius*sin - eye[0], v*height - eye[1], -radius*cos - eye[2]}
	k := float64(s.w) / 2 / math.Tan(7.5*math.Pi/180) / dot(p, ahead)
	return [2]float64{float64(s.w)/2 + k*dot(p, right), float64(s.h)/2 - k*dot(p, up)}
}

// The folds that shading shows move a pattern the way the cloth's own folds do.
func TestFoldsFromShadingFollowTheCloth(t *testing.T) {
	pic, m, _, _ := masked(t, "scarf-checked-plain", "scarf-checked-mask")
	u, _, w, h := places(t, "scarf-checked-places")
	light := make([]float32, w*h)
	for i := range light {
		light[i] = 0.25*pic.Pix[3*i] + 0.6*pic.Pix[3*i+1] + 0.15*pic.Pix[3*i+2]
	}
	bend := pattern.FindBend(light, m, 1)
	// Across the cloth: how far each pixel's place is from where it would be on a cloth without folds, which is the line that fits its row.
	var got [2]float64
	var n int
	for k, lean := range []float64{0, 100} {
		a, b := folds(bend, m, u, w, h, lean)
		got[k], n = correlation(a, b), len(a)
	}
	require.Greater(t, n, 10000)
	t.Logf("correlation %.2f from the front, %.2f seen from the side of the light, over %d pixels", got[0], got[1], n)
	assert.GreaterOrEqual(t, got[0], 0.3)
	assert.GreaterOrEqual(t, got[1], 0.6)
}

// folds returns how far a pattern is moved, and how far the cloth is moved in truth, for the pixels of the scarf.
func folds(bend *pattern.Bend, m *raster.Mask, u []float64, w, h int, lean float64) (a, b []float64) {
	for y := 150; y < h-150; y++ {
		var xs, us []float64
		for x := range w {
			if m.Pix[y*w+x] == raster.Whole && u[y*w+x] > 0 && u[y*w+x] < 0.9 {
				xs, us = append(xs, float64(x)), append(us, u[y*w+x])
			}
		}
		if len(xs) < 50 {
			continue
		}
		k, c := fitted(xs, us)
		for i, x := range xs {
			dx, _ := bend.At(x+0.5, float64(y)+0.5, lean)
			a, b = append(a, dx), append(b, (us[i]-c-k*x)/k)
		}
	}
	return a, b
}

// fitted returns the straight line through points.
func fitted(x, y []float64) (k, c float64) {
	var sx, sy, sxx, sxy float64
	n := float64(len(x))
	for i := range x {
		sx, sy, sxx, sxy = sx+x[i], sy+y[i], sxx+x[i]*x[i], sxy+x[i]*y[i]
	}
	k = (n*sxy - sx*sy) / (n*sxx - sx*sx)
	return k, (sy - k*sx) / n
}

func correlation(a, b []float64) float64 {
	var sa, sb, saa, sbb, sab float64
	n := float64(len(a))
	for i := range a {
		sa, sb, saa, sbb, sab = sa+a[i], sb+b[i], saa+a[i]*a[i], sbb+b[i]*b[i], sab+a[i]*b[i]
	}
	return (n*sab - sa*sb) / math.Sqrt((n*saa-sa*sa)*(n*sbb-sb*sb))
}
