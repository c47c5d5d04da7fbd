package e2e

import (
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/document"
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
	e.do("asked", b.Until(`document.querySelector('select[aria-label="What the reader lies on"]')?.options.length === 5`))
	e.do("place", b.Do(chromedp.SendKeys(`select[aria-label="What the reader lies on"]`, reader.Swatches()[4], chromedp.ByQuery)))
	e.click("Take three readings")
	e.do("read", b.Until(`/Mean of 3 readings/.test(document.body.textContent)`))
	e.axe("a measured surface")
	e.click("Put into the palette")
	require.Eventually(t, func() bool { return len(get[content](t, url).Palette) == before+1 }, 10*time.Second, 50*time.Millisecond)
	got := get[content](t, url).Palette[before]
	assert.Equal(t, reader.Swatches()[4], got.Name)
	l, err := colour.ParseCSS(got.CSS)
	require.NoError(t, err)
	assert.Greater(t, l[2], 30.0, "amber is yellow: %v", l)
}
