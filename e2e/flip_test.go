package e2e

import (
	"encoding/json"
	"fmt"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/e2e/drive"
)

// withColourway gives the job of a bench one colourway, in which its part has a colour.
func (e *bench) withColourway(id, name, css string) {
	e.t.Helper()
	job := e.s.url() + "/api/jobs/" + e.jobID()
	have := get[struct {
		Revision int64
		Palette  json.RawMessage
	}](e.t, job)
	send(e.t, "PUT", job+"/content", fmt.Sprintf(`{"base":%d,"label":"a colourway","palette":%s,"colourways":[{"id":%q,"name":%q,"cells":{%q:{"target":{"css":%q}}}}]}`, have.Revision, have.Palette, id, name, "#"+e.parts()[0].ID, css)) // of a part that nobody named
}

// Who goes back and forth between two looks sees each again at once, as the server would paint it, and nothing that is not so any more.
func TestLooksThatWereSeenAreSeenAgainAtOnce(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	e.withColourway("w", "Dusk", "#8a2f3c")
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
		e.do("choose", e.b.Do(drive.JS(fmt.Sprintf(`(() => { const s = document.querySelector('select[aria-label="Colourway"]'); Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(s, %q); s.dispatchEvent(new Event("change", { bubbles: true })) })()`, way))))
		e.settled()
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

	// What somebody else makes of the colourway is seen, here and on the way back.
	e.withColourway("w", "Dusk", "#caa23c")
	require.Eventually(t, func() bool { return e.pixel(800, 640) != red }, 20*time.Second, 50*time.Millisecond)
	e.settled()
	yellow := e.pixel(800, 640)
	assert.Equal(t, teal, choose(""))
	assert.Equal(t, yellow, choose("w"))
	assert.Greater(t, asked(), n)
}
