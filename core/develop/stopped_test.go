package develop_test

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

// leaving is a picture whose asker leaves while it is read for the second time, once armed: for the mask, just before painting.
type leaving struct {
	isolate.Pyramid
	reads int
	leave func()
}

func (l *leaving) Linear(level int, r raster.Rect) (*raster.RGB, error) {
	if l.reads++; l.leave != nil && l.reads == 2 {
		l.leave()
	}
	return l.Pyramid.Linear(level, r)
}

func TestARenderingThatWasCutShortIsAnErrorAndNoPicture(t *testing.T) {
	pic := raster.NewRGB(64, 48)
	for i := range 64 * 48 {
		pic.Pix[3*i], pic.Pix[3*i+1], pic.Pix[3*i+2] = 0.3+float32(i%7)/100, 0.05, 0.04
	}
	done := make(chan struct{})
	p := &leaving{Pyramid: scenes.NewPyramid(pic)}
	doc := document.Picture{Parts: []document.Part{{ID: "a", Name: "A", Picks: []isolate.Pick{{Kind: "tones", Join: "add", To: 100}},
		Target: document.Target{CSS: "#1d6a72"}, Settings: recolour.Settings{ShadeDepth: 100, Highlights: 100, Strength: 100}}}}
	d, err := develop.Develop(develop.Source{Pyramid: p, Space: colour.SRGB, Done: done}, doc, nil, nil, isolate.Exact)
	require.NoError(t, err)
	all := raster.Rect{X1: 64, Y1: 48}
	_, err = d.Render(0, all)
	require.NoError(t, err)
	p.reads, p.leave = 0, func() { close(done) }
	_, err = d.Render(0, all)
	assert.ErrorIs(t, err, raster.ErrStopped)
}
