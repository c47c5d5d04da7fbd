package main

import (
	"bytes"
	"fmt"
	"io"
	"net/http"
	"sort"
	"time"

	"github.com/chromedp/chromedp"

	"episema/e2e/drive"
)

// firstView is how many pixels the view has that a load is compared with.
var firstView = [2]int{900, 600}

// barePage shows a view from memory, and does nothing else.
const barePage = `<!doctype html><canvas width="%[1]d" height="%[2]d"></canvas><script>fetch("/", { method: "POST", body: "{}" }).then((r) => r.arrayBuffer()).then((b) => {
	document.querySelector("canvas").getContext("2d").putImageData(new ImageData(new Uint8ClampedArray(b), %[1]d, %[2]d), 0, 0); performance.mark("shown") })</script>`

// firstLoad prints the time until a page shows the picture, shows what its stage will to the last bit, and its stage is there: over merely
// fetching the page and one view, and over a page of the same browser that shows a view from memory and does nothing else.
func firstLoad(b *drive.Browser, id string, w, h float64) {
	bare, stop := fromMemory(firstView, fmt.Sprintf(barePage, firstView[0], firstView[1]))
	defer stop()
	loaded := func(page, there, marks string) []float64 {
		check(b.Do(chromedp.Navigate("about:blank")))
		check(b.Do(chromedp.Navigate(page)))
		check(b.Until(fmt.Sprintf("performance.getEntriesByName(%q).length > 0", there)))
		ms, err := drive.Eval[[]float64](b, marks)
		check(err)
		return ms
	}
	var fetching, showing []float64
	var after [3][]float64
	for range 5 {
		fetching = append(fetching, fetched(id, w, h))
		showing = append(showing, loaded(bare, "shown", `[performance.getEntriesByName("shown")[0].startTime]`)...)
		ms := loaded(url+"/pictures/"+id, "stage", `(() => { const [look, exact, stage] = ["first look", "exact", "stage"].map((n) => performance.getEntriesByName(n)[0]?.startTime ?? Infinity);
			return [Math.min(look, exact, stage), Math.min(exact, stage), stage] })()`)
		for i := range after {
			after[i] = append(after[i], ms[i])
		}
	}
	median := func(v []float64) float64 { sort.Float64s(v); return v[len(v)/2] }
	fetch, show := median(fetching), median(showing)
	for i, what := range []string{"the picture there", "the exact pixels", "the stage itself"} {
		ms := median(after[i])
		fmt.Printf("first load of the bench, %s: %.0f ms, over fetching the page and one view (%.0f) %.1f, over a page that shows a view and nothing else (%.0f) %.1f (medians of 5)\n", what, ms, fetch, ms/fetch, show, ms/show)
	}
}

// fetched returns how long it takes to fetch the page and one view of a picture, in milliseconds.
func fetched(id string, w, h float64) float64 {
	start := time.Now()
	for _, fetch := range []func() (*http.Response, error){
		func() (*http.Response, error) { return http.Get(url + "/") },
		func() (*http.Response, error) {
			return http.Post(url+"/api/pictures/"+id+"/view", "application/json", bytes.NewReader(fmt.Appendf(nil, `{"x":0,"y":0,"w":%f,"h":%f,"width":%d,"height":%d,"show":"picture"}`, w, h, firstView[0], firstView[1])))
		},
	} {
		res, err := fetch()
		check(err)
		_, err = io.Copy(io.Discard, res.Body)
		check(err)
		res.Body.Close()
	}
	return 1000 * time.Since(start).Seconds()
}
