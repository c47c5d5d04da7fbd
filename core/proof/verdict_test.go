package proof

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
)

// verdict measures the planted scene's one part with something about it changed.
func verdict(t *testing.T, set func(p *document.Part)) Part {
	t.Helper()
	d, _ := planted(t, 0)
	part := d.Parts[0].Part
	set(&part)
	again, err := develop.Develop(d.Source, document.Picture{Parts: []document.Part{part}}, nil, nil, isolate.Exact)
	require.NoError(t, err)
	parts, outside, err := Measure(again)
	require.NoError(t, err)
	assert.Zero(t, outside)
	return parts[0]
}

// Each figure of the proof has a case in which it must be bad.
func TestEveryVerdictHasACaseOfItsOwn(t *testing.T) {
	good := verdict(t, func(*document.Part) {})
	assert.Equal(t, "within", good.State)
	assert.Zero(t, good.OutOfGamut)
	assert.Less(t, good.Beyond, 0.1)

	half := verdict(t, func(p *document.Part) { p.Settings.Strength = 40 })
	assert.Equal(t, "outside", half.State, "two fifths of the way is not there")
	assert.Greater(t, half.Whole.Median, 5.0)

	strict := verdict(t, func(p *document.Part) { p.Target.Tolerance = 0.01 })
	assert.Equal(t, "outside", strict.State, "a tolerance that nothing meets")

	vivid := verdict(t, func(p *document.Part) { p.Target.CSS = "color(display-p3 0 1 0)" })
	assert.Equal(t, "unreachable", vivid.State)
	assert.Greater(t, vivid.Beyond, 2.0)
	assert.Greater(t, vivid.OutOfGamut, 20.0, "percent of its pixels")

	left := verdict(t, func(p *document.Part) { p.Target = document.Target{} })
	assert.Equal(t, "as it is", left.State)
	assert.Greater(t, left.Share, 0.0)
}

func TestWhatChangedOutsideIsCounted(t *testing.T) {
	d, _ := planted(t, 0)
	r, err := d.Render(0, raster.Rect{X1: 420, Y1: 320})
	require.NoError(t, err)
	require.Zero(t, ChangedOutside(r))
	for _, i := range []int{5, 420*10 + 3, 420*300 + 400} { // far from the disc
		require.Zero(t, r.Masks[0].Pix[i])
		r.After.Pix[3*i+1] += 1e-3
	}
	assert.Equal(t, 3, ChangedOutside(r))
	r.After.Pix[3*(160*420+200)] += 0.1 // in the middle of the part
	assert.Equal(t, 3, ChangedOutside(r), "what a part changes is meant")
	r.Meant = make([]bool, 420*320)
	r.Meant[5] = true
	assert.Equal(t, 2, ChangedOutside(r), "and so is what a mend does")
}
