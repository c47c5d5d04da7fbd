package e2e

import (
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/document"
	"episema/e2e/drive"
)

// A second mug is set beside the first, moved and turned by hands and by keys, painted in a colour of its own, set behind the first, and
// its shadow is turned; all of it can be undone, and the first mug goes with its copy when it is deleted.
func TestASecondMugStandsBesideTheFirst(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	var last document.Part
	copied := func(what string, ok func(p document.Part) bool) {
		t.Helper()
		require.Eventually(t, func() bool {
			for _, p := range e.parts() {
				if p.Copy != nil && ok(p) {
					last = p
					return true
				}
			}
			return false
		}, 20*time.Second, 50*time.Millisecond, what)
	}
	e.drag(0, [2]float64{620, 600}, [2]float64{1000, 640}, [2]float64{900, 880})
	e.drag(drive.Alt, [2]float64{430, 400}, [2]float64{430, 660}, [2]float64{640, 1090}, [2]float64{900, 1110}, [2]float64{1260, 960}, [2]float64{1500, 800})
	e.click("Picture")
	before := e.pixel(1500, 760)
	e.click("More for Part 1")
	e.click("Set a copy beside it")
	copied("it is set", func(p document.Part) bool { return p.Copy.Of == e.parts()[0].ID && p.Copy.Shadow != nil })
	assert.Equal(t, "Part 1, copy", last.Name)
	e.do("hands", e.b.Until(`!!document.querySelector('[aria-label="Turns the copy"]')`))
	e.axe("a copy")

	// Anywhere on the picture: it goes as far as the hand.
	at := last.Copy.At
	e.drag(0, [2]float64{900, 300}, [2]float64{930, 340}, [2]float64{1000, 360})
	copied("moved", func(p document.Part) bool { return p.Copy.At != at })
	assert.InDelta(t, at[0]+100, last.Copy.At[0], 4)
	assert.InDelta(t, at[1]+60, last.Copy.At[1], 4)
	require.Eventually(t, func() bool { return e.pixel(1500, 760) != before }, 20*time.Second, 100*time.Millisecond)

	// By its turning point, a quarter of the way around.
	hand, err := drive.Eval[[]float64](e.b, `(() => { const r = document.querySelector('[aria-label="Turns the copy"]').getBoundingClientRect(); return [r.x + r.width / 2, r.y + r.height / 2] })()`)
	require.NoError(t, err)
	mx, my, err := e.b.OnStage(last.Copy.At[0], last.Copy.At[1], w, h)
	require.NoError(t, err)
	far := my - hand[1]
	e.do("turn", e.b.Drag(0, [][2]float64{{hand[0], hand[1]}, {hand[0] + far/2, hand[1] + far/4}, {mx + far, my}}))
	copied("turned", func(p document.Part) bool { return p.Copy.Turn > 80 && p.Copy.Turn < 100 })

	// By keys, back to upright.
	e.settled()
	e.do("upright", e.b.Do(chromedp.Focus(chromedp.CSS(`input[aria-label="Turned, typed"]`)), chromedp.KeyEvent("a", chromedp.KeyModifiers(drive.Ctrl)), chromedp.KeyEvent("0"+kb.Enter)))
	copied("upright", func(p document.Part) bool { return p.Copy.Turn == 0 })
	e.click("Flip")
	copied("flipped", func(p document.Part) bool { return p.Copy.Flip })
	e.click("Lit from the other side")
	copied("lit from the other side", func(p document.Part) bool { return p.Copy.Relit })
	e.click("Further back")
	require.Eventually(t, func() bool { p := e.parts(); return len(p) == 2 && p[0].Copy != nil }, 20*time.Second, 50*time.Millisecond, "behind the first")
	e.do("said", e.b.Until(`document.body.textContent.includes("Behind Part 1.")`))
	e.click("Throws a shadow")
	copied("no shadow", func(p document.Part) bool { return p.Copy.Shadow == nil })

	// It has a colour of its own.
	e.click("Colour")
	e.click("Lamp amber")
	copied("amber", func(p document.Part) bool { return p.Target.CSS != "" })
	e.do("proof", e.b.Until(`/ΔE [0-9.]+ of/.test(document.body.textContent)`))
	for _, p := range e.parts() {
		assert.Equal(t, p.Copy != nil, p.Target.CSS != "", "the first keeps its colour")
	}

	for range 3 {
		e.settled()
		e.key("z", chromedp.KeyModifiers(drive.Ctrl))
	}
	copied("undone", func(p document.Part) bool { return p.Copy.Shadow != nil && p.Target.CSS == "" })
	require.Eventually(t, func() bool { p := e.parts(); return len(p) == 2 && p[0].Copy == nil }, 20*time.Second, 50*time.Millisecond, "before the first again")
	e.settled()
	e.do("the first", e.b.Do(chromedp.Click(chromedp.CSS(`button[title="Part 1"]`))))
	e.click("More for Part 1")
	e.click("Delete Part 1")
	require.Eventually(t, func() bool { return len(e.parts()) == 0 }, 20*time.Second, 50*time.Millisecond, "its copy goes with it")
	require.Eventually(t, func() bool { return e.pixel(1500, 760) == before }, 20*time.Second, 100*time.Millisecond, "nothing was baked in")
}

// A thing of another picture of the job is cut out and set in, moved, and taken back.
func TestAThingOfAnotherPictureIsSetIn(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.drag(0, [2]float64{620, 600}, [2]float64{1000, 640}, [2]float64{900, 880})
	require.Eventually(t, func() bool { return len(e.parts()) == 1 }, 20*time.Second, 50*time.Millisecond)
	e.click("Lisk Street Tramway shop")
	e.click("Canvas tote")
	e.settled()
	e.id = e.pictureID()
	e.click("From a picture…")
	e.do("things", e.b.Until(`document.body.textContent.includes("Or set one of its things in")`))
	e.axe("things of another picture")
	e.click("Set Part 1 in")
	var p document.Part
	require.Eventually(t, func() bool {
		for _, q := range e.parts() {
			if q.Copy != nil && q.Copy.Cut != nil {
				p = q
				return true
			}
		}
		return false
	}, 20*time.Second, 50*time.Millisecond)
	e.do("hands", e.b.Until(`!!document.querySelector('[aria-label="Turns the copy"]')`))
	e.settled()
	e.drag(0, [2]float64{400, 500}, [2]float64{450, 560}, [2]float64{500, 600})
	require.Eventually(t, func() bool { q := e.parts()[0].Copy; return q != nil && q.At != p.Copy.At }, 20*time.Second, 50*time.Millisecond)
	for range 2 {
		e.settled()
		e.key("z", chromedp.KeyModifiers(drive.Ctrl))
	}
	require.Eventually(t, func() bool { return len(e.parts()) == 0 }, 20*time.Second, 50*time.Millisecond)
}
