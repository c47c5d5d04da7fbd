package recolour

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"episema/core/raster"
)

// Whether a block is summed up whole or its few mixed pixels are looked around one by one changes no colour.
func TestNeighboursAreTheSameEitherWay(t *testing.T) {
	const side = 60
	r := rand.New(rand.NewPCG(1, 2))
	pic, mask := raster.NewRGB(side, side), raster.NewMask(side, side)
	for i := range mask.Pix {
		mask.Pix[i] = []uint16{0, raster.Whole, raster.Whole / 2}[r.IntN(3)]
		for c := range 3 {
			pic.Pix[3*i+c] = r.Float32()
		}
	}
	block := raster.Rect{X0: 12, Y0: 14, X1: 44, Y1: 46}
	few, many := newNeighbours(pic, mask, block, fewMixed), newNeighbours(pic, mask, block, fewMixed+1)
	assert.NotEqual(t, few.in[0] == nil, many.in[0] == nil)
	for y := block.Y0; y < block.Y1; y++ {
		for x := block.X0; x < block.X1; x++ {
			i1, o1 := few.around(x, y)
			i2, o2 := many.around(x, y)
			assert.InDeltaSlice(t, i1[:], i2[:], 1e-3)
			assert.InDeltaSlice(t, o1[:], o2[:], 1e-3)
		}
	}
}
