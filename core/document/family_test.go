package document

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/artwork"
	"episema/core/colour"
)

// A family that is limited to fills or to strokes, or to boards, takes those and nothing else of its colours; the others go to
// a family that is not limited, or stay.
func TestAFamilysLimitsAreKept(t *testing.T) {
	d, err := artwork.Parse([]byte(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 100 50" width="100" height="50">
		<rect x="5" y="5" width="20" height="20" fill="#aa1122"/><path d="M30 5h20" stroke="#aa1122" fill="none"/><rect x="60" y="5" width="20" height="20" fill="#aa1122" stroke="#aa1122"/></svg>`))
	require.NoError(t, err)
	family := func(prop, css string) Part {
		return Part{ID: prop + css, Name: prop, Target: Target{CSS: css}, Family: &Family{Main: "#aa1122", Prop: prop, Members: []artwork.Member{{Colour: "#aa1122"}}}}
	}
	hex := func(parts ...Part) (out []string) {
		w, err := (&Picture{Parts: parts}).Drawn(d)
		require.NoError(t, err)
		for i := range d.Items {
			s := d.Items[i].Prop + " as it is"
			if to := w.To[i]; to != nil {
				s = d.Items[i].Prop + " " + colour.Hex(*to)
			}
			out = append(out, s)
		}
		return out
	}
	assert.Equal(t, []string{"fill #1d6a72", "stroke as it is", "fill #1d6a72", "stroke as it is"}, hex(family("fill", "#1d6a72")))
	assert.Equal(t, []string{"fill as it is", "stroke #1d6a72", "fill as it is", "stroke #1d6a72"}, hex(family("stroke", "#1d6a72")))
	assert.Equal(t, []string{"fill #d9a441", "stroke #1d6a72", "fill #d9a441", "stroke #1d6a72"}, hex(family("", "#d9a441"), family("stroke", "#1d6a72")), "the limited one comes first, wherever it stands")
	held := family("", "#d9a441")
	held.Hidden = true
	assert.Equal(t, []string{"fill as it is", "stroke as it is", "fill as it is", "stroke as it is"}, hex(held))
}
