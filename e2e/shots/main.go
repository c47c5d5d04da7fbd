// Command shots takes the pictures of docs/screenshots from a running server with a fresh demo job.
//
//	go run ./e2e/shots -url http://127.0.0.1:8427 [-out docs/screenshots]
package main

import (
	"context"
	"flag"
	"log"
	"os"
	"path/filepath"

	"github.com/chromedp/cdproto/input"
	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"

	"episema/e2e/drive"
)

func main() {
	url, out := flag.String("url", "http://127.0.0.1:8427", ""), flag.String("out", "docs/screenshots", "")
	flag.Parse()
	b, err := drive.Open(context.Background(), 1280, 800)
	if err != nil {
		log.Fatal(err)
	}
	defer b.Close()
	step := func(what string, err error) {
		if err != nil {
			if shotErr := b.Shot(filepath.Join(os.TempDir(), "failed.png")); shotErr != nil {
				log.Print(shotErr)
			}
			log.Fatalf("%s: %v", what, err)
		}
	}
	shot := func(name string) { step(name, b.Shot(filepath.Join(*out, name+".png"))) }
	const w, h = 1800, 1200
	images := `[...document.images].length > 0 && [...document.images].every((i) => i.complete && i.naturalWidth > 0)`
	step("jobs", b.Do(chromedp.Navigate(*url)))
	step("covers", b.Until(images+` && document.images.length > 1`))
	shot("jobs")
	step("job", b.Click("Lisk Street Tramway shop"))
	step("covers", b.Until(images+` && document.images.length > 5`))
	shot("job")
	step("open", b.Click("Depot mug"))
	step("stage", b.Settled())
	shot("bench-empty")
	// A smaller tip for the handle.
	step("sweep", b.Stroke(w, h, 0, [2]float64{620, 600}, [2]float64{1000, 640}, [2]float64{900, 880}))
	step("stage", b.Settled())
	step("smaller", b.Do(chromedp.KeyEvent("[[[[")))
	step("sweep", b.Stroke(w, h, 0, [2]float64{1230, 385}, [2]float64{1310, 430}, [2]float64{1350, 520}, [2]float64{1335, 640}, [2]float64{1250, 765}))
	step("stage", b.Settled())
	step("away", b.Stroke(w, h, input.ModifierAlt, [2]float64{430, 400}, [2]float64{430, 660}, [2]float64{640, 1090}, [2]float64{900, 1110}, [2]float64{1260, 960}, [2]float64{1500, 800}))
	step("stage", b.Settled())
	step("name", b.Click("Rename Part 1"))
	step("name", b.Do(chromedp.SendKeys(`input[aria-label="Name of the part"]`, "Mug body"+kb.Enter, chromedp.ByQuery)))
	step("stage", b.Settled())
	shot("bench-isolate")
	step("colour", b.Click("Colour"))
	step("teal", b.Click("Harbour teal"))
	step("stage", b.Settled())
	shot("bench-colour")
	step("proof", b.Click("Proof"))
	step("stage", b.Settled())
	shot("bench-proof")
	step("split", b.Click("Split"))
	step("stage", b.Settled())
	shot("bench-split")
	step("deliver", b.Click("Deliver"))
	step("render", b.Click("Render at full size"))
	step("running", b.Until(`document.body.textContent.includes("running") || document.body.textContent.includes(" %") && !!document.querySelector("[role=dialog] [role=progressbar]") || document.body.textContent.includes("Save file")`))
	shot("deliver")
	step("close", b.Click("Close"))
	step("back", b.Click("Lisk Street Tramway shop"))
	step("files", b.Until(`!!document.querySelector("input[type=file]")`))
	bad := filepath.Join(os.TempDir(), "scan of the order, second page, corrected by the depot.tif")
	step("file", os.WriteFile(bad, []byte("II*\x00 but nothing after it"), 0o644))
	defer os.Remove(bad)
	step("upload", b.Do(chromedp.SetUploadFiles("input[type=file]", []string{bad}, chromedp.ByQuery)))
	step("failed", b.Until(images+` && !!document.querySelector("ul [role=alert]")`))
	shot("upload-failed")
}
