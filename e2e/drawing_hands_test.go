package e2e

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"net/http"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/document"
	"episema/e2e/drive"
)

// families waits until the picture's stored families are as wanted.
func (e *bench) families(id, what string, ok func(p []document.Part) bool) []document.Part {
	e.t.Helper()
	var doc struct{ Document document.Picture }
	require.Eventually(e.t, func() bool {
		doc = get[struct{ Document document.Picture }](e.t, e.s.url()+"/api/pictures/"+id)
		return ok(doc.Document.Parts)
	}, 20*time.Second, 50*time.Millisecond, what)
	return doc.Document.Parts
}

// view gives pixels of a picture as the server renders it, before anything was changed or as it is.
func (e *bench) view(id, show string, w, h int) []byte {
	e.t.Helper()
	res, err := http.Post(e.s.url()+"/api/pictures/"+id+"/view", "application/json", strings.NewReader(fmt.Sprintf(`{"x":0,"y":0,"w":%d,"h":%d,"width":%d,"height":%d,"show":%q}`, w, h, w, h, show)))
	require.NoError(e.t, err)
	defer res.Body.Close()
	var b bytes.Buffer
	_, err = b.ReadFrom(res.Body)
	require.NoError(e.t, err)
	require.Equal(e.t, 4*w*h, b.Len())
	return b.Bytes()
}

// TestADrawingOfManyThingsFollowsTheHand: a drawing too large for the browser to paint while a hand moves is shown as pixels,
// on which a slider's steps, a target, undo, the hold of before and what is picked are right, wherever it was moved to.
func TestADrawingOfManyThingsFollowsTheHand(t *testing.T) {
	t.Parallel()
	e := openJob(t)
	var svg strings.Builder
	svg.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 800 600" width="800" height="600">`)
	for i := range 4800 {
		fmt.Fprintf(&svg, `<rect x="%d" y="%d" width="9" height="9" fill="%s"/>`, i%80*10, i/80*10, []string{"#1d6a72", "#9c2a1e", "#d9a441"}[i/1600])
	}
	svg.WriteString(`</svg>`)
	res, err := http.Post(e.s.url()+"/api/jobs/"+e.jobID()+"/pictures?name=many.svg", "application/octet-stream", strings.NewReader(svg.String()))
	require.NoError(t, err)
	var made struct{ ID string }
	require.NoError(t, json.NewDecoder(res.Body).Decode(&made))
	res.Body.Close()
	e.do("open", e.b.Do(chromedp.Navigate(e.s.url()+"/pictures/"+made.ID)))
	ready := `/^true/.test(document.querySelector("[data-testid=drawing]")?.dataset.live ?? "")`
	e.do("ready", e.b.Until(ready))
	onStage := func(x, y float64) []float64 {
		t.Helper()
		c, err := drive.Eval[[]float64](e.b, fmt.Sprintf(`(() => { const c = document.querySelector("[data-testid=drawing] canvas"); const d = c.getContext("2d").getImageData(Math.floor(c.width * %f / 800), Math.floor(c.height * %f / 600), 1, 1).data; return [...d.slice(0, 3)] })()`, x, y))
		require.NoError(t, err)
		return c
	}
	assert.InDeltaSlice(t, []float64{0x1d, 0x6a, 0x72}, onStage(104, 54), 1)

	e.pressAt(104, 54, 800, 600)
	e.do("picked", e.b.Until(`document.querySelector("[data-testid=picked]")?.textContent.startsWith("1600 things, 1 colour")`))
	first := e.families(made.ID, "families", func(p []document.Part) bool { return len(p) == 3 })
	at := slices.IndexFunc(first, func(p document.Part) bool { return p.Family.Main == "#1d6a72" })
	require.GreaterOrEqual(t, at, 0)

	// A target, then steps of a slider: what the page shows is what the server says it is.
	e.click("Depot red")
	e.families(made.ID, "target", func(p []document.Part) bool { return p[at].Target.CSS != "" })
	same := func(what string) {
		t.Helper()
		var now, want []float64
		require.Eventually(t, func() bool {
			b := e.view(made.ID, "picture", 800, 600)
			i := 4 * (54*800 + 104)
			want, now = []float64{float64(b[i]), float64(b[i+1]), float64(b[i+2])}, onStage(104, 54)
			for c := range 3 {
				if math.Abs(want[c]-now[c]) > 1 {
					return false
				}
			}
			return true
		}, 10*time.Second, 50*time.Millisecond, what)
		assert.InDeltaSlice(t, []float64{0x9c, 0x2a, 0x1e}, onStage(104, 254), 1, "another family stays")
	}
	same("target")
	e.do("slider", e.b.Do(chromedp.Focus(chromedp.CSS(`[aria-label="Lightness"] input[type=range], input[aria-label="Lightness"]`))))
	for n := range 8 {
		e.do("step", e.b.Do(chromedp.KeyEvent(kb.ArrowRight)))
		e.families(made.ID, "step", func(p []document.Part) bool { return p[at].Family.Lightness == float64(n+1) })
	}
	same("steps")
	lit := onStage(104, 54)
	e.do("undo", e.b.Do(chromedp.KeyEvent("z", chromedp.KeyModifiers(drive.Ctrl))))
	e.families(made.ID, "undone", func(p []document.Part) bool { return p[at].Family.Lightness == 7 })
	same("undone")
	assert.NotEqual(t, lit, onStage(104, 54))

	// Before, while a key is held.
	e.do("before", e.b.Until(ready))
	e.do("before", e.b.Do(chromedp.Focus(chromedp.CSS("[data-testid=drawing]")), drive.KeyDown("v", "KeyV")))
	require.Eventually(t, func() bool { c := onStage(104, 54); return c[0] == 0x1d && c[1] == 0x6a }, 10*time.Second, 50*time.Millisecond)
	e.do("before", e.b.Do(drive.KeyUp("v", "KeyV")))
	same("after")

	// Moved and magnified, it is rendered anew for the place, and a click hits what is seen there.
	x, y := e.onDrawing(204, 254, 800, 600)
	e.do("nothing", e.b.Do(chromedp.KeyEvent(kb.Escape)))
	e.do("zoom", e.b.Do(drive.Wheel(x, y, -600, drive.Ctrl)))
	e.do("pan", e.b.Drag(0, [][2]float64{{x, y}, {x + 30, y + 20}, {x + 60, y + 40}}))
	e.do("anew", e.b.Until(ready+` && (() => { const c = document.querySelector("[data-testid=drawing] canvas"); const r = c.getBoundingClientRect(); return Math.abs(r.width * devicePixelRatio - c.width) < 2 })()`))
	e.do("press", e.b.Drag(0, [][2]float64{{x + 60, y + 40}, {x + 60, y + 40}}))
	e.do("picked", e.b.Until(`document.querySelector("[data-testid=picked]")?.textContent.startsWith("1600 things, 1 colour")`))
	e.do("hide", e.b.Do(chromedp.KeyEvent("h")))
	e.do("hidden", e.b.Until(`(() => { const s = [...document.querySelectorAll("[data-testid=drawing] div")].find((d) => d.shadowRoot).shadowRoot; const r = s.querySelectorAll("rect"); return getComputedStyle(r[2000]).fill === "none" && getComputedStyle(r[2000]).visibility === "visible" && getComputedStyle(r[0]).fill !== "none" })()`))

	// Shown again, it is there again.
	e.do("show", e.b.Do(chromedp.KeyEvent("h")))
	e.do("fit", e.b.Do(chromedp.KeyEvent("0")))
	e.do("again", e.b.Until(ready))
	same("shown again")
}

// TestHandsOnADrawing: by pointer a member is dragged onto another family, the view is moved, magnified and wiped between
// before and now, a member gets a family of its own, and everything that is off screen is brought back.
func TestHandsOnADrawing(t *testing.T) {
	t.Parallel()
	e := openJob(t)
	e.drawing("Poster")
	id := e.pictureID()
	named := func(p []document.Part, name string) *document.Family {
		for i := range p {
			if p[i].Name == name {
				return p[i].Family
			}
		}
		return &document.Family{}
	}
	has := func(f *document.Family, colour string) bool {
		for _, m := range f.Members {
			if m.Colour == colour {
				return true
			}
		}
		return false
	}
	e.pressAt(300, 620, 600, 840)
	e.do("red", e.b.Until(`[...document.querySelectorAll("li[draggable=true]")].some((l) => l.textContent.includes("#74190f"))`))
	// What a browser tells a page while a hand drags one thing onto another.
	e.do("drag", e.b.Do(drive.JS(`(() => { const from = [...document.querySelectorAll("li[draggable=true]")].find((l) => l.textContent.includes("#74190f"));
		const to = [...document.querySelectorAll("ul[aria-label=Families] > li")].find((l) => l.textContent.includes("Yellow")); const data = new DataTransfer();
		const tell = (e, type) => e.dispatchEvent(new DragEvent(type, { bubbles: true, cancelable: true, dataTransfer: data }));
		tell(from, "dragstart"); tell(to, "dragover"); tell(to, "drop"); tell(from, "dragend") })()`)))
	e.families(id, "moved", func(p []document.Part) bool {
		return has(named(p, "Yellow"), "#74190f") && !has(named(p, "Red"), "#74190f")
	})
	e.do("undo", e.b.Do(chromedp.KeyEvent("z", chromedp.KeyModifiers(drive.Ctrl))))
	e.families(id, "back", func(p []document.Part) bool { return has(named(p, "Red"), "#74190f") })
	n := len(e.families(id, "all", func([]document.Part) bool { return true }))
	e.do("own", e.b.Until(`!!document.querySelector('select[aria-label="Move #74190f to another family"]')`))
	e.do("own", e.b.Do(drive.JS(`(() => { const s = document.querySelector('select[aria-label="Move #74190f to another family"]'); Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(s, "own"); s.dispatchEvent(new Event("change", { bubbles: true })) })()`)))
	e.families(id, "own", func(p []document.Part) bool { return len(p) == n+1 && has(named(p, "Picked"), "#74190f") })

	box := func() []float64 {
		t.Helper()
		b, err := drive.Eval[[]float64](e.b, `(() => { const r = [...document.querySelectorAll("[data-testid=drawing] div")].find((d) => d.shadowRoot).getBoundingClientRect(); return [r.x, r.y, r.width, r.height] })()`)
		require.NoError(t, err)
		return b
	}
	was := box()
	x, y := e.onDrawing(150, 300, 600, 840)
	e.do("zoom", e.b.Do(drive.Wheel(x, y, -300, drive.Ctrl)))
	e.do("drawn", e.b.Drawn())
	now := box()
	assert.InDelta(t, math.Exp(300*0.0022), now[2]/was[2], 0.01, "300 units of the wheel, as on a photo")
	assert.InDelta(t, (x-was[0])/was[2], (x-now[0])/now[2], 0.002, "what is under the pointer stays there")
	e.do("pan", e.b.Drag(0, [][2]float64{{x, y}, {x + 50, y + 30}, {x + 120, y + 80}}))
	e.do("drawn", e.b.Drawn())
	assert.InDeltaSlice(t, []float64{now[0] + 120, now[1] + 80, now[2], now[3]}, box(), 0.5)
	e.do("all of it", e.b.Do(chromedp.KeyEvent("0")))
	e.do("drawn", e.b.Drawn())
	assert.InDeltaSlice(t, was, box(), 0.5)
	picked := func() string {
		t.Helper()
		s, err := drive.Eval[string](e.b, `document.querySelector("[data-testid=picked]")?.textContent ?? ""`)
		require.NoError(t, err)
		return s
	}
	had := picked()
	e.pinch(x, y, 40, 50, 65, 80)
	e.do("drawn", e.b.Drawn())
	now = box()
	assert.InDelta(t, 2, now[2]/was[2], 0.01, "two fingers twice as far apart")
	assert.InDelta(t, (x-was[0])/was[2], (x-now[0])/now[2], 0.002, "what is between them stays there")
	assert.Equal(t, had, picked(), "and they pick nothing")
	e.do("all of it", e.b.Do(chromedp.KeyEvent("0")))
	e.do("drawn", e.b.Drawn())

	// Split: the line between before and now follows the pointer and the arrow keys.
	e.do("split", e.b.Do(chromedp.KeyEvent("w")))
	line := func() float64 {
		t.Helper()
		v, err := drive.Eval[float64](e.b, `(() => { const r = document.querySelector('[aria-label="Where before ends"]').getBoundingClientRect(); return r.x + r.width / 2 })()`)
		require.NoError(t, err)
		return v
	}
	e.do("split", e.b.Until(`!!document.querySelector('[aria-label="Where before ends"]')`))
	from := line()
	e.do("wipe", e.b.Drag(0, [][2]float64{{from, 300}, {from - 60, 310}, {from - 130, 300}}))
	e.do("drawn", e.b.Drawn())
	assert.InDelta(t, from-130, line(), 2)
	e.do("wipe", e.b.Do(chromedp.Focus(chromedp.CSS(`[aria-label="Where before ends"]`)), chromedp.KeyEvent(kb.ArrowRight)))
	e.do("drawn", e.b.Drawn())
	assert.Greater(t, line(), from-130+5)
}
