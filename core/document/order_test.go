package document

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/isolate"
)

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
	order, err := p.Order()
	require.NoError(t, err)
	assert.Equal(t, []int{1, 0}, order)
}
