package mend

import (
	"encoding/json"
	"math"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/isolate"
	"episema/core/raster"
)

// linearOf makes a grey picture of coded values.
func linearOf(w, h int, f func(x, y float64) float64) *raster.RGB {
	p := raster.NewRGB(w, h)
	for i := range w * h {
		v := float32(colour.SRGBDecode(f(float64(i%w), float64(i/w))))
		p.Pix[3*i], p.Pix[3*i+1], p.Pix[3*i+2] = v, v, v
	}
	return p
}

func corners(xy ...float64) []isolate.Node {
	var out []isolate.Node
	for i := 0; i < len(xy); i += 2 {
		out = append(out, isolate.Node{P: [2]float64{xy[i], xy[i+1]}})
	}
	return out
}

// lay covers p by itself, or by another picture of its size.
func lay(p, from *raster.RGB, patch Patch) *raster.RGB {
	out := &raster.RGB{W: p.W, H: p.H, Pix: append([]float32(nil), p.Pix...)}
	c := NewCover(patch)
	whole := raster.Place{Step: 1}
	if patch.Seamless {
		r := c.FitArea().And(raster.Rect{X1: p.W, Y1: p.H})
		c.Fit(p.Crop(r), raster.Place{X: float64(r.X0), Y: float64(r.Y0), Step: 1}, from, whole, nil)
	}
	c.Lay(out, whole, c.Area(whole, p.W, p.H), from, whole, nil)
	return out
}

func texture(x, y float64) float64 {
	return 0.5 + 0.2*math.Sin(x/9) + 0.15*math.Cos(y/7+x/23) + 0.04*math.Sin(1.3*x+0.7*y)
}

// Perez, Gangnet and Blake (2003): the result solves the Poisson equation with the cover's gradients and the picture at the rim. The
// fixture is that system solved at once by SciPy (testdata/seamless.py).
func TestASeamlessPatchSolvesThePoissonEquation(t *testing.T) {
	b, err := os.ReadFile("testdata/seamless.json")
	require.NoError(t, err)
	var f struct {
		W, H   int
		Shift  [2]float64
		Values [][3]float64
	}
	require.NoError(t, json.Unmarshal(b, &f))
	big := func(dx, dy float64) *raster.RGB {
		return linearOf(f.W, f.H, func(x, y float64) float64 { return texture(x+dx, y+dy) })
	}
	p, cover := big(0, 0), linearOf(f.W+40, f.H+40, func(x, y float64) float64 { return texture(x, y-20) })
	patch := Patch{Nodes: corners(14, 20, 30, 20, 30, 34, 46, 34, 46, 50, 14, 50), Shift: f.Shift, Seamless: true}
	out := &raster.RGB{W: p.W, H: p.H, Pix: append([]float32(nil), p.Pix...)}
	c := NewCover(patch)
	r := c.FitArea()
	at := raster.Place{Y: -20, Step: 1} // the larger picture that the cover lies in begins 20 pixels above
	c.Fit(p.Crop(r), raster.Place{X: float64(r.X0), Y: float64(r.Y0), Step: 1}, cover, at, nil)
	c.Lay(out, raster.Place{Step: 1}, c.Area(raster.Place{Step: 1}, p.W, p.H), cover, at, nil)
	most := 0.0
	for _, v := range f.Values {
		got := colour.SRGBEncode(float64(out.Pix[3*(int(v[1])*p.W+int(v[0]))]))
		most = max(most, math.Abs(got-v[2]))
	}
	t.Logf("%d pixels, the worst is %.4f of the range away", len(f.Values), most)
	assert.Less(t, most, 0.5/255)
}

// A patch of the same place changes nothing, seamless or not, and one over a plain ground leaves nothing of what was covered.
func TestWhatAPatchDoes(t *testing.T) {
	p := linearOf(90, 70, texture)
	for _, seamless := range []bool{false, true} {
		still := lay(p, p, Patch{Nodes: corners(20, 20, 60, 24, 50, 50), Feather: 4, Seamless: seamless})
		for i, v := range p.Pix {
			require.InDelta(t, v, still.Pix[i], 2e-6)
		}
	}
	ground := func(x, y float64) float64 { return 0.3 + 0.004*x }
	signed := func(x, y float64) float64 {
		if math.Abs(x-60) < 6 && math.Abs(y-35) < 6 {
			return 0.9
		}
		return ground(x, y)
	}
	was, without := linearOf(90, 70, signed), linearOf(90, 70, ground)
	patch := Patch{Nodes: corners(50, 25, 70, 25, 70, 45, 50, 45), Shift: [2]float64{-30, 0}, Feather: 3}
	worst := func(out *raster.RGB) (d float64) {
		for i, v := range without.Pix {
			d = max(d, math.Abs(colour.SRGBEncode(float64(v))-colour.SRGBEncode(float64(out.Pix[i]))))
		}
		return d
	}
	assert.InDelta(t, 0.12, worst(lay(was, was, patch)), 0.01, "as it is, the cover is as dark as where it comes from")
	patch.Seamless = true
	assert.Less(t, worst(lay(was, was, patch)), 0.004, "seamless, it runs into what is around it")
	out := lay(was, was, patch)
	for i := range was.Pix {
		if x, y := i/3%90, i/3/90; x < 45 || x > 75 || y < 20 || y > 50 {
			require.Equal(t, was.Pix[i], out.Pix[i], "nothing changes outside of the feather")
		}
	}
}

func TestACoverIsTurnedScaledAndFlipped(t *testing.T) {
	at := func(p Patch, x, y float64) [2]float64 {
		p.Nodes = corners(90, 90, 110, 90, 110, 110, 90, 110)
		p.Shift = [2]float64{50, 5}
		fx, fy := NewCover(p).Move().Back(x, y)
		return [2]float64{math.Round(fx*1e6) / 1e6, math.Round(fy*1e6) / 1e6}
	}
	assert.Equal(t, [2]float64{158, 103}, at(Patch{}, 108, 98))
	// Turned by a quarter clockwise: what lies right of the middle comes from above it.
	assert.Equal(t, [2]float64{150, 97}, at(Patch{Turn: 90}, 108, 100))
	assert.Equal(t, [2]float64{154, 105}, at(Patch{Scale: 2}, 108, 100))
	assert.Equal(t, [2]float64{142, 105}, at(Patch{Flip: true}, 108, 100))
	assert.Equal(t, [2]float64{150, 97}, at(Patch{Turn: 90, Flip: true}, 108, 100), "flipped where it comes from, then turned")
	assert.Equal(t, [2]float64{142, 105}, at(Patch{Turn: 90, Flip: true}, 100, 108))
	for _, p := range []Patch{{Turn: 30}, {Scale: 0.5}, {Flip: true}, {Turn: 359}} {
		p.Nodes = corners(0, 0, 9, 0, 9, 9)
		assert.False(t, NewCover(p).Move().Still())
	}
	assert.True(t, NewCover(Patch{Nodes: corners(0, 0, 9, 0, 9, 9), Scale: 1}).Move().Still())
}

func TestAPatchThatCannotBeIsRefused(t *testing.T) {
	ok := Patch{Nodes: corners(0, 0, 9, 0, 9, 9)}
	require.NoError(t, ok.Validate())
	for says, spoil := range map[string]func(p *Patch){
		"three nodes":   func(p *Patch) { p.Nodes = p.Nodes[:2] },
		"at most":       func(p *Patch) { p.Nodes = make([]isolate.Node, MaxPatchNodes+1) },
		"the shift":     func(p *Patch) { p.Shift[1] = math.NaN() },
		"turned":        func(p *Patch) { p.Turn = 400 },
		"scaled":        func(p *Patch) { p.Scale = 0.01 },
		"the feather":   func(p *Patch) { p.Feather = -1 },
		"a node":        func(p *Patch) { p.Nodes[1].Out = &[2]float64{1e9, 0} },
		"node of a pat": func(p *Patch) { p.Nodes[2].P[0] = math.Inf(1) },
	} {
		p := Patch{Nodes: corners(0, 0, 9, 0, 9, 9)}
		spoil(&p)
		assert.ErrorContains(t, p.Validate(), says)
	}
}

// The function x*x - y*y is the mean of its four neighbours everywhere, exactly: the membrane finds it from its
// rim, as large as membranes get and in a shape with a hole and a notch.
func TestALargeMembraneIsHarmonic(t *testing.T) {
	const n = mostCells
	want := func(x, y int) float32 {
		u, v := float64(x)/n-0.5, float64(y)/n-0.5
		return float32(u*u - v*v)
	}
	p, inside := make([]float32, n*n), make([]bool, n*n)
	for i := range p {
		x, y := i%n, i/n
		d := math.Hypot(float64(x-n/2), float64(y-n/2))
		inside[i] = d < 0.47*n && math.Hypot(float64(x-n/3), float64(y-n/2)) > 20 && !(x > n/2 && y > n/2-9 && y < n/2+9)
		if !inside[i] {
			p[i] = want(x, y)
		}
	}
	harmonic(p, inside, n, n, nil)
	worst := 0.0
	for i, v := range p {
		worst = max(worst, math.Abs(float64(v-want(i%n, i/n))))
	}
	t.Logf("the worst of %d x %d cells is %.5f away", n, n, worst)
	assert.Less(t, worst, 1./510, "half a code of eight bits")
}
