package artwork

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Arcs go along their ellipse: areas and lengths by the formulas of the circle and the ellipse.
func TestArcsFollowTheirEllipse(t *testing.T) {
	const circle = math.Pi * 100
	for d, want := range map[string]float64{
		"M10 20a10 10 0 1 0 20 0a10 10 0 1 0-20 0z":         circle,
		"M10 20A10 10 0 0 1 30 20A10 10 0 0 1 10 20Z":       circle,
		"M10 20a5 5 0 0 1 20 0z":                            circle / 2,     // radii too small are enlarged
		"M0 0A10 20 0 0 1 20 0A10 20 0 0 1 0 0":             2 * circle,     // an ellipse
		"M50 50A20 10 90 0 1 50 90A20 10 90 0 1 50 50":      2 * circle,     // turned
		"M40 40L50 40A10 10 0 0 1 40 50Z":                   circle / 4,     // a quarter,
		"M40 40L50 40A10 10 0 1 0 40 50Z":                   3 * circle / 4, // and the long way round
		"M0 0A10 10 0 01 20 0z":                             circle / 2,     // flags without anything between them
		"M0 0A0 10 0 0 1 20 0L20 10z":                       100,            // no radius is a line
		"M0 0q10 20 20 0t20 0V-10z":                         200,            // smooth curves go on to the other side: they make up for each other
		"M0 0c0 0 10 10 20 10s20-10 20-10z":                 math.NaN(),     // is read to its end, whatever its area
		"M0 0L10 0L10 10 0 10ZM2 2L2 8L8 8L8 2Z nonsense 3": 100 - 36,       // a hole, and what is in error ends it
		"m5 5h10v10h-10zl-5-5":                              100,            // after Z it goes on at the start
	} {
		drawing, err := Parse(fmt.Appendf(nil, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><path fill="#123456" d="%s"/></svg>`, d))
		require.NoError(t, err)
		require.Len(t, drawing.Items, 1, d)
		if !math.IsNaN(want) {
			assert.InEpsilon(t, want, drawing.Items[0].Area, 0.012, d)
		}
	}
	// The line of a circle, twice as long for being two wide.
	drawing, err := Parse([]byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><path fill="none" stroke="#123456" stroke-width="2" d="M10 20a10 10 0 1 0 20 0a10 10 0 1 0-20 0z"/></svg>`))
	require.NoError(t, err)
	require.Len(t, drawing.Items, 1)
	assert.InEpsilon(t, 2*2*math.Pi*10, drawing.Items[0].Area, 0.01)
}
