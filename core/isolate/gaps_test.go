package isolate

import (
	"math/rand"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/raster"
)

// TestNarrowGapsAreClosedWhereTheyAreTheThings has a red sheet, labelled but for four narrow gaps that are open at the sheet's lower edge: a glint on it,
// red that was not reached, the ground, and a glint that a stroke took away.
func TestNarrowGapsAreClosedWhereTheyAreTheThings(t *testing.T) {
	const w, h = 320, 240
	type gap struct {
		x      int
		colour [3]float32
		closed bool
	}
	ground := [3]float32{0.25, 0.2, 0.12}
	gaps := []gap{
		{80, [3]float32{0.75, 0.6, 0.55}, true},
		{130, [3]float32{0.4, 0.03, 0.03}, true},
		{180, ground, false},
		{230, [3]float32{0.4, 0.55, 0.8}, false},
	}
	for _, wide := range []int{3, 14} {
		rnd := rand.New(rand.NewSource(3))
		p := raster.NewRGB(w, h)
		l := &Labels{0, w, h, make([]uint8, w*h)}
		for i := range l.In {
			x, y := i%w, i/w
			c := ground
			if x >= 40 && x < 280 && y >= 30 && y < 200 {
				c, l.In[i] = [3]float32{0.4, 0.03, 0.03}, 1
			}
			for _, g := range gaps {
				if x >= g.x && x < g.x+wide && y >= 90 && y < 200 {
					c, l.In[i] = g.colour, 0
				}
			}
			for k := range 3 {
				p.Pix[3*i+k] = max(0, c[k]+0.01*float32(rnd.NormFloat64()))
			}
		}
		away := []seeded{{stroke(2, [2]float64{231, 120}, [2]float64{231, 150}), false}}
		c := &compiler{p: newPyramid(p)}
		o, err := c.withoutGaps(l, func(w, h, level int) []uint8 { return rasterSeeds(away, w, h, level) })
		require.NoError(t, err)
		for _, g := range gaps {
			closed := g.closed && wide == 3
			assert.Equal(t, closed, o.In[140*w+g.x+wide/2] == 1, "%d wide at %d", wide, g.x)
		}
		for i, v := range l.In {
			require.LessOrEqual(t, v, o.In[i], "nothing is taken away")
			if y := i / w; y < 30 || y >= 200 {
				require.Zero(t, o.In[i], "nothing is added beside the thing")
			}
		}
	}
}
