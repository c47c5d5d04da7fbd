package artwork

import (
	"fmt"
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// Curves enclose what their chord and their Bernstein polynomials do, wherever they begin and however they lean. The reference is de
// Casteljau's construction, in a great many steps.
func TestCurvesEncloseTheirArea(t *testing.T) {
	enclosed := func(points ...[2]float64) float64 {
		const n = 5000
		at := func(u float64) [2]float64 {
			p := append([][2]float64(nil), points...)
			for len(p) > 1 {
				for i := range p[1:] {
					p[i] = [2]float64{p[i][0] + u*(p[i+1][0]-p[i][0]), p[i][1] + u*(p[i+1][1]-p[i][1])}
				}
				p = p[:len(p)-1]
			}
			return p[0]
		}
		sum := 0.0
		for i := range n {
			a, b := at(float64(i)/n), at(float64(i+1)/n)
			sum += a[0]*b[1] - b[0]*a[1]
		}
		a, b := points[len(points)-1], points[0]
		return math.Abs(sum+a[0]*b[1]-b[0]*a[1]) / 2
	}
	for d, want := range map[string]float64{
		"M10 60C20 10 70 20 90 70Z":       enclosed([2]float64{10, 60}, [2]float64{20, 10}, [2]float64{70, 20}, [2]float64{90, 70}),
		"M30 80C-20 60 60 10 40 5z":       enclosed([2]float64{30, 80}, [2]float64{-20, 60}, [2]float64{60, 10}, [2]float64{40, 5}),
		"M12 70Q35 5 80 60z":              enclosed([2]float64{12, 70}, [2]float64{35, 5}, [2]float64{80, 60}),
		"M70 9q-80 30 3 85z":              enclosed([2]float64{70, 9}, [2]float64{-10, 39}, [2]float64{73, 94}),
		"M5 90H5V40C5 40 30 0 60 40L5 40": enclosed([2]float64{5, 40}, [2]float64{5, 40}, [2]float64{30, 0}, [2]float64{60, 40}),
		"M10 60s10-50 80 10z":             enclosed([2]float64{10, 60}, [2]float64{10, 60}, [2]float64{20, 10}, [2]float64{90, 70}), // nothing to be smooth with
	} {
		drawing, err := Parse(fmt.Appendf(nil, `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 100"><path fill="#123456" d="%s"/></svg>`, d))
		require.NoError(t, err)
		require.Len(t, drawing.Items, 1, d)
		assert.InEpsilon(t, want, drawing.Items[0].Area, 0.05, d) // six chords stay within the curve
	}
}

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
