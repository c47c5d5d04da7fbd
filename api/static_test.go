package api

import (
	"log/slog"
	"net/http/httptest"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/gin-gonic/gin"
	"github.com/stretchr/testify/assert"
)

func TestTheFrontEndIsSentCompressedAndItsModulesNamedEarly(t *testing.T) {
	file := func(s string) *fstest.MapFile { return &fstest.MapFile{Data: []byte(s)} }
	s := newStatic(fstest.MapFS{
		"index.html": file("the page"), "index.html.gz": file("gz page"), "assets/a-1.js": file("plain"), "assets/a-1.js.br": file("br"), "assets/a-1.js.gz": file("gz"), "assets/b-2.js": file("b"),
		".vite/manifest.json": file(`{"src/job/JobPage.tsx":{"file":"assets/a-1.js","imports":["_b","src/PicturePage.tsx"]},"_b":{"file":"assets/b-2.js"}}`),
	})
	get := func(path, takes string) *httptest.ResponseRecorder {
		w := httptest.NewRecorder()
		c, _ := gin.CreateTestContext(w)
		c.Request = httptest.NewRequest("GET", path, nil)
		c.Request.Header.Set("Accept-Encoding", takes)
		s.serve(c)
		return w
	}
	for _, q := range []struct{ path, takes, body, coding, cache string }{
		{"/assets/a-1.js", "gzip, deflate, br", "br", "br", "immutable"},
		{"/assets/a-1.js", "gzip;q=0.5", "gz", "gzip", "immutable"},
		{"/assets/a-1.js", "br;q=0, gzip", "gz", "gzip", "immutable"},
		{"/assets/a-1.js", "br; q=0.0", "plain", "", "immutable"},
		{"/assets/a-1.js", "", "plain", "", "immutable"},
		{"/assets/b-2.js", "br, gzip", "b", "", "immutable"},
		{"/pictures/7", "br", "the page", "", "no-cache"},
		{"/", "gzip", "gz page", "gzip", "no-cache"},
		{"/assets/gone-3.js", "br", "the page", "", "no-cache"},
		{"/assets/../index.html", "", "the page", "", "no-cache"},
		{"/.vite/manifest.json", "", "the page", "", "no-cache"},
		{"/assets", "", "the page", "", "no-cache"},
	} {
		w := get(q.path, q.takes)
		assert.Equal(t, 200, w.Code, q.path)
		assert.Equal(t, q.body, w.Body.String(), "%s with %q", q.path, q.takes)
		assert.Equal(t, q.coding, w.Header().Get("Content-Encoding"), "%s with %q", q.path, q.takes)
		assert.Contains(t, w.Header().Get("Cache-Control"), q.cache, q.path)
		if strings.HasSuffix(q.path, "a-1.js") {
			assert.Equal(t, "Accept-Encoding", w.Header().Get("Vary"))
			assert.Contains(t, w.Header().Get("Content-Type"), "javascript")
		} else if q.cache == "no-cache" {
			assert.Contains(t, w.Header().Get("Content-Type"), "text/html", q.path)
		}
	}
	assert.Equal(t, "</assets/a-1.js>; rel=modulepreload, </assets/b-2.js>; rel=modulepreload", get("/jobs/7", "").Header().Get("Link"))
	assert.Empty(t, get("/elsewhere", "").Header().Get("Link"))
}

func TestScriptsInThePageAreAllowedByWhatTheyHold(t *testing.T) {
	policy := func(page string) string {
		h := (&Server{Hosts: []string{"127.0.0.1"}, Log: slog.New(slog.DiscardHandler)}).Handler(fstest.MapFS{"index.html": {Data: []byte(page)}})
		w := httptest.NewRecorder()
		h.ServeHTTP(w, httptest.NewRequest("GET", "http://127.0.0.1/", nil))
		return w.Header().Get("Content-Security-Policy")
	}
	assert.Contains(t, policy(`<p>none</p><script src="/a.js"></script>`), "script-src 'self';")
	// Both are examples of Content Security Policy Level 3, from memory; openssl dgst -sha256 gives the same.
	assert.Contains(t, policy(`<script>doSomething();</script>`), "script-src 'self' 'sha256-RFWPLDbv2BY+rCkDzsE+0fr8ylGr2R2faWMhq4lfEQc=';")
	assert.NotContains(t, policy(`<script>alert('Hello, world.');</script>`), "RFWPLDbv2BY")
	assert.Contains(t, policy(`<script>alert('Hello, world.');</script>`), "'sha256-qznLcsROx4GACP2dm0UCKCzCG+HiZ1guq6ZZDob/Tng='")
}
