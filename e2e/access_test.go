package e2e

import (
	"encoding/json"
	"fmt"
	"os"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/e2e/drive"
)

// axe runs the rules of WCAG 2.2, levels A and AA, over the page and fails for each that is broken. The rules are those of
// axe-core, a library for that alone.
func (e *bench) axe(view string) {
	e.t.Helper()
	source, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	require.NoError(e.t, err)
	e.do("axe", e.b.Do(drive.JS(string(source)+"; undefined")))
	e.do("axe", e.b.Do(drive.JS(`delete window.found; axe.run(document, { runOnly: ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"], resultTypes: ["violations"] }).then((r) => JSON.stringify(r.violations.map((v) => ({ id: v.id, help: v.help, nodes: v.nodes.map((n) => n.html.slice(0, 160) + " " + (n.any[0]?.message ?? n.all[0]?.message ?? n.none[0]?.message ?? "")) })))).then((f) => { window.found = f; }); undefined`)))
	e.do("axe", e.b.Until("window.found !== undefined"))
	found, err := drive.Eval[string](e.b, "window.found")
	require.NoError(e.t, err)
	var broken []struct {
		ID, Help string
		Nodes    []string
	}
	require.NoError(e.t, json.Unmarshal([]byte(found), &broken))
	for _, v := range broken {
		e.t.Errorf("%s: %s (%s)\n  %s", view, v.Help, v.ID, strings.Join(v.Nodes, "\n  "))
	}
}

func TestEveryViewKeepsToTheRulesOfAccess(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	job := e.jobID()
	e.axe("photo, isolate")
	for key, face := range map[string]string{"c": "colour", "p": "proof"} {
		e.key(key)
		e.settled()
		e.axe("photo, " + face)
	}
	e.key("?")
	e.do("keys", e.b.Until(`!!document.querySelector("[role=dialog]")`))
	e.axe("keys")
	for _, view := range []struct{ name, path, ready string }{
		{"jobs", "/", `document.querySelector("main li")`},
		{"job", "/jobs/" + job, `document.querySelectorAll("main li img").length > 3`},
		{"sheet", "/sheet/" + job, `document.querySelector("[aria-label=Sheet] img")`},
		{"across", "/across/" + job, `document.querySelector("main select")`},
		{"nothing there", "/nonsense", `document.querySelector("main h1")`},
	} {
		e.do(view.name, e.b.Do(chromedp.Navigate(e.s.url()+view.path)))
		e.do(view.name, e.b.Until("!!("+view.ready+")"))
		e.axe(view.name)
	}
	e.do("job", e.b.Do(chromedp.Navigate(e.s.url()+"/jobs/"+job)))
	e.drawing("Poster")
	e.axe("drawing")
}

// focused names what has the focus.
func (e *bench) focused() string {
	e.t.Helper()
	s, err := drive.Eval[string](e.b, `(() => { const a = document.activeElement; return a.getAttribute("aria-label") ?? a.textContent.slice(0, 60) ?? a.tagName })()`)
	require.NoError(e.t, err)
	return s
}

// press presses a key wherever the focus is.
func (e *bench) press(k string, m ...chromedp.KeyOption) {
	e.t.Helper()
	e.do("press "+k, e.b.Do(chromedp.KeyEvent(k, m...)))
}

// tabTo presses Tab until something has the focus; the mouse is not needed for it.
func (e *bench) tabTo(label string) {
	e.t.Helper()
	for range 120 {
		e.press(kb.Tab)
		if strings.HasPrefix(e.focused(), label) {
			return
		}
	}
	e.t.Fatalf("no way to %q by Tab; the focus is on %q", label, e.focused())
}

// TestAllOfItGoesWithoutAPointer makes a part, colours it, compares and delivers, with keys alone.
func TestAllOfItGoesWithoutAPointer(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.tabTo("Stage")
	e.press("s")
	// The pointer of the keys appears in the middle; from there it is moved, pressed and lifted.
	e.press(kb.Enter)
	x, y, err := e.b.OnStage(760, 640, w, h)
	require.NoError(t, err)
	box, err := drive.Eval[[]float64](e.b, `(() => { const r = document.querySelector("canvas").getBoundingClientRect(); return [r.left + r.width / 2, r.top + r.height / 2] })()`)
	require.NoError(t, err)
	walk := func(dx, dy float64) {
		steps := func(n float64, less, more string) {
			for range int(max(n, -n)/10 + 0.5) {
				if n < 0 {
					e.press(less)
				} else {
					e.press(more)
				}
			}
		}
		steps(dx, kb.ArrowLeft, kb.ArrowRight)
		steps(dy, kb.ArrowUp, kb.ArrowDown)
	}
	walk(x-box[0], y-box[1])
	e.press(kb.Enter)
	walk(120, 30)
	e.press(kb.Enter)
	e.settled()
	require.Eventually(t, func() bool { p := e.parts(); return len(p) == 1 && len(p[0].Picks) == 1 }, 30*time.Second, 50*time.Millisecond)
	part := e.parts()[0]
	stroke := part.Picks[0].Strokes[0]
	assert.Equal(t, "sweep", part.Picks[0].Kind)
	first, last := stroke.Points[0], stroke.Points[len(stroke.Points)-1]
	assert.InDelta(t, 760, first[0], 30)
	assert.InDelta(t, 640, first[1], 30)
	assert.Greater(t, last[0], first[0]+100)
	assert.Greater(t, len(stroke.Points), 8, "it was drawn, not jumped")

	e.press("c")
	require.Equal(t, "Stage", e.focused()[:5], "the face changes, the focus stays")
	e.tabTo("Harbour teal")
	e.press(kb.Enter)
	require.Eventually(t, func() bool { return e.parts()[0].Target.PaletteID == "harbour" }, 30*time.Second, 50*time.Millisecond)
	for e.focused()[:5] != "Stage" {
		e.press(kb.Tab, chromedp.KeyModifiers(drive.Shift))
	}
	e.press("w")
	e.settled()
	before, err := drive.Eval[string](e.b, stagePicture)
	require.NoError(t, err)
	for range 8 {
		e.press(kb.ArrowRight, chromedp.KeyModifiers(drive.Alt))
	}
	e.paced()
	after, err := drive.Eval[string](e.b, stagePicture)
	require.NoError(t, err)
	assert.NotEqual(t, before, after, "the line of the split has moved")
	for !strings.HasPrefix(e.focused(), "Deliver") {
		e.press(kb.Tab, chromedp.KeyModifiers(drive.Shift))
	}
	e.press(kb.Enter)
	e.tabTo("Render at full size")
	e.press(kb.Enter)
	e.do("delivered", e.b.Until(`!!document.querySelector("[role=dialog] a[href*='/file']")`))
}

const stagePicture = `(() => { const c = document.querySelector("canvas"); const d = c.getContext("2d").getImageData(0, 0, c.width, c.height).data; let h = 0; for (let i = 0; i < d.length; i += 97) h = (h * 31 + d[i]) | 0; return String(h) })()`

func TestTheFocusIsNeverNowhere(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.drag(0, [2]float64{620, 600}, [2]float64{900, 640})
	e.drag(0, [2]float64{900, 700}, [2]float64{950, 720})
	e.settled()
	somewhere := func(what string) {
		t.Helper()
		e.do(what, e.b.Until(`!!document.activeElement && document.activeElement !== document.body`))
	}
	on := func(selector string) {
		t.Helper()
		e.do(selector, e.b.Do(chromedp.Focus(chromedp.CSS(selector))))
	}
	on(`[aria-current=true]`)
	e.press(kb.F2)
	e.do("naming", e.b.Until(`document.activeElement?.ariaLabel === "Name of the part"`))
	e.press(kb.Escape)
	somewhere("after a name that was not given")
	// Beside its name a row says what was measured, whenever that comes.
	assert.True(t, strings.HasPrefix(e.focused(), e.parts()[0].Name), "back on the part, not on %q", e.focused())
	e.do("the part at hand", e.b.Until(`document.activeElement.matches("[aria-current=true]")`))

	// Letters go to what has the focus where that takes letters, and not to the tools.
	e.do("tool", e.b.Do(drive.JS(`(() => { const s = document.createElement("select"); s.id = "list"; document.body.append(s); s.focus() })()`)))
	e.press("b")
	tool := `[...document.querySelectorAll("[role=tabpanel] [aria-checked=true], [role=tabpanel] [aria-pressed=true]")].map((n) => n.textContent).join()`
	now, err := drive.Eval[string](e.b, tool)
	require.NoError(t, err)
	assert.NotContains(t, now, "Brush")
	e.key("b")
	e.do("the same letter elsewhere", e.b.Until(tool+`.includes("Brush")`))

	e.key("i")
	on(`[role=tabpanel] button`)
	e.press("c")
	somewhere("after another face")

	job := e.jobID()
	on(`nav a[href="/jobs/` + job + `"]`)
	e.press(kb.Enter)
	e.do("the job's page", e.b.Until(`location.pathname.startsWith("/jobs/") && !!document.querySelector("main li")`))
	somewhere("on another page")

	// Keys without ctrl can be kept to the stage (WCAG 2.1.4).
	e.do("back", e.b.Do(chromedp.Navigate(e.s.url()+"/pictures/"+e.id)))
	e.settled()
	e.key("?")
	e.do("keys", e.b.Until(`!!document.querySelector("[role=dialog] input[type=checkbox]")`))
	on(`[role=dialog] input[type=checkbox]`)
	e.press(" ")
	e.press(kb.Escape)
	e.do("closed", e.b.Until(`!document.querySelector("[role=dialog]")`))
	face := func() string {
		s, err := drive.Eval[string](e.b, `document.querySelector("[role=tab][aria-selected=true]").textContent`)
		require.NoError(t, err)
		return s
	}
	was := face()
	on(`header a`)
	for _, k := range []string{"i", "c", "p"} {
		e.press(k)
		assert.Equal(t, was, face(), "%q beside the stage does nothing", k)
	}
	e.key("p")
	e.do("on the stage", e.b.Until(fmt.Sprintf(`document.querySelector("[role=tab][aria-selected=true]").textContent === %q`, "Proof")))
}
