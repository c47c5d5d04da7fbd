package raster

import (
	"math/rand/v2"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestNthIsWhatSortingPutsThere(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for range 3000 {
		v := make([]float32, 1+r.IntN(60))
		kinds := 1 + r.IntN(30) // few of them: many are equal
		for i := range v {
			v[i] = float32(r.IntN(kinds)) / 7
		}
		if r.IntN(4) == 0 {
			slices.Sort(v)
		}
		sorted := slices.Sorted(slices.Values(v))
		k := r.IntN(len(v))
		require.Equal(t, sorted[k], Nth(v, k))
		for i := range v {
			require.True(t, i <= k && v[i] <= v[k] || i >= k && v[i] >= v[k])
		}
		slices.Sort(v)
		require.Equal(t, sorted, v, "nothing is lost")
	}
}

func BenchmarkNth(b *testing.B) {
	v := make([]float32, 1_000_000)
	for b.Loop() {
		r := rand.New(rand.NewPCG(1, 2))
		for i := range v {
			v[i] = r.Float32()
		}
		Nth(v, len(v)/2)
	}
}
