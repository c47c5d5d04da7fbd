package mincut_test

import (
	"math"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/require"

	"episema/core/mincut"
)

// TestTheCutOfASmallGraphIsTheLeast compares with every cut there is.
func TestTheCutOfASmallGraphIsTheLeast(t *testing.T) {
	rnd := rand.New(rand.NewSource(11))
	for range 200 {
		const n = 7
		term := [n]float32{}
		link := [n][n]float32{} // what it costs to have the first inside and the second not
		g := mincut.New(n)
		for i := range n {
			term[i] = float32(rnd.NormFloat64())
			g.Term[i] = term[i]
			for j := range i {
				if rnd.Intn(2) == 0 {
					link[i][j], link[j][i] = rnd.Float32(), rnd.Float32()
					g.Join(int32(i), int32(j), link[i][j], link[j][i])
				}
			}
		}
		cost := func(in func(i int) bool) (c float64) {
			for i := range n {
				if in(i) != (term[i] > 0) {
					c += math.Abs(float64(term[i]))
				}
				for j := range n {
					if in(i) && !in(j) {
						c += float64(link[i][j])
					}
				}
			}
			return c
		}
		best := math.Inf(1)
		for set := range 1 << n {
			best = math.Min(best, cost(func(i int) bool { return set>>i&1 == 1 }))
		}
		got := g.Solve()
		require.InDelta(t, best, cost(func(i int) bool { return got[i] }), 1e-4)
	}
}

// cutValue is the energy of a labelling: what a minimum cut minimises.
func cutValue(term []float64, cap map[[2]int]float64, in func(i int) bool) float64 {
	e := 0.0
	for i, v := range term {
		if v > 0 && !in(i) {
			e += v
		}
		if v < 0 && in(i) {
			e -= v
		}
	}
	for k, c := range cap {
		if in(k[0]) && !in(k[1]) {
			e += c
		}
	}
	return e
}

func TestMinimumCutAgainstEveryLabelling(t *testing.T) {
	r := rand.New(rand.NewSource(3))
	for trial := range 400 {
		w, h := 2+r.Intn(3), 2+r.Intn(3)
		n := w * h
		g := mincut.NewGrid(n)
		term := make([]float64, n)
		caps := map[[2]int]float64{}
		for i := range n {
			term[i] = math.Round(r.NormFloat64() * 4)
			g.Term[i] = float32(term[i])
			x, y := i%w, i/w
			for d := range 8 {
				if xx, yy := x+mincut.Directions[d][0], y+mincut.Directions[d][1]; xx >= 0 && yy >= 0 && xx < w && yy < h {
					j := yy*w + xx
					c := float64(r.Intn(6))
					g.Next[8*i+d], g.Cap[8*i+d] = int32(j), float32(c)
					caps[[2]int{i, j}] = c
				}
			}
		}
		g.Solve()
		got := cutValue(term, caps, g.Near)
		best := math.Inf(1)
		for m := range 1 << n {
			best = math.Min(best, cutValue(term, caps, func(i int) bool { return m>>i&1 == 1 }))
		}
		require.InDelta(t, best, got, 1e-3, "trial %d, %d x %d", trial, w, h)
	}
}
