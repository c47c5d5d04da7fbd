package e2e

import (
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/document"
	"episema/core/isolate"
	"episema/e2e/drive"
)

func TestPicturesAreRenamedMovedRemovedAndBroughtBack(t *testing.T) {
	t.Parallel()
	e := openJob(t)
	url := e.s.url() + "/api/jobs/" + e.jobID()
	names := func() (out []string) {
		for _, p := range get[struct{ Pictures []struct{ Name string } }](t, url).Pictures {
			out = append(out, p.Name)
		}
		return out
	}
	became := func(what string, want ...string) {
		t.Helper()
		require.Eventually(t, func() bool { n := names(); return fmt.Sprint(n[:len(want)]) == fmt.Sprint(want) }, 20*time.Second, 50*time.Millisecond, "%s: %v", what, names())
		// The page shows the same order.
		e.do(what, e.b.Until(fmt.Sprintf(`[...document.querySelectorAll("section[aria-label=Pictures] li > a")].map((a) => a.ariaLabel).slice(0, %d).join() === %q`, len(want), strings.Join(want, ","))))
	}
	all := names()
	menu := func(picture, what string) {
		t.Helper()
		e.click("More for " + picture)
		e.click(what)
	}
	menu(all[0], "Move later")
	became("moved later", all[1], all[0], all[2])
	menu(all[2], "Move earlier")
	became("moved earlier", all[1], all[2], all[0])
	for range len(all) {
		if n := names(); n[len(n)-1] == all[1] {
			break
		}
		n := names()
		menu(all[1], "Move later")
		require.Eventually(t, func() bool { return fmt.Sprint(names()) != fmt.Sprint(n) }, 20*time.Second, 50*time.Millisecond)
	}
	require.Equal(t, all[1], names()[len(all)-1], "to the very end")

	menu(all[2], "Rename")
	e.do("naming", e.b.Until(`document.activeElement?.ariaLabel === "Name of the picture"`))
	e.do("type", e.b.Do(chromedp.KeyEvent("The tote, seen anew"+kb.Enter)))
	became("renamed", "The tote, seen anew", all[0])
	e.do("focus", e.b.Until(`document.activeElement?.ariaLabel === "More for The tote, seen anew"`))

	menu("The tote, seen anew", "Remove")
	became("removed", all[0])
	assert.Len(t, names(), len(all)-1)
	e.do("reload", e.b.Do(chromedp.Reload()))
	e.do("trash", e.b.Until(`document.querySelector("summary")?.textContent === "Removed pictures, 1"`))
	e.click("Removed pictures, 1")
	e.click("Bring The tote, seen anew back")
	became("brought back where it was", "The tote, seen anew", all[0])
	e.do("no trash", e.b.Until(`!document.querySelector("summary")`))
}

// A part that gets its name keeps what it became in each colourway.
func TestAPartThatIsNamedKeepsItsColours(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.drag(0, [2]float64{620, 600}, [2]float64{1000, 640})
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "sweep" })
	job := e.jobID()
	url := e.s.url() + "/api/jobs/" + job
	e.do("job", e.b.Do(chromedp.Navigate(e.s.url()+"/jobs/"+job)))
	e.click("New colourway")
	e.do("cell", e.b.Until(`!!document.querySelector('[data-at="0 0"]')`))
	e.do("colour", e.b.Do(chromedp.Focus(chromedp.CSS(`[data-at="0 0"]`)), chromedp.KeyEvent("2")))
	cells := func() map[string]document.Cell {
		if ways := get[content](t, url).Colourways; len(ways) > 0 {
			return ways[0].Cells
		}
		return nil // the page has the column before the server
	}
	row := e.parts()[0].Row()
	require.Eventually(t, func() bool { return cells()[row].Target.PaletteID == "lamp" }, 20*time.Second, 50*time.Millisecond)
	assert.Equal(t, "#"+e.parts()[0].ID, row)

	e.do("saved", e.b.Until(`document.querySelector("[data-saving]")?.dataset.saving === "saved"`))
	e.do("picture", e.b.Do(chromedp.Navigate(e.s.url()+"/pictures/"+e.id)))
	e.settled()
	e.click("Rename Part 1")
	e.do("name", e.b.Do(chromedp.KeyEvent("Mug body"+kb.Enter)))
	require.Eventually(t, func() bool { return e.parts()[0].Row() == "Mug body" }, 20*time.Second, 50*time.Millisecond)
	require.Eventually(t, func() bool { return cells()["Mug body"].Target.PaletteID == "lamp" }, 20*time.Second, 50*time.Millisecond)
}

// At 200 %, on a small window and on a phone nothing that is needed is cut off, and what was fitted is fitted anew.
func TestNothingIsCutOffWhateverTheWindow(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.drag(0, [2]float64{620, 600}, [2]float64{1000, 640})
	e.settled()
	job := "/jobs/" + e.jobID()
	size := func(w, h int64) {
		e.do("size", e.b.Do(chromedp.EmulateViewport(w, h)))
		e.paced()
	}
	// Whatever can be pressed lies within the window from left to right, or in something that scrolls.
	const cut = `[...document.querySelectorAll("button, a[href], input, select, [role=tab], [role=radio]")].filter((n) => {
		const r = n.getBoundingClientRect();
		if (r.width === 0 || getComputedStyle(n).visibility === "hidden" || n.type === "range" || n.closest("label")) return false; // the ranges are those behind sliders that are drawn
		let box = { left: 0, right: innerWidth };
		for (let p = n.parentElement; p; p = p.parentElement) {
			const s = getComputedStyle(p);
			if (/auto|scroll/.test(s.overflowX) && p.scrollWidth > p.clientWidth) return false;
			if (s.overflowX !== "visible") { const q = p.getBoundingClientRect(); box = { left: Math.max(box.left, q.left), right: Math.min(box.right, q.right) }; }
		}
		return r.left < box.left - 1 || r.right > box.right + 1;
	}).map((n) => (n.ariaLabel ?? n.textContent).slice(0, 40))`
	for _, view := range []struct{ name, path, ready string }{
		{"photo", "/pictures/" + e.id, `document.querySelector("canvas")?.dataset.settled === "true"`},
		{"job", job, `document.querySelectorAll("main li img").length > 5`},
		{"jobs", "/", `!!document.querySelector("main li img")`},
		{"drawing", "", `Number(document.querySelector("[data-testid=drawing]")?.dataset.shown ?? -1) >= 0`},
	} {
		size(1280, 800)
		if view.path == "" {
			e.do("job", e.b.Do(chromedp.Navigate(e.s.url()+job)))
			e.drawing("Poster")
		} else {
			e.do(view.name, e.b.Do(chromedp.Navigate(e.s.url()+view.path)))
		}
		e.do(view.name, e.b.Until(view.ready))
		for _, s := range [][2]int64{{1024, 700}, {640, 400}, {320, 640}, {3840, 2000}} {
			size(s[0], s[1])
			found, err := drive.Eval[[]string](e.b, cut)
			require.NoError(t, err)
			assert.Empty(t, found, "%s at %d x %d", view.name, s[0], s[1])
			if view.name == "drawing" {
				e.do("fitted anew", e.b.Until(`(() => { const f = document.querySelector("[data-testid=drawing]"); const s = f.querySelector("svg"); const a = f.getBoundingClientRect(), b = s.getBoundingClientRect(); return b.left >= a.left - 1 && b.right <= a.right + 1 && b.top >= a.top - 1 && b.bottom <= a.bottom + 1 && (b.height > a.height * 0.7 || b.width > a.width * 0.7) })()`))
			}
		}
	}
	size(640, 400)
	room, err := drive.Eval[float64](e.b, `(() => { const p = document.querySelector("[role=tabpanel]"); return p.getBoundingClientRect().height })()`)
	require.NoError(t, err)
	assert.Greater(t, room, 150.0, "the panel has room at 200 %")
}
