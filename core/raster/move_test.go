package raster

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Forth undoes Back, a quarter turn takes what is above to the right, and a flip comes before the turn.
func FuzzMove(f *testing.F) {
	f.Add(10., 20., 200., 5., 30., 1.5, true, 7., 9.)
	f.Add(0., 0., 0., 0., 0., 0., false, 1., 2.)
	f.Fuzz(func(t *testing.T, ax, ay, tx, ty, turn, scale float64, flip bool, x, y float64) {
		for _, v := range []float64{ax, ay, tx, ty, x, y} {
			if !(math.Abs(v) < 1e5) {
				t.Skip()
			}
		}
		if !(math.Abs(turn) <= 360) || scale != 0 && !(scale >= 0.05 && scale <= 10) {
			t.Skip()
		}
		m := NewMove([2]float64{ax, ay}, [2]float64{tx, ty}, turn, scale, flip)
		fx, fy := m.Back(x, y)
		gx, gy := m.Forth(fx, fy)
		require.InDelta(t, x, gx, 1e-4)
		require.InDelta(t, y, gy, 1e-4)
		gx, gy = m.Forth(ax, ay)
		require.InDelta(t, tx, gx, 1e-6)
		require.InDelta(t, ty, gy, 1e-6)
	})
}

func TestMoveTurnsClockwiseAfterItFlips(t *testing.T) {
	for _, q := range []struct {
		turn, scale float64
		flip        bool
		to          [2]float64 // of what lies 10 to the right
	}{{0, 0, false, [2]float64{10, 0}}, {90, 0, false, [2]float64{0, 10}}, {0, 2, false, [2]float64{20, 0}}, {0, 1, true, [2]float64{-10, 0}}, {90, 1, true, [2]float64{0, -10}}} {
		m := NewMove([2]float64{50, 60}, [2]float64{5, 6}, q.turn, q.scale, q.flip)
		x, y := m.Forth(60, 60)
		assert.InDelta(t, 5+q.to[0], x, 1e-9)
		assert.InDelta(t, 6+q.to[1], y, 1e-9)
		assert.Equal(t, q.turn == 0 && !q.flip && q.scale == 0, NewMove([2]float64{5, 6}, [2]float64{5, 6}, q.turn, q.scale, q.flip).Still())
	}
}

// What is taken from a plane made half as large is its mean over two by two; made twice as large it lies between the pixels.
func TestTakeAveragesWhatItCoversAndInterpolates(t *testing.T) {
	src := []float32{0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15} // 4 x 4
	half := NewMove([2]float64{0, 0}, [2]float64{0, 0}, 0, 0.5, false)
	got := half.Take(Place{}, Rect{X1: 2, Y1: 2}, src, 1, 4, 4, Place{}, nil)
	assert.Equal(t, []float32{2.5, 4.5, 10.5, 12.5}, got)
	twice := NewMove([2]float64{0, 0}, [2]float64{0, 0}, 0, 2, false)
	got = twice.Take(Place{}, Rect{X0: 1, Y0: 1, X1: 3, Y1: 2}, src, 1, 4, 4, Place{}, nil)
	assert.InDeltaSlice(t, []float64{1.25, 1.75}, []float64{float64(got[0]), float64(got[1])}, 1e-6)
	assert.Equal(t, 0, twice.Level(1, 5))
	assert.Equal(t, 2, half.Level(2, 5), "of what is made smaller a coarser level is enough")
	assert.Equal(t, 4, half.Level(1000, 5))
}

// From asks for enough of a level, goes one pixel past its edges and no further, and Framed puts nothing there.
func TestFromAndFramed(t *testing.T) {
	m := NewMove([2]float64{0, 0}, [2]float64{20, 0}, 0, 1, false)
	r, at := m.From(Place{}, Rect{X0: 10, X1: 30, Y1: 8}, 0, 16, 8)
	assert.Equal(t, Rect{X0: -1, Y0: -1, X1: 11, Y1: 9}, r)
	assert.Equal(t, Place{X: -1, Y: -1, Step: 1}, at)
	p := Framed([]float32{1, 2}, 1, Rect{X0: 1, Y0: 1, X1: 3, Y1: 2}, Rect{X1: 4, Y1: 2})
	assert.Equal(t, []float32{0, 0, 0, 0, 0, 1, 2, 0}, p)
}
