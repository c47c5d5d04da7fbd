package develop_test

import (
	"testing"

	"github.com/stretchr/testify/assert"

	"episema/core/develop"
	"episema/core/document"
	"episema/core/raster"
)

func row(v ...uint16) *raster.Mask { return &raster.Mask{W: len(v), H: 1, Pix: v} }

func TestNoTwoPartsClaimAPixelUnlessAsked(t *testing.T) {
	const all, half = raster.Whole, raster.Whole / 2
	parts := []document.Part{{ID: "body"}, {ID: "yoke", Within: "body"}, {ID: "seam", Within: "yoke"}, {ID: "cap"}, {ID: "light", Overlap: true}, {ID: "empty"}}
	raw := []*raster.Mask{row(all, all, all, half, 0), row(0, all, all, all, all), row(0, 0, all, 0, all), row(0, 0, 0, half, all), row(all, all, all, all, all), nil}
	got := develop.Claims(parts, raw)
	assert.Equal(t, []uint16{all, 0, 0, 0, 0}, got[0].Pix, "the rest of the body")
	assert.Equal(t, []uint16{0, all, 0, half, 0}, got[1].Pix, "the yoke, bounded by the body, less its seam")
	assert.Equal(t, []uint16{0, 0, all, 0, 0}, got[2].Pix)
	assert.Equal(t, []uint16{0, 0, 0, half, all}, got[3].Pix, "beside the body it has what both want")
	assert.Equal(t, raw[4].Pix, got[4].Pix, "what may overlap takes and loses nothing")
	assert.Nil(t, got[5])
	assert.Equal(t, uint16(all), raw[0].Pix[1], "masks that came in are not changed")
	alone := []*raster.Mask{row(all, half)}
	assert.Same(t, alone[0], develop.Claims(parts[:1], alone)[0])
}
