package e2e

import (
	"math"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/document"
	"episema/core/mend"
	"episema/e2e/drive"
)

// What must go is drawn around and covered by what is found; another cover is taken, one is shown by hand, and changed by keys; it can
// be switched off, opened again and undone. All of it without a part.
func TestAPatchCoversWhatMustGo(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	mends := func() []document.Mend {
		return get[picture](t, e.s.url()+"/api/pictures/"+e.id).Document.Mends
	}
	// waits until the patch is as wanted.
	patch := func(what string, ok func(p *mend.Patch) bool) *mend.Patch {
		t.Helper()
		var p *mend.Patch
		require.Eventually(t, func() bool {
			m := mends()
			if len(m) != 1 || m[0].Patch == nil {
				return false
			}
			p = m[0].Patch
			return ok(p)
		}, 20*time.Second, 50*time.Millisecond, what)
		return p
	}
	e.click("Proof")
	before, beside := e.pixel(1334, 170), e.pixel(1334, 260)
	e.key("f")
	var ring [][2]float64
	for i := range 33 {
		a := 2 * math.Pi * float64(i) / 32
		ring = append(ring, [2]float64{1330 + 70*math.Cos(a), 160 + 55*math.Sin(a)})
	}
	e.drag(0, ring...)
	first := patch("it is covered by what was found", func(p *mend.Patch) bool { return p.Shift != [2]float64{} })
	assert.True(t, first.Seamless)
	assert.EqualValues(t, 3, first.Feather)
	assert.Less(t, len(first.Nodes), 12, "few nodes")
	assert.GreaterOrEqual(t, len(first.Nodes), 3)
	require.Eventually(t, func() bool { return e.pixel(1334, 170) != before }, 20*time.Second, 100*time.Millisecond)
	assert.Equal(t, beside, e.pixel(1334, 260), "beside it nothing changes")
	e.axe("a patch")
	covered := e.pixel(1334, 170)

	e.click("Another cover, 1 of 3")
	second := patch("another cover", func(p *mend.Patch) bool { return p.Shift != first.Shift })
	e.do("2 of 3", e.b.Until(`document.body.textContent.includes("Another cover, 2 of 3")`))

	// From inside the outline to what shall cover it: as far as the hand goes.
	e.drag(0, [2]float64{1330, 160}, [2]float64{1300, 250}, [2]float64{1360, 560})
	byHand := patch("where the cover comes from", func(p *mend.Patch) bool { return p.Shift != second.Shift })
	assert.InDelta(t, second.Shift[0]+30, byHand.Shift[0], 3)
	assert.InDelta(t, second.Shift[1]+400, byHand.Shift[1], 3)

	// By keys.
	e.do("turn", e.b.Do(chromedp.Focus(chromedp.CSS(`input[aria-label="Turn"], [aria-label="Turn"] input`)), chromedp.KeyEvent(kb.ArrowRight), chromedp.KeyEvent(kb.ArrowRight)))
	patch("turned", func(p *mend.Patch) bool { return p.Turn > 0 })
	e.click("Flipped")
	patch("flipped", func(p *mend.Patch) bool { return p.Flip })

	e.click("On: mend 1")
	require.Eventually(t, func() bool { m := mends(); return len(m) == 1 && m[0].Off }, 10*time.Second, 50*time.Millisecond)
	require.Eventually(t, func() bool { return e.pixel(1334, 170) == before }, 10*time.Second, 100*time.Millisecond, "nothing was baked in")
	e.click("Off: mend 1")
	require.Eventually(t, func() bool { m := mends(); return len(m) == 1 && !m[0].Off }, 10*time.Second, 50*time.Millisecond)

	// Undone to where it was found first.
	e.do("reload", e.b.Do(chromedp.Reload()))
	e.settled()
	e.click("Proof")
	for range 6 {
		e.settled()
		e.key("z", chromedp.KeyModifiers(2))
	}
	patch("undone", func(p *mend.Patch) bool { return p.Shift == first.Shift && !p.Flip && p.Turn == 0 })
	require.Eventually(t, func() bool { return e.pixel(1334, 170) == covered }, 10*time.Second, 100*time.Millisecond)
	e.click("Open patch 1")
	e.click("Find a cover")
	patch("found again", func(p *mend.Patch) bool { return p.Shift == first.Shift })
	e.do("looked", e.b.Until(`!document.body.innerText.includes("Looking")`))

	// Filled by example, another way, and covered from one place again by a hand. A cover that was asked for before and comes after that is
	// no longer wanted.
	e.settled()
	e.drag(0, [2]float64{1330, 160}, [2]float64{1310, 260}, [2]float64{1340, 450})
	patch("by a hand", func(p *mend.Patch) bool { return p.Shift != first.Shift })
	e.settled()
	e.do("slow", e.b.Do(drive.Line(false, 600, -1, -1)))
	e.click("Find a cover")
	e.click("Fill by example")
	patch("filled", func(p *mend.Patch) bool { return p.Fill == 1 })
	e.do("looked", e.b.Until(`!document.body.innerText.includes("Looking")`))
	time.Sleep(1500 * time.Millisecond) // what would take it back has come
	patch("still filled", func(p *mend.Patch) bool { return p.Fill == 1 })
	e.do("quick", e.b.Do(drive.Line(false, 0, -1, -1)))
	require.Eventually(t, func() bool { p := e.pixel(1334, 170); return p != covered && p != before }, 20*time.Second, 100*time.Millisecond, "it is seen")
	assert.Equal(t, beside, e.pixel(1334, 260), "beside it nothing changes")
	e.click("Another filling, 1 of 3")
	patch("filled otherwise", func(p *mend.Patch) bool { return p.Fill == 2 })
	e.settled()
	e.drag(0, [2]float64{1330, 160}, [2]float64{1310, 260}, [2]float64{1340, 500})
	patch("from one place", func(p *mend.Patch) bool { return p.Fill == 0 && p.Shift != first.Shift })
	e.click("Delete mend 1")
	require.Eventually(t, func() bool { return len(mends()) == 0 }, 10*time.Second, 50*time.Millisecond)
	require.Eventually(t, func() bool { return e.pixel(1334, 170) == before }, 20*time.Second, 100*time.Millisecond)

	// Around all of the picture nothing is left that could cover it: that is said, and nothing changes.
	e.drag(0, [2]float64{-20, -20}, [2]float64{900, -22}, [2]float64{1820, -20}, [2]float64{1822, 600}, [2]float64{1820, 1220}, [2]float64{900, 1222}, [2]float64{-20, 1220}, [2]float64{-22, 600}, [2]float64{-20, 0})
	patch("of all of it", func(p *mend.Patch) bool { return p.Fill == 1 })
	e.do("it is said", e.b.Until(`document.body.innerText.includes("Nothing around it can be an example")`))
	assert.Equal(t, before, e.pixel(1334, 170))
}
