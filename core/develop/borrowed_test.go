package develop

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"episema/core/raster"
)

// What is painted in is lent again, as large as it is asked for; but what is larger than a screen is let go of: small views would hold on to it.
func TestWhatIsLentAgainIsNoLargerThanAScreen(t *testing.T) {
	for range 20 {
		(&Rendered{After: raster.NewRGB(4096, 2305)}).Release()
		(&Rendered{After: raster.NewRGB(30, 20)}).Release()
	}
	for range 40 {
		p := borrowed(10, 6)
		assert.Equal(t, [3]int{10, 6, 3 * 10 * 6}, [3]int{p.W, p.H, len(p.Pix)})
		assert.LessOrEqual(t, cap(p.Pix), lent)
	}
	assert.Len(t, borrowed(300, 200).Pix, 3*300*200)
}
