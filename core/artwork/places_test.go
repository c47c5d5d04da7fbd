package artwork

import (
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A drawing in a drawing is a board where its own coordinates and what it lies in put it; without a size it is as large as the whole.
func TestANestedDrawingsBoardIsWhereItIsSeen(t *testing.T) {
	d, err := Parse([]byte(`<svg viewBox="0 0 200 100" transform="translate(5 7)">
		<svg id="a" x="10" y="20" width="30" height="40"><rect width="4" height="4" fill="#123456"/></svg>
		<svg id="b" x="50%" y="10%"><rect width="4" height="4" fill="#123456"/></svg></svg>`))
	require.NoError(t, err)
	var got [][4]float64
	for _, b := range d.Boards() {
		got = append(got, [4]float64{b.X, b.Y, b.W, b.H})
	}
	assert.Equal(t, [][4]float64{{15, 27, 30, 40}, {105, 17, 200, 100}}, got)
}

// By the specification's "preserveAspectRatio" at its default; a box that is no rectangle says nothing.
func TestANestedViewBoxScalesWhatIsInIt(t *testing.T) {
	box := func(attributes string) [4]float64 {
		t.Helper()
		d, err := Parse(fmt.Appendf(nil, `<svg viewBox="0 0 200 100"><svg x="10" y="20" width="60" height="40" %s><rect x="4" y="6" width="2" height="3" fill="#123456"/></svg></svg>`, attributes))
		require.NoError(t, err)
		require.Len(t, d.Items, 1)
		x0, y0, x1, y1 := d.Box(d.Items[0].Element)
		return [4]float64{x0, y0, x1, y1}
	}
	plain := [4]float64{14, 26, 16, 29}
	assert.InDeltaSlice(t, plain[:], sliceOf(box("")), 1e-9)
	assert.InDeltaSlice(t, []float64{10 + 4*3, 20 + 4*4, 10 + 4*5, 20 + 4*7}, sliceOf(box(`viewBox="1 2 15 10"`)), 1e-9)
	assert.InDeltaSlice(t, []float64{10 + 10 + 4*3, 20 + 4*4, 10 + 10 + 4*5, 20 + 4*7}, sliceOf(box(`viewBox="1 2 10 10"`)), 1e-9, "as large as the lesser of the two sides allows, and in the middle of the other")
	assert.InDeltaSlice(t, []float64{10 + 4*3, 20 + 10 + 4*4, 10 + 4*5, 20 + 10 + 4*7}, sliceOf(box(`viewBox="1 2 15 5"`)), 1e-9)
	for _, none := range []string{`viewBox="0 0 0 10"`, `viewBox="0 0 10 0"`, `viewBox="0 0 -5 10"`, `viewBox="1 2 3"`} {
		assert.InDeltaSlice(t, plain[:], sliceOf(box(none)), 1e-9, none)
	}
}

func sliceOf(b [4]float64) []float64 { return b[:] }

// About: half an em a letter, three quarters of one high, and less than a third of it ink.
func TestTextTakesTheRoomOfItsLetters(t *testing.T) {
	d, err := Parse([]byte(`<svg viewBox="0 0 200 100"><g font-size="20"><text x="10" y="50" fill="#123456">abcdefgh</text></g></svg>`))
	require.NoError(t, err)
	require.Len(t, d.Items, 1)
	x0, y0, x1, y1 := d.Box(d.Items[0].Element)
	assert.InDeltaSlice(t, []float64{10, 35, 90, 50}, []float64{x0, y0, x1, y1}, 1e-9)
	assert.InDelta(t, 0.3*80*15, d.Items[0].Area, 1e-6)
}

// The colour that stands for a family is the one of which most is seen, not the one that comes first; of two as large the more vivid.
func TestTheMainColourIsTheOneThatIsSeenMost(t *testing.T) {
	main := func(src string) string {
		t.Helper()
		d, err := Parse([]byte(`<svg viewBox="0 0 100 100">` + src + `</svg>`))
		require.NoError(t, err)
		f, err := Gather(d.Colours, 1, nil)
		require.NoError(t, err)
		require.Len(t, f, 1)
		return f[0].Main
	}
	assert.Equal(t, "#1c6b73", main(`<rect width="5" height="5" fill="#1d6a72"/><rect width="60" height="60" fill="#1c6b73"/><rect width="4" height="4" fill="#1d6a71"/>`))
	assert.Equal(t, "#1c6b73", main(`<rect width="60" height="60" fill="#1c6b73"/><rect width="5" height="5" fill="#1d6a72"/><rect width="4" height="4" fill="#1d6a71"/>`))
	assert.Equal(t, "#a02020", main(`<rect width="40" height="40" fill="#805050"/><rect width="40" height="40" fill="#a02020"/>`))
	assert.Equal(t, "#a02020", main(`<rect width="40" height="40" fill="#a02020"/><rect width="40" height="40" fill="#805050"/>`))
}

func TestAFigureThatIsHardlyBelowNoughtIsNought(t *testing.T) {
	assert.Equal(t, "0", short(-0.0001))
	assert.Equal(t, "-0.001", short(-0.0009))
	assert.Equal(t, "12.346", short(12.34567))
}

func TestPixelsThatAreNoPictureAreNoFlatDrawing(t *testing.T) {
	for _, q := range []struct{ w, h, n int }{{0, 5, 0}, {5, 0, 0}, {2, 2, 15}, {2, 2, 17}, {MostFlat, 2, 16}} {
		_, ok := NewFlat(make([]byte, q.n), q.w, q.h)
		assert.False(t, ok, "%d x %d of %d", q.w, q.h, q.n)
	}
}
