// Command shots takes the pictures of docs/screenshots from a running server with a fresh demo job.
//
//	go run ./e2e/shots -url http://127.0.0.1:8427 [-out docs/screenshots]
package main

import (
	"context"
	"flag"
	"fmt"
	"log"
	"math"
	"os"
	"path/filepath"
	"strings"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"episema/e2e/drive"
	"episema/internal/scenes"
)

func main() {
	url, out := flag.String("url", "http://127.0.0.1:8427", ""), flag.String("out", "docs/screenshots", "")
	flag.Parse()
	b, err := drive.Open(context.Background(), 1280, 800)
	if err != nil {
		log.Fatal(err)
	}
	defer b.Close()
	step := func(what string, err error) {
		if err != nil {
			if shotErr := b.Shot(filepath.Join(os.TempDir(), "failed.png")); shotErr != nil {
				log.Print(shotErr)
			}
			log.Fatalf("%s: %v", what, err)
		}
	}
	shot := func(name string) {
		step("measured", b.Until(`!document.querySelector("aside[data-measuring=true]") || !!document.querySelector("[data-saving=offline]")`)) // which comes after the stage
		step(name, b.Shot(filepath.Join(*out, name+".png")))
	}
	const w, h = 1800, 1200
	images := `[...document.images].length > 0 && [...document.images].every((i) => i.complete && i.naturalWidth > 0)`
	step("jobs", b.Do(chromedp.Navigate(*url)))
	step("covers", b.Until(images+` && document.images.length > 1`))
	shot("jobs")
	step("job", b.Click("Lisk Street Tramway shop"))
	step("covers", b.Until(images+` && document.images.length > 5`))
	step("open", b.Click("Depot mug"))
	step("stage", b.Settled())
	// A smaller tip for the handle.
	step("sweep", b.Stroke(w, h, 0, [2]float64{620, 600}, [2]float64{1000, 640}, [2]float64{900, 880}))
	step("stage", b.Settled())
	step("smaller", b.Do(chromedp.KeyEvent("[[[[")))
	step("sweep", b.Stroke(w, h, 0, [2]float64{1230, 385}, [2]float64{1310, 430}, [2]float64{1350, 520}, [2]float64{1335, 640}, [2]float64{1250, 765}))
	step("stage", b.Settled())
	step("away", b.Stroke(w, h, drive.Alt, [2]float64{430, 400}, [2]float64{430, 660}, [2]float64{640, 1090}, [2]float64{900, 1110}, [2]float64{1260, 960}, [2]float64{1500, 800}))
	step("stage", b.Settled())
	step("name", b.Click("Rename Part 1"))
	step("name", b.Do(chromedp.SendKeys(chromedp.CSS(`input[aria-label="Name of the part"]`), "Mug body"+kb.Enter)))
	step("stage", b.Settled())
	shot("bench-isolate")
	step("colour", b.Click("Colour"))
	step("teal", b.Click("Harbour teal"))
	step("stage", b.Settled())
	step("proof", b.Until(`/ΔE [0-9.]+ of/.test(document.body.textContent)`))
	shot("bench-colour")
	step("by eye", b.Click("Choose by eye: Target colour"))
	step("plane", b.Until(`!!document.querySelector("[data-plane]:not([data-plane=''])")`))
	step("drawn", b.Drawn())
	shot("colour-by-eye")
	step("closed", b.Do(chromedp.KeyEvent(kb.Escape)))
	step("stage", b.Settled())
	step("proof", b.Click("Proof"))
	step("stage", b.Settled())
	step("closely", b.Until(`/Detail kept\s*[01]\.\d\d/.test(document.body.textContent)`))
	shot("bench-proof")
	step("pair", b.Do(chromedp.Focus(chromedp.CSS("canvas")), chromedp.KeyEvent("q"), chromedp.KeyEvent("g"), drive.Mouse(drive.Moved, 312, 402)))
	step("stage", b.Settled())
	step("loupe", b.Drawn())
	shot("bench-pair")
	step("alone", b.Do(chromedp.Focus(chromedp.CSS("canvas")), chromedp.KeyEvent("g"), chromedp.KeyEvent("q")))
	step("now", b.Do(chromedp.Focus(chromedp.CSS("canvas")), chromedp.KeyEvent(kb.Escape), chromedp.KeyEvent("0")))
	isolating(b, step, shot)
	drawings(b, step, shot)
	colourways(b, step, shot)
	buildUp(b, step, shot)
	hardship(b, step, shot)
	second(b, step, shot)
	flower(b, step, shot)
}

// buildUp shows the picture shelf, a pattern on cloth, a patch, and the stage in ink.
func buildUp(b *drive.Browser, step func(string, error), shot func(string)) {
	const w, h = 1800, 1200
	ready := func(what, picture string) {
		step(what, b.Click(picture))
		step("stage", b.Settled())
	}
	step("shelf", b.Click("From the picture shelf"))
	step("choose", b.Click("Rail and lamp, a repeat for cloth"))
	step("previews", b.Until(`[...document.querySelectorAll('ul[aria-label="Pictures on the shelf"] img')].every((i) => i.complete && i.naturalWidth > 0)`))
	step("drawn", b.Drawn())
	shot("shelf")
	step("take", b.Click("Take it into the job"))
	step("taken", b.Until(`document.body.textContent.includes("Mira Tolland, Roundhouse")`))
	ready("scarf", "Conductor’s scarf")
	step("new part", b.Click("New part"))
	step("subject", b.Do(chromedp.Focus(chromedp.CSS("canvas")), chromedp.KeyEvent("u")))
	step("found", b.Click("Find the subject"))
	step("stage", b.Settled())
	step("colour", b.Click("Colour"))
	step("teal", b.Click("Harbour teal"))
	step("stage", b.Settled())
	step("pictures", b.Click("From a picture"))
	step("tile", b.Click("Rail and lamp, a repeat for cloth"))
	step("laid", b.Until(`document.querySelectorAll('[aria-label="Colour of the pattern at hand"] *').length > 3`))
	step("stage", b.Settled())
	step("cream", b.Click("Enamel cream"))
	step("stage", b.Settled())
	step("proof", b.Until(`/ΔE [0-9.]+ of 1\.5/.test(document.body.textContent)`))
	step("scroll", b.Do(drive.JS(`[...document.querySelectorAll("h3")].find((e) => e.textContent === "Pattern").scrollIntoView({ block: "start" })`)))
	step("drawn", b.Drawn())
	shot("pattern")

	step("job", b.Click("Lisk Street Tramway shop"))
	profile := "/usr/share/color/icc/ghostscript/default_cmyk.icc"
	step("inks", b.Until(`!!document.querySelector('input[type=file][accept*=".icc"]')`))
	step("inks", b.Do(chromedp.SetUploadFiles(chromedp.CSS(`input[type=file][accept*=".icc"]`), []string{profile})))
	step("read", b.Until(`document.body.textContent.includes("CMYK is read through")`))
	ready("mug", "Depot mug")
	step("colour", b.Click("Colour"))
	step("old", b.Do(drive.JS(`document.querySelector('input[aria-label="Target colour"]').select()`)))
	step("blue", b.Do(chromedp.SendKeys(chromedp.CSS(`input[aria-label="Target colour"]`), "#0a5cff"+kb.Enter)))
	step("stage", b.Settled())
	step("proof", b.Click("Proof"))
	step("ink", b.Do(chromedp.SendKeys(chromedp.CSS(`select[aria-label="Seen in ink"]`), "In ink, m")))
	step("stage", b.Settled())
	step("missed", b.Until(`/Missed by the inks9[0-9.]+ %/.test(document.body.textContent)`)) // the proof of the blue comes after the stage
	step("scroll", b.Do(drive.JS(`[...document.querySelectorAll("b")].find((e) => e.textContent === "Missed by the inks").scrollIntoView({ block: "center" })`)))
	step("drawn", b.Drawn())
	shot("in-ink")
	// By its first entry, not by its letters: those would still be added to the ones before.
	step("screen", b.Do(drive.JS(`(() => {
		const s = document.querySelector('select[aria-label="Seen in ink"]');
		Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(s, s.options[0].value);
		s.dispatchEvent(new Event("change", { bubbles: true }));
	})()`)))
	step("stage", b.Settled())
	step("patch", b.Do(chromedp.Focus(chromedp.CSS("canvas")), chromedp.KeyEvent("f")))
	var ring [][2]float64
	for i := range 33 {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / 32)
		ring = append(ring, [2]float64{1330 + 75*cos, 165 + 55*sin})
	}
	step("ring", b.Stroke(w, h, 0, ring...))
	step("covered", b.Until(`document.body.textContent.includes("Another cover")`))
	step("stage", b.Settled())
	shot("patch")
	step("gone", b.Do(chromedp.KeyEvent(kb.Escape), chromedp.KeyEvent(kb.Escape)))
	step("job", b.Click("Lisk Street Tramway shop"))
}

// hardship shows what is said while the line is gone.
func hardship(b *drive.Browser, step func(string, error), shot func(string)) {
	step("open", b.Click("Depot mug"))
	step("stage", b.Settled())
	step("colour", b.Click("Colour"))
	step("shown", b.Settled())
	step("measured", b.Until(`document.querySelector("aside").textContent.includes("ΔE")`))
	step("gone", b.Do(drive.Line(true, 0, -1, -1)))
	step("amber", b.Click("Lamp amber"))
	step("said", b.Until(`document.querySelector("[data-saving]")?.dataset.saving === "offline"`))
	step("drawn", b.Drawn())
	shot("offline")
	step("back again", b.Do(drive.Line(false, 0, -1, -1)))
	step("saved", b.Until(`document.querySelector("[data-saving]")?.dataset.saving === "saved"`))
}

// second sets a second mug beside the first: smaller, in amber, with its shadow.
func second(b *drive.Browser, step func(string, error), shot func(string)) {
	const w, h = 1800, 1200
	typed := func(field, value string) {
		step(field, b.Do(chromedp.Focus(chromedp.CSS(fmt.Sprintf("input[aria-label=%q]", field))), chromedp.KeyEvent("a", chromedp.KeyModifiers(drive.Ctrl)), chromedp.KeyEvent(value+kb.Enter)))
		step("stage", b.Settled())
	}
	step("new part", b.Click("New part"))
	step("isolate", b.Click("Isolate"))
	for i, s := range [][][2]float64{
		{{620, 600}, {1000, 640}, {900, 880}},
		{{700, 280}, {900, 300}, {1100, 290}},
		{{570, 350}, {700, 400}, {900, 415}, {1100, 400}, {1240, 330}},
		{{1230, 385}, {1310, 430}, {1350, 520}, {1335, 640}, {1250, 765}},
	} {
		if i == 3 { // a smaller tip for the handle
			step("smaller", b.Do(chromedp.Focus(chromedp.CSS("canvas")), chromedp.KeyEvent("[[[[")))
		}
		step("sweep", b.Stroke(w, h, 0, s...))
		step("stage", b.Settled())
	}
	step("away", b.Stroke(w, h, drive.Alt, [2]float64{430, 400}, [2]float64{430, 660}, [2]float64{640, 1090}, [2]float64{900, 1110}, [2]float64{1260, 960}, [2]float64{1500, 800}))
	step("stage", b.Settled())
	step("more", b.Click("More for Part 2"))
	step("copy", b.Click("Set a copy beside it"))
	step("hands", b.Until(`!!document.querySelector('[aria-label="Turns the copy"]')`))
	typed("Size, typed", "55")
	typed("Across, typed", "330")
	typed("Down, typed", "890")
	typed("Turned, typed", "-4")
	step("colour", b.Click("Colour"))
	step("amber", b.Click("Lamp amber"))
	step("isolate", b.Click("Isolate"))
	step("picture", b.Click("Picture"))
	step("by hand", b.Click("Move it on the picture"))
	step("stage", b.Settled())
	step("drawn", b.Drawn())
	shot("copy")
}

// colourways fills a matrix, shows its sheet and the pictures of a part beside each other, and orders everything.
func colourways(b *drive.Browser, step func(string, error), shot func(string)) {
	images := `[...document.images].length > 3 && [...document.images].every((i) => i.complete && i.naturalWidth > 0)`
	step("back", b.Click("Lisk Street Tramway shop"))
	step("new", b.Click("New colourway"))
	field := `thead th:nth-child(5) input`
	step("name", b.Do(chromedp.WaitVisible(chromedp.CSS(field)), chromedp.Focus(chromedp.CSS(field)), chromedp.KeyEvent("a", chromedp.KeyModifiers(drive.Ctrl)), chromedp.KeyEvent("Enamel line"+kb.Enter)))
	step("named", b.Until(`document.querySelector("thead th:nth-child(5) input")?.value === "Enamel line" && document.querySelector("[data-saving]").dataset.saving === "saved"`))
	rows, err := drive.Eval[[]string](b, `[...document.querySelectorAll("tbody th")].map((h) => h.textContent)`)
	step("rows", err)
	for r, row := range rows {
		for c := range 4 {
			if k := string("1234"[(c+r*(r-1))%4]); r < 5 && (c == 3 || !strings.HasPrefix(row, "Tram")) { // the tram is finished in three
				step("cell", b.Do(chromedp.Focus(chromedp.CSS(fmt.Sprintf(`[data-at="%d %d"]`, r, c))), chromedp.KeyEvent(k)))
			}
		}
	}
	step("saved", b.Until(`document.querySelector("[data-saving]").dataset.saving === "saved"`))
	step("proofs", b.Until(`[...document.querySelectorAll("td .num")].every((n) => n.textContent !== "…")`))
	step("covers", b.Until(images))
	shot("job")
	step("sheet", b.Click("Sheet"))
	step("covers", b.Until(images))
	step("proof", b.Until(`document.body.textContent.includes(" of 2.0")`))
	step("drawn", b.Drawn())
	shot("sheet")
	step("back", b.Click("Lisk Street Tramway shop"))
	step("deliver", b.Click("Deliver"))
	step("render", b.Click("Render"))
	step("running", b.Until(`/([3-9]|1[0-9]) of 36 files/.test(document.body.textContent)`))
	shot("deliver")
	step("done", b.Until(`/36 of 36 files/.test(document.body.textContent)`))
}

// isolating shows kinds of pick at work, each on the picture it suits.
func isolating(b *drive.Browser, step func(string, error), shot func(string)) {
	const w, h = 1800, 1200
	settle := func() { step("settled", b.Settled()) }
	open := func(picture string) {
		step("back", b.Click("Lisk Street Tramway shop"))
		step("open", b.Click(picture))
		settle()
		step("focus", b.Do(chromedp.Focus(chromedp.CSS("canvas"))))
	}
	key := func(k string) { step(k, b.Do(chromedp.Focus(chromedp.CSS("canvas")), chromedp.KeyEvent(k))) }
	click := func(x, y float64, m drive.Modifier) {
		wx, wy, err := b.OnStage(x, y, w, h)
		step("where", err)
		step("click", b.Do(drive.Mouse(drive.Moved, wx, wy, m), drive.Mouse(drive.Pressed, wx, wy, m), drive.Mouse(drive.Released, wx, wy, m)))
		settle()
	}

	// Marks on the scarf with its fringe, cut out.
	open("Conductor’s scarf")
	key("m")
	step("ring", b.Stroke(w, h, 0, [2]float64{500, 80}, [2]float64{1180, 80}, [2]float64{1200, 1030}, [2]float64{480, 1030}, [2]float64{500, 100}))
	settle()
	step("mark", b.Stroke(w, h, 0, [2]float64{620, 250}, [2]float64{700, 600}, [2]float64{1000, 300}, [2]float64{1050, 700}, [2]float64{650, 850}))
	settle()
	step("cut-out", b.Click("Cut-out"))
	step("checks", b.Click("Chequered ground"))
	settle()
	shot("isolate-marks")

	// An outline on the tote.
	open("Canvas tote")
	key("o")
	for _, p := range [][2]float64{{656, 495}, {655, 800}, {660, 1105}, {1205, 1120}} {
		click(p[0], p[1], 0)
	}
	click(1212, 500, 0)
	step("curve", b.Stroke(w, h, 0, [2]float64{940, 565}, [2]float64{860, 560}))
	settle()
	click(656, 495, 0)
}

// flower shows a Sweep over petals that reaches for all of them.
func flower(b *drive.Browser, step func(string, error), shot func(string)) {
	const w, h = 900, 600
	scene := scenes.Bare("demo/truth", "bloom")
	step("scene", scene.Load())
	light, err := scene.Light("apricot")
	step("flower", err)
	photo := filepath.Join(os.TempDir(), "Window bloom.jpg")
	step("photo", os.WriteFile(photo, scenes.CameraJPEG(light, 1), 0o644))
	defer os.Remove(photo)
	step("back", b.Click("Lisk Street Tramway shop"))
	step("files", b.Until(`!!document.querySelector("main input[type=file]")`))
	step("upload", b.Do(chromedp.SetUploadFiles(chromedp.CSS("main input[type=file]"), []string{photo})))
	step("taken", b.Until(`!!document.querySelector('a[aria-label="Window bloom"]')`))
	step("open", b.Click("Window bloom"))
	step("stage", b.Settled())
	step("sweep", b.Do(chromedp.Focus(chromedp.CSS("canvas")), chromedp.KeyEvent("s")))
	step("stroke", b.Stroke(w, h, 0, [2]float64{330, 290}, [2]float64{420, 180}, [2]float64{540, 260}, [2]float64{430, 400}))
	step("stage", b.Settled())
	step("stroke", b.Stroke(w, h, drive.Alt, [2]float64{820, 120}, [2]float64{850, 420}))
	step("stage", b.Settled())
	step("reach", b.Do(chromedp.KeyEvent(".")))
	step("stage", b.Settled())
	step("measured", b.Until(`/left as it is · [0-9.]+ %/.test(document.body.textContent) && document.body.textContent.includes("Separate areas")`)) // both come after the stage
	shot("isolate-reach")
}

// drawings shows a poster whose reds become another family with its tints, and a colour picked on every board of a map.
func drawings(b *drive.Browser, step func(string, error), shot func(string)) {
	ready := `Number(document.querySelector("[data-testid=drawing]")?.dataset.shown ?? -1) >= 0`
	at := func(x, y, w, h float64) {
		r, err := drive.Eval[[]float64](b, `(() => { const r = document.querySelector("[data-testid=drawing]").getBoundingClientRect(); return [r.x, r.y, r.width, r.height] })()`)
		step("stage", err)
		k := min((r[2]-48)/w, (r[3]-48)/h)
		p := [2]float64{r[0] + (r[2]-w*k)/2 + x*k, r[1] + (r[3]-h*k)/2 + y*k}
		step("press", b.Drag(0, [][2]float64{p, p}))
	}
	step("back", b.Click("Lisk Street Tramway shop"))
	step("open", b.Click("Poster"))
	step("drawing", b.Until(ready))
	step("drawn", b.Drawn())
	at(300, 620, 600, 840)
	step("picked", b.Until(`!!document.querySelector("[data-testid=picked]")`))
	step("amber", b.Click("Slate blue"))
	step("shown", b.Until(`Number(document.querySelector("[data-testid=drawing]").dataset.shown) > 0`))
	step("nothing picked", b.Do(chromedp.KeyEvent(kb.Escape), chromedp.KeyEvent("w")))
	step("drawn", b.Drawn())
	shot("drawing-tints")
	step("now", b.Do(chromedp.KeyEvent("w")))
	step("back", b.Click("Lisk Street Tramway shop"))
	step("open", b.Click("Route map"))
	step("drawing", b.Until(ready))
	step("drawn", b.Drawn())
	at(250, 440, 1260, 480)
	step("picked", b.Until(`document.querySelector("[data-testid=picked]")?.textContent.startsWith("3 things")`))
	step("drawn", b.Drawn())
	step("nothing picked", b.Do(chromedp.KeyEvent(kb.Escape)))
	step("back", b.Click("Lisk Street Tramway shop"))
	step("open", b.Click("Sticker"))
	step("drawing", b.Until(`document.querySelector("[data-testid=drawing]")?.dataset.shown === "1"`))
	step("drawn", b.Drawn())
	at(480, 560, 960, 960)
	step("picked", b.Until(`!!document.querySelector("[data-testid=picked]")`))
	step("amber", b.Click("Slate blue"))
	step("drawn", b.Drawn())
	step("split", b.Do(chromedp.KeyEvent("w")))
	step("drawn", b.Drawn())
	shot("drawing-flat")
	step("now", b.Do(chromedp.KeyEvent("w")))
}
