package problem_test

import (
	"errors"
	"fmt"
	"testing"

	"github.com/stretchr/testify/assert"

	"episema/core/artwork"
	"episema/core/colour"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/palette"
	"episema/core/recolour"
	"episema/imagefile"
	"episema/internal/problem"
	"episema/store"
)

// What comes from those who asked is theirs to mend, also wrapped; what went wrong here is not.
func TestWhoCanMendWhat(t *testing.T) {
	_, colourErr := colour.ParseCSS("no colour")
	_, paletteErr := palette.Read("", []byte("one,two\n1,2"))
	_, documentErr := document.Parse([]byte("{"))
	_, drawingErr := artwork.Parse([]byte("<svg"))
	pickErr := isolate.Validate([]isolate.Pick{{Kind: "sweeep"}})
	for _, err := range []error{colourErr, paletteErr, documentErr, drawingErr, pickErr, recolour.ErrEmptyMask, &imagefile.Rejected{}, &problem.Input{}} {
		assert.True(t, problem.IsMendable(err), "%T", err)
		assert.True(t, problem.IsMendable(fmt.Errorf("the picture: %w", err)), "%T", err)
	}
	for _, err := range []error{nil, errors.New("the disk is full"), store.ErrNotFound, store.ErrStale} {
		assert.False(t, problem.IsMendable(err), "%v", err)
	}
}
