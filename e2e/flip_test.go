package e2e

import (
	"encoding/json"
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/e2e/drive"
)

// withColourways gives the job of a bench colourways named by their ids, in which its part has a colour.
func (e *bench) withColourways(css map[string]string) {
	e.t.Helper()
	job := e.s.url() + "/api/jobs/" + e.jobID()
	have := get[struct {
		Revision int64
		Palette  json.RawMessage
	}](e.t, job)
	var ways []string
	for _, id := range slices.Sorted(maps.Keys(css)) {
		ways = append(ways, fmt.Sprintf(`{"id":%q,"name":%q,"cells":{%q:{"target":{"css":%q}}}}`, id, id, "#"+e.parts()[0].ID, css[id])) // of a part that nobody named
	}
	send(e.t, "PUT", job+"/content", fmt.Sprintf(`{"base":%d,"label":"colourways","palette":%s,"colourways":[%s]}`, have.Revision, have.Palette, strings.Join(ways, ",")))
}

// overAQuickLine lets views come at once when they come, from the next page on: a machine on which much else runs looks like a slow line, over
// which nothing is asked for that nobody waits for.
func (e *bench) overAQuickLine() {
	e.t.Helper()
	_, err := chromedp.Call(e.b.Ctx, page.AddScriptToEvaluateOnNewDocument, page.AddScriptToEvaluateOnNewDocumentParams{Source: `{
		const Plain = window.PerformanceObserver;
		const atOnce = (e) => (e.name.endsWith("/view") ? { name: e.name, encodedBodySize: e.encodedBodySize, responseStart: e.responseEnd, responseEnd: e.responseEnd } : e);
		window.PerformanceObserver = class extends Plain {
			constructor(tell) {
				super((list, own) => tell({ getEntries: () => list.getEntries().map(atOnce) }, own));
			}
		};
	}`})
	e.do("a quick line", err)
}

// choose goes to a colourway by its id; without one, to the picture as it is set.
func (e *bench) choose(way string) {
	e.t.Helper()
	e.do("choose", e.b.Do(drive.JS(fmt.Sprintf(`(() => { const s = document.querySelector('select[aria-label="Colourway"]'); Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(s, %q); s.dispatchEvent(new Event("change", { bubbles: true })) })()`, way))))
	e.settled()
}

// Who flips through colourways finds the next ones there, as the server paints them.
func TestTheNextColourwaysAreThereForWhoFlips(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	e.withColourways(map[string]string{"a": "#8a2f3c", "b": "#caa23c", "c": "#3c6a2f"})
	e.overAQuickLine()
	e.do("open", e.b.Do(chromedp.Reload()))
	e.settled()
	e.click("Colour")
	e.do("the colourways are there", e.b.Until(`document.querySelectorAll('select[aria-label="Colourway"] option').length === 4`))
	e.do("count", e.b.Do(drive.JS(`(() => { window.__asked = window.__ahead = 0; const plain = window.fetch; window.fetch = (to, how) => { if (String(to).endsWith("/view") && how.body.includes('"picture"')) if (how.body.includes('"ahead":true')) __ahead++; else __asked++; return plain(to, how) } })()`)))
	count := func(of string) int {
		n, err := drive.Eval[int](e.b, of)
		e.do("count", err)
		return n
	}
	time.Sleep(time.Second)
	assert.Zero(t, count("__ahead"), "nobody has flipped yet")
	e.choose("a")
	first := count("__asked")
	e.do("the others come, but for what was seen", e.b.Until(`__ahead === 2`))
	time.Sleep(500 * time.Millisecond)
	assert.Equal(t, 2, count("__ahead"), "once")
	seen := map[string]string{}
	for _, way := range []string{"b", "c", "", "a"} {
		e.choose(way)
		seen[way] = e.pixel(800, 640)
	}
	assert.Equal(t, first, count("__asked"), "nobody waited for any of them")
	for way, was := range seen {
		for other, not := range seen {
			assert.True(t, way == other || was != not, "%q is %q", way, other)
		}
	}
	// They are what is seen when they are asked for.
	e.do("a minute later", e.b.Do(drive.JS(`{ const now = performance.now.bind(performance); performance.now = () => now() + 61000; window.fetch = ((plain) => (to, how) => (how?.body?.includes?.('"ahead":true') ? Promise.reject(new TypeError("no")) : plain(to, how)))(window.fetch) }`)))
	for _, way := range []string{"b", "c", "a"} {
		e.choose(way)
		assert.Equal(t, seen[way], e.pixel(800, 640), way)
	}
	assert.Equal(t, first+3, count("__asked"))
}

// Who goes back and forth between two looks sees each again at once, as the server would paint it, and nothing that is not so any more.
func TestLooksThatWereSeenAreSeenAgainAtOnce(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	e.withColourways(map[string]string{"w": "#8a2f3c"})
	e.do("open", e.b.Do(chromedp.Reload()))
	e.settled()
	e.click("Colour")
	e.do("the colourway is there", e.b.Until(`!!document.querySelector('select[aria-label="Colourway"] option[value=w]')`))
	e.do("count", e.b.Do(drive.JS(`(() => { window.__asked = 0; const plain = window.fetch; window.fetch = (to, how) => { if (String(to).endsWith("/view") && how.body.includes('"picture"')) __asked++; return plain(to, how) } })()`)))
	asked := func() int {
		n, err := drive.Eval[int](e.b, `__asked`)
		e.do("asked", err)
		return n
	}
	choose := func(way string) string {
		e.choose(way)
		return e.pixel(800, 640)
	}
	teal, red := choose(""), choose("w")
	assert.NotEqual(t, teal, red)
	n := asked()
	for range 3 {
		assert.Equal(t, teal, choose(""))
		assert.Equal(t, red, choose("w"))
	}
	assert.Equal(t, n, asked(), "nothing was painted again")

	// Nor for who does not wait for the page: it follows once the stage has shown what was chosen.
	e.do("a minute later", e.b.Do(drive.JS(`{ const now = performance.now.bind(performance); performance.now = () => now() + 61000 }`)))
	_, err := drive.Await[bool](e.b, `(async () => { for (const way of ["", "w", "", "w", "", "w"]) {
		const s = document.querySelector('select[aria-label="Colourway"]'), c = document.querySelector("canvas"), was = c.dataset.frames;
		Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(s, way); s.dispatchEvent(new Event("change", { bubbles: true }));
		while (c.dataset.settled !== "true" || c.dataset.frames === was) await new Promise(requestAnimationFrame) }
		return true })()`)
	e.do("flip at once", err)
	assert.LessOrEqual(t, asked(), n+2, "each once")

	// What somebody else makes of the colourway is seen, here and on the way back.
	e.withColourways(map[string]string{"w": "#caa23c"})
	require.Eventually(t, func() bool { return e.pixel(800, 640) != red }, 20*time.Second, 50*time.Millisecond)
	e.settled()
	yellow := e.pixel(800, 640)
	assert.Equal(t, teal, choose(""))
	assert.Equal(t, yellow, choose("w"))
	assert.Greater(t, asked(), n)
}
