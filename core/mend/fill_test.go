package mend

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/isolate"
	"episema/core/raster"
)

// bricks is bricks above planks, at a size: what a hole across both is filled with is known.
func bricks(x, y, size float64) float64 {
	u, v := x/size, y/size
	if v < 60 {
		row := math.Floor(v / 12)
		u += 13 * math.Mod(row, 2)
		if math.Mod(u, 26) < 3 || math.Mod(v, 12) < 2.5 {
			return 0.75
		}
		return 0.4
	}
	return 0.3 + 0.25*math.Abs(math.Mod(v-60, 14)-7)/7
}

func atSize(p *raster.RGB) func(step float64) (*raster.RGB, raster.Place, error) {
	return func(step float64) (*raster.RGB, raster.Place, error) {
		q := p
		for k := 1.0; k < step; k *= 2 {
			q = raster.Half(q)
		}
		return q, raster.Place{Step: step}, nil
	}
}

func filled(t *testing.T, p *raster.RGB, patch Patch, others ...[][2]float64) (*Cover, *raster.RGB) {
	t.Helper()
	c := NewCover(patch)
	f, err := c.Fill(atSize(p), others, false, nil)
	require.NoError(t, err)
	require.NotNil(t, f)
	c = c.Filled(f)
	out := &raster.RGB{W: p.W, H: p.H, Pix: append([]float32(nil), p.Pix...)}
	whole := raster.Place{Step: 1}
	c.Lay(out, whole, c.Area(whole, p.W, p.H), p, whole, nil)
	return c, out
}

func holed(p *raster.RGB, nodes []isolate.Node) *raster.RGB {
	o := &raster.RGB{W: p.W, H: p.H, Pix: append([]float32(nil), p.Pix...)}
	for i, v := range raster.FillPath(isolate.Flatten(nodes), raster.Place{Step: 1}, p.W, p.H) {
		if v > 0 {
			copy(o.Pix[3*i:3*i+3], []float32{0.9, 0.05, 0.4})
		}
	}
	return o
}

// rough is the mean difference from pixel to pixel in an area.
func rough(p *raster.RGB, r raster.Rect) (mean float64) {
	for y := r.Y0; y < r.Y1; y++ {
		for x := r.X0; x < r.X1; x++ {
			i := 3 * (y*p.W + x)
			mean += math.Abs(float64(coded(p.Pix[i+1])-coded(p.Pix[i+4]))) + math.Abs(float64(coded(p.Pix[i+1])-coded(p.Pix[i+3*p.W+1])))
		}
	}
	return mean / float64(r.W()*r.H())
}

func apart(a, b *raster.RGB) (mean float64) {
	for i, v := range a.Pix {
		mean += math.Abs(float64(coded(v)-coded(b.Pix[i]))) / float64(len(a.Pix))
	}
	return mean
}

// What repeats goes on through the hole, over the edge between two of its kind, at any size of the picture and to the pixel.
func TestAHoleIsFilledByWhatGoesOnAroundIt(t *testing.T) {
	for size, least := range map[float64]float64{1: 0.0034, 3.5: 0.0005, 5.3: 0.0004} { // of the range of coded values, on the whole
		w, h := int(200*size), int(130*size)
		truth := linearOf(w, h, func(x, y float64) float64 { return bricks(x, y, size) })
		k := func(v float64) float64 { return math.Round(v * size) }
		nodes := corners(k(80), k(35), k(128), k(30), k(131), k(88), k(76), k(92))
		broken := holed(truth, nodes)
		_, out := filled(t, broken, Patch{Nodes: nodes, Fill: 1})
		was, is := apart(broken, truth), apart(out, truth)
		t.Logf("size %v: %.4f of %.4f", size, is, was)
		assert.Less(t, is, least, "size %v", size)
	}
}

// An edge that runs aslant through a large hole runs on without a step, though its shifts are found on a picture an eighth as large.
func TestAnEdgeRunsOnThroughAFilling(t *testing.T) {
	truth := linearOf(1400, 900, func(x, y float64) float64 {
		return 0.3 + 0.4*math.Max(0, math.Min(1, (y-0.37*x-150)/3)) + 0.02*math.Sin(x/5)*math.Sin(y/6)
	})
	nodes := corners(400, 150, 900, 150, 900, 650, 400, 650)
	broken := holed(truth, nodes)
	_, out := filled(t, broken, Patch{Nodes: nodes, Fill: 1})
	is := apart(out, truth)
	t.Logf("%.5f of %.5f", is, apart(broken, truth))
	assert.Less(t, is, 0.0068)
}

// A filling is the same in strips; seen from afar it is what it is at full size; and nothing comes from what must go.
func TestAFillingIsTheSameHoweverItIsLookedAt(t *testing.T) {
	const w, h = 260, 200
	p := linearOf(w, h, func(x, y float64) float64 {
		return 0.5 + 0.2*math.Sin(x/9+3*math.Sin(y/31)) + 0.15*math.Cos(y/7+x/23)
	})
	nodes, other := corners(100, 70, 160, 80, 150, 130, 95, 120), [][2]float64{{5, 5}, {250, 5}, {250, 60}, {5, 60}}
	broken := holed(p, nodes)
	patch := Patch{Nodes: nodes, Fill: 2, Feather: 2}
	c, out := filled(t, broken, patch, other)
	whole := raster.Place{Step: 1}
	area := c.Area(whole, w, h)
	for i := range w * h {
		if x, y := i%w, i/w; c.share(whole, raster.Rect{X0: x, Y0: y, X1: x + 1, Y1: y + 1})[0] > 0.99 {
			require.InDelta(t, out.Pix[3*i], out.Pix[3*i+1], 0.015, "it is grey, as all that may be taken is: %d, %d", x, y)
		}
	}
	// Where it comes from lies outside of both, give or take what the shifts were set more finely by.
	within := raster.FillPath(c.path, whole, w, h)
	for i, v := range raster.FillPath(other, whole, w, h) {
		within[i] = max(within[i], v)
	}
	raster.BoxSum(within, w, h, 2) // 25 is deep inside
	from := 0
	for i, l := range c.fill.label {
		if l == noLabel {
			continue
		}
		x, y := c.fill.place.Full(i%c.fill.w, i/c.fill.w)
		x, y = x+c.fill.shifts[l][0], y+c.fill.shifts[l][1]
		require.Less(t, within[min(h-1, max(0, int(y)))*w+min(w-1, max(0, int(x)))], float32(24.5), "%v, %v", x, y)
		from++
	}
	assert.Greater(t, from, 500)
	t.Logf("rough: %.4f of %.4f", rough(out, area), rough(p, area))
	assert.Less(t, rough(out, area), 1.3*rough(p, area), "seams are hardly seen")
	strips := &raster.RGB{W: w, H: h, Pix: append([]float32(nil), broken.Pix...)}
	for y := area.Y0; y < area.Y1; y += 13 {
		r := raster.Rect{X0: area.X0, Y0: y, X1: area.X1, Y1: min(area.Y1, y+13)}
		need := c.Needs(whole, r)
		from := raster.Rect{X0: int(need[0]) - 2, Y0: int(need[1]) - 2, X1: int(need[2]) + 3, Y1: int(need[3]) + 3}.And(raster.Rect{X1: w, Y1: h})
		c.Lay(strips, whole, r, broken.Crop(from), raster.Place{X: float64(from.X0), Y: float64(from.Y0), Step: 1}, nil)
	}
	assert.InDeltaSlice(t, out.Pix, strips.Pix, 1e-5)
	half, afar := raster.Half(out), raster.Half(broken)
	c.Lay(afar, raster.Place{Step: 2}, c.Area(raster.Place{Step: 2}, w/2, h/2), broken, whole, nil)
	assert.Less(t, apart(half, afar), 0.002)
}

// There are several fillings to choose from, each the same whenever it is asked for; and where nothing can be an example there is none.
func TestFillingsToChooseFrom(t *testing.T) {
	chance := rand.New(rand.NewPCG(3, 0))
	noise := raster.NewRGB(160, 160)
	for i := range noise.Pix {
		noise.Pix[i] = chance.Float32()
	}
	for range 3 {
		for k := range 3 {
			plane := make([]float32, 160*160)
			for i := range plane {
				plane[i] = noise.Pix[3*i+k]
			}
			raster.Gauss(plane, 160, 160, 1)
			for i, v := range plane {
				noise.Pix[3*i+k] = v
			}
		}
	}
	nodes := corners(60, 60, 100, 60, 100, 100, 60, 100)
	var all []*raster.RGB
	for n := 1; n <= Fillings; n++ {
		_, out := filled(t, noise, Patch{Nodes: nodes, Fill: n})
		_, again := filled(t, noise, Patch{Nodes: nodes, Fill: n})
		require.Equal(t, out.Pix, again.Pix)
		for _, o := range all {
			assert.Greater(t, apart(o, out), 0.0005)
		}
		all = append(all, out)
	}
	everything := NewCover(Patch{Nodes: corners(-5, -5, 170, -5, 170, 170, -5, 170), Fill: 1})
	f, err := everything.Fill(atSize(noise), nil, false, nil)
	require.NoError(t, err)
	assert.Nil(t, f)
	assert.ErrorContains(t, (&Patch{Nodes: nodes, Fill: Fillings + 1}).Validate(), "3 ways")
	assert.ErrorContains(t, (&Patch{Nodes: nodes, Fill: -1}).Validate(), "3 ways")
}

// On a ground without any structure, as of a thing cut out for a catalogue, there is nothing to tell one place from another by.
func TestAHoleInWhatIsFlatIsFilled(t *testing.T) {
	white := linearOf(200, 160, func(x, y float64) float64 { return 1 })
	nodes := corners(70, 60, 120, 60, 120, 110, 70, 110)
	for n := 1; n <= Fillings; n++ {
		_, out := filled(t, holed(white, nodes), Patch{Nodes: nodes, Fill: n})
		assert.Zero(t, apart(out, white))
	}
}

func TestAFillingStopsOnceNobodyWaits(t *testing.T) {
	p := linearOf(200, 130, func(x, y float64) float64 { return bricks(x, y, 1) })
	c := NewCover(Patch{Nodes: corners(80, 35, 128, 30, 131, 88), Fill: 1})
	assert.PanicsWithValue(t, raster.ErrStopped, func() { _, _ = c.Fill(atSize(p), nil, false, stopped()) })
}

func BenchmarkFill(b *testing.B) {
	p := linearOf(1000, 800, func(x, y float64) float64 { return bricks(x, y, 3) })
	c := NewCover(Patch{Nodes: corners(300, 150, 800, 150, 800, 650, 300, 650), Fill: 1})
	for b.Loop() {
		if _, err := c.Fill(atSize(p), nil, false, nil); err != nil {
			b.Fatal(err)
		}
	}
}
