package e2e

import (
	"bytes"
	"encoding/base64"
	"encoding/json"
	"io"
	"net/http"
	"strconv"
	"strings"
	"sync"
	"testing"
	"time"

	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/isolate"
	"episema/e2e/drive"
)

// On a line of 10 Mbit/s and 40 ms a hand is followed by pixels that are about right, and at rest the stage shows the exact ones,
// bit for bit those that come raw.
func TestASlowLineIsFollowedAndEndsExact(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()

	var mu sync.Mutex
	forms := map[string]int{} // of answers
	var last string           // body of the last lossless view that was asked for
	var partial int           // answers that held less than the view
	e.do("listen", chromedp.Listen(e.b.Ctx, func(ev any) {
		mu.Lock()
		defer mu.Unlock()
		switch ev := ev.(type) {
		case *network.EventRequestWillBeSent:
			if strings.HasSuffix(ev.Request.URL, "/view") && len(ev.Request.PostDataEntries) > 0 {
				if b := ev.Request.PostDataEntries[0].Bytes; bytes.Contains(b, []byte(`"show":"picture"`)) && bytes.Contains(b, []byte(`"as":"png"`)) {
					last = string(b)
				}
			}
		case *network.EventResponseReceived:
			if strings.HasSuffix(ev.Response.URL, "/view") {
				forms[ev.Response.MimeType]++
				if r, ok := ev.Response.Headers["X-Rect"].(string); ok && !strings.HasPrefix(r, "0 0 ") {
					partial++
				}
			}
		}
	}))
	e.do("slow", e.b.Do(drive.Line(false, 40, 1.25e6, 1.25e6)))
	begun := time.Now()
	e.do("again", e.b.Do(chromedp.Reload()))
	e.settled()
	t.Logf("the stage is exact %.1f s after a reload", time.Since(begun).Seconds())
	e.click("Colour")
	e.settled()

	box, err := drive.Eval[[4]float64](e.b, `(() => { const r = document.querySelector('input[type=range][aria-label^="Shade depth"], [aria-label^="Shade depth"] input[type=range]').closest("[data-rac]").parentElement.getBoundingClientRect(); return [r.x, r.y, r.width, r.height] })()`)
	require.NoError(t, err)
	frames := func() int {
		n, err := drive.Eval[int](e.b, `Number(document.querySelector("canvas").dataset.frames)`)
		require.NoError(t, err)
		return n
	}
	mouse := func(kind drive.MouseKind, f float64) {
		e.do("mouse", e.b.Do(drive.Mouse(kind, box[0]+f*box[2], box[1]+box[3]/2)))
	}
	before := frames()
	mouse(drive.Pressed, 0.5)
	begun = time.Now()
	const moves = 120
	for i := range moves {
		mouse(drive.Dragged, 0.5+0.4*float64(i)/moves)
		time.Sleep(16 * time.Millisecond)
	}
	seen, took := frames()-before, time.Since(begun).Seconds()
	begun = time.Now()
	mouse(drive.Released, 0.9)
	e.settled()
	t.Logf("%d frames in %.1f s of dragging: %.1f a second; exact %.2f s after rest", seen, took, float64(seen)/took, time.Since(begun).Seconds())
	mu.Lock()
	t.Log("answers:", forms, "of them less than the view:", partial)
	assert.Greater(t, forms["image/jpeg"], 3, "a hand is followed by what is about right")
	assert.Positive(t, forms["image/png"])
	assert.Positive(t, partial, "what did not change is not sent again")
	asked := last
	mu.Unlock()

	// The same view, raw and whole.
	var body map[string]any
	require.NoError(t, json.Unmarshal([]byte(asked), &body))
	for _, k := range []string{"as", "keep", "have"} {
		delete(body, k)
	}
	b, err := json.Marshal(body)
	require.NoError(t, err)
	res, err := http.Post(e.s.url()+"/api/pictures/"+e.id+"/view", "application/json", bytes.NewReader(b))
	require.NoError(t, err)
	defer res.Body.Close()
	raw, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	require.Equal(t, 200, res.StatusCode, string(raw[:min(len(raw), 300)]))
	w, h := int(body["width"].(float64)), int(body["height"].(float64))
	require.Len(t, raw, 4*w*h)
	const rows = 300
	packed, err := drive.Eval[string](e.b, `(() => { const c = document.querySelector("canvas"), w = `+strconv.Itoa(w)+`, h = `+strconv.Itoa(h)+`; const d = c.getContext("2d").getImageData(Math.round((c.width - w) / 2), Math.round((c.height - h) / 2), w, `+strconv.Itoa(rows)+`).data; let s = ""; for (let i = 0; i < d.length; i += 8192) s += String.fromCharCode(...d.subarray(i, i + 8192)); return btoa(s) })()`)
	require.NoError(t, err)
	shown, err := base64.StdEncoding.DecodeString(packed)
	require.NoError(t, err)
	require.True(t, bytes.Equal(raw[:4*w*rows], shown), "what the stage shows is the raw view bit for bit")
}

// What comes over a slow line while the page is busy is there as a whole once the page looks; that does not make the line a quick one.
func TestABusyPageDoesNotTakeASlowLineForAQuickOne(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	e.do("slow", e.b.Do(drive.Line(false, 40, 1.25e6, 1.25e6)))
	e.do("again", e.b.Do(chromedp.Reload()))
	e.settled()
	e.click("Colour")
	e.settled()
	// Each view is asked for at once, and comes while nothing else can happen.
	e.do("busy", e.b.Do(drive.JS(`(() => {
		window.__forms = [];
		const plain = window.fetch;
		window.fetch = (to, how) => {
			if (!String(to).endsWith("/view")) return plain(to, how);
			window.__forms.push(JSON.parse(how.body).as ?? "raw");
			const answer = plain(to, how);
			for (const from = performance.now(); performance.now() - from < 1200;);
			return answer;
		};
	})()`)))
	for _, key := range []string{kb.ArrowRight, kb.ArrowRight, kb.ArrowRight} {
		e.do("focus", e.b.Do(drive.JS(`document.querySelector('input[type=range][aria-label^="Shade depth"], [aria-label^="Shade depth"] input[type=range]').focus()`)))
		e.press(key)
		e.settled()
	}
	forms, err := drive.Eval[[]string](e.b, `window.__forms`)
	e.do("forms", err)
	t.Log(forms)
	assert.Contains(t, forms, "png")
	assert.NotContains(t, forms, "raw")
}

// A part of the page that cannot be fetched is said, and the page can be loaded again with every edit there.
func TestAPageThatCannotGoOnSaysSo(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.key("s")
	e.drag(0, [2]float64{620, 600}, [2]float64{1000, 640})
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "sweep" })
	e.settled()
	e.do("no proof", e.b.Do(drive.Block("*://*:*/assets/ProofFace*"), chromedp.Reload()))
	e.settled()
	e.click("Proof")
	e.do("said", e.b.Until(`document.body.textContent.includes("This page cannot go on")`))
	e.axe("a page that cannot go on")
	e.do("there again", e.b.Do(drive.Block()))
	e.do("load again", e.b.Click("Load again"))
	e.settled()
	e.click("Proof")
	e.do("proof", e.b.Until(`document.body.textContent.includes("left as it is")`))
	assert.Len(t, e.parts(), 1)
}
