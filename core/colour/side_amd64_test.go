package colour

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"
)

// Rows are coded as each of their values is, however many pixels and whatever is in them.
func TestARowIsCodedAsItsValuesAre(t *testing.T) {
	at := wide
	defer func() { wide = at }()
	r := rand.New(rand.NewPCG(5, 5))
	odd := []float32{0, 1, -1, 1e30, -1e30, 1e-9, 65535.4 / 65536, 1 + 1e-6, float32(math.NaN()), float32(math.Inf(1)), float32(math.Inf(-1))}
	for n := range 40 {
		row, want := make([]float32, 3*n), make([]byte, 0, 4*n)
		for i := range row {
			row[i] = 1.2*r.Float32() - 0.1
			if r.IntN(4) == 0 {
				row[i] = odd[r.IntN(len(odd))]
			}
		}
		for i := range n {
			want = append(want, Byte(row[3*i]), Byte(row[3*i+1]), Byte(row[3*i+2]), 255)
		}
		for _, wide = range []int{at, 0} {
			got := make([]byte, 4*n+4)
			Bytes(got[:4*n], row)
			require.Equal(t, want, got[:4*n], "%d pixels", n)
			require.Equal(t, make([]byte, 4), got[4*n:], "nothing beyond is written")
		}
	}
}
