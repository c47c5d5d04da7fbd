package e2e

import (
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/document"
	"episema/e2e/drive"
	"episema/standin/reader"
)

// A surface is measured with the reader on the demo's desk, and its colour put into the palette under its name.
func TestASurfaceIsMeasuredIntoThePalette(t *testing.T) {
	t.Parallel()
	s := newServer(t)
	b := open(t)
	e := &bench{t, b, s, ""}
	e.tellOnFailure()
	e.do("job", b.Do(chromedp.Navigate(s.url())))
	e.click("Lisk Street Tramway shop")
	e.do("palette", b.Until(`document.body.textContent.includes("Harbour teal")`))
	type content struct{ Palette []document.Swatch }
	url := s.url() + "/api/jobs/" + e.jobID()
	before := len(get[content](t, url).Palette)
	e.click("Measure")
	e.measured(4)
	e.axe("a measured surface")
	e.click("Put into the palette")
	require.Eventually(t, func() bool { return len(get[content](t, url).Palette) == before+1 }, 10*time.Second, 50*time.Millisecond)
	got := get[content](t, url).Palette[before]
	assert.Equal(t, reader.Swatches()[4], got.Name)
	l, err := colour.ParseCSS(got.CSS)
	require.NoError(t, err)
	assert.Greater(t, l[2], 30.0, "amber is yellow: %v", l)
}

// measured takes three readings of a swatch in the dialog that is open.
func (e *bench) measured(swatch int) {
	e.t.Helper()
	e.do("asked", e.b.Until(`document.querySelector('select[aria-label="What the reader lies on"]')?.options.length === 5`))
	e.do("place", e.b.Do(chromedp.SendKeys(chromedp.CSS(`select[aria-label="What the reader lies on"]`), reader.Swatches()[swatch])))
	e.click("Take three readings")
	e.do("read", e.b.Until(`/Mean of 3 readings/.test(document.body.textContent)`))
}

// A reading becomes the own colour of a part, without a detour through the palette.
func TestAPartsOwnColourIsMeasured(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	e.click("Measure the own colour")
	e.measured(4)
	e.axe("an own colour is measured")
	e.click("Use as its own colour")
	require.Eventually(t, func() bool { return e.parts()[0].Own != "" }, 10*time.Second, 50*time.Millisecond)
	l, err := colour.ParseCSS(e.parts()[0].Own)
	require.NoError(t, err)
	assert.Greater(t, l[2], 30.0, "amber is yellow: %v", l)
	e.do("closed", e.b.Until(`!document.querySelector("[role=dialog]")`))
	e.do("undo", e.b.Do(chromedp.KeyEvent("z", chromedp.KeyModifiers(drive.Ctrl))))
	require.Eventually(t, func() bool { return e.parts()[0].Own == "" }, 10*time.Second, 50*time.Millisecond)
}
