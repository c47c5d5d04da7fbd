package isolate

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"episema/core/raster"
)

// Wood with a quarter of something black in it is wood by its colour: the models are sure of it, and the share would be none.
func TestARimsShareIsThatOfTheMixtureThoughItsColourIsTheGrounds(t *testing.T) {
	const w, h = 40, 24
	pic := raster.NewRGB(w, h)
	zones, pull := make([]uint8, w*h), make([]float32, w*h)
	wood, black := [3]float32{0.32, 0.17, 0.09}, [3]float32{0.03, 0.03, 0.03}
	share := func(x int) float32 {
		switch {
		case x < 20:
			return 0
		case x == 20:
			return 0.25
		}
		return 1
	}
	for i := range zones {
		x, y := i%w, i/w
		a, light := share(x), 1+0.01*float32(y)
		for c := range 3 {
			pic.Pix[3*i+c] = a*black[c] + (1-a)*light*wood[c]
		}
		zones[i], pull[i] = zoneOpen, -2*pullSure
		if x > 20 {
			pull[i] = 2 * pullSure
		}
		if x < 6 {
			zones[i] = zoneOut
		} else if x > 33 {
			zones[i] = zoneIn
		}
	}
	alpha := solveMatte(pic, zones, pull, nil)
	for y := 2; y < h-2; y++ {
		assert.InDelta(t, 0, alpha[y*w+19], 0.05)
		assert.InDelta(t, 0.25, alpha[y*w+20], 0.08)
		assert.InDelta(t, 1, alpha[y*w+21], 0.05)
	}
}

func TestWhatAColourDecidesBesideTheOtherSide(t *testing.T) {
	const w, h = 9, 9
	sides := func(y int, in func(x int) bool) (row []uint8) {
		pull := make([]float32, w*h)
		for i := range pull {
			if pull[i] = -pullSure; in(i % w) {
				pull[i] = pullSure
			}
		}
		for x := range w {
			row = append(row, decided(pull, w, h, y*w+x))
		}
		return row
	}
	for _, y := range []int{0, 4, h - 1} { // at the frame there are six pixels around one
		edge := sides(y, func(x int) bool { return x >= 4 })
		assert.Equal(t, []uint8{zoneOut, zoneOut, zoneOut, zoneOpen, zoneOpen, zoneIn, zoneIn, zoneIn, zoneIn}, edge, "both pixels of a straight edge stay open, row %d", y)
		strand := sides(y, func(x int) bool { return x == 4 })
		assert.Equal(t, []uint8{zoneOut, zoneOut, zoneOut, zoneOpen, zoneIn, zoneOpen, zoneOut, zoneOut, zoneOut}, strand, "a strand is the thing's, row %d", y)
	}
}
