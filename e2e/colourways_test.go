package e2e

import (
	"archive/zip"
	"bytes"
	"fmt"
	"image"
	_ "image/jpeg"
	"io"
	"net/http"
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

// content is a job as the server has it.
type content struct {
	ID         string
	Palette    []document.Swatch
	Colourways []document.Colourway
	Undo       string
}

type delivery struct{ ID, Name, State, Batch string }

func TestOneSelectionInEveryColourIsHandedOver(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.drag(0, [2]float64{620, 600}, [2]float64{1000, 640}, [2]float64{900, 880})
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "sweep" })
	e.settled()
	row := e.parts()[0].Row() // nobody named it: it is a row of its own
	e.click("Lisk Street Tramway shop")

	jobs := get[[]struct{ ID string }](t, e.s.url()+"/api/jobs")
	url := e.s.url() + "/api/jobs/" + jobs[0].ID
	job := func(what string, ok func(c content) bool) content {
		t.Helper()
		var c content
		require.Eventually(t, func() bool { c = get[content](t, url); return ok(c) }, 20*time.Second, 50*time.Millisecond, what)
		return c
	}
	cell := func(c content, at int) string { return c.Colourways[at].Cells[row].Target.PaletteID }

	// The matrix, by pointer: a colour onto a cell, another onto a whole column; by keys: cell to cell.
	for range 3 {
		e.click("New colourway")
	}
	job("three colourways", func(c content) bool { return len(c.Colourways) == 3 })
	middle := func(js string) [2]float64 {
		t.Helper()
		require.NoError(t, e.b.Until(`!!(`+js+`)`), js)
		r, err := drive.Eval[[]float64](e.b, `(() => { const e = `+js+`; e.scrollIntoView({ block: "center" }); const r = e.getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2] })()`)
		require.NoError(t, err)
		return [2]float64{r[0], r[1]}
	}
	disc := func(name string) [2]float64 {
		return middle(fmt.Sprintf(`[...document.querySelectorAll("section[aria-label=Palette] b")].find((b) => b.textContent === %q)?.closest("div").firstElementChild`, name))
	}
	to := middle(`document.querySelector('[data-at="0 0"]')`)
	from := disc("Lamp amber")
	e.do("drag onto a cell", e.b.Drag(0, [][2]float64{from, {from[0] - 90, from[1] + 40}, {to[0] + 3, to[1]}, to}))
	job("a cell", func(c content) bool { return cell(c, 0) == "lamp" })
	to = middle(`document.querySelectorAll("thead th")[2]`)
	from = disc("Rail night")
	e.do("drag onto a column", e.b.Drag(0, [][2]float64{from, {from[0] - 90, from[1] + 40}, {to[0] + 3, to[1]}, to}))
	job("a column", func(c content) bool { return cell(c, 1) == "night" })
	e.do("keys", e.b.Do(chromedp.Focus(chromedp.CSS(`[data-at="0 1"]`)), chromedp.KeyEvent(kb.ArrowRight), chromedp.KeyEvent("5")))
	job("by key", func(c content) bool { return cell(c, 2) == "depot" })
	e.do("undo", e.b.Do(chromedp.KeyEvent("z", chromedp.KeyModifiers(drive.Ctrl))))
	job("undone", func(c content) bool {
		_, there := c.Colourways[2].Cells[row]
		return !there && cell(c, 1) == "night"
	})
	e.do("again", e.b.Do(chromedp.KeyEvent("z", chromedp.KeyModifiers(drive.Ctrl, drive.Shift))))
	job("redone", func(c content) bool { return cell(c, 2) == "depot" })

	// A colour changed in the palette is changed in the colourway; a wrong one says so and changes nothing.
	e.click("Edit Lamp amber")
	field := `section[aria-label=Palette] input[aria-label="Colour"]`
	typed := func(v string) {
		e.do("type", e.b.Do(chromedp.Focus(chromedp.CSS(field)), chromedp.KeyEvent("a", chromedp.KeyModifiers(drive.Ctrl)), chromedp.KeyEvent(v+kb.Enter)))
	}
	typed("#12")
	e.do("why", e.b.Until(`[...document.querySelectorAll("[role=alert]")].some((n) => n.textContent.includes("#12"))`))
	typed("cmyk(0 30 80 10)")
	changed := job("changed", func(c content) bool { return strings.HasPrefix(c.Palette[1].CSS, "cmyk") })
	assert.Equal(t, changed.Palette[1].CSS, changed.Colourways[0].Cells[row].Target.CSS, "everywhere it is used")
	e.do("marked", e.b.Until(`document.body.textContent.includes("uncalibrated CMYK")`))

	// The sheet: all colourways side by side, two of them as a pair, one chosen.
	e.click("Sheet")
	e.do("cards", e.b.Until(`document.querySelectorAll("ul[aria-label=Sheet] > li").length === 4`))
	e.do("chosen", e.b.Do(drive.JS(`[...document.querySelectorAll("ul[aria-label=Sheet] button")].find((b) => b.textContent === "Chosen").click()`)))
	job("chosen", func(c content) bool { return c.Colourways[0].Mark == "chosen" })
	e.do("pair", e.b.Do(drive.JS(`[...document.querySelectorAll("ul[aria-label=Sheet] button")].filter((b) => b.textContent === "Pair").slice(0, 2).forEach((b) => b.click())`)))
	e.do("two", e.b.Until(`document.querySelectorAll("ul[aria-label=Sheet] > li").length === 2`))
	e.click("Lisk Street Tramway shop")

	// Twelve files; some are cancelled, the server is killed meanwhile, and the rest comes out once and whole.
	e.click("Deliver")
	e.do("format", e.b.Do(drive.JS(`(() => { const s = document.querySelector('select[aria-label="Format"]'); Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(s, "jpeg"); s.dispatchEvent(new Event("change", { bubbles: true })) })()`)))
	for _, name := range []string{"Conductor’s cap", "Poster", "Route map", "Icon sheet", "Sticker"} {
		e.click(name)
	}
	e.click("Render 12 files")
	files := func() []delivery { return get[[]delivery](t, url+"/deliveries") }
	require.Eventually(t, func() bool { return len(files()) == 12 }, 20*time.Second, 50*time.Millisecond)
	for _, d := range files()[:2] { // the newest wait longest
		req, err := http.NewRequest("DELETE", e.s.url()+"/api/deliveries/"+d.ID, nil)
		require.NoError(t, err)
		res, err := http.DefaultClient.Do(req)
		require.NoError(t, err)
		res.Body.Close()
	}
	e.s.kill()
	e.s.start()
	require.Eventually(t, func() bool {
		n := map[string]int{}
		for _, d := range files() {
			n[d.State]++
		}
		return n["done"]+n["cancelled"] == 12 && n["cancelled"] <= 2
	}, 90*time.Second, 200*time.Millisecond, "all are over")
	res, err := http.Get(e.s.url() + "/api/batches/" + files()[0].Batch + "/zip")
	require.NoError(t, err)
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	z, err := zip.NewReader(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	names := map[string]bool{}
	for _, f := range z.File {
		r, err := f.Open()
		require.NoError(t, err)
		cfg, format, err := image.DecodeConfig(r)
		require.NoError(t, err, f.Name)
		assert.Equal(t, "jpeg", format)
		assert.Equal(t, 1800, cfg.Width)
		names[f.Name] = true
		r.Close()
	}
	assert.Len(t, names, len(z.File), "each once")
	assert.GreaterOrEqual(t, len(names), 10)
}

// The page follows a chosen colourway once the stage has shown it; what somebody does before that is done to the colourway all the same.
func TestWhatIsDoneRightAfterAColourwayIsChosenIsDoneToIt(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	was := e.parts()[0].Target
	e.withColourways(map[string]string{"a": "#8a2f3c", "b": "#caa23c"})
	e.do("open", e.b.Do(chromedp.Reload()))
	e.settled()
	e.click("Colour")
	e.do("the colourways are there", e.b.Until(`document.querySelectorAll('select[aria-label="Colourway"] option').length === 3`))
	e.do("the colours are there", e.b.Until(`document.querySelectorAll('[role=group][aria-label="Colours of the palette"] button').length > 1`))
	e.choose("a")
	busy := `document.querySelector("aside").dataset.measuring === "%v"`
	e.do("what was measured is not of it", e.b.Until(fmt.Sprintf(busy, true)))
	e.do("and is then", e.b.Until(fmt.Sprintf(busy, false)))
	e.do("choose and change", e.b.Do(drive.JS(`{ const s = document.querySelector('select[aria-label="Colourway"]'); Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(s, "b"); s.dispatchEvent(new Event("change", { bubbles: true }));
		document.querySelectorAll('[role=group][aria-label="Colours of the palette"] button')[1].click() }`)))
	row := "#" + e.parts()[0].ID
	var c content
	require.Eventually(t, func() bool {
		c = get[content](t, e.s.url()+"/api/jobs/"+e.jobID())
		return c.Colourways[1].Cells[row].Target.PaletteID != ""
	}, 20*time.Second, 50*time.Millisecond)
	assert.Equal(t, "#8a2f3c", c.Colourways[0].Cells[row].Target.CSS)
	assert.Equal(t, was, e.parts()[0].Target)
}
