package e2e

import (
	"fmt"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/e2e/drive"
)

// Who pans asks for the strips that come into sight, and sees what is seen when the whole view is asked for. (A mask is rounded by its place
// in what is asked for: a few values of two million may be one step apart.)
func TestPanningAsksForStrips(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	e.overAQuickLine()
	e.do("open", e.b.Do(chromedp.Reload()))
	e.settled()
	e.click("Colour")
	e.settled()
	e.do("canvas", e.b.Do(chromedp.Focus(chromedp.CSS("canvas"))))
	e.key("1")
	e.settled()
	e.do("listen", e.b.Do(drive.JS(`window.__asked = []; window.__show = "picture"; window.__seen = {}; { const plain = window.fetch; window.fetch = (to, how) => { if (String(to).endsWith("/view")) { const v = JSON.parse(how.body); if (v.ahead) { window.__came++; window.__last = Date.now() } if (v.ahead && !window.__ahead) return Promise.reject(new TypeError("not yet")); if (v.ahead) return plain(to, how).finally(() => { window.__last = Date.now() }); if (v.show === window.__show && !v.ahead) window.__asked.push(v.width * v.height) } return plain(to, how) } }
		window.__pixels = () => { const c = document.querySelector("canvas"); return c.getContext("2d").getImageData(0, 0, c.width, c.height).data };
		window.__apart = (as) => { const d = window.__pixels(), was = window.__seen[as]; let n = 0, most = 0; for (let i = 0; i < d.length; i++) if (d[i] !== was[i]) { n++; most = Math.max(most, Math.abs(d[i] - was[i])) } return [n, most] }; 0`)))
	keep := func(as string) {
		e.do("keep", e.b.Do(drive.JS(fmt.Sprintf(`window.__seen[%q] = window.__pixels(); 0`, as))))
	}
	apart := func(as string) (values, most int) {
		e.settled()
		d, err := drive.Eval[[2]int](e.b, fmt.Sprintf(`window.__apart(%q)`, as))
		require.NoError(t, err)
		return d[0], d[1]
	}
	same := func(as, why string) {
		t.Helper()
		n, most := apart(as)
		assert.LessOrEqual(t, n, 10, why)
		assert.LessOrEqual(t, most, 1, why)
	}
	asked := func() float64 {
		share, err := drive.Eval[float64](e.b, `(() => { const c = document.querySelector("canvas"); const s = window.__asked.reduce((a, b) => a + b, 0) / (c.width * c.height); window.__asked = []; return s })()`)
		require.NoError(t, err)
		return share
	}
	pan := func(dx, dy int) {
		e.do("pan", e.b.Do(drive.JS(fmt.Sprintf(`document.querySelector("canvas").dispatchEvent(new WheelEvent("wheel", {deltaX: %d, deltaY: %d, bubbles: true, cancelable: true})); 0`, dx, dy))))
		e.settled()
	}
	// What was seen is remembered for a minute; here strips and whole views are asked for, so a minute passes.
	forget := func() {
		e.do("a minute later", e.b.Do(drive.JS(`{ const now = performance.now.bind(performance); performance.now = () => now() + 61000 }`)))
	}
	keep("first")
	asked()
	pan(60, 40)
	n, _ := apart("first")
	assert.Greater(t, n, 10_000, "it has moved")
	keep("there")
	assert.InDelta(t, 0.12, asked(), 0.08, "a strip on two sides")
	forget()
	pan(-60, -40)
	same("first", "and back")
	assert.InDelta(t, 0.12, asked(), 0.08)
	rest := func() { time.Sleep(300 * time.Millisecond) } // what was seen in passing is not remembered
	rest()
	pan(60, 40)
	same("there", "and there again")
	rest()
	asked()
	pan(-60, -40)
	same("first", "back once more")
	pan(60, 40)
	same("there", "and there")
	assert.Zero(t, asked(), "what was seen a moment ago is not asked for")
	pan(60, 0)
	rest()
	asked()
	pan(-30, 0)
	assert.Zero(t, asked(), "nor what lies in two of the looks that were seen")
	keep("between")
	forget()
	// Another step of the document and back: all of it is asked for anew.
	target := func(want string) {
		require.Eventually(t, func() bool { return e.parts()[0].Target.PaletteID == want }, 20*time.Second, 30*time.Millisecond, "target %q", want)
		e.paced()
	}
	for range 2 {
		e.key("z", chromedp.KeyModifiers(drive.Ctrl))
		target("")
		n, _ := apart("between")
		assert.Greater(t, n, 10_000, "in its own colour")
		forget()
		e.key("z", chromedp.KeyModifiers(drive.Ctrl|drive.Shift))
		target("harbour")
		same("between", "as it is when it comes whole")
	}
	assert.Greater(t, asked(), 1.5)
	// What lies around is asked for once the hand rests, and seen at once then: of the picture, and in the hatch, whose lines lie still on it.
	for _, show := range []string{"picture", "hatch"} {
		if show == "hatch" {
			e.click("Hatch")
		}
		e.do("allow", e.b.Do(drive.JS(fmt.Sprintf(`window.__ahead = true; window.__show = %q; window.__came = 0; 0`, show))))
		forget()
		pan(-90, 50) // to look around
		keep("around")
		e.do("what lies around", e.b.Until(`window.__came > 0 && Date.now() - window.__last > 800`)) // one piece is asked for after the other
		came, err := drive.Eval[int](e.b, "__came")
		require.NoError(t, err)
		assert.Contains(t, []int{1, 2, 3, 4}, came, "a piece on each side, once")
		asked()
		pan(300, 200)
		assert.Zero(t, asked(), "%s: it is there", show)
		keep("moved")
		n, _ := apart("around")
		assert.Greater(t, n, 10_000)
		// All of it asked for anew is the same.
		forget()
		e.do("nothing ahead", e.b.Do(drive.JS(`window.__ahead = false; 0`)))
		e.key("z", chromedp.KeyModifiers(drive.Ctrl))
		target("")
		e.settled()
		forget()
		e.key("z", chromedp.KeyModifiers(drive.Ctrl|drive.Shift))
		target("harbour")
		same("moved", show)
		assert.Greater(t, asked(), 0.9)
	}
}
