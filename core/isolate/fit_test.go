package isolate

import (
	"fmt"
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/raster"
)

// off is the distance of a point from the open curve through nodes.
func off(nodes []Node, p [2]float64) float64 {
	best := math.Inf(1)
	for i := 1; i < len(nodes); i++ {
		a, b := nodes[i-1], nodes[i]
		c := [4][2]float64{a.P, a.P, b.P, b.P}
		if a.Out != nil {
			c[1] = *a.Out
		}
		if b.In != nil {
			c[2] = *b.In
		}
		last := c[0]
		for k := 1; k <= 200; k++ {
			q := bezier(c, float64(k)/200)
			best = min(best, raster.ToSegment(p[0], p[1], last, q))
			last = q
		}
	}
	return best
}

func TestAFittedPathRunsWithinItsErrorOfEveryPoint(t *testing.T) {
	rnd := rand.New(rand.NewSource(3))
	for n := range 60 {
		// A loose hand: a wandering direction with a tremor, now and then a sharp turn.
		p, way := [2]float64{500, 500}, rnd.Float64()*6
		var pts [][2]float64
		bend := 0.0
		for range 40 + rnd.Intn(300) {
			bend = 0.9*bend + 0.06*(rnd.Float64()-0.5)
			way += bend
			if rnd.Intn(60) == 0 {
				way += 2
			}
			p = [2]float64{p[0] + 4*math.Cos(way), p[1] + 4*math.Sin(way)}
			pts = append(pts, [2]float64{p[0] + rnd.Float64() - 0.5, p[1] + rnd.Float64() - 0.5})
		}
		const most = 2.5
		nodes := FitPath(pts, most)
		require.Equal(t, pts[0], nodes[0].P)
		require.Equal(t, pts[len(pts)-1], nodes[len(nodes)-1].P)
		for _, q := range pts {
			require.LessOrEqual(t, off(nodes, q), most+0.05, "path %d", n)
		}
		assert.Less(t, len(nodes), 4+len(pts)/6, "path %d of %d points", n, len(pts))
	}
}

func TestFittedShapesHaveFewNodes(t *testing.T) {
	circle := func(n int) (pts [][2]float64) {
		for i := range n + 1 {
			a := 2 * math.Pi * float64(i) / float64(n)
			pts = append(pts, [2]float64{300 + 200*math.Cos(a), 300 + 200*math.Sin(a)})
		}
		return pts
	}
	assert.LessOrEqual(t, len(FitPath(circle(300), 1.5)), 7)
	var square [][2]float64
	for side := range 4 {
		at := [4][3]float64{{0, 0, 0}, {400, 0, 1}, {400, 400, 2}, {0, 400, 3}}[side]
		way := [4][2]float64{{1, 0}, {0, 1}, {-1, 0}, {0, -1}}[side]
		for k := range 100 {
			square = append(square, [2]float64{at[0] + way[0]*4*float64(k), at[1] + way[1]*4*float64(k)})
		}
	}
	nodes := FitPath(append(square, [2]float64{0, 0}), 2)
	assert.Len(t, nodes, 5, "its corners, the first twice")
	for _, n := range nodes {
		assert.Nil(t, n.In)
		assert.Nil(t, n.Out)
	}
	assert.Empty(t, FitPath(nil, 2))
	assert.Len(t, FitPath([][2]float64{{5, 5}, {5, 5}}, 2), 1)
	assert.Len(t, FitPath([][2]float64{{5, 5}, {9, 9}}, 2), 2)
}

// A hand trembles: what turns sharply is told over a way of a few errors, not from one point to the next.
func TestCornersAreFoundThroughATremor(t *testing.T) {
	r := rand.New(rand.NewSource(12))
	for trial := range 10 {
		var pts [][2]float64
		add := func(x, y float64) {
			pts = append(pts, [2]float64{x + 1.2*r.Float64() - 0.6, y + 1.2*r.Float64() - 0.6})
		}
		for k := range 80 {
			add(2*float64(k), 0)
		}
		for k := range 80 {
			add(160, 2*float64(k))
		}
		for k := range 80 { // a round turn of a wide arc is none
			a := math.Pi * float64(k) / 80
			add(160-60*math.Sin(a), 160+60*(1-math.Cos(a)))
		}
		got := corners(pts, 2.5)
		require.NotEmpty(t, got, "trial %d", trial)
		assert.InDelta(t, 80, got[0], 3, "trial %d", trial)
		for _, c := range got {
			at := pts[c]
			assert.Less(t, min(math.Hypot(at[0]-160, at[1]), math.Hypot(at[0]-160, at[1]-160)), 9.0, "trial %d: a corner where there is none", trial)
		}
	}
	flat := [][2]float64{{0, 0}, {5, 1}, {10, 0}}
	assert.True(t, straight(flat, 4), "half of the error is let pass")
	assert.False(t, straight(flat, 3.9))
}

func FuzzFitPath(f *testing.F) {
	f.Add([]byte{1, 2, 3, 4, 5, 6}, 2.0)
	f.Fuzz(func(t *testing.T, b []byte, most float64) {
		if !(most >= 0.5 && most < 1e3) {
			return
		}
		var pts [][2]float64
		for i := 0; i+1 < len(b); i += 2 {
			pts = append(pts, [2]float64{float64(b[i]), float64(b[i+1])})
		}
		for _, n := range FitPath(pts, most) {
			for _, p := range []*[2]float64{&n.P, n.In, n.Out} {
				if p != nil && (math.IsNaN(p[0]+p[1]) || math.IsInf(p[0]+p[1], 0)) {
					t.Fatal(n)
				}
			}
		}
	})
}

func ExampleFitPath() {
	var half [][2]float64
	for i := range 91 {
		a := math.Pi * float64(i) / 90
		half = append(half, [2]float64{100 - 100*math.Cos(a), 100 - 100*math.Sin(a)})
	}
	for _, n := range FitPath(half, 1) {
		fmt.Printf("%.0f %v %v\n", n.P, n.In != nil, n.Out != nil)
	}
	// Output:
	// [0 100] false true
	// [200 100] true false
}
