package api_test

import (
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"regexp"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/api"
)

// inPage finds the picture that a page brings.
var inPage = regexp.MustCompile(`<script type="application/json" id="picture">([^<]*)</script><script>own\(\)</script>`)

// The page of a picture brings it, as the API would answer, whatever it is called; a page that cannot has its script ask for it.
func TestAPicturesPageBringsThePicture(t *testing.T) {
	_, studio := serve(t)
	h := (&api.Server{Studio: studio, Log: slog.New(slog.DiscardHandler), Hosts: []string{"127.0.0.1"}}).Handler(fstest.MapFS{"index.html": {Data: []byte("<head><script>own()</script></head>")}})
	srv := httptest.NewServer(h)
	t.Cleanup(srv.Close)
	page := func(path string) (string, http.Header) {
		res, err := http.Get(srv.URL + path)
		require.NoError(t, err)
		defer res.Body.Close()
		b, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		require.Equal(t, 200, res.StatusCode)
		require.Contains(t, res.Header.Get("Content-Type"), "text/html")
		return string(b), res.Header
	}
	var job api.Job
	require.Equal(t, 201, call(t, "POST", srv.URL+"/api/jobs", map[string]string{"name": "A job"}, &job))
	var p map[string]any
	require.Equal(t, 201, call(t, "POST", fmt.Sprintf("%s/api/jobs/%s/pictures?name=a.png", srv.URL, job.Id), pixels(t, 4, 4), &p))
	path := "/pictures/" + p["id"].(string)
	name := `</script><script>alert("x")</script><!-- ` + "\u2028"
	part := func(id, name string) string {
		b, err := json.Marshal(map[string]any{"id": id, "name": name, "picks": []any{}, "target": map[string]any{"css": "#1d6a72"}, "settings": map[string]any{"shade_depth": 0, "highlights": 100, "strength": 100}})
		require.NoError(t, err)
		return string(b)
	}
	edit := func(base int, parts ...string) {
		require.Equal(t, 200, call(t, "PUT", srv.URL+"/api"+path+"/document", json.RawMessage(fmt.Sprintf(`{"base":%d,"label":"x","document":{"parts":[%s]}}`, base, strings.Join(parts, ","))), nil))
	}
	edit(1, part("a", name))

	html, header := page(path)
	found := inPage.FindStringSubmatch(html)
	require.NotNil(t, found, html)
	var brought, answered map[string]any
	require.NoError(t, json.Unmarshal([]byte(found[1]), &brought))
	require.Equal(t, 200, call(t, "GET", srv.URL+"/api"+path, nil, &answered))
	assert.Equal(t, answered, brought)
	assert.Contains(t, fmt.Sprint(brought["document"]), name)
	assert.Equal(t, 2, strings.Count(html, "</script>"), "nothing in a picture ends what it stands in")
	assert.Equal(t, "no-store", header.Get("Cache-Control"), "who goes back does not see what it was")

	// More than a page should bring.
	points := strings.Repeat("[1.25,2.75],", 6000)
	edit(2, strings.Replace(part("a", "A"), `"picks":[]`, `"picks":[{"kind":"brush","join":"add","strokes":[{"radius":1,"points":[`+points[:len(points)-1]+`]}]}]`, 1))
	for _, plain := range []string{path, "/pictures/" + uuid.NewString(), "/pictures/x", "/jobs/" + job.Id.String()} {
		html, header = page(plain)
		assert.Equal(t, "<head><script>own()</script></head>", html, plain)
		assert.Equal(t, "no-cache", header.Get("Cache-Control"))
	}
}
