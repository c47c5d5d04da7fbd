package develop

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/isolate"
	"episema/core/raster"
)

// What differs in a stroke is another selection; what was read twice is the same one.
func TestPicksThatDifferHaveKeysThatDo(t *testing.T) {
	stroke := func(pressure []float64, points ...[2]float64) isolate.Stroke {
		return isolate.Stroke{Stroke: raster.Stroke{Radius: 3, Points: points}, Pressure: pressure}
	}
	of := func(strokes ...isolate.Stroke) []isolate.Pick {
		return []isolate.Pick{{Kind: "brush", Join: "add", Strokes: strokes}}
	}
	a, b, c := [2]float64{1, 2}, [2]float64{3, 4}, [2]float64{5, 6}
	wide := of(stroke(nil, a, b), stroke(nil, c))
	wide[0].Strokes[1].Radius = 4
	away := of(stroke(nil, a, b), stroke(nil, c))
	away[0].Join = "take away"
	all := [][]isolate.Pick{nil, of(stroke(nil, a, b), stroke(nil, c)), of(stroke(nil, a), stroke(nil, b, c)), of(stroke(nil, b, a), stroke(nil, c)), of(stroke(nil, a, b, c)),
		of(stroke([]float64{0.5, 1}, a, b), stroke(nil, c)), of(stroke([]float64{0.5, 0.9}, a, b), stroke(nil, c)), wide, away}
	// Marks have two lists more.
	for _, q := range []isolate.Pick{{Inside: of(stroke(nil, a, b))[0].Strokes}, {Inside: of(stroke(nil, a, c))[0].Strokes}, {Outside: of(stroke(nil, a, b))[0].Strokes}, {Outside: of(stroke(nil, a, c))[0].Strokes}} {
		q.Kind, q.Join = "marks", "add"
		all = append(all, []isolate.Pick{q})
	}
	seen := map[string]int{}
	for i, picks := range all {
		before, err := json.Marshal(picks)
		require.NoError(t, err)
		key := keyOf("isolated", keyOfPicks(picks))
		if at, ok := seen[key]; ok {
			t.Errorf("%d has the key of %d", i, at)
		}
		seen[key] = i
		after, err := json.Marshal(picks)
		require.NoError(t, err)
		require.Equal(t, string(before), string(after), "and stays what it was")
		var again []isolate.Pick
		require.NoError(t, json.Unmarshal(before, &again))
		assert.Equal(t, key, keyOf("isolated", keyOfPicks(again)), "%d read again", i)
	}
}
