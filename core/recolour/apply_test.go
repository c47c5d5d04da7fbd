package recolour

import (
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"

	"episema/core/raster"
)

// Whether a block is summed up whole or its pixels are looked around one by one changes no colour, nor does going over to the other.
func TestNeighboursAreTheSameEitherWay(t *testing.T) {
	const side = 60
	r := rand.New(rand.NewPCG(1, 2))
	pic, mask := raster.NewRGB(side, side), raster.NewMask(side, side)
	for i := range mask.Pix {
		mask.Pix[i] = []uint16{0, raster.Whole, raster.Whole / 2}[r.IntN(3)]
		if i%side > side/2 {
			mask.Pix[i] = raster.Whole // with nothing outside near
		}
		for c := range 3 {
			pic.Pix[3*i+c] = r.Float32()
		}
	}
	block := raster.Rect{X0: 12, Y0: 14, X1: 44, Y1: 46}
	few, many := newNeighbours(pic, mask, block, fewLooks), newNeighbours(pic, mask, block, fewLooks+1)
	assert.Nil(t, few.in[0])
	assert.NotNil(t, many.in[0])
	near := 0
	for y := block.Y0; y < block.Y1; y++ {
		for x := block.X0; x < block.X1; x++ {
			i1, o1 := few.around(x, y)
			i2, o2 := many.around(x, y)
			assert.Equal(t, i1, i2)
			assert.Equal(t, o1, o2)
			if o1[3] > 0 {
				near++
			}
		}
	}
	assert.NotNil(t, few.in[0], "it goes over where many are asked about")
	assert.Greater(t, near, 100)
	assert.Less(t, near, block.W()*block.H()-100)
}
