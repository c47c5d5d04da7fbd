package document

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/isolate"
	"episema/core/raster"
)

func row(v ...uint16) *raster.Mask { return &raster.Mask{W: len(v), H: 1, Pix: v} }

func TestNoTwoPartsClaimAPixelUnlessAsked(t *testing.T) {
	const all, half = raster.Whole, raster.Whole / 2
	parts := []Part{{ID: "body"}, {ID: "yoke", Within: "body"}, {ID: "seam", Within: "yoke"}, {ID: "cap"}, {ID: "light", Overlap: true}, {ID: "empty"}}
	raw := []*raster.Mask{row(all, all, all, half, 0), row(0, all, all, all, all), row(0, 0, all, 0, all), row(0, 0, 0, half, all), row(all, all, all, all, all), nil}
	got := Claims(parts, raw)
	assert.Equal(t, []uint16{all, 0, 0, 0, 0}, got[0].Pix, "the rest of the body")
	assert.Equal(t, []uint16{0, all, 0, half, 0}, got[1].Pix, "the yoke, bounded by the body, less its seam")
	assert.Equal(t, []uint16{0, 0, all, 0, 0}, got[2].Pix)
	assert.Equal(t, []uint16{0, 0, 0, half, all}, got[3].Pix, "beside the body it has what both want")
	assert.Equal(t, raw[4].Pix, got[4].Pix, "what may overlap takes and loses nothing")
	assert.Nil(t, got[5])
	assert.Equal(t, uint16(all), raw[0].Pix[1], "masks that came in are not changed")
	alone := []*raster.Mask{row(all, half)}
	assert.Same(t, alone[0], Claims(parts[:1], alone)[0])
}

func TestPartsThatReuseEachOther(t *testing.T) {
	settings := `"settings":{"highlights":100,"strength":100}`
	for want, doc := range map[string]string{
		"reuses itself":           `{"parts":[{"id":"a","name":"A","picks":[{"kind":"part","join":"add","part":"b"}],` + settings + `},{"id":"b","name":"B","within":"a",` + settings + `}]}`,
		"is not in this picture":  `{"parts":[{"id":"a","name":"A","within":"gone",` + settings + `}]}`,
		"edge: feather is -1":     `{"parts":[{"id":"a","name":"A","edge":{"feather":-1},` + settings + `}]}`,
		"brought into the pictur": `{"parts":[{"id":"a","name":"A","picks":[{"kind":"mask","join":"add","file":"../x.png"}],` + settings + `}]}`,
	} {
		_, err := Parse([]byte(doc))
		assert.ErrorContains(t, err, want)
	}
	p := Picture{Parts: []Part{{ID: "rest", Name: "R", Within: "a", Picks: []isolate.Pick{{Kind: "part", Join: "add", Part: "a"}}}, {ID: "a", Name: "A"}}}
	order, err := p.order()
	require.NoError(t, err)
	assert.Equal(t, []int{1, 0}, order)
}
