// Command tabs opens one picture after the other, each in a tab of its own that stays open, and prints how long it took until
// each stage was ready, and the ratio of the last few to the first few. What a tab holds open (one call for all of them, and no
// connection for each) decides it.
//
//	go run ./bench/tabs -url http://127.0.0.1:8427 -tabs 30
package main

import (
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"log"
	"net/http"
	"slices"
	"time"

	"github.com/chromedp/chromedp"

	"episema/e2e/drive"
)

func main() {
	url, tabs := flag.String("url", "http://127.0.0.1:8427", "of a server with the demo job"), flag.Int("tabs", 30, "how many")
	flag.Parse()
	var jobs []struct{ ID string }
	get(*url+"/api/jobs", &jobs)
	var job struct{ Pictures []struct{ ID, Format string } }
	get(*url+"/api/jobs/"+jobs[0].ID, &job)
	var photos []string
	for _, p := range job.Pictures {
		if p.Format != "svg" {
			photos = append(photos, p.ID)
		}
	}
	root, err := drive.Open(context.Background(), 1280, 800)
	check(err)
	defer root.Close()
	open := func(i int) time.Duration {
		b, err := root.Tab()
		check(err)
		start := time.Now()
		check(b.Do(chromedp.Navigate(*url + "/pictures/" + photos[i%4])))
		check(b.Until(`document.querySelector("canvas")?.dataset.settled === "true" && Number(document.querySelector("canvas").dataset.frames) > 0`))
		return time.Since(start)
	}
	for i := range 4 { // so that no tab is the first to ask for a picture
		open(i)
	}
	var took []time.Duration
	for i := range *tabs {
		took = append(took, open(i))
		fmt.Printf("tab %2d: %4d ms\n", i+1, took[i].Milliseconds())
	}
	few := min(5, *tabs)
	first, last := median(took[:few]), median(took[len(took)-few:])
	fmt.Printf("median of the first %d: %d ms, of the last %d: %d ms, ratio %.2f\n", few, first.Milliseconds(), few, last.Milliseconds(), float64(last)/float64(first))
}

func median(d []time.Duration) time.Duration {
	d = slices.Sorted(slices.Values(d))
	return d[len(d)/2]
}

func get(url string, out any) {
	res, err := http.Get(url)
	check(err)
	defer res.Body.Close()
	check(json.NewDecoder(res.Body).Decode(out))
}

func check(err error) {
	if err != nil {
		log.Fatal(err)
	}
}
