package raster

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestAStrokesBoxHoldsWhatItsTipTouchesAndHardlyMore(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 7))
	plane := Rect{X1: 300, Y1: 300}
	for range 50 {
		s := Stroke{Radius: 1 + 20*r.Float64()}
		for range 1 + r.IntN(4) {
			s.Points = append(s.Points, [2]float64{100 + 120*r.Float64(), 100 + 80*r.Float64()})
		}
		place := Place{X: 20, Y: 30, Step: []float64{0, 2, 4}[r.IntN(3)]}
		box := s.Box(place, 1)
		touched := Rect{X0: plane.X1, Y0: plane.Y1}
		Along(s.At(place), func(int) float64 { return s.Radius / place.Scale() }, plane, nil, func(_, x, y int, _ float64) {
			touched = Rect{X0: min(touched.X0, x), Y0: min(touched.Y0, y), X1: max(touched.X1, x+1), Y1: max(touched.Y1, y+1)}
		})
		require.False(t, touched.Empty())
		assert.Equal(t, touched, touched.And(box))
		assert.Equal(t, box, box.And(touched.Grow(3)))
	}
	assert.True(t, Stroke{Radius: 5}.Box(Place{}, 2).And(plane).Empty(), "no points")
}
