package main

import (
	"context"
	"fmt"
	"os"
	"strings"
	"time"

	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"

	"episema/e2e/drive"
)

func main() {
	url := os.Args[1]
	b, err := drive.Open(context.Background(), 1280, 800)
	check(err)
	defer b.Close()
	shot := func(name string) {
		var p []byte
		check(b.Do(chromedp.Sleep(700*time.Millisecond), chromedp.CaptureScreenshot(&p)))
		check(os.WriteFile("/tmp/look/"+name+".png", p, 0o644))
	}
	size := func(w, h int64, k float64) {
		check(b.Do(emulation.SetDeviceMetricsOverride(w, h, k, false)))
	}
	forced := func(on string) {
		check(b.Do(emulation.SetEmulatedMedia().WithFeatures([]*emulation.MediaFeature{{Name: "forced-colors", Value: on}})))
	}
	check(b.Do(chromedp.Navigate(url)))
	check(b.Click("Lisk Street Tramway shop"))
	check(b.Until(`document.querySelectorAll("main li img").length > 5`))
	what := strings.Join(os.Args[2:], " ")
	job, _ := drive.Eval[string](b, "location.pathname")
	if strings.Contains(what, "job") {
		check(b.Click("More for Canvas tote"))
		shot("job-menu")
		check(b.Click("Remove"))
		check(b.Until(`!!document.querySelector("details")`))
		check(b.Do(chromedp.Evaluate(`document.querySelector("details").open = true`, nil)))
		shot("job-trash")
		check(b.Click("Bring it back"))
	}
	if strings.Contains(what, "photo") {
		check(b.Do(chromedp.Navigate(url + job)))
		check(b.Click("Depot mug"))
		check(b.Settled())
		x, y, _ := b.OnStage(760, 640, 1800, 1200)
		check(b.Stroke(1800, 1200, 0, [2]float64{620, 600}, [2]float64{900, 640}, [2]float64{960, 900}))
		_, _ = x, y
		check(b.Settled())
		shot("photo")
		forced("active")
		shot("photo-forced")
		forced("none")
		size(640, 400, 2)
		shot("photo-200")
		check(b.Do(chromedp.Evaluate(`document.querySelectorAll("[role=tab]")[1].click()`, nil)))
		shot("photo-200-colour")
		size(1024, 700, 1)
		shot("photo-1024")
		size(1280, 800, 1)
	}
	if strings.Contains(what, "drawing") {
		check(b.Do(chromedp.Navigate(url + job)))
		check(b.Click("Poster"))
		check(b.Until(`Number(document.querySelector("[data-testid=drawing]")?.dataset.shown ?? -1) >= 0`))
		shot("drawing")
		size(1024, 700, 1)
		shot("drawing-1024")
		size(640, 400, 2)
		shot("drawing-200")
		size(1280, 800, 1)
		forced("active")
		shot("drawing-forced")
		forced("none")
	}
	if strings.Contains(what, "narrow") {
		size(320, 700, 2)
		check(b.Do(chromedp.Navigate(url + job)))
		check(b.Until(`document.querySelectorAll("main li img").length > 5`))
		shot("job-320")
		size(3840, 2000, 1)
		shot("job-3840")
	}
	fmt.Println("done")
}

func check(err error) {
	if err != nil {
		panic(err)
	}
}
