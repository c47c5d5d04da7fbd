package e2e

import (
	"encoding/json"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/e2e/drive"
)

// A drawing whose styles would lay it over the whole page stays in its box, and what would run in it does not.
func TestADrawingThatWantsToCoverThePageStaysInItsBox(t *testing.T) {
	t.Parallel()
	s := newServer(t)
	b := open(t)
	job := get[[]struct{ ID string }](t, s.url()+"/api/jobs")[0].ID
	svg := `<!DOCTYPE svg [<!ATTLIST svg onload CDATA "document.title='ran'">]>
<svg xmlns="http://www.w3.org/2000/svg" xmlns:h="http://www.w3.org/1999/xhtml" width="300" height="200" viewBox="0 0 300 200">
<style>:root, svg { position: fixed !important; inset: 0 !important; width: 200vw !important; height: 200vh !important; z-index: 99999 !important } rect { fill: #1d6a72 }</style>
<h:style>body { display: none }</h:style>
<rect width="300" height="200"/><circle cx="150" cy="100" r="40" fill="#d9a441"/></svg>`
	res, err := http.Post(s.url()+"/api/jobs/"+job+"/pictures?name=cover.svg", "application/octet-stream", strings.NewReader(svg))
	require.NoError(t, err)
	defer res.Body.Close()
	require.Equal(t, 201, res.StatusCode)
	var made struct{ ID string }
	require.NoError(t, json.NewDecoder(res.Body).Decode(&made))
	require.NoError(t, b.Do(chromedp.Navigate(s.url()+"/pictures/"+made.ID)))
	require.NoError(t, b.Until(`[...document.querySelectorAll("[data-testid=drawing] div")].some((d) => d.shadowRoot?.querySelector("circle"))`))
	hit, err := drive.Eval[[]bool](b, `(() => {
		const frame = document.querySelector("[data-testid=drawing]");
		const inFrame = (x, y) => frame.contains(document.elementFromPoint(x, y));
		const r = frame.getBoundingClientRect();
		return [inFrame(innerWidth / 2, 12), inFrame(innerWidth - 60, innerHeight / 2), inFrame(r.x + r.width / 2, r.y + r.height / 2), document.title === "ran"];
	})()`)
	require.NoError(t, err)
	assert.Equal(t, []bool{false, false, true, false}, hit, "the bar, the panel, the drawing itself, and whether it ran")

	// The delivered file, opened by itself, runs nothing either.
	order, err := http.Post(s.url()+"/api/jobs/"+job+"/deliveries", "application/json", strings.NewReader(`{"pictures":["`+made.ID+`"],"colourways":[""],"format":"svg"}`))
	require.NoError(t, err)
	order.Body.Close()
	require.Equal(t, 202, order.StatusCode)
	var done string
	require.Eventually(t, func() bool {
		for _, d := range get[[]struct{ ID, State, Picture string }](t, s.url()+"/api/jobs/"+job+"/deliveries") {
			if d.Picture == made.ID && d.State == "done" {
				done = d.ID
			}
		}
		return done != ""
	}, 30*time.Second, 100*time.Millisecond)
	file, err := http.Get(s.url() + "/api/deliveries/" + done + "/file")
	require.NoError(t, err)
	defer file.Body.Close()
	text, err := io.ReadAll(file.Body)
	require.NoError(t, err)
	path := filepath.Join(t.TempDir(), "delivered.svg")
	require.NoError(t, os.WriteFile(path, text, 0o644))
	require.NoError(t, b.Do(chromedp.Navigate("file://"+path)))
	ran, err := drive.Eval[[]bool](b, `[!!document.querySelector("circle"), document.documentElement.hasAttribute("onload"), document.title === "ran", getComputedStyle(document.documentElement).position === "fixed"]`)
	require.NoError(t, err)
	assert.Equal(t, []bool{true, false, false, false}, ran, "the drawing is there; no handler, nothing that ran, nothing laid over a page")
}
