package e2e

import (
	"encoding/json"
	"fmt"
	"io"
	"math"
	"net/http"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/artwork"
	"episema/core/colour"
	"episema/core/document"
	"episema/e2e/drive"
	"episema/imagefile"
)

// openJob opens the demo job's page.
func openJob(t *testing.T) *bench {
	t.Helper()
	s := newServer(t)
	e := &bench{t, open(t), s, ""}
	e.tellOnFailure()
	e.do("open", e.b.Do(chromedp.Navigate(s.url())))
	e.click("Lisk Street Tramway shop")
	return e
}

// jobID and pictureID say where the page is.
func (e *bench) jobID() string {
	return get[[]struct{ ID string }](e.t, e.s.url()+"/api/jobs")[0].ID
}

func (e *bench) pictureID() string {
	path, err := drive.Eval[string](e.b, "location.pathname")
	require.NoError(e.t, err)
	return strings.TrimPrefix(path, "/pictures/")
}

// drawing opens one of the demo's drawings.
func (e *bench) drawing(name string) {
	e.click(name)
	e.do("drawing", e.b.Until(`Number(document.querySelector("[data-testid=drawing]")?.dataset.shown ?? -1) >= 0`))
	e.do("drawn", e.b.Drawn())
}

// onDrawing gives the point of the window at which a point of the drawing lies while it is fitted.
func (e *bench) onDrawing(x, y, w, h float64) (float64, float64) {
	r, err := drive.Eval[[]float64](e.b, `(() => { const r = document.querySelector("[data-testid=drawing]").getBoundingClientRect(); return [r.x, r.y, r.width, r.height] })()`)
	require.NoError(e.t, err)
	k := math.Min((r[2]-48)/w, (r[3]-48)/h)
	return r[0] + (r[2]-w*k)/2 + x*k, r[1] + (r[3]-h*k)/2 + y*k
}

func (e *bench) pressAt(x, y, w, h float64, modifiers ...drive.Modifier) {
	px, py := e.onDrawing(x, y, w, h)
	m := drive.Modifier(0)
	for _, k := range modifiers {
		m |= k
	}
	e.do("press", e.b.Drag(m, [][2]float64{{px, py}, {px, py}}))
}

// TestADrawingIsRecolouredByFamily: the poster's reds become teal with their tints kept, one family is held, every step is
// undone and redone, and the delivered SVG differs in colour tokens only.
func TestADrawingIsRecolouredByFamily(t *testing.T) {
	t.Parallel()
	e := openJob(t)
	e.drawing("Poster")
	id := e.pictureID()
	parts := func(what string, ok func(p []document.Part) bool) []document.Part {
		t.Helper()
		var doc struct{ Document document.Picture }
		require.Eventually(t, func() bool {
			doc = get[struct{ Document document.Picture }](t, e.s.url()+"/api/pictures/"+id)
			return ok(doc.Document.Parts)
		}, 20*time.Second, 50*time.Millisecond, what)
		return doc.Document.Parts
	}
	red := func(p []document.Part) *document.Part {
		for i := range p {
			if p[i].Name == "Red" {
				return &p[i]
			}
		}
		return nil
	}
	first := parts("families", func(p []document.Part) bool { return red(p) != nil })
	e.pressAt(300, 620, 600, 840) // the tram's side
	e.do("picked", e.b.Until(`document.querySelector("[data-testid=picked]")?.textContent.startsWith("2 things")`))
	e.click("Harbour teal")
	parts("target", func(p []document.Part) bool { return red(p).Target.PaletteID == "harbour" })
	e.do("live", e.b.Until(`Number(document.querySelector("[data-testid=drawing]").dataset.shown) > 0`))
	fill, err := drive.Eval[string](e.b, `(() => { const s = [...document.querySelectorAll("[data-testid=drawing] div")].find((d) => d.shadowRoot).shadowRoot; return getComputedStyle(s.querySelector("#tram rect")).fill })()`)
	require.NoError(t, err)
	assert.Equal(t, "rgb(29, 106, 114)", fill)
	e.do("before", e.b.Do(drive.KeyDown("v", "KeyV")))
	e.do("before", e.b.Until(`document.querySelector("[data-testid=drawing]").dataset.shown === "before"`))
	e.do("before", e.b.Do(drive.KeyUp("v", "KeyV")))
	e.click("All alike")
	parts("alike", func(p []document.Part) bool { return red(p).Family.How == "alike" })
	e.click("Keep the tints")
	parts("tints", func(p []document.Part) bool { return red(p).Family.How == "tints" })
	e.do("undo", e.b.Do(chromedp.KeyEvent("z", chromedp.KeyModifiers(drive.Ctrl))))
	parts("undone", func(p []document.Part) bool { return red(p).Family.How == "alike" })
	e.do("redo", e.b.Do(chromedp.KeyEvent("z", chromedp.KeyModifiers(drive.Ctrl, drive.Shift))))
	parts("redone", func(p []document.Part) bool { return red(p).Family.How == "tints" })

	// A wrong colour says why and keeps the last good one.
	e.do("type", e.b.Do(chromedp.Focus(chromedp.CSS(`input[aria-label="Target"]`)), chromedp.KeyEvent("a", chromedp.KeyModifiers(drive.Ctrl)), chromedp.KeyEvent("#12"+kb.Enter)))
	e.do("why", e.b.Until(`[...document.querySelectorAll("[role=alert]")].some((n) => n.textContent.includes("#12"))`))
	assert.Equal(t, "harbour", red(parts("kept", func([]document.Part) bool { return true })).Target.PaletteID)

	// Another family is held by key and keeps every byte, though it gets a target through the colourway.
	e.do("hold", e.b.Do(chromedp.Focus(chromedp.CSS(`button[aria-label^="Lock Yellow"]`)), chromedp.KeyEvent(" ")))
	now := parts("held", func(p []document.Part) bool {
		for _, q := range p {
			if q.Name == "Yellow" && q.Family.Held {
				return true
			}
		}
		return false
	})
	assert.Len(t, now, len(first))

	e.click("Deliver")
	e.click("Render at full size")
	var files []delivery
	require.Eventually(t, func() bool {
		files = get[[]delivery](t, e.s.url()+"/api/jobs/"+e.jobID()+"/deliveries")
		return len(files) == 1 && files[0].State == "done"
	}, 60*time.Second, 100*time.Millisecond)
	assert.Equal(t, "Poster.svg", files[0].Name)
	res, err := http.Get(e.s.url() + "/api/deliveries/" + files[0].ID + "/file")
	require.NoError(t, err)
	defer res.Body.Close()
	svg, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	was, err := os.ReadFile("../demo/artwork/poster.svg")
	require.NoError(t, err)
	a, b := strings.Split(string(was), "\n"), strings.Split(string(svg), "\n")
	require.Len(t, b, len(a))
	for i := range a {
		if a[i] != b[i] {
			assert.Regexp(t, `#(9c2a1e|74190f|c2503f)`, a[i], "only lines with a red differ")
		}
	}
	assert.Equal(t, strings.Count(string(was), "#d9a441"), strings.Count(string(svg), "#d9a441"), "held")

	// Rendered, the delivered file has on the tram's side what the page showed there.
	pix, err := imagefile.RenderDrawing(svg, 600, 840, 0, 0, 600, 840, time.Minute)
	require.NoError(t, err)
	i := 4 * (608*600 + 356)
	assert.Equal(t, []byte{0x1d, 0x6a, 0x72, 255}, pix[i:i+4])
}

// TestAPickReachesAllBoards: by pointer and by key a colour is picked on all three boards of the route map, near-alike ones
// apart, seen, hidden, made a family of its own on one board, and recoloured in two colourways.
func TestAPickReachesAllBoards(t *testing.T) {
	t.Parallel()
	e := openJob(t)
	e.drawing("Route map")
	id := e.pictureID()
	said := func(what string) {
		t.Helper()
		e.do(what, e.b.Until(fmt.Sprintf(`document.querySelector("[data-testid=picked]")?.textContent.includes(%q)`, what)))
	}
	const w, h = 1260, 480
	e.pressAt(300, 80, w, h) // the ground of the first board
	said("3 things, 1 colour")
	boxes, err := drive.Eval[int](e.b, `document.querySelectorAll("[data-testid=drawing] > svg g").length`)
	require.NoError(t, err)
	assert.Equal(t, 3, boxes, "a box around each")
	e.pressAt(250, 440, w, h, drive.Shift) // and the water
	said("6 things, 2 colours")
	e.pressAt(300, 80, w, h, drive.Alt)
	said("3 things, 1 colour")
	e.do("hide", e.b.Do(chromedp.KeyEvent("h")))
	e.do("hidden", e.b.Until(`(() => { const s = [...document.querySelectorAll("[data-testid=drawing] div")].find((d) => d.shadowRoot).shadowRoot; return getComputedStyle(s.querySelector(".water")).fill === "none" })()`))
	e.do("shown", e.b.Do(chromedp.KeyEvent("h")))
	e.do("nothing", e.b.Do(chromedp.KeyEvent(kb.Escape)))

	// Near-alike fills are apart at a tight tolerance and together at a wider one.
	e.pressAt(52, 427, w, h) // the label of line 1: #1c6971
	said("1 thing, 1 colour")
	e.do("wider", e.b.Do(chromedp.KeyEvent("]")))
	said("2 things, 2 colours")
	e.do("wider", e.b.Do(chromedp.KeyEvent("]]]]]]]]]")))
	said("3 colours")

	// On one board alone: what is picked there becomes a family of its own.
	e.do("board", e.b.Do(drive.JS(`(() => { const s = document.querySelector('select[aria-label="Boards"]'); Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(s, "board-2"); s.dispatchEvent(new Event("change", { bubbles: true })) })()`)))
	e.do("fit", e.b.Do(chromedp.KeyEvent("0")))
	e.do("drawn", e.b.Drawn())
	e.pressAt(250+415, 440, w, h)
	said("1 thing, 1 colour")
	e.do("family", e.b.Do(chromedp.KeyEvent("f")))
	type content struct{ Document document.Picture }
	var doc document.Picture
	require.Eventually(t, func() bool {
		doc = get[content](t, e.s.url()+"/api/pictures/"+id).Document
		return len(doc.Parts) > 0 && doc.Parts[0].Name == "Picked"
	}, 20*time.Second, 50*time.Millisecond)
	assert.Equal(t, []string{"board-2"}, doc.Parts[0].Family.Boards)
	e.do("type", e.b.Do(chromedp.Focus(chromedp.CSS(`input[aria-label="Target"]`)), chromedp.KeyEvent("#d9a441"+kb.Enter)))
	require.Eventually(t, func() bool {
		doc = get[content](t, e.s.url()+"/api/pictures/"+id).Document
		return doc.Parts[0].Target.CSS == "#d9a441"
	}, 20*time.Second, 50*time.Millisecond)

	// Two colourways, each with the family's target of its own; the others stay.
	base := e.s.url() + "/api/jobs/" + e.jobID()
	job := get[map[string]any](t, base)
	job["colourways"] = []any{
		map[string]any{"id": "a", "name": "A", "cells": map[string]any{doc.Parts[0].Row(): map[string]any{"target": map[string]any{"css": "#9c2a1e"}}}},
		map[string]any{"id": "b", "name": "B", "cells": map[string]any{doc.Parts[0].Row(): map[string]any{"target": map[string]any{"css": "#20242b"}}}},
	}
	body, err := json.Marshal(map[string]any{"base": job["revision"], "label": "two colourways", "palette": job["palette"], "colourways": job["colourways"]})
	require.NoError(t, err)
	send(t, "PUT", base+"/content", string(body))
	send(t, "POST", base+"/deliveries", fmt.Sprintf(`{"pictures":[%q],"colourways":["a","b"],"format":"svg"}`, id))
	var files []delivery
	require.Eventually(t, func() bool {
		files = get[[]delivery](t, base+"/deliveries")
		return len(files) == 2 && files[0].State == "done" && files[1].State == "done"
	}, 60*time.Second, 100*time.Millisecond)
	water := func(css string) int {
		l, err := colour.ParseCSS(css)
		require.NoError(t, err)
		n := 0
		for _, f := range files {
			res, err := http.Get(e.s.url() + "/api/deliveries/" + f.ID + "/file")
			require.NoError(t, err)
			b, err := io.ReadAll(res.Body)
			res.Body.Close()
			require.NoError(t, err)
			d, err := artwork.Parse(b)
			require.NoError(t, err)
			for _, it := range d.Items {
				class, _ := d.Elements[it.Element].Attr("class")
				if class == "water" && d.Colours[it.Colour].Key == artwork.Key(l) {
					n++
				}
			}
		}
		return n
	}
	assert.Equal(t, 1, water("#9c2a1e"), "in A the water of one board")
	assert.Equal(t, 1, water("#20242b"), "in B too")
	assert.Equal(t, 4, water("#bcd7d6"), "that of the two others stays, in both")
}
