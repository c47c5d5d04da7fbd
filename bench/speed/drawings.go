package main

import (
	"bytes"
	"context"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"math/rand/v2"
	"os"
	"runtime"
	"sort"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"episema/core/artwork"
	"episema/core/colour"
	"episema/e2e/drive"
)

// manyShapes makes a drawing of some 5 MB with so many elements, in 24 shades of six colours.
func manyShapes(n int) []byte {
	r := rand.New(rand.NewPCG(1, 2))
	mains := []string{"#1d6a72", "#9c2a1e", "#d9a441", "#345a86", "#4f7f3a", "#7a4a86"}
	var b bytes.Buffer
	b.WriteString(`<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 1600 1200" width="1600" height="1200"><style>.a{stroke:#20242b;stroke-width:.4}</style>` + "\n")
	for i := 0; i < n; i++ {
		l, err := colour.ParseCSS(mains[i%6])
		check(err)
		l[0] += float64(i/6%4)*4 - 6
		x, y := r.Float64()*1600, r.Float64()*1200
		fmt.Fprintf(&b, `<path id="p%d" class="a" fill="%s" d="M%.2f %.2fc%.2f %.2f %.2f %.2f %.2f 0l%.2f %.2fz"/>`+"\n", i, colour.Hex(l), x, y, 2*r.Float64(), -3*r.Float64(), 5*r.Float64(), 2*r.Float64(), 6*r.Float64(), -3*r.Float64(), 4*r.Float64())
	}
	b.WriteString("</svg>\n")
	return b.Bytes()
}

// drawings measures a drawing of 50,000 elements: reading it with all its colours over merely parsing it, and a step of a
// slider in the browser.
func drawings(call caller, job string) {
	src := manyShapes(50000)
	plain := func() float64 {
		runtime.GC()
		t := time.Now()
		d := xml.NewDecoder(bytes.NewReader(src))
		for {
			if _, err := d.Token(); errors.Is(err, io.EOF) {
				break
			} else {
				check(err)
			}
		}
		return time.Since(t).Seconds()
	}
	census := func() float64 {
		runtime.GC()
		t := time.Now()
		_, err := artwork.Parse(src)
		check(err)
		return time.Since(t).Seconds()
	}
	plain()
	census()
	var ratios []float64
	for range 9 {
		ratios = append(ratios, census()/plain())
	}
	sort.Float64s(ratios)
	fmt.Printf("drawing of %.1f MB, 50,000 elements: its colours over parsing it with encoding/xml: %.2f (%.2f to %.2f)\n", float64(len(src))/1e6, ratios[4], ratios[0], ratios[8])
	steps(call, job, "the drawing of 50,000 elements", src)
	poster, err := os.ReadFile("demo/artwork/poster.svg")
	check(err)
	steps(call, job, "the demo's poster", poster)
}

// steps measures a slider in the browser, from the key to the frame that shows what it did.
func steps(call caller, job, what string, src []byte) {
	p := call("POST", "/api/jobs/"+job+"/pictures?name=drawing.svg", "application/octet-stream", bytes.NewReader(src))
	b, err := drive.Open(context.Background(), 1280, 800)
	check(err)
	defer b.Close()
	check(b.Do(chromedp.Navigate(url + "/pictures/" + p["id"].(string))))
	check(b.Until(`Number(document.querySelector("[data-testid=drawing]")?.dataset.shown ?? -1) >= 0`))
	check(b.Until(`!/^false/.test(document.querySelector("[data-testid=drawing]").dataset.live ?? "")`))
	check(b.Drawn())
	check(b.Do(chromedp.Focus(chromedp.CSS(`input[type=range][aria-label="Hue"], [aria-label="Hue"] input[type=range], input[aria-label="Hue"]`))))
	check(b.Do(drive.JS(`(() => { window.__steps = []; const host = [...document.querySelectorAll("[data-testid=drawing] div")].find((d) => d.shadowRoot);
		let t = 0; addEventListener("keydown", () => { t = performance.now() }, true);
		const done = new MutationObserver(() => { if (!t) return; const from = t; t = 0; requestAnimationFrame(() => requestAnimationFrame(() => window.__steps.push((performance.now() - from) / (1000 / 60)))) });
		if (host) done.observe(host, { attributes: true, attributeFilter: ["style"] }); // a drawing of many things has none: its pixels come from the server
		done.observe(document.querySelector("[data-testid=drawing]"), { attributes: true, attributeFilter: ["data-live"] }) })()`)))
	for n := range 20 {
		check(b.Do(chromedp.KeyEvent(kb.ArrowRight)))
		check(b.Until(fmt.Sprintf("window.__steps.length > %d", n)))
	}
	took, err := drive.Eval[[]float64](b, "window.__steps")
	check(err)
	sort.Float64s(took)
	fmt.Printf("a step of the hue of a family of %s, from the key to the frame that shows it: median %.1f frames of 1/60 s, 95th percentile %.1f\n", what, took[len(took)/2], took[len(took)*95/100])
}
