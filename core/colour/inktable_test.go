package colour

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// tableOf makes a table of a function over the cube.
func tableOf(t *testing.T, n int, f func(c RGB) (seen, onPaper RGB, missed float64)) *InkTable {
	t.Helper()
	var seen, onPaper [][3]float32
	var missed []float32
	narrow := func(c RGB) [3]float32 { return [3]float32{float32(c[0]), float32(c[1]), float32(c[2])} }
	for i := range n * n * n {
		s, p, m := f(RGB{float64(i/(n*n)) / float64(n-1), float64(i/n%n) / float64(n-1), float64(i%n) / float64(n-1)})
		seen, onPaper, missed = append(seen, narrow(s)), append(onPaper, narrow(p)), append(missed, float32(m))
	}
	table, err := NewInkTable(n, seen, onPaper, missed)
	require.NoError(t, err)
	return table
}

func TestAnInkTableIsExactWhereItsFunctionIsLinear(t *testing.T) {
	f := func(c RGB) (RGB, RGB, float64) {
		return RGB{0.1 + 0.8*c[0], 0.05 + 0.3*c[0] + 0.6*c[1], 0.2*c[1] + 0.7*c[2]}, RGB{0.9 * c[2], 0.8 * c[0], 0.7 * c[1]}, 3*c[0] + 2*c[1] + c[2]
	}
	table := tableOf(t, 5, f)
	for i := range 3000 {
		c := RGB{math.Mod(float64(i)*0.618034, 1), math.Mod(float64(i)*0.414214, 1), math.Mod(float64(i)*0.259921, 1)}
		seen, onPaper, missed := f(c)
		for k := range 3 {
			require.InDelta(t, seen[k], table.See(c, false)[k], 1e-5, "%v", c)
			require.InDelta(t, onPaper[k], table.See(c, true)[k], 1e-5, "%v", c)
		}
		require.InDelta(t, missed, table.Missed(c), 1e-4)
	}
	corner := table.See(RGB{1, 1, 1}, false)
	assert.InDelta(t, 0.9, corner[0], 1e-6)
	assert.Equal(t, corner, table.See(RGB{7, 2, 1.5}, false), "past the cube is its face")
}

func TestShowTurnsRowsAndMarksWhatIsMissed(t *testing.T) {
	table := tableOf(t, 3, func(c RGB) (RGB, RGB, float64) { return RGB{c[0], c[1], 0}, RGB{0, c[1], c[2]}, 4 * c[0] })
	row := func(onPaper, mark bool, y int) []byte {
		pix := make([]byte, 4*12)
		for x := range 12 {
			copy(pix[4*x:], []byte{byte(20 * x), 100, 200, 255})
		}
		table.Show(pix, 12, y, onPaper, mark)
		return pix
	}
	plain := row(false, false, 0)
	assert.Equal(t, []byte{40, 100, 0, 255}, plain[8:12])
	assert.Equal(t, []byte{0, 100, 200, 255}, row(true, false, 0)[8:12])
	// 4 * 140/255 is more than 2: of the pixels on the grid, 6 is plain (4 * 120/255) and 7 is marked.
	marked := row(false, true, 0)
	assert.Equal(t, plain[:28], marked[:28])
	assert.Equal(t, marked[28], marked[29])
	assert.NotEqual(t, plain[28:32], marked[28:32])
	assert.Equal(t, plain[32:], marked[32:], "off the grid nothing is covered")
	assert.Equal(t, plain, row(false, true, 3), "nor on other rows")
}

func TestAnInkTableOfTheWrongSizeIsRefused(t *testing.T) {
	for _, n := range []int{0, 1, 2, 66, -3} {
		_, err := NewInkTable(n, nil, nil, nil)
		assert.Error(t, err)
	}
}
