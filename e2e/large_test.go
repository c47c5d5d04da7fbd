package e2e

import (
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"testing"
	"time"

	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/isolate"
	"episema/core/raster"
	"episema/e2e/drive"
)

// watchWork counts what a page does from its beginning on: the signs that JSON.stringify makes (but for what is kept in the browser until the server
// has it, once a hand has let go, which on a busy machine may seem so between two keys), the sizes of what is asked
// for with a body, long tasks, and the components that each commit of React's rendered: those whose fiber is another than before and has
// the flag that says so (1, PerformedWork, which is there for developers' tools).
const watchWork = `{
	window.work = { json: 0, bodies: [], long: [], rendered: [] };
	const plainJSON = JSON.stringify, plainFetch = window.fetch;
	JSON.stringify = (...a) => { const s = plainJSON(...a); if (!/^{"base":\d+,"waiting":/.test(s)) work.json += s?.length ?? 0; return s };
	window.fetch = (to, how) => { if (typeof how?.body === "string") work.bodies.push([String(to), how.body.length]);
		else if (to instanceof Request && to.body) void to.clone().text().then((s) => work.bodies.push([to.url, s.length]));
		return plainFetch(to, how) };
	new PerformanceObserver((l) => work.long.push(...l.getEntries().map((e) => Math.round(e.duration)))).observe({ type: "longtask" });
	const function_ = new Set([0, 11, 15]);
	const count = (next, before) => {
		if (next === before) return 0;
		let n = before && function_.has(next.tag) && next.flags & 1 && (next.memoizedProps !== before.memoizedProps || next.memoizedState !== before.memoizedState || next.ref !== before.ref) ? 1 : 0;
		if (before && next.child === before.child) return n;
		for (let c = next.child; c; c = c.sibling) n += before ? count(c, c.alternate) : 1;
		return n;
	};
	window.__REACT_DEVTOOLS_GLOBAL_HOOK__ = { supportsFiber: true, inject: () => 1, onCommitFiberUnmount() {}, onPostCommitFiberRoot() {},
		onCommitFiberRoot: (_, root) => work.rendered.push(count(root.current, root.current.alternate)) };
}`

// work is what watchWork counted.
type work struct {
	JSON     int      `json:"json"`
	Bodies   [][2]any `json:"bodies"`
	Long     []int    `json:"long"`
	Rendered []int    `json:"rendered"`
}

func (e *bench) worked(do func()) (w work) {
	e.t.Helper()
	e.do("count anew", e.b.Do(drive.JS(`Object.assign(window.work, { json: 0, bodies: [], long: [], rendered: [] }), 0`)))
	do()
	w, err := drive.Eval[work](e.b, `window.work`)
	e.do("count", err)
	return w
}

// A document of half a megabyte is neither sent nor read whole while a slider moves, and a hand over the stage has next to nothing rendered.
func TestAHandOnADocumentOfManyStrokes(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	p := get[picture](t, e.s.url()+"/api/pictures/"+e.id)
	var strokes []isolate.Stroke
	for i := range 200 {
		var s isolate.Stroke
		s.Stroke = raster.Stroke{Radius: 9}
		for k := range 120 {
			a := float64(k) / 20
			s.Points = append(s.Points, [2]float64{640 + float64(i%20)*14 + 10*math.Cos(a), 480 + float64(i/20)*20 + 10*math.Sin(a)})
		}
		strokes = append(strokes, s)
	}
	p.Document.Parts[0].Picks = append(p.Document.Parts[0].Picks, isolate.Pick{Kind: "brush", Join: "add", Strokes: strokes})
	body, err := json.Marshal(map[string]any{"base": p.Revision, "label": "strokes", "document": p.Document})
	require.NoError(t, err)
	require.Greater(t, len(body), 500_000)
	send(t, "PUT", e.s.url()+"/api/pictures/"+e.id+"/document", string(body))
	_, err = chromedp.Call(e.b.Ctx, page.AddScriptToEvaluateOnNewDocument, page.AddScriptToEvaluateOnNewDocumentParams{Source: watchWork})
	e.do("watch", err)
	e.do("again", e.b.Do(chromedp.Reload()))
	e.settled()
	e.click("Colour")
	e.settled()

	const keys = 20
	depth := p.Document.Parts[0].Settings.ShadeDepth
	w := e.worked(func() {
		e.do("focus", e.b.Do(drive.JS(`document.querySelector('[role=group][aria-label="Shade depth"] input[type=range]').focus()`)))
		for range keys {
			e.do("a key", e.b.Do(chromedp.KeyEvent(kb.ArrowRight)))
			e.paced()
		}
		e.settled()
	})
	t.Logf("%d keys on a slider: %d signs of JSON, %d requests, long tasks %v, components %v", keys, w.JSON, len(w.Bodies), w.Long, w.Rendered)
	assert.NotEmpty(t, w.Bodies)
	for _, b := range w.Bodies {
		assert.Less(t, b[1], 1000.0, fmt.Sprint(b[0]))
	}
	assert.Less(t, w.JSON, keys*5000, "the document is not put into words whole")

	// What was set is kept in the browser whole until the server has it, once, when the hand has let go.
	require.Eventually(t, func() bool {
		return get[picture](t, e.s.url()+"/api/pictures/"+e.id).Document.Parts[0].Settings.ShadeDepth == depth+keys
	}, 20*time.Second, 50*time.Millisecond)
	e.do("saved", e.b.Until(`document.querySelector("[data-saving]").dataset.saving === "saved"`))

	w = e.worked(func() {
		for i := range 40 {
			x, y, err := e.b.OnStage(500+float64(i)*12, 500+float64(i%7)*9, 1800, 1200)
			require.NoError(t, err)
			e.do("move", e.b.Do(drive.Mouse(drive.Moved, x, y)))
			e.paced()
		}
		e.settled()
	})
	t.Logf("40 moves over the stage: %d signs of JSON, %d requests, long tasks %v, components %v", w.JSON, len(w.Bodies), w.Long, w.Rendered)
	assert.Less(t, w.JSON, 40*1000)
	for _, b := range w.Bodies {
		assert.Less(t, b[1], 1000.0, fmt.Sprint(b[0]))
	}
	require.GreaterOrEqual(t, len(w.Rendered), 40, "what is under the hand is told")
	slices.Sort(w.Rendered)
	assert.NotZero(t, w.Rendered[len(w.Rendered)/2], "so it is rendered")
	assert.Less(t, w.Rendered[len(w.Rendered)*3/4], 30, "components of a commit; what the keys led to may come late")
}
