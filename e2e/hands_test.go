package e2e

import (
	"fmt"
	"math"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/isolate"
	"episema/e2e/drive"
)

func TestReachIsChangedWhileTheStrokeIsDrawnAndLater(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.key("s")
	points := [][2]float64{{620, 600}, {800, 620}, {1000, 640}, {900, 880}}
	for i, p := range points {
		wx, wy, err := e.b.OnStage(p[0], p[1], w, h)
		e.do("where", err)
		kind := drive.Dragged
		if i == 0 {
			kind = drive.Pressed
		}
		e.do("drag", e.b.Do(drive.Mouse(kind, wx, wy)))
		if i == 1 {
			e.do("more while the button is held", e.b.Do(chromedp.KeyEvent(".")))
		}
		if i == len(points)-1 {
			e.do("up", e.b.Do(drive.Mouse(drive.Released, wx, wy)))
		}
	}
	wide := e.pick(0, func(p isolate.Pick) bool { return p.Reach != nil })
	assert.InDelta(t, 0.625, *wide.Reach, 1e-9)
	id := e.parts()[0].ID
	e.settled()
	before := share(e.mask(id))
	for range 4 {
		e.key(",")
	}
	tight := e.pick(0, func(p isolate.Pick) bool { return p.Reach != nil && *p.Reach < 0.2 })
	assert.Equal(t, wide.Strokes, tight.Strokes, "no new stroke was needed")
	e.settled()
	assert.LessOrEqual(t, share(e.mask(id)), before, "tighter is no larger")
	e.key("z", chromedp.KeyModifiers(drive.Ctrl))
	e.pick(0, func(p isolate.Pick) bool { return p.Reach != nil && *p.Reach > 0.2 })
}

// pinch sets a finger down beside a place, then a second one on its other side, moves both apart as given, in pixels of the page from the
// place, and lifts them.
func (e *bench) pinch(x, y float64, apart ...float64) {
	e.t.Helper()
	touch := func(kind drive.TouchKind, at ...float64) {
		var fingers [][2]float64
		for _, dx := range at {
			fingers = append(fingers, [2]float64{x + dx, y})
		}
		e.do("touch", e.b.Do(drive.Touch(kind, fingers...)))
	}
	touch(drive.TouchStart, -apart[0])
	touch(drive.TouchStart, -apart[0], apart[0])
	for _, a := range apart[1:] {
		touch(drive.TouchMove, -a, a)
	}
	touch(drive.TouchEnd)
}

func TestTwoFingersMoveThePictureAndDrawNothing(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.key("s")
	zoom := func() float64 {
		z, err := drive.Eval[float64](e.b, `Number([...document.querySelectorAll("button,span,div")].map((n) => n.textContent.trim()).find((t) => /^[0-9]+ %$/.test(t)).split(" ")[0])`)
		e.do("zoom", err)
		return z
	}
	before := zoom()
	x, y, err := e.b.OnStage(900, 640, w, h)
	e.do("where", err)
	e.pinch(x, y, 40, 50, 65, 80)
	e.settled()
	assert.InDelta(t, 2*before, zoom(), 0.15*before, "twice as far apart is twice as large")
	assert.Empty(t, e.parts(), "no stroke was drawn")
	// One finger draws.
	for i, k := range []drive.TouchKind{drive.TouchStart, drive.TouchMove, drive.TouchMove} {
		e.do("draw", e.b.Do(drive.Touch(k, [2]float64{x + 20*float64(i), y})))
	}
	e.do("lift", e.b.Do(drive.Touch(drive.TouchEnd)))
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "sweep" && len(p.Strokes) == 1 })
}

func TestAnOutlineDrawnByHandBecomesFewNodes(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.key("o")
	e.click("By hand")
	// Once around, and back to where it began: it closes itself.
	var round [][2]float64
	for i := range 81 {
		a := 2 * math.Pi * float64(i) / 80
		round = append(round, [2]float64{880 + 260*math.Cos(a) + 3*math.Sin(9*a), 680 + 220*math.Sin(a)})
	}
	e.drag(0, round...)
	p := e.pick(0, func(p isolate.Pick) bool { return p.Kind == "outline" && len(p.Nodes) > 3 })
	assert.LessOrEqual(t, len(p.Nodes), 16, "81 places")
	e.settled()
	id := e.parts()[0].ID
	assert.InDelta(t, math.Pi*260*220/(w*h), share(e.mask(id)), 0.02, "what was drawn around, moved to the edges nearby")
	// Its nodes are as those of any outline.
	e.do("the first node", e.b.Do(chromedp.Focus(chromedp.CSS(`[aria-label^="Node 1 of"]`)), chromedp.KeyEvent(kb.ArrowRight, chromedp.KeyModifiers(drive.Shift))))
	moved := e.pick(0, func(q isolate.Pick) bool { return len(q.Nodes) == len(p.Nodes) && q.Nodes[0].P[0] > p.Nodes[0].P[0]+9 })
	assert.Equal(t, p.Nodes[1], moved.Nodes[1])
	// A piece by hand, a straight one by a click, a piece by hand to the start.
	e.key(kb.Escape)
	e.click("New part")
	e.key("o")
	e.drag(0, [2]float64{200, 300}, [2]float64{260, 280}, [2]float64{330, 270}, [2]float64{400, 280})
	e.settled()
	e.paced()
	e.at(420, 520, 0)
	e.paced()
	e.drag(0, [2]float64{420, 520}, [2]float64{330, 560}, [2]float64{250, 520}, [2]float64{210, 400}, [2]float64{201, 304})
	q := e.pick(1, func(q isolate.Pick) bool { return q.Kind == "outline" && len(q.Nodes) >= 4 })
	assert.LessOrEqual(t, len(q.Nodes), 9)
	corner := false
	for _, n := range q.Nodes {
		corner = corner || math.Hypot(n.P[0]-420, n.P[1]-520) < 6
	}
	assert.True(t, corner, "the click is a node: %v", q.Nodes)
	shown, err := drive.Eval[string](e.b, `document.body.innerText`)
	e.do("text", err)
	assert.NotContains(t, shown, "Close the outline", "it is closed")
}

// held presses a key n times as a hand that holds it would, and returns into how many steps of history that falls: one, and one more for
// every pause that the page saw of as long as keys rest (useStep), which a busy machine makes between two that were sent together.
func (e *bench) held(key string, n int, between time.Duration) (least, most int64) {
	e.t.Helper()
	e.do("listen", e.b.Do(drive.JS(`window.pressed = []; window.press ??= addEventListener("keydown", () => window.pressed.push(performance.now()), true); undefined`)))
	var keys []drive.Action
	for range n {
		keys = append(keys, chromedp.KeyEvent(key), chromedp.Sleep(between))
	}
	e.do("held "+key, e.b.Do(keys...))
	e.do("all pressed", e.b.Until(fmt.Sprintf("window.pressed.length >= %d", n)))
	at, err := drive.Eval[[]float64](e.b, "window.pressed")
	require.NoError(e.t, err)
	least, most = 1, 1
	for i, t := range at[1:] {
		if t-at[i] > 600 {
			least++
		}
		if t-at[i] > 400 {
			most++
		}
	}
	return least, most
}

func TestKeysOnASliderAndADoubleClickAreOneStepEach(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	revision := func() int64 { return get[picture](t, e.s.url()+"/api/pictures/"+e.id).Revision }
	depth := func() float64 { return e.parts()[0].Settings.ShadeDepth }
	rest := depth()
	before := revision()
	const slider = `[role=group][aria-label="Shade depth"]`
	focus := drive.JS(`document.querySelector('` + slider + ` input[type=range]').focus()`)
	e.do("focus", e.b.Do(focus))
	least, most := e.held(kb.ArrowRight, 10, 0)
	require.Eventually(t, func() bool { return depth() == rest+10 }, 10*time.Second, 50*time.Millisecond)
	time.Sleep(700 * time.Millisecond) // whatever else would come has come
	assert.GreaterOrEqual(t, revision(), before+least, "ten keys are one step")
	assert.LessOrEqual(t, revision(), before+most, "ten keys are one step")
	before = revision() - 1
	// A double click on the track, away from where the thumb is, puts it back, in one step.
	box, err := drive.Eval[[]float64](e.b, `(() => { const r = document.querySelector('`+slider+`').getBoundingClientRect(); return [r.x + 0.2 * r.width, r.y + r.height / 2]; })()`)
	e.do("where", err)
	e.do("double click", e.b.Do(chromedp.MouseClickXY(box[0], box[1], chromedp.ClickCount(1)), chromedp.MouseClickXY(box[0], box[1], chromedp.ClickCount(2))))
	require.Eventually(t, func() bool { return depth() == rest }, 10*time.Second, 50*time.Millisecond)
	time.Sleep(700 * time.Millisecond)
	assert.Equal(t, before+2, revision(), "and a double click is one")
	// Undo right after a key takes that key's step back, not the one before.
	e.do("a key and undo", e.b.Do(focus, chromedp.KeyEvent(kb.ArrowRight), chromedp.KeyEvent("z", chromedp.KeyModifiers(drive.Ctrl))))
	require.Eventually(t, func() bool { return revision() >= before+4 }, 10*time.Second, 50*time.Millisecond)
	assert.Equal(t, rest, depth())
}

// While a hand drags, its views say so, so that deliveries rest; what is asked for at rest does not.
func TestViewsUnderAHandSaySo(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	e.settled()
	e.do("listen", e.b.Do(drive.JS(`window.__views = []; { const plain = window.fetch; window.fetch = (to, how) => { if (String(to).endsWith("/view")) window.__views.push(JSON.parse(how.body)); return plain(to, how) } } 0`)))
	e.do("a key", e.b.Do(drive.JS(`document.querySelector('[role=group][aria-label="Shade depth"] input[type=range]').focus()`), chromedp.KeyEvent(kb.ArrowRight)))
	e.do("the slider's", e.b.Until(`window.__views.some((v) => v.show === "picture")`))
	e.key("1")
	e.do("at rest there", e.b.Until(`window.__views.some((v) => v.show === "before")`))
	of := func(show string) (hands []bool) {
		all, err := drive.Eval[[]bool](e.b, `window.__views.filter((v) => v.show === "`+show+`" && !v.ahead).map((v) => v.hand === true)`)
		e.do(show, err)
		return all
	}
	// On a line that is taken for a slow one, as it may be where the machine is busy, exact pixels follow at rest.
	if pictures := of("picture"); assert.NotEmpty(t, pictures) {
		said, err := drive.Eval[string](e.b, `JSON.stringify(window.__views.map(({ document, ...v }) => v))`)
		e.do("what was asked for", err)
		assert.True(t, pictures[0], "the slider's: %s", said)
	}
	assert.NotContains(t, of("before"), true, "made ready at rest")
	ahead, err := drive.Eval[bool](e.b, `window.__views.some((v) => v.ahead && v.hand)`)
	e.do("ahead", err)
	assert.False(t, ahead, "nor is what lies around")
}

// What a hand does to a curve in one go is one step; what it only touches is none.
func TestACurvesGesturesAreOneStepEach(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.key("s")
	e.drag(0, [2]float64{620, 600}, [2]float64{1000, 640})
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "sweep" })
	e.click("Colour")
	e.click("Curves")
	e.do("curves", e.b.Until(`!!document.querySelector('[aria-label="Curve of all"]')`))
	points := func() [][2]float64 {
		c := e.parts()[0].Settings.Curves
		if c == nil {
			return nil
		}
		return c.All
	}
	revision := func() int64 { return get[picture](t, e.s.url()+"/api/pictures/"+e.id).Revision }
	e.do("at rest", e.b.Until(`document.querySelector("[data-saving]")?.dataset.saving === "saved"`))
	place := func(x, y float64) [2]float64 {
		e.do("seen", e.b.Do(drive.JS(`document.querySelector('[aria-label="Curve of all"]').scrollIntoView({ block: "center" })`)))
		at, err := drive.Eval[[]float64](e.b, fmt.Sprintf(`(() => { const r = document.querySelector('[aria-label="Curve of all"]').getBoundingClientRect(); return [r.x + %f * r.width, r.y + (1 - %f) * r.height] })()`, x, y))
		e.do("where", err)
		return [2]float64{at[0], at[1]}
	}
	rest := func() { // whatever else would come has come, and the server has it
		time.Sleep(800 * time.Millisecond)
		e.do("saved", e.b.Until(`document.querySelector("[data-saving]")?.dataset.saving === "saved"`))
	}
	before := revision()
	from, to := place(0.5, 0.5), place(0.5, 0.7)
	e.do("press and drag", e.b.Drag(0, [][2]float64{from, {to[0], (from[1] + to[1]) / 2}, to}))
	require.Eventually(t, func() bool { p := points(); return len(p) == 1 && p[0][1] > 0.65 }, 10*time.Second, 50*time.Millisecond)
	rest()
	require.Equal(t, before+1, revision(), "a point that is pressed and dragged at once is one step")
	e.do("touched", e.b.Do(chromedp.MouseClickXY(to[0], to[1]), chromedp.MouseClickXY(place(0.2, 0.8)[0], place(0.2, 0.8)[1], chromedp.ButtonRight)))
	rest()
	require.Equal(t, before+1, revision(), "a click that moves nothing and a right click are none")
	focus := drive.JS(`document.querySelector('[aria-label^="Point at"]').focus()`)
	e.do("focus", e.b.Do(focus))
	least, most := e.held(kb.ArrowUp, 10, 0)
	rest()
	require.GreaterOrEqual(t, revision(), before+1+least, "ten keys are one")
	require.LessOrEqual(t, revision(), before+1+most, "ten keys are one")
	before = revision() - 2
	assert.InDelta(t, 0.7+10/255.0, points()[0][1], 0.02)
	now, err := drive.Eval[[]float64](e.b, `(() => { const r = document.querySelector('[aria-label^="Point at"]').getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2] })()`)
	e.do("where", err)
	e.do("double click", e.b.Do(chromedp.MouseClickXY(now[0], now[1], chromedp.ClickCount(1)), chromedp.MouseClickXY(now[0], now[1], chromedp.ClickCount(2))))
	rest()
	assert.Equal(t, before+3, revision(), "and a double click, which takes the point out")
	assert.Empty(t, points())
}

func TestPicksAreDraggedIntoAnotherOrder(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.key("s")
	e.drag(0, [2]float64{620, 600}, [2]float64{1000, 640})
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "sweep" })
	e.key("b")
	e.drag(drive.Alt, [2]float64{700, 700}, [2]float64{760, 700})
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "brush" && p.Join == "subtract" })
	e.settled()
	first := func() string { return e.parts()[0].Picks[0].Kind }
	require.Equal(t, "sweep", first())
	row := `[role=grid][aria-label=Picks] [role=row]`
	place, err := drive.Eval[[2][2]float64](e.b, `[...document.querySelectorAll('`+row+`')].map((r) => { const q = r.getBoundingClientRect(); return [q.x + 90, q.y + (q.height / 2)] })`)
	require.NoError(t, err)
	e.do("drag", e.b.Do(chromedp.DragAndDropXY(place[1][0], place[1][1], place[0][0], place[0][1]-12)))
	require.Eventually(t, func() bool { return first() == "brush" }, 20*time.Second, 50*time.Millisecond)
	assert.Len(t, e.parts()[0].Picks, 2)
	e.settled()
	e.key("z", chromedp.KeyModifiers(drive.Ctrl))
	require.Eventually(t, func() bool { return first() == "sweep" }, 20*time.Second, 50*time.Millisecond, "it is one step")
}

// What is told of the place under the cursor takes no room from what is pressed: the foot stays as high, and the picture where it is.
func TestTheFootStaysAsItIsUnderTheCursor(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	e.click("Tint")
	e.settled()
	const size = `(() => { const f = document.querySelector("footer"); return [f.offsetHeight, f.querySelector("[role=radiogroup]").clientWidth, document.querySelector("canvas").clientHeight] })()`
	before, err := drive.Eval[[]float64](e.b, size)
	e.do("before", err)
	x, y, err := e.b.OnStage(800, 620, w, h)
	require.NoError(t, err)
	e.do("move", e.b.Do(drive.Mouse(drive.Moved, x, y)))
	const told = `document.querySelector("[data-testid=readout]")`
	e.do("told", e.b.Until(told+`?.textContent.includes("ΔE")`))
	now, err := drive.Eval[[]float64](e.b, size)
	e.do("now", err)
	assert.Equal(t, before, now)
	cut, err := drive.Eval[float64](e.b, `(() => { const r = `+told+`, all = document.createRange(); all.selectNodeContents(r.lastChild); return all.getBoundingClientRect().right - Math.min(r.getBoundingClientRect().right, innerWidth) })()`)
	e.do("its end", err)
	assert.LessOrEqual(t, cut, 0.5, "the difference at its end is seen")
}
