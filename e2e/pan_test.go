package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/e2e/drive"
)

// Who pans asks for the strips that come into sight, and sees every pixel as it is when the whole view is asked for.
func TestPanningAsksForStrips(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	e.do("canvas", e.b.Do(chromedp.Focus(chromedp.CSS("canvas"))))
	e.key("1")
	e.settled()
	e.do("listen", e.b.Do(drive.JS(`window.__asked = []; { const plain = window.fetch; window.fetch = (...a) => { if (String(a[0]).endsWith("/view")) { const v = JSON.parse(a[1].body); if (v.show === "picture") window.__asked.push(v.width * v.height) } return plain(...a) } } 0`)))
	shown := func() string {
		e.settled()
		h, err := drive.Eval[string](e.b, `(() => { const c = document.querySelector("canvas"); const d = c.getContext("2d").getImageData(0, 0, c.width, c.height).data; let h = 0; for (let i = 0; i < d.length; i++) h = (h * 31 + d[i]) | 0; return String(h) })()`)
		require.NoError(t, err)
		return h
	}
	asked := func() float64 {
		share, err := drive.Eval[float64](e.b, `(() => { const c = document.querySelector("canvas"); const s = window.__asked.reduce((a, b) => a + b, 0) / (c.width * c.height); window.__asked = []; return s })()`)
		require.NoError(t, err)
		return share
	}
	pan := func(dx, dy int) string {
		e.do("pan", e.b.Do(drive.JS(fmt.Sprintf(`document.querySelector("canvas").dispatchEvent(new WheelEvent("wheel", {deltaX: %d, deltaY: %d, bubbles: true, cancelable: true})); 0`, dx, dy))))
		return shown()
	}
	first := shown()
	asked()
	there := pan(60, 40)
	assert.NotEqual(t, first, there)
	assert.InDelta(t, 0.12, asked(), 0.08, "a strip on two sides")
	assert.Equal(t, first, pan(-60, -40), "and back")
	assert.InDelta(t, 0.12, asked(), 0.08)
	require.Equal(t, there, pan(60, 40))
	asked()
	// Another step of the document and back: all of it is asked for anew.
	for range 2 {
		e.key("z", chromedp.KeyModifiers(drive.Ctrl))
		shown()
		e.key("z", chromedp.KeyModifiers(drive.Ctrl|drive.Shift))
		assert.Equal(t, there, shown(), "as it is when it comes whole")
	}
	assert.Greater(t, asked(), 1.5)
}
