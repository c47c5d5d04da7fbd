package recolour_test

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
	"episema/core/recolour"
)

// TestAMaskThatSpilledOverLeavesNoFringe recolours a dark cover whose mask spilled over on pale pages, by as little as an edge is wide and by
// more. The two rows in which the camera mixed both, and those that the mask spilled over on, are what they would be of a cover of that
// colour.
func TestAMaskThatSpilledOverLeavesNoFringe(t *testing.T) {
	own := colour.RGB{0.02, 0.021, 0.023}
	pic := book(own, nil)
	for name, goal := range map[string]colour.RGB{"red": {0.5, 0.03, 0.05}, "white": {0.85, 0.85, 0.83}} {
		truth := book(goal, nil)
		for by, most := range map[int]float64{0: 8.5, 1: 7.5, 2: 3.5, 4: 2, 12: 1.2} { // twice as much and more as long as a mixed pixel counts as the cover lit strongly
			mask := bookMask(by)
			out, plan, _ := apply(t, pic, mask, recolour.Request{Goal: goal, Own: &own, Settings: recolour.Defaults()})
			assert.Less(t, bookOff(truth, out, bookEdge-1, bookEdge+by+1), most, "%s, by %d", name, by)
			assert.Less(t, bookOff(pic, out, bookEdge+by+1, bookEdge+by+1), 1.0, "the mask's own edge, %s, by %d", name, by)
			changed := plan.Changed(pic, mask)
			for i, v := range changed.Pix {
				moved := 0.0
				for c := range 3 {
					moved = max(moved, math.Abs(float64(out.Pix[3*i+c]-pic.Pix[3*i+c])))
				}
				require.Equal(t, v < raster.Whole/200, moved < 0.004, "what is said to be changed is: %d %d %g", i%bookW, i/bookW, moved)
			}
		}
	}
}

// TestARimThatMirrorsTheGroundIsTheParts recolours a red thing whose mask is right and whose last two rows mirror what it lies on, or something
// that is not in the picture. They look foreign, and no red is left in them.
func TestARimThatMirrorsTheGroundIsTheParts(t *testing.T) {
	own, goal := colour.RGB{0.3, 0.02, 0.02}, colour.RGB{0.02, 0.1, 0.12}
	for name, light := range map[string]colour.RGB{"what is beside it": bookPale, "something else": {0.25, 0.30, 0.10}} {
		rim := func(c colour.RGB) *colour.RGB {
			m := colour.RGB{}
			for k := range m {
				m[k] = 0.4*c[k] + 0.6*light[k]
			}
			return &m
		}
		pic, truth := book(own, rim(own)), book(goal, rim(goal))
		out, _, _ := apply(t, pic, bookMask(-1), recolour.Request{Goal: goal, Own: &own, Settings: recolour.Defaults()})
		for y := bookEdge - 2; y < bookEdge; y++ {
			for x := 20; x < bookW-20; x++ {
				a, b := labAt(truth, y*bookW+x), labAt(out, y*bookW+x)
				require.Less(t, b[1]-a[1], 11.0, "%s: red is left at %d %d", name, x, y)
			}
		}
		assert.Less(t, bookOff(truth, out, bookEdge-2, bookEdge-1), 10.0, name)
	}
}

// TestASoftEdgeIsBelieved recolours a red thing whose edge is soft over ten rows and lies in its own shadow, where it looks foreign. The mask's
// shares are believed: no red is left where it is thin.
func TestASoftEdgeIsBelieved(t *testing.T) {
	own, goal := colour.RGB{0.3, 0.02, 0.02}, colour.RGB{0.02, 0.1, 0.12}
	share := func(y int) float64 { return max(0, min(1, float64(bookEdge-y)/10)) }
	made := func(cover colour.RGB) *raster.RGB {
		pic := book(cover, &cover)
		for i := range bookW * bookH {
			if a := share(i / bookW); a < 1 {
				for c := range 3 {
					pic.Pix[3*i+c] = float32(0.25 * (a*cover[c] + (1-a)*bookPale[c]))
				}
			}
		}
		return pic
	}
	mask := bookMask(0)
	for i := range mask.Pix {
		mask.Pix[i] = uint16(float64(mask.Pix[i]) * share(i/bookW))
	}
	pic, truth := made(own), made(goal)
	out, _, _ := apply(t, pic, mask, recolour.Request{Goal: goal, Own: &own, Settings: recolour.Defaults()})
	assert.Less(t, bookOff(truth, out, bookEdge-4, bookEdge-1), 0.5) // 7 as long as the colours beside it were believed more
}

// TestAThinGlintIsTheParts recolours a dark thing with a glint two pixels wide on ground of the glint's colour. It becomes a glint on a thing of the
// new colour; what looks so and is wider is something else.
func TestAThinGlintIsTheParts(t *testing.T) {
	own, goal, light := colour.RGB{0.035, 0.05, 0.05}, colour.RGB{0.5, 0.28, 0.01}, colour.RGB{0.3, 0.3, 0.3}
	for _, wide := range []int{2, 8} {
		made := func(cover colour.RGB) *raster.RGB {
			pic := book(cover, nil)
			for i := range bookW * bookH {
				for c, v := range light {
					switch x, y := i%bookW, i/bookW; {
					case y >= 99 && y < 99+wide && x >= 40 && x < 200:
						pic.Pix[3*i+c] = float32(cover[c] + v)
					case y > bookEdge:
						pic.Pix[3*i+c] = float32(own[c] + v)
					}
				}
			}
			return pic
		}
		pic, truth := made(own), made(goal)
		out, plan, _ := apply(t, pic, bookMask(0), recolour.Request{Goal: goal, Own: &own, Settings: recolour.Defaults()})
		said := plan.Changed(pic, bookMask(0)).Pix[(99+wide/2)*bookW+120]
		if wide == 2 {
			assert.Less(t, bookOff(truth, out, 99, 100), 5.0)
			assert.EqualValues(t, raster.Whole, said)
		} else {
			assert.Less(t, bookOff(pic, out, 101, 104), 10.0) // 28 as a glint
			assert.Less(t, said, uint16(raster.Whole/2))
		}
	}
}

const (
	bookW, bookH = 240, 160
	bookEdge     = 110 // the last row of the cover
)

var bookPale = colour.RGB{0.38, 0.36, 0.30}

// book is a cover of a colour on pale pages, a little noisy, and the two rows between them mixed; with a rim, that is what its last two rows are,
// and nothing is mixed.
func book(cover colour.RGB, rim *colour.RGB) *raster.RGB {
	r := rand.New(rand.NewPCG(5, 5))
	pic := raster.NewRGB(bookW, bookH)
	for i := range bookW * bookH {
		y := i / bookW
		k, a := 0.95+0.1*r.Float64(), max(0, min(1, (bookEdge+1-float64(y))/3))
		c := cover
		if rim != nil {
			if a = 0; y < bookEdge {
				a = 1
			}
			if y >= bookEdge-2 {
				c = *rim
			}
		}
		for ch := range 3 {
			pic.Pix[3*i+ch] = float32(k * (a*c[ch] + (1-a)*bookPale[ch]))
		}
	}
	return pic
}

// bookMask is a mask that is wider than the cover by so many rows and half a one.
func bookMask(by int) *raster.Mask {
	mask := raster.NewMask(bookW, bookH)
	for i := range mask.Pix {
		if x, y := i%bookW, i/bookW; x >= 10 && x < bookW-10 && y >= 10 && y <= bookEdge+by+1 {
			if mask.Pix[i] = raster.Whole; y > bookEdge+by {
				mask.Pix[i] /= 2
			}
		}
	}
	return mask
}

// bookOff is the mean CIEDE2000 between two pictures in some rows, away from their sides.
func bookOff(a, b *raster.RGB, from, to int) float64 {
	var off, n float64
	for y := from; y <= to; y++ {
		for x := 20; x < bookW-20; x++ {
			off += colour.DeltaE00(labAt(a, y*bookW+x), labAt(b, y*bookW+x))
			n++
		}
	}
	return off / n
}
