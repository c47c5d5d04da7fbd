package pictureshelf

import (
	"context"
	"encoding/json"
	"io"
	"net/http"
	"net/http/httptest"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/internal/problem"
)

// A shelf that is away, slow, hostile or broken is told in a sentence.
func TestAShelfThatIsAwayOrHostile(t *testing.T) {
	ctx := context.Background()
	taken := ""
	take := func(body io.Reader) error {
		b, err := io.ReadAll(body)
		taken += string(b)
		return err
	}
	_, _, err := Shelf("").List(ctx, "")
	assert.ErrorContains(t, err, "--shelf")
	_, _, err = Shelf("http://127.0.0.1:1").List(ctx, "")
	assert.ErrorContains(t, err, "does not answer")
	elsewhere := false
	other := httptest.NewServer(http.HandlerFunc(func(http.ResponseWriter, *http.Request) { elsewhere = true }))
	defer other.Close()
	item := func(change func(i map[string]any)) string {
		i := map[string]any{"id": "a", "title": "A", "author": "B", "kind": "photo", "width": 3, "height": 2, "licence": map[string]any{"name": "L", "says": []string{"x"}, "credit": "C"}}
		change(i)
		b, err := json.Marshal(map[string]any{"shelf": "S", "items": []any{i}})
		require.NoError(t, err)
		return string(b)
	}
	for name, answer := range map[string]string{
		"no JSON":             `<html>`,
		"a path for an id":    item(func(i map[string]any) { i["id"] = "../jobs" }),
		"a script for a link": item(func(i map[string]any) { i["licence"].(map[string]any)["web"] = "javascript:alert(1)" }),
		"lines in a title":    item(func(i map[string]any) { i["title"] = "A\nB" }),
		"no size":             item(func(i map[string]any) { i["width"] = 0 }),
		"without end":         strings.Repeat(" ", mostList+1),
	} {
		server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) { _, _ = io.WriteString(w, answer) }))
		_, _, err := Shelf(server.URL).List(ctx, "")
		var bad *problem.Input
		assert.ErrorAs(t, err, &bad, name)
		server.Close()
	}
	good := item(func(map[string]any) {})
	server := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		switch r.URL.Path {
		case "/items":
			_, _ = io.WriteString(w, good)
		case "/items/a/file":
			http.Redirect(w, r, other.URL, http.StatusFound)
		case "/items/a/preview":
			_, _ = io.WriteString(w, "<script>alert(1)</script>")
		}
	}))
	defer server.Close()
	s := Shelf(server.URL)
	_, err = s.Preview(ctx, "a")
	assert.ErrorContains(t, err, "no JPEG")
	_, err = s.Preview(ctx, "../../items")
	assert.ErrorContains(t, err, "no such picture")
	var bad *problem.Input
	assert.ErrorAs(t, s.Fetch(ctx, "a", take), &bad)
	assert.False(t, elsewhere, "it sends us nowhere else")
	assert.ErrorContains(t, s.Fetch(ctx, "../../items", take), "no such picture")
	assert.Empty(t, taken)

	defer func(d time.Duration) { patience = d }(patience)
	patience = 300 * time.Millisecond
	slow := httptest.NewServer(http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.URL.Path == "/items" {
			_, _ = io.WriteString(w, good)
			return
		}
		_, _ = io.WriteString(w, "the beginning")
		w.(http.Flusher).Flush()
		<-r.Context().Done()
	}))
	defer slow.Close()
	assert.ErrorContains(t, Shelf(slow.URL).Fetch(ctx, "a", take), "stopped in the middle")
	gone, leave := context.WithCancel(ctx)
	leave()
	assert.ErrorIs(t, Shelf(slow.URL).Fetch(gone, "a", take), context.Canceled)
}
