package document

import (
	"encoding/json"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

const good = `{"parts":[{"id":"a","name":"Mug body","picks":[{"kind":"sweep","join":"add","strokes":[{"radius":18,"points":[[620,600],[1000,640]]}]}],
	"target":{"css":"lab(41 -21 -9)","tolerance":2},"own":"#9c2a1e","match":[10,20],"settings":{"shade_depth":8,"highlights":82,"strength":94}}]}`

func TestRoundTrip(t *testing.T) {
	p, err := Parse([]byte(good))
	require.NoError(t, err)
	b, err := json.Marshal(p)
	require.NoError(t, err)
	assert.JSONEq(t, good, string(b))
}

func TestWrongDocumentsSayWhere(t *testing.T) {
	for name, c := range map[string]struct{ doc, want string }{
		"not JSON":       {`{`, "JSON"},
		"misspelt field": {`{"parts":[{"id":"a","nmae":"x"}]}`, "nmae"},
		"no name":        {`{"parts":[{"id":"a","name":" ","settings":{"shade_depth":0,"highlights":100,"strength":100}}]}`, "no name"},
		"id twice":       {`{"parts":[{"id":"a","name":"x","settings":{"highlights":1}},{"id":"a","name":"y"}]}`, "twice"},
		"colour":         {`{"parts":[{"id":"a","name":"x","target":{"css":"#12"}}]}`, `part "x"`},
		"setting":        {`{"parts":[{"id":"a","name":"x","settings":{"strength":101}}]}`, "strength is 101"},
		"pick":           {`{"parts":[{"id":"a","name":"x","picks":[{"kind":"sweep","join":"add"}]}]}`, "pick 1"},
		"mask file":      {`{"parts":[{"id":"a","name":"x","picks":[{"kind":"mask","join":"add","file":"/etc/passwd"}]}]}`, "brought into the picture"},
	} {
		_, err := Parse([]byte(c.doc))
		require.Error(t, err, name)
		assert.Contains(t, err.Error(), c.want, name)
	}
}

func FuzzParse(f *testing.F) {
	f.Add([]byte(good))
	f.Fuzz(func(t *testing.T, b []byte) {
		p, err := Parse(b)
		if err != nil {
			return
		}
		out, err := json.Marshal(p)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := Parse(out); err != nil {
			t.Fatalf("a document that was good is not after storing: %v", err)
		}
	})
}
