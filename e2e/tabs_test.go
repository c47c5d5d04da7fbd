package e2e

import (
	"encoding/json"
	"strings"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/document"
	"episema/e2e/drive"
)

const noAlerts = `[...document.querySelectorAll("[role=alertdialog]")].map((n) => n.textContent)`

// A page that is reloaded while the answer to an edit is on its way is not told that somebody else made that edit.
func TestReloadingWhileAnAnswerIsOnItsWayIsNoConflict(t *testing.T) {
	t.Parallel()
	s := newServer(t)
	b := open(t)
	id := openMug(t, b, s)
	now := func() document.Picture { return get[picture](t, s.url()+"/api/pictures/"+id).Document }
	require.NoError(t, b.Stroke(w, h, 0, [2]float64{620, 600}, [2]float64{1000, 640}))
	require.NoError(t, b.Settled())
	require.NoError(t, b.Click("Colour"))
	for _, c := range []struct{ name, id string }{{"Harbour teal", "harbour"}, {"Rail night", "night"}, {"Lamp amber", "lamp"}} {
		require.NoError(t, b.Do(drive.Line(false, 900, -1, -1)))
		require.NoError(t, b.Click(c.name))
		// The server has it, the page has not heard so.
		require.Eventually(t, func() bool { p := now(); return len(p.Parts) == 1 && p.Parts[0].Target.PaletteID == c.id }, 15*time.Second, 20*time.Millisecond)
		require.NoError(t, b.Do(drive.Line(false, 0, -1, -1), chromedp.Reload()))
		require.NoError(t, b.Settled())
		time.Sleep(300 * time.Millisecond) // a conflict would show once the edit is sent again
		said, err := drive.Eval[[]string](b, noAlerts)
		require.NoError(t, err)
		assert.Empty(t, said, c.name)
		require.NoError(t, b.Until(`document.body.innerText.includes("saved")`))
		assert.Equal(t, c.id, now().Parts[0].Target.PaletteID)
		require.NoError(t, b.Click("Colour"))
	}
}

// What two tabs have not sent is kept for each of them.
func TestTwoTabsKeepTheirUnsentEditsApart(t *testing.T) {
	t.Parallel()
	s := newServer(t)
	b := open(t)
	id := openMug(t, b, s)
	require.NoError(t, b.Stroke(w, h, 0, [2]float64{620, 600}, [2]float64{1000, 640}))
	require.NoError(t, b.Settled())
	require.NoError(t, b.Click("Colour"))
	other, err := b.Tab()
	require.NoError(t, err)
	defer other.Close()
	require.NoError(t, other.Do(chromedp.Navigate(s.url()+"/pictures/"+id)))
	require.NoError(t, other.Settled())
	require.NoError(t, other.Click("Colour"))
	s.kill()
	require.NoError(t, b.Click("Harbour teal"))
	require.NoError(t, other.Click("Rail night"))
	kept := func() string {
		all, err := drive.Eval[string](b, `Object.keys(localStorage).filter((k) => k.startsWith("episema.unsaved.")).map((k) => localStorage.getItem(k)).join("\n")`)
		require.NoError(t, err)
		return all
	}
	require.Eventually(t, func() bool { return strings.Contains(kept(), `"harbour"`) && strings.Contains(kept(), `"night"`) }, 10*time.Second, 50*time.Millisecond)
	// One is closed. What it had is not lost: who opens the picture next, once the browser has ended it, finds it.
	name, err := drive.Eval[string](other, `sessionStorage.getItem("episema.tab")`)
	require.NoError(t, err)
	other.Close()
	require.Eventually(t, func() bool {
		held, err := drive.Eval[string](b, `(navigator.locks.query().then((q) => { window.held = q.held.map((l) => l.name).join() }), window.held ?? "?")`)
		require.NoError(t, err)
		return held != "?" && !strings.Contains(held, "episema.tab."+name)
	}, 20*time.Second, 50*time.Millisecond, "the tab is gone")
	assert.Contains(t, kept(), `"night"`)
	// The page goes before it hears that its own edit is stored: it finds that, and then what the closed tab has left.
	require.NoError(t, b.Do(drive.Line(false, 900, -1, -1)))
	s.start()
	require.Eventually(t, func() bool {
		p := get[picture](t, s.url()+"/api/pictures/"+id).Document
		return len(p.Parts) == 1 && p.Parts[0].Target.PaletteID == "harbour"
	}, 20*time.Second, 100*time.Millisecond)
	require.NoError(t, b.Do(drive.Line(false, 0, -1, -1)))
	// Whoever opens the picture finds it, at the latest when it is opened once more: until then it stays where it is kept.
	asked := func() bool {
		require.NoError(t, b.Do(chromedp.Navigate(s.url()+"/pictures/"+id)))
		err := b.Until(`[...document.querySelectorAll("[role=alertdialog], [role=alert]")].some((n) => n.textContent.includes("elsewhere") || n.textContent.includes("changed"))`)
		if err != nil {
			state, err := drive.Eval[string](b, `JSON.stringify({ tab: sessionStorage.getItem("episema.tab"), held: window.held, kept: Object.keys(localStorage), text: document.body.innerText.slice(0, 300) })`)
			t.Log(name, state, err)
			require.True(t, strings.Contains(kept(), `"night"`), "it is kept still")
		}
		return err == nil
	}
	found := false
	for n := 0; n < 3 && !found; n++ {
		found = asked()
	}
	require.True(t, found, "the other tab's edit was made on what the picture was before: it is asked about")
}

// Many open pictures cost one connection together: the last is ready like the first, and hears of edits of the first.
func TestManyTabsShareOneConnection(t *testing.T) {
	t.Parallel()
	s := newServer(t)
	b := open(t)
	id := openMug(t, b, s)
	var tabs []*drive.Browser
	for range 9 {
		tab, err := b.Tab()
		require.NoError(t, err)
		defer tab.Close()
		require.NoError(t, tab.Do(chromedp.Navigate(s.url()+"/pictures/"+id)))
		require.NoError(t, tab.Settled(), "tab %d", len(tabs)+2)
		tabs = append(tabs, tab)
	}
	require.NoError(t, b.Do(drive.Front()))
	require.NoError(t, b.Stroke(w, h, 0, [2]float64{620, 600}, [2]float64{1000, 640}))
	require.Eventually(t, func() bool { return len(get[picture](t, s.url()+"/api/pictures/"+id).Document.Parts) == 1 }, 10*time.Second, 50*time.Millisecond)
	for i, tab := range tabs {
		require.NoError(t, tab.Until(`document.body.innerText.includes("Part 1")`), "tab %d hears of it", i+2)
	}
	// The one that asks is closed: another asks from then on.
	last := tabs[len(tabs)-1]
	require.NoError(t, b.Do(chromedp.Navigate("about:blank")))
	require.NoError(t, last.Do(drive.Front()))
	require.NoError(t, last.Click("Colour"))
	require.NoError(t, last.Click("Harbour teal"))
	require.Eventually(t, func() bool {
		p := get[picture](t, s.url()+"/api/pictures/"+id).Document.Parts
		return len(p) == 1 && p[0].Target.PaletteID == "harbour"
	}, 20*time.Second, 50*time.Millisecond, "the edit is stored")
	// A tab that nobody sees asks for no pixels and no proofs; once it is seen it has both.
	require.NoError(t, tabs[0].Do(drive.Front()))
	if err := tabs[0].Until(`document.body.innerText.includes("of 2.0")`); err != nil {
		state, stateErr := drive.Eval[string](tabs[0], `JSON.stringify({ seen: document.visibilityState, saving: document.querySelector("[data-saving]")?.dataset, text: document.body.innerText.slice(0, 400) })`)
		t.Fatalf("the part has a target there too: %v; the tab: %s %v", err, state, stateErr)
	}
}

// What somebody else makes of the palette and the colourways comes to an open bench by itself.
func TestWhatOthersMakeOfThePaletteIsSeenOnTheBench(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	before := e.pixel(800, 620)
	url := e.s.url() + "/api/jobs/" + e.jobID()
	job := get[struct {
		Revision   int64            `json:"revision"`
		Palette    []map[string]any `json:"palette"`
		Colourways json.RawMessage  `json:"colourways"`
	}](t, url)
	palette := []map[string]any{}
	for _, c := range job.Palette {
		s := map[string]any{"id": c["id"], "name": c["name"], "css": c["css"], "tolerance": c["tolerance"]}
		if c["id"] == "harbour" {
			s["name"], s["css"] = "Harbour plum", "#6a1d5e"
		}
		palette = append(palette, s)
	}
	body, err := json.Marshal(map[string]any{"base": job.Revision, "label": "plum", "palette": palette, "colourways": job.Colourways})
	require.NoError(t, err)
	send(t, "PUT", url+"/content", string(body))
	e.do("the palette", e.b.Until(`!!document.querySelector('[aria-label="Harbour plum"]')`))
	require.Eventually(t, func() bool { return e.pixel(800, 620) != before }, 20*time.Second, 50*time.Millisecond, "the stage follows")
}
