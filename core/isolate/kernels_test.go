package isolate

import (
	"math"
	"math/rand"
	"slices"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
)

// Otsu's threshold is the one with the least variance within both classes, which is looked for here as it is defined.
func TestTheSplitHasTheLeastVarianceWithinItsTwoSides(t *testing.T) {
	r := rand.New(rand.NewSource(3))
	for trial := range 20 {
		low, high, share := 0.1+0.3*r.Float64(), 0.5+0.4*r.Float64(), 0.1+0.8*r.Float64()
		s := make([]float32, 4000)
		for i := range s {
			m := low
			if r.Float64() < share {
				m = high
			}
			s[i] = float32(max(0, min(0.999, m+0.05*r.NormFloat64())))
		}
		within := func(at int) float64 {
			var n, sum, sq [2]float64
			for _, v := range s {
				b := float64(int(v * 255))
				k := 0
				if int(b) > at {
					k = 1
				}
				n[k], sum[k], sq[k] = n[k]+1, sum[k]+b, sq[k]+b*b
			}
			if n[0] == 0 || n[1] == 0 {
				return math.Inf(1)
			}
			return sq[0] - sum[0]*sum[0]/n[0] + sq[1] - sum[1]*sum[1]/n[1]
		}
		best := math.Inf(1)
		for at := range 255 {
			best = min(best, within(at))
		}
		hi, lo := split(s)
		at := 2*lo*255 - 0.5
		assert.InDelta(t, best, within(int(math.Round(float64(at)))), 1e-6*best, "trial %d", trial)
		assert.InDelta(t, 2*lo+0.3*(1-2*lo), hi, 1e-5)
	}
}

func TestSurenessIsOfContrastSizeAndPlace(t *testing.T) {
	const w, h = 40, 40
	of := func(bright float32, x0, y0, x1, y1 int) float64 {
		s, l := make([]float32, w*h), &Labels{W: w / 2, H: h / 2, In: make([]uint8, w*h/4)}
		for y := y0; y < y1; y++ {
			for x := x0; x < x1; x++ {
				s[y*w+x] = bright
				l.In[y/2*l.W+x/2] = 1
			}
		}
		return sureness(s, w, h, l)
	}
	assert.InDelta(t, 1, of(1, 10, 10, 20, 20), 1e-6)
	assert.InDelta(t, 0.625, of(0.5, 10, 10, 20, 20), 1e-6, "it stands out by half")
	assert.InDelta(t, 0, of(0.2, 10, 10, 20, 20), 1e-6)
	assert.InDelta(t, 0.125, of(1, 10, 10, 12, 12), 1e-6, "4 of 1600 pixels: 0.25 of 2 %")
	assert.InDelta(t, 1-19.0/80, of(1, 0, 0, 10, 10), 1e-6, "19 of its pixels lie on the frame")
	assert.InDelta(t, 0.19/0.3, of(1, 2, 2, 38, 38), 1e-6, "19 % are left outside")
	assert.Zero(t, of(1, 0, 0, w, h), "all of it is no thing")
	assert.Zero(t, of(1, 0, 0, 0, 0))
}

// Each number is one connected piece; pieces that are large enough keep their own, small ones go to a neighbour's.
func TestSmallPiecesGoToANeighbour(t *testing.T) {
	const w, h, least = 24, 18, 6
	r := rand.New(rand.NewSource(8))
	pieces := func(of []int32) (id []int, size []int) {
		id = make([]int, w*h)
		for i := range id {
			id[i] = -1
		}
		for i := range id {
			if id[i] >= 0 {
				continue
			}
			n, todo := len(size), []int{i}
			id[i] = n
			size = append(size, 0)
			for len(todo) > 0 {
				j := todo[len(todo)-1]
				todo = todo[:len(todo)-1]
				size[n]++
				for _, q := range [][2]int{{j%w - 1, j / w}, {j%w + 1, j / w}, {j % w, j/w - 1}, {j % w, j/w + 1}} {
					if k := q[1]*w + q[0]; q[0] >= 0 && q[1] >= 0 && q[0] < w && q[1] < h && id[k] < 0 && of[k] == of[j] {
						id[k] = n
						todo = append(todo, k)
					}
				}
			}
		}
		return id, size
	}
	for trial := range 40 {
		of := make([]int32, w*h)
		for i := range of {
			of[i] = int32(i%w/6 + 4*(i/w/6))
			if r.Intn(3) == 0 {
				of[i] = int32(r.Intn(12))
			}
		}
		was, size := pieces(of)
		got := connected(of, w, h, least)
		is, _ := pieces(got)
		seen := map[int32]int{}
		for i, g := range got {
			require.GreaterOrEqual(t, g, int32(0))
			if p, ok := seen[g]; ok {
				require.Equal(t, p, is[i], "trial %d: number %d lies in two places", trial, g)
			}
			seen[g] = is[i]
		}
		for i := range got {
			for j := range i {
				if was[i] == was[j] {
					require.Equal(t, got[i], got[j], "a piece stays whole")
				} else if size[was[i]] >= least && size[was[j]] >= least {
					require.NotEqual(t, got[i], got[j], "two large pieces stay two")
				}
			}
		}
		assert.Equal(t, len(seen), int(slices.Max(got))+1, "numbers are given without gaps")
	}
}

func TestABrushFallsOffAsASmoothStep(t *testing.T) {
	const radius, x, y = 12.0, 20.5, 20.5
	for _, soft := range []float64{0, 0.05, 0.4, 1} {
		b := &brush{softness: soft, strength: 1, flow: 1}
		out := make([]float32, 41*41)
		b.stroke(stroke(radius, [2]float64{x, y}), 1, raster.Rect{X1: 41, Y1: 41}, out, nil)
		for i, got := range out {
			d := math.Hypot(float64(i%41)+0.5-x, float64(i/41)+0.5-y)
			ramp := max(1, soft*radius) // pixels, inward from half a pixel beyond the radius
			v := max(0, min(1, (radius+0.5-d)/ramp))
			if soft > 0 {
				v *= v * (3 - 2*v)
			}
			require.InDelta(t, v, got, 1e-6, "softness %.2f, %.1f from the middle", soft, d)
		}
	}
}

func TestADabOfFlowIsAQuarterOfTheRadius(t *testing.T) {
	// A stroke of the length of eight dabs builds up what eight dabs of the flow leave.
	const radius, flow = 16.0, 0.1
	b := &brush{strength: 1, flow: flow}
	out := make([]float32, 200*41)
	b.stroke(stroke(radius, [2]float64{40, 20.5}, [2]float64{40 + 8*radius/2, 20.5}), 1, raster.Rect{X1: 200, Y1: 41}, out, nil)
	assert.InDelta(t, 1-math.Pow(1-flow, 8), out[20*200+70], 1e-5)
	assert.InDelta(t, 1-math.Pow(1-flow, 9), out[20*200+40], 1e-5, "where it begins lies a dab more")
}

func TestABoxStandsForAllOfItsColours(t *testing.T) {
	p, _ := disc(60, 40, -90, -90, 1, [3]float32{}, [3]float32{})
	paints := []colour.RGB{{0.5, 0.05, 0.05}, {0.05, 0.1, 0.5}, {0.1, 0.4, 0.05}}
	for i := range p.level[0].Pix {
		x := i / 3 % 60
		p.level[0].Pix[i] = float32(paints[x/20][i%3])
	}
	c := &compiler{p: p}
	got, err := c.boxed([4]float64{60, 40, 0, 0})
	require.NoError(t, err)
	space := c.in.space()
	for _, want := range paints {
		near := math.Inf(1)
		for _, g := range got {
			near = min(near, colour.DeltaE00(space.Lab(want), space.Lab(g)))
		}
		assert.Less(t, near, 0.5, "%v", want)
	}
	assert.Len(t, got, 3, "and no more than it has")
	got, err = c.boxed([4]float64{2, 2, 18, 30})
	require.NoError(t, err)
	assert.Len(t, got, 1)
}

// Between a picked and an unpicked side of one colour each, a pixel's share is what of its colour is of the picked one; how far that is
// believed depends on how far off the line between the two it lies.
func TestARimPixelHasTheShareOfItsMixture(t *testing.T) {
	const w, h, rim = 21, 9, 10
	for _, c := range []struct {
		f, b, off [3]float32
		a         float32
	}{
		{f: [3]float32{0.6, 0.1, 0.1}, b: [3]float32{0.1, 0.2, 0.5}, a: 0.3},
		{f: [3]float32{0.6, 0.1, 0.1}, b: [3]float32{0.1, 0.2, 0.5}, a: 0.8},
		{f: [3]float32{0.6, 0.1, 0.1}, b: [3]float32{0.1, 0.2, 0.5}, off: [3]float32{0, 0.2, 0}, a: 0.5},
		{f: [3]float32{0.80, 0.80, 0.80}, b: [3]float32{0.75, 0.8, 0.8}, off: [3]float32{0, 0.02, -0.02}, a: 0.5},
	} {
		pic, share := raster.NewRGB(w, h), make([]float32, w*h)
		for i := range share {
			of := c.b
			if i%w < rim {
				of, share[i] = c.f, 1
			}
			for k := range 3 {
				pic.Pix[3*i+k] = of[k]
				if i%w == rim {
					pic.Pix[3*i+k] = c.a*c.f[k] + (1-c.a)*c.b[k] + c.off[k]
				}
			}
		}
		var len2, dot, far, size float64
		for k := range 3 {
			d := float64(c.f[k] - c.b[k])
			len2 += d * d
			dot += d * float64(c.a*float32(d)+c.off[k])
			size += float64(c.f[k] + c.b[k])
		}
		a := max(0, min(1, dot/len2))
		for k := range 3 {
			q := float64(c.a)*float64(c.f[k]-c.b[k]) + float64(c.off[k]) - a*float64(c.f[k]-c.b[k])
			far += q * q
		}
		loose := 0.0144*len2 + 0.0001*size*size
		got := unmixRim(pic, share, false, nil)[4*w+rim]
		assert.InDelta(t, a*loose/(loose+far), got, 2e-3, "%+v", c)
	}
}

func TestTheCostOfASnappedPlaceIsAgainstTheStrongestEdgeAround(t *testing.T) {
	const n, half = 60, 8
	const wide = 2*half + 1
	r := rand.New(rand.NewSource(4))
	l := &laying{strip: &strip{at: make([][2]float64, n)}, half: half, wide: wide, strength: make([]float32, n*wide)}
	for i := range l.strength {
		l.strength[i] = r.Float32() * float32(1+i/wide%20)
	}
	cost := l.costs()
	for i := range n {
		strongest := float32(0.01)
		for j, v := range l.strength {
			if apart := (j/wide - i + n) % n; apart <= 12 || apart >= n-12 {
				strongest = max(strongest, v)
			}
		}
		for j := range wide {
			away := float64(j-half) / half
			require.InDelta(t, 1-float64(l.strength[i*wide+j]/strongest)+0.3*away*away, cost[i*wide+j], 1e-5)
		}
	}
	// Three places of a parabola have its summit between them.
	for _, top := range []float64{-0.4, 0, 0.3} {
		for j := range wide {
			x := float64(j-half) - 3 - top
			l.strength[j] = float32(2 - 0.1*x*x)
		}
		assert.InDelta(t, (3+top)*snapStep, l.summit(0, half+3), 1e-5)
	}
	assert.Equal(t, -float64(half)*snapStep, l.summit(0, 0), "at the end nothing lies beyond")
}

// The way around is the cheapest closed one, found here by trying every place to begin at.
func TestAnOutlineSettlesOnTheCheapestWayAround(t *testing.T) {
	const n, half = 24, 3
	const wide = 2*half + 1
	r := rand.New(rand.NewSource(5))
	for trial := range 15 {
		l := &laying{strip: &strip{at: make([][2]float64, n)}, half: half, wide: wide, strength: make([]float32, n*wide)}
		cost := make([]float32, n*wide)
		for i := range cost {
			cost[i] = r.Float32()
		}
		best := math.Inf(1)
		for begin := range wide {
			total := make([]float64, wide)
			for j := range total {
				total[j] = math.Inf(1)
			}
			total[begin] = 0
			for i := range n + 1 {
				next := make([]float64, wide)
				for j := range next {
					next[j] = math.Inf(1)
					for _, o := range []int{j - 1, j, j + 1} {
						if o < 0 || o >= wide {
							continue
						}
						turn := 0.0
						if o != j {
							turn = 0.25
						}
						if i == 0 {
							if j != begin || o != j {
								continue
							}
						}
						next[j] = min(next[j], total[o]+turn)
					}
					if i < n {
						next[j] += float64(cost[i*wide+j])
					}
				}
				total = next
			}
			best = min(best, total[begin])
		}
		got := l.settle(cost) // no strength has a summit: places as they are
		sum := 0.0
		for i, o := range got {
			j := int(math.Round(o/snapStep)) + half
			sum += float64(cost[i*wide+j])
			to := int(math.Round(got[(i+1)%n]/snapStep)) + half
			if i+1 == n/2 { // where it is closed the two rounds may differ by a place or two
				continue
			}
			require.LessOrEqual(t, max(j-to, to-j), 1, "it goes on beside where it was")
			if to != j {
				sum += 0.25
			}
		}
		assert.InDelta(t, best, sum, 1.2, "trial %d; a way that minds no cost has 12 and more", trial)
	}
}

func TestAnAreasPointIsTheMiddleOfItsFirstLongestRun(t *testing.T) {
	const w, h = 30, 20
	m, err := labelAreas(w, h, nil, func(_ int, q raster.Rect) ([]float32, error) {
		out := make([]float32, q.W()*q.H())
		for i := range out {
			x, y := q.X0+i%q.W(), q.Y0+i/q.W()
			if x >= 4 && x < 14 && y >= 3 && y < 9 || x >= 8 && x < 10 && y >= 9 && y < 15 {
				out[i] = 0.1
			}
		}
		return out, nil
	})
	require.NoError(t, err)
	list := m.list()
	require.Len(t, list, 1)
	assert.Equal(t, [2]float64{9, 3.5}, list[0].At)
	assert.Equal(t, raster.Rect{X0: 4, Y0: 3, X1: 14, Y1: 15}, list[0].Box)
	assert.Equal(t, 72, list[0].Pixels)
}

func TestRaysGatherWhatIsSureOnBothSides(t *testing.T) {
	const w, h = 61, 31
	pic, zones, pull := raster.NewRGB(w, h), make([]uint8, w*h), make([]float32, w*h)
	for i := range zones {
		x := i % w
		zones[i] = zoneOpen
		switch { // sure by the strokes, sure by the colours, unsure, and the same on the other side
		case x < 10:
			zones[i] = zoneIn
		case x < 20:
			pull[i] = pullSure
		case x < 40:
			pull[i] = float32(x-30) / 20 * pullSure
		case x < 50:
			pull[i] = -pullSure
		default:
			zones[i] = zoneOut
		}
		pic.Pix[3*i] = float32(x)
	}
	fs, bs := gathered(pic, zones, pull, 15*w+30, nil, nil)
	require.NotEmpty(t, fs)
	require.NotEmpty(t, bs)
	for _, s := range fs {
		assert.Less(t, s.c[0], float32(20))
		assert.GreaterOrEqual(t, s.d, float32(10))
	}
	for _, s := range bs {
		assert.GreaterOrEqual(t, s.c[0], float32(40))
	}
	nearest := func(list []raySample) (d float32) {
		d = list[0].d
		for _, s := range list {
			d = min(d, s.d)
		}
		return d
	}
	assert.InDelta(t, 11, nearest(fs), 3, "where a ray first meets it")
	assert.InDelta(t, 11, nearest(bs), 3)

	mixed := func(a float32) [3]float32 { return [3]float32{0.2 + 0.5*a, 0.1 + 0.2*a, 0.6 - 0.5*a} }
	f, b := raySample{mixed(1), 5}, raySample{mixed(0), 8}
	for _, a := range []float32{0, 0.25, 0.7, 1} {
		share, trust := bestPair(mixed(a), []raySample{{[3]float32{0.9, 0.9, 0.9}, 40}, f}, []raySample{b, {[3]float32{0, 0, 0}, 60}})
		assert.InDelta(t, a, share, 1e-4)
		assert.Greater(t, trust, float32(0.95))
	}
	_, trust := bestPair([3]float32{0.1, 0.9, 0.1}, []raySample{f}, []raySample{b})
	assert.Less(t, trust, float32(0.01), "no mixture of the two")
	share, trust := bestPair([3]float32{0.1, 0.9, 0.1}, nil, []raySample{b})
	assert.Equal(t, [2]float32{0.5, 0}, [2]float32{share, trust})
}

func TestWhatColourModelsSeeOfAColour(t *testing.T) {
	assert.Equal(t, [3]float32{0.6, 0.25, -0.125}, plainOklab(0.6, 0.1, -0.05), "tints are told apart better than lightness")
	a, b := tolerant(0.7, 0.1, -0.05), tolerant(0.35, 0.05, -0.025)
	assert.InDelta(t, 0.7/0.82, a[1]/0.1*0.7, 1e-5)
	assert.InDelta(t, 0.35/0.47, b[1]/0.05*0.35, 1e-5)
	assert.Less(t, math.Abs(float64(a[1]-b[1])), 0.4*0.05, "the paint in half the light lies nearer than in Oklab")
	assert.InDelta(t, a[2]/a[1], b[2]/b[1], 1e-5, "and has the same hue")
}

func TestRegionsKnowTheirNeighbours(t *testing.T) {
	// Four by three pixels: region 0 on the left, 1 on the right, 2 in one corner.
	r := &regions{w: 4, h: 3, of: []int32{0, 0, 1, 1, 0, 0, 1, 1, 0, 0, 1, 2}, edge: []float32{0, 0.5, 0.25, 0, 0, 1, 0, 0.5, 0, 0, 0, 0.75}}
	word := make([]uint8, 12)
	word[1], word[2], word[11] = 1, 2, 3
	own := r.measure(word)
	assert.Equal(t, []float32{6, 5, 1}, r.area)
	assert.Equal(t, []float32{5, 4, 1}, r.atRim, "on the frame")
	assert.Equal(t, []float32{5, 1, 0, 0}, own[0][:4])
	assert.Equal(t, []float32{4, 0, 1, 0}, own[1][:4])
	r.meet()
	require.Len(t, r.near, 2)
	assert.Equal(t, border{a: 0, b: 1, length: 3, strength: (0.5 + 1 + 0) / 3}, r.near[0], "the stronger of both sides, in the mean")
	assert.Equal(t, border{a: 1, b: 2, length: 2, strength: 0.75}, r.near[1])
	r.mix(own)
	k := float32(0.5) // of a neighbour counts what no boundary keeps away
	assert.InDelta(t, (5+4*k)/(6+5*k), r.words[0][0], 1e-6)
	assert.InDelta(t, k/(6+5*k), r.words[0][2], 1e-6)
	assert.InDelta(t, (4+5*k)/(5+6*k+0.25), r.words[1][0], 1e-6)
	assert.InDelta(t, 0.25/(5+6*k+0.25), r.words[1][3], 1e-6)
	all := float32(0)
	for _, n := range r.all {
		all += n
	}
	assert.InDelta(t, 12, all, 1e-4, "each pixel counts once")
	assert.InDelta(t, 1, unlike([]float32{1, 0, 0}, []float32{0, 0.5, 0.5}), 1e-6)
	assert.Zero(t, unlike([]float32{0.5, 0.5}, []float32{0.5, 0.5}))
	assert.InDelta(t, (0.25*0.25/0.75+0.25*0.25/1.25)/2, unlike([]float32{0.5, 0.5}, []float32{0.25, 0.75}), 1e-6)
}

// A mixture edge is the chi-square distance of the words counted in the box before a pixel and in the box after it, each cut off by the frame.
func TestAMixtureEdgeComparesTheBoxesBeforeAndAfter(t *testing.T) {
	const count, r = 6, 3
	g := rand.New(rand.NewSource(41))
	for _, size := range [][2]int{{19, 13}, {13, 19}, {6, 7}, {5, 4}, {1, 9}, {9, 1}} {
		w, h := size[0], size[1]
		word := make([]uint8, w*h)
		for i := range word {
			word[i] = uint8(g.Intn(count - 1)) // one is nowhere
		}
		share := func(box raster.Rect) []float32 {
			v, box := make([]float32, count), box.And(raster.Rect{X1: w, Y1: h})
			for y := box.Y0; y < box.Y1; y++ {
				for x := box.X0; x < box.X1; x++ {
					v[word[y*w+x]] += 1 / float32(box.W()*box.H())
				}
			}
			return v
		}
		beside, above := mixtureEdge(word, count, w, h, r, false, nil), mixtureEdge(word, count, w, h, r, true, nil)
		for i := range word {
			x, y, level, upright := i%w, i/w, float32(0), float32(0)
			if x > 0 {
				level = unlike(share(raster.Rect{X0: x - r, Y0: y - r, X1: x, Y1: y + r + 1}), share(raster.Rect{X0: x, Y0: y - r, X1: x + r, Y1: y + r + 1}))
			}
			if y > 0 {
				upright = unlike(share(raster.Rect{X0: x - r, Y0: y - r, X1: x + r + 1, Y1: y}), share(raster.Rect{X0: x - r, Y0: y, X1: x + r + 1, Y1: y + r}))
			}
			require.InDelta(t, level, beside[i], 1e-5, "%v, beside %d, %d", size, x, y)
			require.InDelta(t, upright, above[i], 1e-5, "%v, above %d, %d", size, x, y)
		}
	}
}

func TestLinksFallOffAsTheExponentialDoes(t *testing.T) {
	for x := 0.0; x < 40; x += 0.0137 {
		require.InDelta(t, math.Exp(-x), fall(x), 3e-6, "%g", x)
	}
}

// The barrier of a pixel is the least span of values on a way to the frame; here by trying every span.
func TestTheBarrierIsTheLeastSpanOnAWayOut(t *testing.T) {
	const w, h = 9, 7
	r := rand.New(rand.NewSource(6))
	worse, all := 0, 0
	for range 30 {
		f := &planes{w: w, h: h, lab: make([]float32, 3*w*h)}
		for i := range w * h {
			f.lab[3*i+1] = float32(r.Intn(8)) / 8
		}
		got := barrier(f, 1)
		for i := range w * h {
			best := float32(math.Inf(1))
			for lo := float32(0); lo < 1; lo += 0.125 {
				for hi := lo; hi < 1; hi += 0.125 {
					if hi-lo < best && leadsOut(f, i, lo, hi) {
						best = hi - lo
					}
				}
			}
			require.GreaterOrEqual(t, got[i], best)
			all++
			if got[i] > best {
				worse++ // scans pass on one way to each pixel, not all
			}
		}
	}
	assert.Less(t, float64(worse)/float64(all), 0.05)
}

// leadsOut reports whether a way of values from lo to hi leads from a pixel to the frame.
func leadsOut(f *planes, i int, lo, hi float32) bool {
	seen, todo := map[int]bool{}, []int{i}
	for len(todo) > 0 {
		j := todo[len(todo)-1]
		todo = todo[:len(todo)-1]
		x, y, v := j%f.w, j/f.w, f.lab[3*j+1]
		if seen[j] || v < lo || v > hi {
			continue
		}
		seen[j] = true
		if x == 0 || y == 0 || x == f.w-1 || y == f.h-1 {
			return true
		}
		todo = append(todo, j-1, j+1, j-f.w, j+f.w)
	}
	return false
}

func TestEnlargedLabelsAreAQuadraticSpline(t *testing.T) {
	r := rand.New(rand.NewSource(10))
	s := &sweep{l: &Labels{Level: 2, W: 14, H: 11, In: make([]uint8, 14*11)}}
	for i := range s.l.In {
		if r.Intn(4) == 0 {
			s.l.In[i] = 1
		}
	}
	weight := func(u float64) float64 {
		switch u = math.Abs(u); {
		case u < 0.5:
			return 0.75 - u*u
		case u < 1.5:
			return 0.5 * (1.5 - u) * (1.5 - u)
		}
		return 0
	}
	for range 3000 {
		x, y := r.Float64()*14, r.Float64()*11
		want := 0.0
		for j := -2; j < 13; j++ {
			for i := -2; i < 16; i++ {
				v := s.l.In[max(0, min(10, j))*14+max(0, min(13, i))] // the picture goes on as it ends
				want += weight(x-float64(i)-0.5) * weight(y-float64(j)-0.5) * float64(v)
			}
		}
		require.InDelta(t, want, s.smooth(4*x, 4*y, 4), 1e-5, "%g, %g", x, y)
	}
}

func TestFromAfarAPixelIsTheShareOfItsLabels(t *testing.T) {
	const w, h = 37, 26 // no multiple of what is put together
	r := rand.New(rand.NewSource(11))
	l, shares := &Labels{Level: 1, W: w, H: h, In: make([]uint8, w*h)}, make([]float32, w*h)
	for i := range l.In {
		l.In[i] = uint8(r.Intn(2))
		shares[i] = float32(l.In[i])
	}
	p := newPyramid(raster.NewRGB(2*w, 2*h))
	for level, n := range map[int]int{2: 2, 3: 4} {
		cw, ch := (w+n-1)/n, (h+n-1)/n
		for _, q := range []raster.Rect{{X1: cw, Y1: ch}, {X0: 2, Y0: 1, X1: 5, Y1: 4}, {X0: cw - 2, Y0: ch - 3, X1: cw, Y1: ch}} {
			got, err := (&sweep{l: l}).render(p, level, q)
			require.NoError(t, err)
			matte, err := (&matted{level: l.Level, w: w, h: h, alpha: shares}).render(p, level, q)
			require.NoError(t, err)
			assert.InDeltaSlice(t, got, matte, 1e-6, "a matte's, too")
			for i, v := range got {
				sum, count := 0.0, 0.0
				for yy := n * (q.Y0 + i/q.W()); yy < n*(q.Y0+i/q.W()+1) && yy < h; yy++ {
					for xx := n * (q.X0 + i%q.W()); xx < n*(q.X0+i%q.W()+1) && xx < w; xx++ {
						sum, count = sum+float64(l.In[yy*w+xx]), count+1
					}
				}
				require.InDelta(t, sum/count, v, 1e-6, "level %d, %v, %d", level, q, i)
			}
		}
	}
}
