package api_test

import (
	"fmt"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/api"
)

// Places for a cover are looked for in a photo; what encloses nothing, and a drawing, are refused with a word.
func TestCoversAreLookedForInPhotos(t *testing.T) {
	srv, _ := serve(t)
	var job api.Job
	require.Equal(t, 201, call(t, "POST", srv.URL+"/api/jobs", map[string]string{"name": "A job"}, &job))
	add := func(file, name string) string {
		data, err := os.ReadFile(file)
		require.NoError(t, err)
		var sum api.PictureSummary
		require.Equal(t, 201, call(t, "POST", fmt.Sprintf("%s/api/jobs/%s/pictures?name=%s", srv.URL, job.Id, name), data, &sum))
		return srv.URL + "/api/pictures/" + sum.Id.String() + "/covers"
	}
	url := add("../demo/pictures/depot-mug.png", "depot-mug.png")
	node := func(x, y float64) map[string]any { return map[string]any{"p": []float64{x, y}} }
	body := func(nodes ...any) map[string]any {
		return map[string]any{"patch": map[string]any{"nodes": nodes, "shift": []float64{0, 0}, "feather": 3}}
	}
	var found []api.FoundCover
	require.Equal(t, 200, call(t, "POST", url, body(node(1260, 110), node(1400, 110), node(1400, 210), node(1260, 210)), &found))
	require.NotEmpty(t, found)
	assert.Len(t, found[0].Shift, 2)
	require.Equal(t, 200, call(t, "POST", url, body(node(-50, -50), node(1900, -50), node(1900, 1300), node(-50, 1300)), &found))
	assert.Empty(t, found, "all of the picture cannot be covered")
	assert.GreaterOrEqual(t, call(t, "POST", url, body(node(0, 0), node(9, 9)), nil), 400)
	assert.Equal(t, 422, call(t, "POST", url, body(node(1e9, 0), node(9, 9), node(9, 0)), nil))
	assert.Equal(t, 422, call(t, "POST", add("../demo/artwork/icon-sheet.svg", "poster.svg"), body(node(0, 0), node(9, 9), node(9, 0)), nil))
}
