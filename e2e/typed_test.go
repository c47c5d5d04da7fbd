package e2e

import (
	"fmt"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"

	"episema/e2e/drive"
)

// Hands that type a figure before the page has drawn that they may: every digit counts, also where the first is the figure that stood there.
func TestAFigureIsTypedAtOnce(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	e.click("Isolate")
	const field = `input[aria-label="Feather, typed"]`
	for _, v := range []float64{2, 21, 22, 25, 2, 24} {
		e.settled()
		e.do("elsewhere", e.b.Do(drive.JS(`document.activeElement.blur()`)))
		e.do("drawn", e.b.Drawn())
		e.do("typed at once", e.b.Do(chromedp.Focus(chromedp.CSS(field)), chromedp.KeyEvent(fmt.Sprint(v)+kb.Enter)))
		if !assert.Eventually(t, func() bool { p := e.parts()[0]; return p.Edge != nil && p.Edge.Feather == v }, 20e9, 50e6, "%g", v) {
			said, err := drive.Eval[string](e.b, `[document.activeElement.ariaLabel, document.querySelector('`+field+`').value, document.querySelector("[data-saving]").dataset.saving].join(", ")`)
			t.Fatal(said, err, e.parts()[0].Edge)
		}
	}
}
