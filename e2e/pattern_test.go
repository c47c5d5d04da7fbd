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
	"episema/core/isolate"
	"episema/e2e/drive"
)

// A pattern is laid on a part, moved by dragging on the picture, put into perspective by its corners, and given other colours in a
// colourway, where how it lies stays the picture's.
func TestAPatternLiesOnAPart(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	pattern := func(what string, ok func(p *document.Pattern) bool) *document.Pattern {
		t.Helper()
		var p *document.Pattern
		require.Eventually(t, func() bool {
			all := e.parts()
			if len(all) != 1 || all[0].Pattern == nil {
				return false
			}
			p = all[0].Pattern
			return ok(p)
		}, 20*time.Second, 50*time.Millisecond, what)
		return p
	}
	e.click("Stripes")
	first := pattern("stripes", func(p *document.Pattern) bool { return p.Lay.Tile == "stripes" })
	assert.EqualValues(t, 90, first.Lay.Size)
	e.settled()
	e.axe("pattern")
	e.click("Lamp amber, for the pattern")
	pattern("a colour of the palette", func(p *document.Pattern) bool { return p.Colours[0].PaletteID == "lamp" })
	e.click("Half-drop")
	pattern("half-drop", func(p *document.Pattern) bool { return p.Lay.Repeat == "half-drop" })
	e.do("turned", e.b.Do(chromedp.Focus(chromedp.CSS(`input[aria-label="Turned"], [aria-label="Turned"] input`)), chromedp.KeyEvent(kb.ArrowRight), chromedp.KeyEvent(kb.ArrowRight)))
	pattern("turned by keys", func(p *document.Pattern) bool { return p.Lay.Angle > 0 })

	e.click("Move it on the picture")
	e.drag(0, [2]float64{700, 700}, [2]float64{760, 700}, [2]float64{820, 660})
	moved := pattern("moved", func(p *document.Pattern) bool { return p.Lay.Offset != [2]float64{} })
	assert.InDelta(t, 120, moved.Lay.Offset[0], 3)
	assert.InDelta(t, -40, moved.Lay.Offset[1], 3)

	e.click("In perspective, by the corners of a square")
	square := pattern("in perspective", func(p *document.Pattern) bool { return p.Lay.Corners != nil })
	from := square.Lay.Corners[1]
	e.settled()
	e.drag(0, from, [2]float64{from[0] - 60, from[1] + 40}, [2]float64{from[0] - 100, from[1] + 60})
	pulled := pattern("a corner is pulled", func(p *document.Pattern) bool { return p.Lay.Corners[1] != from })
	assert.InDelta(t, from[0]-100, pulled.Lay.Corners[1][0], 4)
	assert.InDelta(t, from[1]+60, pulled.Lay.Corners[1][1], 4)
	assert.Equal(t, square.Lay.Corners[3], pulled.Lay.Corners[3])

	// A grid over it, at rest where it is, of which one node is pulled by hand and one by keys; without it the rest stays.
	e.click("Bent by a grid of nodes")
	grid := pattern("a grid", func(p *document.Pattern) bool { return p.Lay.Grid != nil })
	assert.Equal(t, pulled.Lay.Corners, grid.Lay.Corners)
	e.settled()
	node := grid.Lay.Grid[3] // the second of the second row
	e.drag(0, node, [2]float64{node[0] + 10, node[1] - 20}, [2]float64{node[0] + 25, node[1] - 40})
	bent := pattern("a node is pulled", func(p *document.Pattern) bool { return p.Lay.Grid != nil && p.Lay.Grid[3] != node })
	assert.InDelta(t, node[0]+25, bent.Lay.Grid[3][0], 4)
	assert.InDelta(t, node[1]-40, bent.Lay.Grid[3][1], 4)
	assert.Equal(t, grid.Lay.Grid[4], bent.Lay.Grid[4])
	e.do("a node by keys", e.b.Do(chromedp.Focus(chromedp.CSS(`[aria-label="Node 3 of row 2"]`)), chromedp.KeyEvent(kb.ArrowDown), chromedp.KeyEvent(kb.Delete)))
	pattern("a node is moved by a key, and none can be taken out", func(p *document.Pattern) bool {
		return p.Lay.Grid != nil && math.Abs(p.Lay.Grid[4][1]-bent.Lay.Grid[4][1]-1) < 0.2
	})

	e.do("round", e.b.Do(chromedp.Focus(chromedp.CSS(`input[aria-label="Round"], [aria-label="Round"] input`)), chromedp.KeyEvent(kb.ArrowRight), chromedp.KeyEvent(kb.ArrowRight)))
	pattern("round by keys", func(p *document.Pattern) bool { return p.Lay.Round > 0 })

	// Pushed by hand, twice, and one of the two undone.
	e.click("Push it by hand")
	e.settled()
	e.drag(0, [2]float64{780, 720}, [2]float64{800, 722}, [2]float64{830, 730})
	once := pattern("pushed", func(p *document.Pattern) bool { return len(p.Lay.Pushes) == 1 })
	first0, last := once.Lay.Pushes[0].Points[0], once.Lay.Pushes[0].Points[len(once.Lay.Pushes[0].Points)-1]
	assert.InDelta(t, 780, first0[0], 3)
	assert.InDelta(t, 830, last[0], 3)
	assert.Greater(t, once.Lay.Pushes[0].Radius, 40.0)
	e.settled()
	e.drag(0, [2]float64{900, 800}, [2]float64{900, 830}, [2]float64{905, 850})
	pattern("pushed again", func(p *document.Pattern) bool { return len(p.Lay.Pushes) == 2 })
	e.click("Undo push the pattern")
	pattern("one push", func(p *document.Pattern) bool { return len(p.Lay.Pushes) == 1 })
	e.click("Take back the push")
	pattern("no push", func(p *document.Pattern) bool { return p.Lay.Pushes == nil })

	// In a colourway its colours are the colourway's; how it lies is the picture's.
	url := e.s.url() + "/api/jobs/" + e.jobID()
	type job struct {
		Revision   int64
		Colourways []document.Colourway
	}
	e.do("job", e.b.Do(chromedp.Navigate(e.s.url()+"/jobs/"+e.jobID())))
	e.click("New colourway")
	require.Eventually(t, func() bool { return len(get[job](t, url).Colourways) == 1 }, 10*time.Second, 50*time.Millisecond)
	way := get[job](t, url).Colourways[0]
	e.do("bench", e.b.Do(chromedp.Navigate(e.s.url()+"/pictures/"+e.id+"?colourway="+way.ID)))
	e.settled()
	e.click("Colour")
	e.click("Depot red, for the pattern")
	row := e.parts()[0].Row()
	require.Eventually(t, func() bool {
		c := get[job](t, url).Colourways[0].Cells[row]
		return len(c.Pattern) == 1 && c.Pattern[0].PaletteID == "depot"
	}, 10*time.Second, 50*time.Millisecond)
	assert.Equal(t, "lamp", e.parts()[0].Pattern.Colours[0].PaletteID, "the picture's own stays")
	e.click("Brick")
	there := pattern("brick", func(p *document.Pattern) bool { return p.Lay.Repeat == "brick" })
	assert.Equal(t, "lamp", there.Colours[0].PaletteID)
	e.click("Rail night")
	require.Eventually(t, func() bool {
		c := get[job](t, url).Colourways[0].Cells[row]
		return c.Target.PaletteID == "night" && len(c.Pattern) == 1
	}, 10*time.Second, 50*time.Millisecond, "another ground leaves the pattern its colours")
	assert.False(t, math.IsNaN(there.Lay.Size))
	e.click("None")
	require.Eventually(t, func() bool { return e.parts()[0].Pattern == nil }, 10*time.Second, 50*time.Millisecond)
}

// A drawing of the job is taken apart and lies on a photo's part as a repeat: in its own colours, which are the palette's where the
// palette has them, each to be changed. A picture that makes no tile says so, and the pattern stays.
func TestATileIsTakenFromADrawing(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.drag(0, [2]float64{620, 600}, [2]float64{1000, 640})
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "sweep" })
	e.click("Colour")
	e.click("Enamel cream")
	e.settled()
	bare := e.view(e.id, "picture", 600, 400)
	e.click("From a picture")
	e.click("Icon sheet")
	var p *document.Pattern
	require.Eventually(t, func() bool {
		all := e.parts()
		p = all[0].Pattern
		return p != nil && p.Lay.Tile == "drawn"
	}, 20*time.Second, 50*time.Millisecond, "it lies on the part")
	assert.Len(t, p.Lay.File, 64)
	require.Equal(t, p.Lay.Figures, len(p.Colours))
	require.GreaterOrEqual(t, len(p.Colours), 3)
	var named []string
	for _, c := range p.Colours {
		named = append(named, c.PaletteID)
	}
	assert.Contains(t, named, "harbour")
	e.settled()
	assert.NotEqual(t, bare, e.view(e.id, "picture", 600, 400))
	e.axe("a drawn pattern")
	e.click("Depot red, for the pattern")
	require.Eventually(t, func() bool { return e.parts()[0].Pattern.Colours[0].PaletteID == "depot" }, 10*time.Second, 50*time.Millisecond)

	e.click("Dots")
	require.Eventually(t, func() bool {
		q := e.parts()[0].Pattern
		return q.Lay.Tile == "dots" && q.Lay.File == "" && q.Lay.Figures == 0
	}, 10*time.Second, 50*time.Millisecond)
	e.settled()
	e.key("z", chromedp.KeyModifiers(2))
	require.Eventually(t, func() bool { q := e.parts()[0].Pattern; return q.Lay.File == p.Lay.File }, 10*time.Second, 50*time.Millisecond, "undone, the tile is there again")
}

// A tile is drawn on the spot, by keys and by hand, in two colours of the palette, and lies on the part.
func TestATileIsDrawnByHand(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	e.click("By hand")
	field := `document.querySelector('[role=dialog] canvas')`
	e.do("field", e.b.Until(`!!`+field))
	e.do("a dot by keys", e.b.Do(chromedp.Focus(chromedp.CSS(`[role=dialog] canvas`)), chromedp.KeyEvent(" "), chromedp.KeyEvent(kb.ArrowRight), chromedp.KeyEvent(" ")))
	e.click("Draw with colour 2")
	box, err := drive.Eval[[]float64](e.b, `(() => { const r = `+field+`.getBoundingClientRect(); return [r.left, r.top] })()`)
	require.NoError(t, err)
	at := func(x, y float64) [2]float64 { return [2]float64{box[0] + x, box[1] + y} }
	e.do("a stroke by hand", e.b.Drag(0, [][2]float64{at(90, 110), at(150, 112), at(220, 110)}))
	e.axe("a tile is drawn")
	e.click("Draw with colour 3")
	for i := range 5 { // clicks that are over before the page has followed
		e.do("a quick click", e.b.Drag(0, [][2]float64{at(float64(100+20*i), 200)}))
	}
	e.click("Lay it on")
	var p *document.Pattern
	require.Eventually(t, func() bool { p = e.parts()[0].Pattern; return p != nil }, 20*time.Second, 50*time.Millisecond)
	assert.Equal(t, "drawn", p.Lay.Tile)
	assert.Equal(t, 3, p.Lay.Figures)
	require.Len(t, p.Colours, 3)
	assert.NotEmpty(t, p.Colours[0].PaletteID)
	assert.NotEqual(t, p.Colours[0].PaletteID, p.Colours[1].PaletteID)
	assert.NotEqual(t, e.parts()[0].Target.PaletteID, p.Colours[0].PaletteID, "the ground's own is not among them")
	e.do("closed", e.b.Until(`!document.querySelector("[role=dialog]")`))

	// What was drawn is gone on with.
	e.click("By hand")
	for range 6 {
		e.click("Last stroke back")
	}
	e.click("Lay it on")
	require.Eventually(t, func() bool { p = e.parts()[0].Pattern; return p.Lay.Figures == 1 && len(p.Colours) == 1 }, 20*time.Second, 50*time.Millisecond)
}
