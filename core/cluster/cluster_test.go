package cluster_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"episema/core/cluster"
)

func Example() {
	p := cluster.Plain([][3]float64{{10, 0, 0}, {12, 0, 0}, {80, 40, 0}, {84, 40, 0}, {82, 40, 0}})
	centres := p.Spread(0, 2, 0)
	_, weight := p.Means(centres, 10)
	fmt.Println(centres, weight)
	// Output: [[11 0 0] [82 40 0]] [2 3]
}

// What was settled is a state that no point and no centre would leave, and no start is nearer to those before it than one left out.
func TestMeansSettle(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 1))
	for range 20 {
		p := cluster.Points{Scale: [3]float64{0.5, 1, 2}}
		for range 200 {
			p.At = append(p.At, [3]float64{r.Float64(), r.Float64(), r.Float64()})
			p.Weight = append(p.Weight, float64(r.IntN(4)))
		}
		apart := func(a, b [3]float64) float64 {
			return math.Hypot(math.Hypot((a[0]-b[0])*0.5, a[1]-b[1]), (a[2]-b[2])*2)
		}
		centres := p.Spread(3, 5, 0)
		assert.Equal(t, p.At[3], centres[0])
		owner, weight := p.Means(centres, 1000)
		sum, n := make([][3]float64, 5), make([]float64, 5)
		for i, at := range p.At {
			if p.Weight[i] == 0 {
				continue
			}
			for _, c := range centres {
				assert.LessOrEqual(t, apart(at, centres[owner[i]]), apart(at, c)+1e-12)
			}
			for c := range at {
				sum[owner[i]][c] += p.Weight[i] * at[c]
			}
			n[owner[i]] += p.Weight[i]
		}
		assert.InDeltaSlice(t, n, weight, 1e-9)
		for c := range centres {
			for k := range 3 {
				assert.InDelta(t, sum[c][k]/n[c], centres[c][k], 1e-9)
			}
		}
	}
}

func TestSpreadTakesTheFarthest(t *testing.T) {
	p := cluster.Plain([][3]float64{{0, 0, 0}, {1, 0, 0}, {9, 0, 0}, {10, 0, 0}, {5, 0, 0}})
	assert.Equal(t, [][3]float64{{0, 0, 0}, {10, 0, 0}, {5, 0, 0}, {1, 0, 0}}, p.Spread(0, 4, 0))
	assert.Equal(t, [][3]float64{{0, 0, 0}, {10, 0, 0}, {5, 0, 0}}, p.Spread(0, 4, 1), "none is farther than 1 from all")
	assert.Equal(t, 0, p.Farthest(p.Mean()), "the mean is at 5, and of two the first counts")
	p.Weight = []float64{1, 1, 1e4, 0, 1}
	assert.Equal(t, [][3]float64{{0, 0, 0}, {9, 0, 0}}, p.Spread(0, 2, 0), "what counts for nothing is no start")
	assert.Equal(t, [3]float64{}, (&cluster.Points{}).Mean())
}
