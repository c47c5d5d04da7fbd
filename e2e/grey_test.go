package e2e

import (
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/document"
)

// A target that was measured under neutral light takes the picture's light from a grey card that is clicked, and is estimated again.
func TestAGreyCardIsClicked(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	e.click("Neutral light")
	require.Eventually(t, func() bool { return e.parts()[0].Target.Neutral }, 10*time.Second, 50*time.Millisecond)
	grey := func() *document.Grey {
		return get[picture](t, e.s.url()+"/api/pictures/"+e.id).Document.Grey
	}
	e.settled()
	e.click("Click a grey card")
	e.at(880, 480, 0)
	require.Eventually(t, func() bool { return grey() != nil }, 10*time.Second, 50*time.Millisecond)
	assert.InDelta(t, 880, grey().At[0], 2)
	assert.InDelta(t, 480, grey().At[1], 2)
	assert.EqualValues(t, 50, grey().Lightness, "a card of 18 % (common practice)")
	e.do("said", e.b.Until(`/known from the grey at x 8/.test(document.body.textContent)`))
	e.do("doubted, being red", e.b.Until(`/Is that a grey card\? It is coloured \(C\* \d/.test(document.body.textContent)`))
	e.axe("a grey card")
	e.click("Another grey")
	e.at(870, 330, 0) // the mug's white inside
	require.Eventually(t, func() bool { return grey() != nil && grey().At[1] < 400 }, 10*time.Second, 50*time.Millisecond)
	e.do("not doubted", e.b.Until(`/known from the grey at x 8/.test(document.body.textContent) && !/Is that a grey card/.test(document.body.textContent)`))
	e.click("Estimate it")
	require.Eventually(t, func() bool { return grey() == nil }, 10*time.Second, 50*time.Millisecond)
}
