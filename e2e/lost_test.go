package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/document"
	"episema/e2e/drive"
)

type contents struct {
	Colourways []document.Colourway `json:"colourways"`
	Palette    []document.Swatch    `json:"palette"`
}

// A page that is left while edits are on their way still sends them: an order placed on the next page is of what was seen
// on this one.
func TestLeavingAPictureSendsWhatIsOnItsWay(t *testing.T) {
	t.Parallel()
	s := newServer(t)
	b := open(t)
	id := openMug(t, b, s)
	now := func() document.Picture { return get[picture](t, s.url()+"/api/pictures/"+id).Document }
	require.NoError(t, b.Stroke(w, h, 0, [2]float64{620, 600}, [2]float64{1000, 640}))
	require.NoError(t, b.Settled())
	require.NoError(t, b.Click("Colour"))
	require.NoError(t, b.Do(drive.Line(false, 700, -1, -1)))
	for _, c := range []string{"Harbour teal", "Lamp amber", "Rail night"} {
		require.NoError(t, b.Click(c))
	}
	require.NoError(t, b.Click("Lisk Street Tramway shop"))
	require.NoError(t, b.Until(`location.pathname.startsWith("/jobs/")`))
	require.Eventually(t, func() bool { return len(now().Parts) == 1 && now().Parts[0].Target.PaletteID == "night" }, 15e9, 100e6, "the last of three quick colours is stored")
	// Opened again it is there, and nobody is said to have changed it elsewhere.
	require.NoError(t, b.Do(drive.Line(false, 0, -1, -1)))
	require.NoError(t, b.Click("Depot mug"))
	require.NoError(t, b.Settled())
	alerts, err := drive.Eval[[]string](b, `[...document.querySelectorAll("[role=alert], [role=alertdialog]")].map((n) => n.textContent)`)
	require.NoError(t, err)
	assert.Empty(t, alerts)
	assert.Equal(t, "night", now().Parts[0].Target.PaletteID)
}

// Edits of a job while the server is away are sent once it is back.
func TestAJobsEditsOutliveTheServer(t *testing.T) {
	t.Parallel()
	s := newServer(t)
	b := open(t)
	require.NoError(t, b.Do(chromedp.Navigate(s.url())))
	require.NoError(t, b.Click("Lisk Street Tramway shop"))
	require.NoError(t, b.Until(`!!document.querySelector('[data-at="0 0"]') || !!document.querySelector("section[aria-label=Palette]")`))
	path, err := drive.Eval[string](b, "location.pathname")
	require.NoError(t, err)
	s.kill()
	require.NoError(t, b.Click("Edit Lamp amber"))
	field := `section[aria-label=Palette] input[aria-label="Colour"]`
	require.NoError(t, b.Do(chromedp.Focus(chromedp.CSS(field)), chromedp.KeyEvent("a", chromedp.KeyModifiers(2)), chromedp.KeyEvent("#123456"+kb.Enter)))
	require.NoError(t, b.Until(`[...document.querySelectorAll("[role=alert]")].some((n) => n.textContent.includes("does not answer"))`))
	s.start()
	require.Eventually(t, func() bool {
		for _, c := range get[contents](t, s.url()+"/api"+path).Palette {
			if c.CSS == "#123456" {
				return true
			}
		}
		return false
	}, 30e9, 200e6, "the palette's edit is stored once the server is back")
}

// Every entry of a job's menu does what it says and nothing else.
func TestSavingABackupDoesNotDeleteTheJob(t *testing.T) {
	t.Parallel()
	s := newServer(t)
	b := open(t)
	require.NoError(t, b.Do(chromedp.Navigate(s.url())))
	require.NoError(t, b.Click("More for Lisk Street Tramway shop"))
	require.NoError(t, b.Until(`[...document.querySelectorAll("[role=menuitem]")].some((n) => n.textContent === "Save a backup file")`))
	require.NoError(t, b.Do(drive.JS(`[...document.querySelectorAll("[role=menuitem]")].find((n) => n.textContent === "Save a backup file").click()`)))
	require.NoError(t, b.Until(`document.querySelectorAll("[role=menuitem]").length === 0`))
	jobs := get[[]struct{ ID string }](t, s.url()+"/api/jobs")
	assert.Len(t, jobs, 1, "it is there still")
	gone, err := drive.Eval[bool](b, `document.body.textContent.includes("is deleted")`)
	require.NoError(t, err)
	assert.False(t, gone)

	// A deleted job is found again after the page was left.
	require.NoError(t, b.Click("More for Lisk Street Tramway shop"))
	require.NoError(t, b.Until(`[...document.querySelectorAll("[role=menuitem]")].some((n) => n.textContent === "Delete")`))
	require.NoError(t, b.Do(drive.JS(`[...document.querySelectorAll("[role=menuitem]")].find((n) => n.textContent === "Delete").click()`)))
	require.Eventually(t, func() bool { return len(get[[]struct{ ID string }](t, s.url()+"/api/jobs")) == 0 }, 10e9, 50e6)
	require.NoError(t, b.Do(chromedp.Navigate(s.url())))
	require.NoError(t, b.Until(`document.body.textContent.includes("Trash, 1")`))
	require.NoError(t, b.Click("Trash, 1"))
	require.NoError(t, b.Click("Bring Lisk Street Tramway shop back"))
	require.Eventually(t, func() bool { return len(get[[]struct{ ID string }](t, s.url()+"/api/jobs")) == 1 }, 10e9, 50e6)
}

// A click that is to open elsewhere is left to the browser.
func TestCtrlClickOpensElsewhere(t *testing.T) {
	t.Parallel()
	s := newServer(t)
	b := open(t)
	require.NoError(t, b.Do(chromedp.Navigate(s.url())))
	require.NoError(t, b.Until(`!!document.querySelector("a[href^='/jobs/']")`))
	went, err := drive.Eval[[]bool](b, `(() => {
		const press = (how) => {
			addEventListener("click", (e) => e.preventDefault(), { once: true }); // no other tab is wanted here
			document.querySelector("a[href^='/jobs/']").dispatchEvent(new MouseEvent("click", { bubbles: true, cancelable: true, ...how }));
			return location.pathname.startsWith("/jobs/");
		};
		return [press({ ctrlKey: true }), press({ shiftKey: true }), press({})];
	})()`)
	require.NoError(t, err)
	assert.Equal(t, []bool{false, false, true}, went)
}

// Every small picture of the job, of its sheet and of the list of jobs is there: none is asked for in a way that is refused.
func TestEverySmallPictureIsThere(t *testing.T) {
	t.Parallel()
	s := newServer(t)
	b := open(t)
	const there = `document.images.length > %d && [...document.images].every((i) => i.complete && i.naturalWidth > 0)`
	require.NoError(t, b.Do(chromedp.Navigate(s.url())))
	require.NoError(t, b.Until(fmt.Sprintf(there, 0)))
	require.NoError(t, b.Click("Lisk Street Tramway shop"))
	require.NoError(t, b.Until(`document.images.length > 3`))
	require.NoError(t, b.Do(drive.JS(`[...document.images].forEach((i) => { i.loading = "eager"; })`)))
	require.NoError(t, b.Until(fmt.Sprintf(there, 3)))
}

// An address that leads nowhere says so, at once, on every kind of page.
func TestWhatIsNotThereHasAPage(t *testing.T) {
	t.Parallel()
	s := newServer(t)
	b := open(t)
	const none = "7f3b2c1a-0000-4000-8000-00000000dead"
	for path, says := range map[string]string{"/nonsense": "no such page", "/jobs/" + none: "job is not here", "/jobs/x": "job is not here",
		"/across/" + none: "job is not here", "/sheet/" + none: "job is not here", "/pictures/" + none: "picture is not here", "/pictures/x": "picture is not here"} {
		require.NoError(t, b.Do(chromedp.Navigate(s.url()+path)))
		require.NoError(t, b.Until(`document.querySelector("h1")?.textContent.includes("`+says+`")`), path)
	}
	require.NoError(t, b.Click("All jobs"))
	require.NoError(t, b.Until(`location.pathname === "/" && document.body.innerText.includes("Lisk Street Tramway shop")`))
}

// An edit of a job whose page is reloaded before it was sent is sent by the next page, and an order waits for what is on its way.
func TestAJobsEditsOutliveAReload(t *testing.T) {
	t.Parallel()
	s := newServer(t)
	b := open(t)
	require.NoError(t, b.Do(chromedp.Navigate(s.url())))
	require.NoError(t, b.Click("Lisk Street Tramway shop"))
	require.NoError(t, b.Until(`!!document.querySelector("section[aria-label=Palette]")`))
	path, err := drive.Eval[string](b, "location.pathname")
	require.NoError(t, err)
	ways := func() int { return len(get[contents](t, s.url()+"/api"+path).Colourways) }
	// The line is gone while the hand goes on, and comes back with the next page.
	require.NoError(t, b.Do(drive.Line(true, 0, -1, -1)))
	require.NoError(t, b.Click("New colourway"))
	require.NoError(t, b.Click("New colourway"))
	require.NoError(t, b.Until(`document.querySelector("[data-unstored]")?.textContent.includes("2 edits are not stored yet")`))
	require.Zero(t, ways())
	require.NoError(t, b.Do(drive.JS(`addEventListener("beforeunload", (e) => { window.asked = e.defaultPrevented })`)))
	require.NoError(t, b.Do(drive.Line(false, 0, -1, -1), chromedp.Reload()))
	require.Eventually(t, func() bool { return ways() == 2 }, 20e9, 100e6, "both are stored by the next page")
	require.NoError(t, b.Until(`!document.querySelector("[data-unstored]") && document.querySelectorAll("thead th[data-drop]").length === 2`))

	require.NoError(t, b.Do(drive.Line(false, 1500, -1, -1)))
	require.NoError(t, b.Click("New colourway"))
	require.NoError(t, b.Click("Deliver"))
	require.NoError(t, b.Click("Render 27 files"))
	require.Eventually(t, func() bool { return len(get[[]delivery](t, s.url()+"/api"+path+"/deliveries")) > 0 }, 20e9, 20e6)
	require.Equal(t, 3, ways(), "what was on its way is stored before the order")
}

// After an outage what is shown is of what is set: the proof is asked for again, and no alert stays. What cannot be done meanwhile says so.
func TestAfterAnOutageTheProofIsOfWhatIsSet(t *testing.T) {
	t.Parallel()
	s := newServerOf(t, seeded)
	b := open(t)
	openMug(t, b, s)
	require.NoError(t, b.Stroke(w, h, 0, [2]float64{620, 600}, [2]float64{1000, 640}))
	require.NoError(t, b.Settled())
	require.NoError(t, b.Click("Colour"))
	require.NoError(t, b.Click("Harbour teal"))
	require.NoError(t, b.Until(`document.querySelector("[data-saving]").dataset.saving === "saved"`))
	require.NoError(t, b.Click("Proof"))
	const figures = `document.querySelector("[role=tabpanel]:not([inert])").textContent`
	require.NoError(t, b.Until(figures+`.includes("Lab 41 ")`))
	require.NoError(t, b.Click("Colour"))
	s.kill()
	require.NoError(t, b.Click("Lamp amber"))
	require.NoError(t, b.Until(`document.querySelector("[data-saving]").dataset.saving === "offline"`))
	require.NoError(t, b.Until(`document.body.innerText.includes("does not answer")`))
	require.NoError(t, b.Click("Sample"))
	x, y, err := b.OnStage(300, 800, w, h)
	require.NoError(t, err)
	require.NoError(t, b.Do(chromedp.MouseClickXY(x, y)))
	require.NoError(t, b.Until(`[...document.querySelectorAll("[role=alert], [role=status]")].some((n) => n.textContent.includes("does not answer"))`), "sampling says why it does not")
	s.start()
	require.NoError(t, b.Until(`document.querySelector("[data-saving]").dataset.saving === "saved"`))
	require.NoError(t, b.Do(chromedp.KeyEvent(kb.Escape)))
	require.NoError(t, b.Click("Proof"))
	require.NoError(t, b.Until(figures+`.includes("Lab 71 ")`), "the figures are amber's")
	require.NoError(t, b.Until(`!document.body.innerText.includes("does not answer")`), "and no alert is left")
}
