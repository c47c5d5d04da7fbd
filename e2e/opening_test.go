package e2e

import (
	"io"
	"net/http"
	"regexp"
	"slices"
	"testing"
	"time"

	"github.com/chromedp/cdproto/page"
	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/e2e/drive"
)

// What a page's first picture needs is asked for before its scripts have come, once each, and the stage takes it from there.
func TestAPictureIsAskedForOnceAndEarly(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	e.withColourways(map[string]string{"w": "#8a2f3c"})
	_, err := chromedp.Call(e.b.Ctx, page.AddScriptToEvaluateOnNewDocument, page.AddScriptToEvaluateOnNewDocumentParams{Source: `new MutationObserver((_, seen) => {
		if (!document.querySelector("#root canvas")) return;
		performance.mark("canvas");
		seen.disconnect();
	}).observe(document, { childList: true, subtree: true })`})
	e.do("watch", err)
	for _, query := range []string{"", "?colourway=w"} {
		early := false
		for try := 0; try < 4 && !early; try++ { // on a machine that is busy the line may look too slow for it
			e.do("leave", e.b.Do(chromedp.Navigate("about:blank")))
			e.do("open", e.b.Do(chromedp.Navigate(e.s.url()+"/pictures/"+e.id+query)))
			// Each time asked anew: what waits in the page that is left would wait for ever.
			if !assert.Eventually(t, func() bool {
				there, err := drive.Eval[bool](e.b, `location.pathname.startsWith("/pictures/") && performance.getEntriesByName("stage").length === 1`)
				return err == nil && there
			}, 60*time.Second, 50*time.Millisecond, "its first picture") {
				state, err := drive.Eval[string](e.b, `JSON.stringify([location.href, performance.getEntriesByType("mark").map((m) => [m.name, m.startTime]),
					performance.getEntriesByType("resource").filter((r) => r.name.includes("/api/")).map((r) => [r.name, r.startTime, r.responseEnd, r.responseStatus])])`)
				t.Fatal(state, err)
			}
			asked, err := drive.Eval[map[string][]bool](e.b, `(() => {
				const at = "/api" + location.pathname, when = (mark) => performance.getEntriesByName(mark)[0].startTime, before = {};
				for (const r of performance.getEntriesByType("resource")) {
					const what = new URL(r.name).pathname;
					if (what.startsWith(at) && r.startTime < when("stage")) (before[what.slice(at.length)] ??= []).push(r.startTime < when("canvas"));
				}
				return before })()`)
			e.do("count", err)
			t.Log(query, asked)
			assert.Empty(t, asked[""], "the page brings the picture")
			assert.Equal(t, []bool{true}, asked["/cover"], "a quick look at it: once, before there is a stage")
			assert.Len(t, asked["/view"], 1, "what was asked for early is what the stage asks for")
			early = asked["/view"][0]
			e.do("the quick look is gone", e.b.Until(`!document.getElementById("first-look")`))
			e.settled()
		}
		assert.True(t, early, "its view is asked for before there is a stage")
	}
}

// Before anything of the application is there, the page shows the stage's first view where the stage will, to the last bit.
func TestThePageShowsTheExactPictureBeforeTheApplicationIsThere(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.mugInTeal()
	e.do("again", e.b.Do(chromedp.Reload()))
	e.settled()
	shown := func(b *drive.Browser) (place []float64, pixels string) {
		place, err := drive.Eval[[]float64](b, `(() => { const c = document.querySelector("canvas"), r = c.getBoundingClientRect(); return [r.x, r.y, r.width, r.height, c.width, c.height] })()`)
		require.NoError(t, err)
		pixels, err = drive.Eval[string](b, `(() => { const c = document.querySelector("canvas"); const d = c.getContext("2d").getImageData(24, 90, c.width - 48, c.height - 180).data; let s = ""; for (let i = 0; i < d.length; i += 8192) s += String.fromCharCode(...d.subarray(i, i + 8192)); return s })()`)
		require.NoError(t, err)
		return place, pixels
	}
	there, exact := shown(e.b)

	b := open(t)
	e.do("without the application", b.Do(drive.Block("*://*:*/assets/*")))
	here := func() bool {
		n, err := drive.Eval[int](b, `performance.getEntriesByName("exact").length`)
		return err == nil && n == 1
	}
	for try := 0; try < 10 && !here(); try++ { // on a machine that is busy the line may look too slow for it
		e.do("open", b.Do(chromedp.Navigate(e.s.url()+"/pictures/"+e.id)))
		for i := 0; i < 40 && !here(); i++ {
			time.Sleep(50 * time.Millisecond)
		}
	}
	require.True(t, here(), "the exact picture")
	place, pixels := shown(b)
	assert.Equal(t, there, place, "where the stage is")
	assert.True(t, exact == pixels, "and what it shows")
	none, err := drive.Eval[bool](b, `document.querySelector("#root").childElementCount === 0`)
	require.NoError(t, err)
	assert.True(t, none, "of the application nothing is there")
}

// What comes before the first picture of a bench is little, and compressed; the page brings its first script itself.
func TestThePageAndWhatItNeedsFirstAreSmall(t *testing.T) {
	t.Parallel()
	s := newServer(t)
	// Asked for as a browser does, the transport leaves the bytes as they come.
	ask := func(path, takes string) (*http.Response, string) {
		req, err := http.NewRequest("GET", s.url()+path, nil)
		require.NoError(t, err)
		req.Header.Set("Accept-Encoding", takes)
		res, err := http.DefaultClient.Do(req)
		require.NoError(t, err)
		defer res.Body.Close()
		b, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		require.Equal(t, 200, res.StatusCode, path)
		return res, string(b)
	}
	res, page := ask("/pictures/x", "identity")
	assert.Regexp(t, `<script>.*window\.early.*</script>`, page)
	assert.Contains(t, res.Header.Get("Content-Security-Policy"), "'sha256-")
	assert.NotContains(t, page, "stylesheet")
	packed, _ := ask("/pictures/x", "gzip, br")
	assert.Equal(t, "br", packed.Header.Get("Content-Encoding"))
	scripts := regexp.MustCompile(`/assets/[^"<>;]+\.js`).FindAllString(page+res.Header.Get("Link"), -1)
	slices.Sort(scripts)
	sum := 0
	for _, path := range slices.Compact(scripts) {
		res, b := ask(path, "gzip, br")
		assert.True(t, len(b) < 300 || res.Header.Get("Content-Encoding") == "br", path)
		sum += len(b)
	}
	assert.Greater(t, sum, 50_000)
	assert.Less(t, sum, 150_000, "bytes of scripts")
}
