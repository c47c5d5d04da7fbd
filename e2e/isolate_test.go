package e2e

import (
	"bytes"
	"fmt"
	"image/png"
	"io"
	"math"
	"net/http"
	"os"
	"path/filepath"
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

// bench is one picture open in the browser.
type bench struct {
	t  *testing.T
	b  *drive.Browser
	s  *server
	id string
}

func openBench(t *testing.T) *bench {
	t.Helper()
	s := newServer(t)
	b := open(t)
	e := &bench{t, b, s, openMug(t, b, s)}
	e.tellOnFailure()
	return e
}

// tellOnFailure says what the page shows where the test fails.
func (e *bench) tellOnFailure() {
	t, b := e.t, e.b
	t.Cleanup(func() {
		if !t.Failed() {
			return
		}
		state, err := drive.Eval[string](b, `JSON.stringify({
			saving: { ...document.querySelector("[data-saving]")?.dataset }, drawing: { ...document.querySelector("[data-testid=drawing]")?.dataset }, stage: { ...document.querySelector("canvas")?.dataset },
			focus: document.activeElement?.outerHTML.slice(0, 120), notices: [...document.querySelectorAll("[role=status],[role=alert]")].map((n) => n.textContent),
			undo: [...document.querySelectorAll("[aria-label^=Undo]")].map((n) => n.ariaLabel + (n.disabled ? " off" : "")), kept: { ...localStorage } })`)
		t.Log("the page at the end:", state, err)
	})
}

func (e *bench) do(what string, err error) {
	e.t.Helper()
	require.NoError(e.t, err, what)
}

func (e *bench) parts() []document.Part {
	e.t.Helper()
	return get[picture](e.t, e.s.url()+"/api/pictures/"+e.id).Document.Parts
}

// key presses a key on the stage.
func (e *bench) key(k string, m ...chromedp.KeyOption) {
	e.t.Helper()
	e.do("focus", e.b.Do(chromedp.Focus(chromedp.CSS("canvas")), chromedp.KeyEvent(k, m...)))
}

// mugInTeal sweeps the mug's body and makes it harbour teal; the face of colour is open then.
func (e *bench) mugInTeal() {
	e.t.Helper()
	e.key("s")
	e.drag(0, [2]float64{620, 600}, [2]float64{1000, 640})
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "sweep" })
	e.click("Colour")
	e.click("Harbour teal")
	require.Eventually(e.t, func() bool { return e.parts()[0].Target.PaletteID == "harbour" }, 20*time.Second, 50*time.Millisecond, "in harbour teal")
	e.settled()
}

// at clicks a point of the picture.
func (e *bench) at(x, y float64, m drive.Modifier) {
	e.t.Helper()
	wx, wy, err := e.b.OnStage(x, y, w, h)
	e.do("where", err)
	e.do("click", e.b.Do(drive.Mouse(drive.Moved, wx, wy, m), drive.Mouse(drive.Pressed, wx, wy, m), drive.Mouse(drive.Released, wx, wy, m)))
	e.paced()
}

func (e *bench) drag(m drive.Modifier, p ...[2]float64) {
	e.t.Helper()
	e.do("drag", e.b.Stroke(w, h, m, p...))
	e.paced()
}

// paced waits until what was done has been drawn; what it led to is awaited where it is checked.
func (e *bench) paced() {
	e.t.Helper()
	e.do("drawn", e.b.Drawn())
}

// pixel returns the colour that the stage shows at a place of the picture.
func (e *bench) pixel(x, y float64) string {
	e.t.Helper()
	e.settled()
	px, py, err := e.b.OnStage(x, y, w, h)
	require.NoError(e.t, err)
	c, err := drive.Eval[string](e.b, fmt.Sprintf(`(() => { const c = document.querySelector("canvas"), r = c.getBoundingClientRect(); return [...c.getContext("2d").getImageData((%f - r.x) * c.width / r.width, (%f - r.y) * c.height / r.height, 1, 1).data].join(" ") })()`, px, py))
	require.NoError(e.t, err)
	return c
}

func (e *bench) settled() {
	e.t.Helper()
	e.do("settled", e.b.Settled())
}

func (e *bench) click(name string) {
	e.t.Helper()
	e.do(name, e.b.Click(name))
	e.paced()
}

// pick waits until the part's last pick is as wanted, and gives it.
func (e *bench) pick(part int, ok func(p isolate.Pick) bool) isolate.Pick {
	e.t.Helper()
	var last isolate.Pick
	require.Eventually(e.t, func() bool {
		all := e.parts()
		if len(all) <= part || len(all[part].Picks) == 0 {
			return false
		}
		last = all[part].Picks[len(all[part].Picks)-1]
		return ok(last)
	}, 20*time.Second, 50*time.Millisecond)
	return last
}

// mask reads a part's mask as it is handed out.
func (e *bench) mask(id string) []uint16 {
	e.t.Helper()
	res, err := http.Get(e.s.url() + "/api/pictures/" + e.id + "/parts/" + id + "/mask")
	require.NoError(e.t, err)
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	require.NoError(e.t, err)
	require.Equal(e.t, 200, res.StatusCode, string(b))
	img, err := png.Decode(bytes.NewReader(b))
	require.NoError(e.t, err)
	out := make([]uint16, 0, w*h)
	for y := range int(h) {
		for x := range int(w) {
			v, _, _, _ := img.At(x, y).RGBA()
			out = append(out, uint16(v))
		}
	}
	return out
}

func share(mask []uint16) float64 {
	s := 0.0
	for _, v := range mask {
		s += float64(v) / 65535
	}
	return s / float64(len(mask))
}

func TestEachKindOfPickByPointerAndByKey(t *testing.T) {
	t.Parallel()
	e := openBench(t)

	// Like colours: a click, one more, one that it is not; the tolerance by key.
	e.key("l")
	e.at(700, 700, 0)
	assert.Len(t, e.pick(0, func(p isolate.Pick) bool { return p.Kind == "like" }).Samples, 1)
	e.at(1000, 640, drive.Shift)
	e.pick(0, func(p isolate.Pick) bool { return len(p.Samples) == 2 })
	e.at(1550, 820, drive.Alt)
	e.pick(0, func(p isolate.Pick) bool { return len(p.Not) == 1 })
	wide := share(e.mask(e.parts()[0].ID))
	before := e.parts()[0].Picks[0].Tolerance
	e.key("[")
	e.pick(0, func(p isolate.Pick) bool { return p.Tolerance < before })
	assert.Less(t, share(e.mask(e.parts()[0].ID)), wide, "narrowing takes less")
	assert.Len(t, e.parts()[0].Picks[0].Samples, 2, "and needs no clicking again")
	e.click("Delete Like colours")

	// Outline: nodes, one pulled into a curve, closed at the first; a node by keyboard.
	e.key("o")
	for _, p := range [][2]float64{{545, 370}, {580, 900}, {860, 1015}} {
		e.at(p[0], p[1], 0)
	}
	e.drag(0, [2]float64{1140, 940}, [2]float64{1165, 900})
	e.at(1185, 385, 0)
	o := e.pick(0, func(p isolate.Pick) bool { return len(p.Nodes) == 5 })
	assert.NotNil(t, o.Nodes[3].Out, "a dragged node has handles")
	assert.Nil(t, o.Nodes[4].Out)
	e.at(545, 370, 0)
	e.do("closed", e.b.Until(`document.body.textContent.includes("Drag nodes and handles")`))
	e.do("node", e.b.Do(chromedp.Focus(chromedp.CSS(`[aria-label^="Node 2 of 5"]`)), chromedp.KeyEvent(kb.ArrowRight)))
	e.pick(0, func(p isolate.Pick) bool { return p.Nodes[1].P[0] > o.Nodes[1].P[0]+0.9 })
	e.do("smooth", e.b.Do(chromedp.Focus(chromedp.CSS(`[aria-label^="Node 2 of 5"]`)), chromedp.KeyEvent(kb.Enter)))
	e.pick(0, func(p isolate.Pick) bool { return p.Nodes[1].In != nil })
	e.do("remove", e.b.Do(chromedp.Focus(chromedp.CSS(`[aria-label^="Node 2 of 5"]`)), chromedp.KeyEvent(kb.Delete)))
	e.pick(0, func(p isolate.Pick) bool { return len(p.Nodes) == 4 })
	e.key("z", chromedp.KeyModifiers(drive.Ctrl))
	e.pick(0, func(p isolate.Pick) bool { return len(p.Nodes) == 5 })

	// Its join is changed, it is switched off and on, and deleted.
	e.click("Add: change how Outline joins")
	e.pick(0, func(p isolate.Pick) bool { return p.Join == "subtract" })
	e.click("Switch Outline off")
	e.pick(0, func(p isolate.Pick) bool { return p.Off })
	e.click("Delete Outline")
	require.Eventually(t, func() bool { return len(e.parts()[0].Picks) == 0 }, 20e9, 50e6)

	// Marks: a ring, then a stroke inside.
	e.key("m")
	e.drag(0, [2]float64{480, 250}, [2]float64{1480, 250}, [2]float64{1480, 1090}, [2]float64{480, 1090}, [2]float64{480, 260})
	e.do("ring", e.b.Until(`document.body.textContent.includes("Now a stroke inside")`))
	e.drag(0, [2]float64{640, 620}, [2]float64{1000, 660}, [2]float64{900, 880})
	m := e.pick(0, func(p isolate.Pick) bool { return p.Kind == "marks" })
	assert.Greater(t, len(m.Ring), 20)
	assert.Len(t, m.Inside, 1)
	assert.InDelta(t, 0.16, share(e.mask(e.parts()[0].ID)), 0.05, "about the mug's body")
	e.click("Delete Marks")

	// Subject, narrowed by hues: only where both.
	e.key("u")
	e.click("Find the subject")
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "subject" && p.Candidate == 0 })
	e.do("how sure", e.b.Until(`document.body.innerText.includes("offers the next")`))
	likeliest := e.mask(e.parts()[0].ID)
	e.key("u")
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "subject" && p.Candidate == 1 })
	assert.NotEqual(t, likeliest, e.mask(e.parts()[0].ID), "the second is another thing")
	e.click("First")
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "subject" && p.Candidate == 0 })
	subject := share(e.mask(e.parts()[0].ID))
	e.click("Only where both")
	e.key("h")
	e.drag(0, [2]float64{640, 620}, [2]float64{1000, 660})
	hues := e.pick(0, func(p isolate.Pick) bool { return p.Kind == "hues" })
	assert.Equal(t, "intersect", hues.Join)
	assert.Less(t, share(e.mask(e.parts()[0].ID)), subject)
	e.click("Tones")
	e.drag(0, [2]float64{640, 620}, [2]float64{660, 640})
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "tones" && p.To > p.From })

	// Depth: explained on a picture without a map, used on one with.
	e.key("d")
	e.do("explained", e.b.Until(`document.body.textContent.includes("no depth map")`))
	depth, err := filepath.Abs("../demo/truth/mug-depth.png")
	require.NoError(t, err)
	e.do("depth", e.b.Do(chromedp.SetUploadFiles(chromedp.CSS(`input[aria-label="Depth map file"]`), []string{depth})))
	e.do("histogram", e.b.Until(`!!document.querySelector('[aria-label^="Depth: from"]')`))
	e.at(800, 800, 0)
	d := e.pick(0, func(p isolate.Pick) bool { return p.Kind == "depth" })
	assert.Greater(t, d.From, 0.2)
	assert.Less(t, d.From, d.To)

	// A mask goes out and comes in; a wrong one says why and changes nothing.
	dir := t.TempDir()
	res, err := http.Get(e.s.url() + "/api/pictures/" + e.id + "/parts/" + e.parts()[0].ID + "/mask")
	require.NoError(t, err)
	b, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	res.Body.Close()
	file := filepath.Join(dir, "mask.png")
	require.NoError(t, os.WriteFile(file, b, 0o644))
	e.key("r")
	count := len(e.parts()[0].Picks)
	wrong, err := filepath.Abs("../web/package.json")
	require.NoError(t, err)
	e.do("wrong", e.b.Do(chromedp.SetUploadFiles(chromedp.CSS(`input[aria-label="Mask file"]`), []string{wrong})))
	e.do("why", e.b.Until(`[...document.querySelectorAll("[role=status],[role=alert]")].some((n) => n.textContent.includes("none of JPEG"))`))
	assert.Len(t, e.parts()[0].Picks, count)
	e.do("mask", e.b.Do(chromedp.SetUploadFiles(chromedp.CSS(`input[aria-label="Mask file"]`), []string{file})))
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "mask" && len(p.File) == 64 })
}

func TestColoursAreMendedComparedAndHeldAgainstEachOther(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.drag(0, [2]float64{620, 600}, [2]float64{1000, 640}, [2]float64{900, 880})
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "sweep" })
	e.click("Colour")
	e.click("Harbour teal")
	part := func(ok func(p document.Part) bool) {
		t.Helper()
		require.Eventually(t, func() bool { return ok(e.parts()[0]) }, 20*time.Second, 50*time.Millisecond)
	}

	// What is done before it is recoloured, and to its neighbours; each by pointer, each an undo step.
	e.click("Rebuild what the light burned out")
	part(func(p document.Part) bool { return p.Settings.Rebuild != nil && p.Settings.Rebuild.Amount == 100 })
	e.click("Change the tint")
	part(func(p document.Part) bool { return p.Cast != nil })
	e.click("Separate")
	part(func(p document.Part) bool { return p.Settings.Inner == "keep" })
	e.click("Neutral light")
	part(func(p document.Part) bool { return p.Target.Neutral })
	for range 4 {
		e.key("z", chromedp.KeyModifiers(drive.Ctrl))
	}
	part(func(p document.Part) bool {
		return p.Settings.Rebuild == nil && p.Cast == nil && p.Settings.Inner == "" && !p.Target.Neutral && p.Target.CSS != ""
	})

	// The mending brush by key: strokes are kept as strokes, and can be switched off.
	mends := func(ok func(m []document.Mend) bool) {
		t.Helper()
		require.Eventually(t, func() bool {
			return ok(get[picture](t, e.s.url()+"/api/pictures/"+e.id).Document.Mends)
		}, 20*time.Second, 50*time.Millisecond)
	}
	e.key("j")
	e.drag(0, [2]float64{300, 700}, [2]float64{360, 760})
	mends(func(m []document.Mend) bool {
		return len(m) == 1 && len(m[0].Strokes) == 1 && m[0].Strokes[0].Sample == nil
	})
	e.at(250, 900, drive.Alt)
	e.do("sampled", e.b.Until(`document.body.textContent.includes("Colour from x")`))
	e.drag(0, [2]float64{300, 800}, [2]float64{340, 820})
	mends(func(m []document.Mend) bool {
		return len(m) == 1 && len(m[0].Strokes) == 2 && m[0].Strokes[1].Sample != nil
	})
	e.click("On: mend 1")
	mends(func(m []document.Mend) bool { return m[0].Off })

	// Old colour left: the places, and all of them mended.
	e.do("closely", e.b.Until(`/Detail kept\s*[01]\.\d\d/.test(document.body.textContent)`))
	found, err := drive.Eval[bool](e.b, `!![...document.querySelectorAll("button")].find((b) => b.textContent === "Mend all")`)
	require.NoError(t, err)
	require.True(t, found, "one sweep leaves a rim that the proof names")
	left := func() int {
		n, err := drive.Eval[int](e.b, `Number(/Old colour left\s*(\d+) px/.exec(document.body.textContent)?.[1] ?? -1)`)
		require.NoError(t, err)
		return n
	}
	was := left()
	e.click("Mend all")
	mends(func(m []document.Mend) bool { return len(m) == 2 && m[1].Kind == "edge" && m[1].Box == nil })
	require.Eventually(t, func() bool { n := left(); return n >= 0 && n <= was/3 }, 30*time.Second, 100*time.Millisecond, "of %d pixels", was)

	// Pair, blink and loupe by key; the pair shows both at once.
	e.key("q")
	e.do("pair", e.b.Until(`[...document.querySelectorAll("span")].filter((s) => s.textContent === "Before" || s.textContent === "Harbour teal").length >= 2`))
	e.key("k")
	e.key("g")
	e.do("loupe", e.b.Until(`document.querySelector('button[aria-pressed="true"]') !== null && [...document.querySelectorAll("button[aria-pressed=true]")].some((b) => b.textContent === "Loupe")`))
	e.key("w")
	e.settled()
}

func TestTheFirstGestureMayBeOfAnyKind(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.key("m")
	e.drag(0, [2]float64{480, 250}, [2]float64{1480, 250}, [2]float64{1480, 1090}, [2]float64{480, 1090}, [2]float64{480, 260})
	e.drag(0, [2]float64{640, 620}, [2]float64{1000, 660})
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "marks" && len(p.Inside) == 1 })
	e.drag(0, [2]float64{700, 800}, [2]float64{900, 880})
	e.pick(0, func(p isolate.Pick) bool { return len(p.Inside) == 2 })
	e.drag(drive.Alt, [2]float64{1400, 1000}, [2]float64{1450, 1000})
	e.pick(0, func(p isolate.Pick) bool { return len(p.Outside) == 1 })
	require.Len(t, e.parts(), 1)

	// And an outline as the first of a part: node after node goes into it.
	e.click("New part")
	e.key("o")
	for _, p := range [][2]float64{{545, 370}, {580, 900}, {860, 1015}, {1140, 940}} {
		e.at(p[0], p[1], 0)
	}
	e.pick(1, func(p isolate.Pick) bool { return len(p.Nodes) == 4 })
	require.Len(t, e.parts()[1].Picks, 1)
}

func TestAPartSplitInThreeSharesNoPixel(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.drag(0, [2]float64{620, 600}, [2]float64{1000, 640}, [2]float64{900, 880})
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "sweep" })
	whole := e.mask(e.parts()[0].ID)

	// Two rough cuts inside the clean one, and the rest.
	inside := func(n int, box [4]float64) {
		e.click("Part 1")
		e.click("More for Part 1")
		e.click("New part inside it")
		e.do("there", e.b.Until(fmt.Sprintf(`document.querySelector("section[aria-label=Parts]").textContent.includes("Part %d")`, n)))
		e.key("o")
		for _, p := range [][2]float64{{box[0], box[1]}, {box[2], box[1]}, {box[2], box[3]}, {box[0], box[3]}, {box[0], box[1]}} {
			e.at(p[0], p[1], 0)
		}
		e.pick(n-1, func(p isolate.Pick) bool { return len(p.Nodes) == 4 })
	}
	inside(2, [4]float64{400, 300, 1600, 650})
	inside(3, [4]float64{400, 600, 900, 1150})
	e.click("Part 1")
	e.click("More for Part 1")
	e.click("The rest of it as a part")
	require.Eventually(t, func() bool { return len(e.parts()) == 4 }, 20e9, 50e6)
	e.settled()
	all := e.parts()
	for _, p := range all[1:] {
		assert.Equal(t, all[0].ID, p.Within)
	}
	var masks [][]uint16
	for _, p := range all {
		m := e.mask(p.ID)
		masks = append(masks, m)
		t.Log(p.Name, share(m))
	}
	for i, v := range whole {
		sum := 0
		for _, m := range masks {
			sum += int(m[i])
		}
		require.InDelta(t, int(v), sum, 3, "pixel %d", i)
	}
	for k := range 3 {
		assert.Greater(t, share(masks[k+1]), 0.01, all[k+1].Name)
	}
	assert.Less(t, share(masks[0]), 0.001, "nothing is left of the whole")
}

func TestAreasAreListedShownAndDropped(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.key("b")
	e.drag(0, [2]float64{600, 600}, [2]float64{1000, 640})
	e.key("[")
	e.at(200, 200, 0)
	e.at(1700, 1100, 0)
	e.do("found", e.b.Until(`!!document.querySelector('[aria-label="Separate areas"]')`))
	e.click("List all 3")
	e.click("Go to area 2")
	e.do("there", e.b.Until(`!document.body.textContent.includes("50 %")`))
	e.key("0")
	e.click("Drop 3")
	require.Eventually(t, func() bool { p := e.parts()[0]; return p.Edge != nil && len(p.Edge.DropAt) == 1 }, 20e9, 50e6)
	e.do("two are left", e.b.Until(`document.body.textContent.includes("List all 2") || document.body.textContent.includes("Go to")`))
	mask := e.mask(e.parts()[0].ID)
	assert.Equal(t, 1, b2i(mask[200*w+200] > 0)+b2i(mask[1100*w+1700] > 0), "one of the two is gone")

	// The edge is walked at 100 %.
	e.key("n")
	e.do("walk", e.b.Until(`document.body.textContent.includes("Edge, 1 of")`))
	e.key("n")
	e.do("walk", e.b.Until(`document.body.textContent.includes("Edge, 2 of")`))
	e.key(kb.Escape)
	e.do("over", e.b.Until(`!document.body.textContent.includes("Edge, 2 of")`))

	// A feather by its typed figure.
	field := `input[aria-label="Feather, typed"]`
	e.do("feather", e.b.Do(chromedp.Click(chromedp.CSS(field)), drive.JS(`document.querySelector('`+field+`').select()`), chromedp.SendKeys(chromedp.CSS(field), "2"+kb.Enter)))
	require.Eventually(t, func() bool { p := e.parts()[0]; return p.Edge != nil && p.Edge.Feather == 2 }, 20e9, 50e6)
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}

func TestMethodsFinishAndWhatProofFinds(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.drag(0, [2]float64{620, 600}, [2]float64{1000, 640}, [2]float64{900, 880})
	e.click("Colour")
	e.click("Harbour teal")
	settings := func(ok func(s document.Part) bool) {
		t.Helper()
		require.Eventually(t, func() bool { return ok(e.parts()[0]) }, 20e9, 50e6)
	}
	settings(func(p document.Part) bool { return p.Target.CSS != "" })
	e.settled()
	repainted := canvasAt(t, e.b, 700, 700)
	e.click("Turn hue")
	settings(func(p document.Part) bool { return p.Settings.Method == "turn-hue" })
	typed := func(label, value string) {
		t.Helper()
		field := `input[aria-label="` + label + `"]`
		e.do(label, e.b.Do(chromedp.Click(chromedp.CSS(field)), drive.JS(`document.querySelector('`+field+`').select()`), chromedp.SendKeys(chromedp.CSS(field), value+kb.Enter)))
		e.settled()
	}
	typed("Hue, typed", "40")
	settings(func(p document.Part) bool { return p.Settings.Turn != nil && p.Settings.Turn.Hue == 40 })
	assert.NotEqual(t, repainted, canvasAt(t, e.b, 700, 700))
	e.click("Curves")
	typed("Points, typed", "64 50, 192 210")
	settings(func(p document.Part) bool { return p.Settings.Curves != nil && len(p.Settings.Curves.All) == 2 })
	typed("Points, typed", "64")
	e.do("why", e.b.Until(`[...document.querySelectorAll("[role=alert]")].some((n) => n.textContent.includes("pairs from 0 to 255"))`))
	assert.Len(t, e.parts()[0].Settings.Curves.All, 2, "a wrong point changes nothing")
	e.do("point", e.b.Do(chromedp.Focus(chromedp.CSS(`[aria-label^="Point at 64"]`)), chromedp.KeyEvent(kb.Delete)))
	settings(func(p document.Part) bool { return len(p.Settings.Curves.All) == 1 })
	e.click("Two-tone")
	typed("Colour of the dark end", "cmyk(")
	e.do("why", e.b.Until(`document.body.textContent.includes("bracket")`))
	e.click("Repaint")
	settings(func(p document.Part) bool { return p.Settings.Method == "" })
	e.settled()
	assert.InDeltaSlice(t, repainted[:], func() []float64 { c := canvasAt(t, e.b, 700, 700); return c[:] }(), 1, "back to what it was")

	e.click("Proof")
	e.do("closely", e.b.Until(`/Detail kept\s*[01]\.\d\d/.test(document.body.textContent)`))
}

// TestASweepIsSeenWhileTheHandMoves: with the button still down the stage shows nearly what it shows once the stroke is done
// and worked out exactly, in each look of the mask, and nothing is stored before.
func TestASweepIsSeenWhileTheHandMoves(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	colours := func() [][]float64 {
		t.Helper()
		// 800 places all over the picture, but for where the stroke's own line and tip are drawn.
		c, err := drive.Eval[[][]float64](e.b, `(() => { const c = document.querySelector("canvas"), g = c.getContext("2d"), d = g.getImageData(0, 0, c.width, c.height).data, out = [];
			for (let n = 0; n < 800; n++) { const x = 30 + Math.floor((c.width - 60) * ((n * 0.754877) % 1)), y = 110 + Math.floor((c.height - 220) * ((n * 0.56984) % 1)), i = 4 * (y * c.width + x); out.push([d[i], d[i + 1], d[i + 2]]) }
			return out })()`)
		require.NoError(t, err)
		return c
	}
	unlike := func(a, b [][]float64) int {
		n := 0
		for i := range a {
			if math.Abs(a[i][0]-b[i][0])+math.Abs(a[i][1]-b[i][1])+math.Abs(a[i][2]-b[i][2]) > 24 {
				n++
			}
		}
		return n
	}
	for k, look := range []string{"Hatch", "Tint", "Mask"} {
		e.click(look)
		e.key("s")
		e.settled()
		none := colours()
		var path [][2]float64
		for _, p := range [][2]float64{{760, 560}, {800, 600}, {860, 640}, {900, 700}, {940, 760}} {
			x, y, err := e.b.OnStage(p[0], p[1], w, h)
			require.NoError(t, err)
			path = append(path, [2]float64{x, y})
		}
		event := func(kind drive.MouseKind, p [2]float64) {
			t.Helper()
			e.do("hand", e.b.Do(drive.Mouse(kind, p[0], p[1])))
		}
		event(drive.Pressed, path[0])
		for _, p := range path[1:] {
			event(drive.Dragged, p)
			e.paced()
		}
		e.do("quick", e.b.Until(`document.querySelector("canvas").dataset.settled === "true"`))
		e.paced()
		during := colours()
		stored := 0
		for _, p := range e.parts() {
			stored += len(p.Picks)
		}
		require.Equal(t, k, stored, "nothing is stored while the hand moves")
		event(drive.Released, path[len(path)-1])
		e.pick(k, func(p isolate.Pick) bool { return p.Kind == "sweep" && len(p.Strokes) == 1 })
		e.settled()
		after := colours()
		assert.Greater(t, unlike(none, during), 60, "%s: the mug is told from the rest", look)
		assert.Less(t, unlike(during, after), 60, "%s: as once it is worked out", look)
		e.click("New part")
	}
}

// typed puts a text into a field in place of what is there.
func (e *bench) typed(field, text string) {
	e.t.Helper()
	e.do(field, e.b.Do(chromedp.Focus(chromedp.CSS(field)), chromedp.KeyEvent("a", chromedp.KeyModifiers(drive.Ctrl)), chromedp.KeyEvent(text)))
}
