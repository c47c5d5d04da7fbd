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
		if (!document.querySelector("canvas")) return;
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
			assert.Equal(t, []bool{true}, asked[""], "the picture: once, before there is a stage")
			assert.Equal(t, []bool{true}, asked["/cover"], "a quick look at it too")
			assert.Len(t, asked["/view"], 1, "what was asked for early is what the stage asks for")
			early = asked["/view"][0]
			e.do("the quick look is gone", e.b.Until(`!document.getElementById("first-look")`))
			e.settled()
		}
		assert.True(t, early, "its view is asked for before there is a stage")
	}
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
	assert.Regexp(t, `<script>[^<]*window\.early`, page)
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
