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

func linearCSS(c colour.RGB) string {
	return fmt.Sprintf("color(srgb-linear %g %g %g)", c[0], c[1], c[2])
}

func scenesIoU(a, b *raster.Mask) float64 {
	iou, _ := scenes.Compare(a, b)
	return iou
}

// cloth is the checked scarf of the scene: where on the cloth each pixel is, in metres, and its mask.
func cloth(t *testing.T) (u, v []float64, w, h int) {
	t.Helper()
	p, err := scenes.Linear16(truthDir, "scarf-checked-places")
	require.NoError(t, err)
	u, v = make([]float64, p.W*p.H), make([]float64, p.W*p.H)
	for i := range u {
		u[i], v[i] = float64(p.Pix[3*i]), float64(p.Pix[3*i+1])
	}
	return u, v, p.W, p.H
}

// Laid by the scene's own coordinates, checks of ours are as the scene's are: the cloth's light and shade, and where it turns away.
func TestAPatternIsAsItsSceneHasIt(t *testing.T) {
	pic, m, src, scarf := masked(t, "scarf-checked-plain", "scarf-checked-mask")
	want, err := scenes.RGB(truthDir, "scarf-checked-checks")
	require.NoError(t, err)
	u, v, w, h := cloth(t)
	ground, teal := colour.RGB{0.36, 0.05, 0.075}, colour.RGB{0.013, 0.145, 0.168}
	scarf.Own = linearCSS(ground)
	scarf.Target = document.Target{CSS: linearCSS(teal)}
	d, err := develop.Develop(src, document.Picture{Parts: []document.Part{scarf}}, nil, nil, isolate.Exact)
	require.NoError(t, err)
	r, err := d.Render(0, raster.Rect{X1: w, Y1: h})
	require.NoError(t, err)
	const scale = 10000 // pixels a metre of the cloth
	lay := pattern.NewLay(pattern.Pattern{Tile: "checks", Share: 50, Size: 0.12 * scale, Strength: 100}, 1, nil, nil, nil)
	ours := &raster.RGB{W: w, H: h, Pix: append([]float32(nil), pic.Pix...)}
	inner := func(x, y int) bool {
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
	}
	for y := range h {
		for x := range w {
			if !inner(x, y) {
				continue
			}
			i := y*w + x
			step := scale * max(math.Hypot(u[i]-u[i-1], v[i]-v[i-1]), math.Hypot(u[i]-u[i-w], v[i]-v[i-w]))
			a := lay.Cover(scale*u[i], scale*v[i], max(step, 1e-3))[0]
			for c := range 3 {
				ours.Pix[3*i+c] += a * (r.After.Pix[3*i+c] - pic.Pix[3*i+c])
			}
		}
	}
	e := deltaE(ours, want, inner)
	t.Logf("mean CIEDE2000 %.2f; the unchecked cloth against it %.2f", e, deltaE(pic, want, inner))
	assert.LessOrEqual(t, e, 3.0)
}

// The folds that shading shows move a pattern the way the cloth's own folds do.
func TestFoldsFromShadingFollowTheCloth(t *testing.T) {
	pic, m, _, _ := masked(t, "scarf-checked-plain", "scarf-checked-mask")
	u, _, w, h := cloth(t)
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
