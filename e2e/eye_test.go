package e2e

import (
	"fmt"
	"math"
	"strconv"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/e2e/drive"
)

// A colour is chosen by eye: the stage follows the hand, each gesture is one step, by pointer and by key, and what was chosen
// last can be had again, after a reload too.
func TestAColourIsChosenByEye(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	revision := func() int64 { return get[picture](t, e.s.url()+"/api/pictures/"+e.id).Revision }
	css := func() string { return e.parts()[0].Target.CSS }
	body := func() string {
		x, y, err := e.b.OnStage(800, 620, 1800, 1200)
		require.NoError(t, err)
		c, err := drive.Eval[string](e.b, `(() => { const c = document.querySelector("canvas"), r = c.getBoundingClientRect(); return [...c.getContext("2d").getImageData((`+fmtFloat(x)+` - r.x) * c.width / r.width, (`+fmtFloat(y)+` - r.y) * c.height / r.height, 1, 1).data].join(" ") })()`)
		require.NoError(t, err)
		return c
	}
	open := func() [4]float64 {
		e.click("Choose by eye: Target colour")
		e.do("plane", e.b.Until(`!!document.querySelector("[data-plane]:not([data-plane=''])")`))
		e.do("drawn", e.b.Drawn())
		box, err := drive.Eval[[4]float64](e.b, `(() => { const r = document.querySelector("[data-plane]").getBoundingClientRect(); return [r.x, r.y, r.width, r.height] })()`)
		require.NoError(t, err)
		return box
	}
	plane := open()
	// The planes say how vivid the photo itself is there: of teal this one has nothing, of its own red much.
	e.do("nothing like it", e.b.Until(`document.querySelector("[data-vivid]")?.dataset.vivid === "0.0" && !document.querySelector('[title="The most vivid colour like it in the photo"]')`))
	e.axe("colour by eye")
	before, was := revision(), body()
	mouse := func(kind drive.MouseKind, fx, fy float64) {
		e.do("mouse", e.b.Do(drive.Mouse(kind, plane[0]+fx*plane[2], plane[1]+fy*plane[3])))
	}
	mouse(drive.Pressed, 0.05, 0.6)
	mouse(drive.Dragged, 0.1, 0.5)
	mouse(drive.Dragged, 0.2, 0.2)
	require.Eventually(t, func() bool { return body() != was }, 10*time.Second, 50*time.Millisecond, "the stage follows before the hand lets go")
	assert.Equal(t, before, revision(), "and nothing is stored yet")
	e.do("slow", e.b.Do(drive.Line(false, 300, -1, -1)))
	mouse(drive.Released, 0.2, 0.2)
	require.Eventually(t, func() bool { return revision() == before+1 }, 10*time.Second, 50*time.Millisecond, "one gesture is one step")
	is, err := colour.ParseCSS(css())
	require.NoError(t, err)
	l, c, h := colour.SRGB.Oklab(colour.SRGB.Linear(is)).Oklch()
	assert.InDelta(t, 0.8, l, 0.02, css())
	assert.InDelta(t, 0.2*colour.PlaneChroma, c, 0.01, css())
	teal, err := colour.ParseCSS("#1d6a72")
	require.NoError(t, err)
	_, _, wasHue := colour.SRGB.Oklab(colour.SRGB.Linear(teal)).Oklch()
	assert.InDelta(t, wasHue, h, 1, "its hue stays")
	assert.Empty(t, e.parts()[0].Target.PaletteID)

	// By keys: five are one step, also on a line on which the answer to the last gesture comes between them.
	e.do("focus", e.b.Do(chromedp.Focus(chromedp.CSS(`[role=slider][aria-label="Lightness and chroma"]`))))
	least, most := e.held(kb.ArrowDown, 5, 40*time.Millisecond)
	require.Eventually(t, func() bool { return revision() >= before+1+least }, 10*time.Second, 50*time.Millisecond)
	time.Sleep(700 * time.Millisecond) // whatever else would come has come
	assert.LessOrEqual(t, revision(), before+1+most)
	is, err = colour.ParseCSS(css())
	require.NoError(t, err)
	darker, _, _ := colour.SRGB.Oklab(colour.SRGB.Linear(is)).Oklch()
	assert.InDelta(t, l-0.05, darker, 0.005)

	e.do("quick", e.b.Do(drive.Line(false, 0, -1, -1)))

	// By hue, saturation and brightness: a key on React Aria's own area.
	chosen := css()
	e.click("Saturation, brightness")
	e.do("area", e.b.Do(chromedp.Focus(chromedp.CSS(`[role=dialog] input[type=range][aria-label^="Saturation and brightness"]`)), chromedp.KeyEvent(kb.ArrowLeft)))
	require.Eventually(t, func() bool { return css() != chosen }, 10*time.Second, 50*time.Millisecond)
	assert.Regexp(t, "^#[0-9A-Fa-f]{6}$", css())
	e.typed(`input[aria-label="Saturation, typed"]`, "40"+kb.Enter)
	saturation := func() float64 {
		var r, g, b int
		if n, err := fmt.Sscanf(css(), "#%02x%02x%02x", &r, &g, &b); n != 3 || err != nil {
			return -1
		}
		return 100 * float64(max(r, g, b)-min(r, g, b)) / float64(max(r, g, b, 1))
	}
	require.Eventually(t, func() bool { return math.Abs(saturation()-40) < 1 }, 10*time.Second, 50*time.Millisecond, "a figure typed in is what the colour has")
	// Closed before the hand lets go: what the stage shows is what is kept.
	e.click("Lightness, chroma")
	e.do("plane", e.b.Until(`!!document.querySelector("[data-plane]:not([data-plane=''])")`))
	at := revision()
	mouse(drive.Pressed, 0.1, 0.4)
	mouse(drive.Dragged, 0.12, 0.3)
	e.do("escape", e.b.Do(chromedp.KeyEvent(kb.Escape)))
	require.Eventually(t, func() bool { return revision() == at+1 }, 10*time.Second, 50*time.Millisecond)
	mouse(drive.Released, 0.12, 0.3)
	is, err = colour.ParseCSS(css())
	require.NoError(t, err)
	l, _, _ = colour.SRGB.Oklab(colour.SRGB.Linear(is)).Oklch()
	assert.InDelta(t, 0.7, l, 0.02, css())
	e.do("closed", e.b.Until(`!document.querySelector("[role=dialog]")`))

	e.do("again", e.b.Do(chromedp.Reload()))
	e.settled()
	e.click("Colour")
	open()
	e.click(chosen)
	require.Eventually(t, func() bool { return css() == chosen }, 10*time.Second, 50*time.Millisecond, "what was chosen last")
}

// A finger chooses on the plane, and on the ring of hues: the stage follows, and each touch is one step.
func TestAColourIsChosenByTouch(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	revision := func() int64 { return get[picture](t, e.s.url()+"/api/pictures/"+e.id).Revision }
	target := func() (l, c float64) {
		is, err := colour.ParseCSS(e.parts()[0].Target.CSS)
		require.NoError(t, err)
		l, c, _ = colour.SRGB.Oklab(colour.SRGB.Linear(is)).Oklch()
		return l, c
	}
	// touch goes from one place of an element to others, in shares of its box, and lifts.
	touch := func(selector string, at ...[2]float64) {
		t.Helper()
		e.do("drawn", e.b.Drawn())
		box, err := drive.Eval[[4]float64](e.b, `(() => { const r = document.querySelector('`+selector+`').getBoundingClientRect(); return [r.x, r.y, r.width, r.height] })()`)
		require.NoError(t, err)
		for i, p := range at {
			kind := drive.TouchMove
			if i == 0 {
				kind = drive.TouchStart
			}
			e.do("touch", e.b.Do(drive.Touch(kind, [2]float64{box[0] + p[0]*box[2], box[1] + p[1]*box[3]})))
		}
		e.do("lift", e.b.Do(drive.Touch(drive.TouchEnd)))
	}
	e.click("Choose by eye: Target colour")
	e.do("plane", e.b.Until(`!!document.querySelector("[data-plane]:not([data-plane=''])")`))
	before := revision()
	touch("[data-plane]", [2]float64{0.1, 0.6}, [2]float64{0.2, 0.5}, [2]float64{0.3, 0.3})
	require.Eventually(t, func() bool { return revision() == before+1 }, 10*time.Second, 50*time.Millisecond, "one touch is one step")
	l, c := target()
	assert.InDelta(t, 0.7, l, 0.02)
	assert.InDelta(t, 0.3*colour.PlaneChroma, c, 0.01)
	// The ring has red at its right and goes on clockwise: a quarter on, at its foot, lies what HSB calls 90 degrees.
	e.click("Saturation, brightness")
	ring := ".react-aria-ColorWheel"
	e.do("ring", e.b.Until(`!!document.querySelector("`+ring+`")`))
	touch(ring, [2]float64{0.955, 0.5}, [2]float64{0.82, 0.82}, [2]float64{0.5, 0.955})
	require.Eventually(t, func() bool { return revision() == before+2 }, 10*time.Second, 50*time.Millisecond)
	var r, g, b int
	_, err := fmt.Sscanf(e.parts()[0].Target.CSS, "#%02x%02x%02x", &r, &g, &b)
	require.NoError(t, err, e.parts()[0].Target.CSS)
	assert.Greater(t, g, r, "green before red")
	assert.Greater(t, r, b)
	assert.InDelta(t, (g+b)/2, r, 6, "half way between: 90 degrees")
	e.axe("the ring")
}

func fmtFloat(v float64) string { return strconv.FormatFloat(v, 'f', 2, 64) }
