package api

import (
	"encoding/json"
	"fmt"
	"io"
	"net/http/httptest"
	"reflect"
	"strings"
	"testing"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
)

// asked holds a call against the contract and gives the status and what was said.
func asked(t testing.TB, k *contract, method, path, url, kind, body string) (int, string) {
	t.Helper()
	gin.SetMode(gin.ReleaseMode)
	c, _ := gin.CreateTestContext(httptest.NewRecorder())
	c.Request = httptest.NewRequest(method, url, strings.NewReader(body))
	c.Request.Header.Set("Content-Type", kind)
	for i, name := range strings.Split(path, "/") {
		if strings.HasPrefix(name, ":") {
			c.Params = append(c.Params, gin.Param{Key: name[1:], Value: strings.Split(strings.Split(url, "?")[0], "/")[i]})
		}
	}
	route := k.calls[method+" "+path]
	require.NotNil(t, route, path)
	leave, status, err := k.hold(c, route)
	leave()
	if err == nil {
		rest, readErr := io.ReadAll(c.Request.Body)
		require.NoError(t, readErr)
		if jsonOf(route.Operation) != nil {
			require.Equal(t, body, string(rest), "the handler still reads all of it")
		}
		return 200, ""
	}
	return status, err.Error()
}

func TestTheContractIsKeptTo(t *testing.T) {
	k, err := readContract()
	require.NoError(t, err)
	const id = "7f3b2c1a-0000-4000-8000-000000000001"
	view := func(change string) string {
		v := map[string]any{"x": 0, "y": 0, "w": 10, "h": 10, "width": 10, "height": 10, "show": "picture"}
		require.NoError(t, json.Unmarshal([]byte(change), &v))
		b, err := json.Marshal(v)
		require.NoError(t, err)
		return string(b)
	}
	pic := "/api/pictures/" + id
	for name, c := range map[string]struct {
		method, path, url, kind, body string
		status                        int
		says                          string
	}{
		"a view":               {"POST", "/api/pictures/:picture/view", pic + "/view", "application/json", view(`{}`), 200, ""},
		"an unknown way":       {"POST", "/api/pictures/:picture/view", pic + "/view", "application/json", view(`{"show":"nonsense"}`), 422, "nonsense"},
		"too wide":             {"POST", "/api/pictures/:picture/view", pic + "/view", "application/json", view(`{"width":8193}`), 422, "width: number must be at most 8192"},
		"half a pixel":         {"POST", "/api/pictures/:picture/view", pic + "/view", "application/json", view(`{"width":1.5}`), 422, "width"},
		"a field left out":     {"POST", "/api/pictures/:picture/view", pic + "/view", "application/json", `{"x":0}`, 422, "missing"},
		"a misspelt field":     {"POST", "/api/pictures/:picture/view", pic + "/view", "application/json", view(`{"hight":3}`), 422, `"height" is meant`},
		"a bad tint":           {"POST", "/api/pictures/:picture/view", pic + "/view", "application/json", view(`{"tint":"#12345"}`), 422, "tint"},
		"a form":               {"POST", "/api/pictures/:picture/view", pic + "/view", "application/x-www-form-urlencoded", view(`{}`), 415, "application/json"},
		"half a body":          {"POST", "/api/pictures/:picture/view", pic + "/view", "application/json", `{"x":`, 400, "not JSON"},
		"deep in the document": {"PUT", "/api/pictures/:picture/document", pic + "/document", "application/json", `{"base":1,"label":"x","document":{"parts":[{"id":"a","name":"A","hiden":true,"picks":[],"target":{},"settings":{"shade_depth":1,"highlights":1,"strength":1}}]}}`, 422, `document/parts/0: there is no "hiden" here; "hidden" is meant`},
		"nulls of before":      {"PUT", "/api/pictures/:picture/document", pic + "/document", "application/json", `{"base":1,"label":"x","document":{"parts":[{"id":"a","name":"A","picks":null,"edge":null,"match":null,"target":{"css":null},"settings":{"shade_depth":1,"highlights":1,"strength":1,"curves":null}}],"mends":null}}`, 200, ""},
		"nothing for a number": {"POST", "/api/pictures/:picture/view", pic + "/view", "application/json", view(`{"width":null}`), 422, "width"},
		"a cover's address":    {"GET", "/api/pictures/:picture/cover", pic + "/cover?size=480&revision=12&colourway=w&state=abc123", "", "", 200, ""},
		"too many colours":     {"GET", "/api/pictures/:picture/colours", pic + "/colours?k=2000000000", "", "", 400, "at most 32"},
		"not a number":         {"GET", "/api/pictures/:picture/colours", pic + "/colours?k=six", "", "", 400, "k"},
		"an unknown question":  {"GET", "/api/pictures/:picture/cover", pic + "/cover?sise=30", "", "", 400, `"size" is meant`},
		"not an id":            {"GET", "/api/pictures/:picture", "/api/pictures/x", "", "", 400, "picture"},
		"a name too long":      {"POST", "/api/jobs", "/api/jobs", "application/json", `{"name":"` + strings.Repeat("n", 201) + `"}`, 422, "200"},
		"no name":              {"POST", "/api/jobs", "/api/jobs", "application/json", `{"name":""}`, 422, "name"},
		"more values than fit": {"POST", "/api/jobs", "/api/jobs", "application/json", `{"name":[` + strings.Repeat("[],", 7_000_000) + `[]]}`, 413, "send less"},
	} {
		status, said := asked(t, k, c.method, c.path, c.url, c.kind, c.body)
		assert.Equal(t, c.status, status, "%s: %s", name, said)
		assert.Contains(t, said, c.says, name)
	}
}

// Every field that the program knows stands in the contract: those that do not would be refused.
func TestTheContractNamesEveryField(t *testing.T) {
	k, err := readContract()
	require.NoError(t, err)
	schemas := k.calls["PUT /api/pictures/:picture/document"].Spec.Components.Schemas
	var same func(at string, s *openapi3.Schema, r reflect.Type)
	seen := map[reflect.Type]bool{}
	same = func(at string, s *openapi3.Schema, r reflect.Type) {
		for r.Kind() == reflect.Pointer {
			r = r.Elem()
		}
		switch r.Kind() {
		case reflect.Slice, reflect.Array:
			if s.Items != nil {
				same(at+"/0", s.Items.Value, r.Elem())
			}
		case reflect.Map:
			if s.AdditionalProperties.Schema != nil {
				same(at+"/*", s.AdditionalProperties.Schema.Value, r.Elem())
			}
		case reflect.Struct:
			if seen[r] {
				return
			}
			seen[r] = true
			for i := range r.NumField() {
				f := r.Field(i)
				name := strings.Split(f.Tag.Get("json"), ",")[0]
				if f.Anonymous && name == "" {
					same(at, s, f.Type)
					continue
				}
				if name == "-" || name == "" {
					continue
				}
				if p := s.Properties[name]; assert.NotNil(t, p, fmt.Sprintf("%s/%s", at, name)) {
					same(at+"/"+name, p.Value, f.Type)
				}
			}
		}
	}
	same("document", schemas["Document"].Value, reflect.TypeFor[document.Picture]())
	same("colourway", schemas["Colourway"].Value, reflect.TypeFor[document.Colourway]())
	assert.Greater(t, len(seen), 12)
}

func BenchmarkContractOnADocumentOf200Strokes(b *testing.B) {
	k, err := readContract()
	require.NoError(b, err)
	pick := isolate.Pick{Kind: "brush", Join: "add"}
	for range 200 {
		s := isolate.Stroke{Stroke: raster.Stroke{Radius: 12.5}}
		for i := range 140 {
			s.Points = append(s.Points, [2]float64{float64(i) * 3.37, float64(i) * 2.11})
		}
		pick.Strokes = append(pick.Strokes, s)
	}
	doc := document.Picture{Parts: []document.Part{{ID: "a", Name: "A", Picks: []isolate.Pick{pick}}}}
	text, err := json.Marshal(map[string]any{"x": 0, "y": 0, "w": 10, "h": 10, "width": 10, "height": 10, "show": "picture", "document": doc})
	require.NoError(b, err)
	b.SetBytes(int64(len(text)))
	b.Run("checked", func(b *testing.B) {
		for b.Loop() {
			status, said := asked(b, k, "POST", "/api/pictures/:picture/view", "/api/pictures/7f3b2c1a-0000-4000-8000-000000000001/view", "application/json", string(text))
			require.Equal(b, 200, status, said)
		}
	})
	b.Run("decoded", func(b *testing.B) {
		for b.Loop() {
			var v View
			require.NoError(b, json.Unmarshal(text, &v))
		}
	})
}
