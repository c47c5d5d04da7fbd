// Command people measures how a server shares itself among several people: each drags a slider on a picture of the demo job and asks
// for the next step once the last has come. It prints the steps a second of all together, and of the slowest over the mean.
//
//	bin/episema serve --seed demo --data /tmp/people --port 8428 &
//	go run ./bench/people -url http://127.0.0.1:8428 [-seconds 8] [-people 1,4,16] [-deliver] [-pattern]
//
// With -deliver an order of every picture runs meanwhile, and the same is printed once more; with -pattern what is dragged has a pattern.
package main

import (
	"bytes"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"log"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"
)

// laid tells whether the part has a pattern.
var laid bool

var url = flag.String("url", "http://127.0.0.1:8428", "the server, with the demo job")

func main() {
	seconds, list := flag.Int("seconds", 8, "for each number of people"), flag.String("people", "1,4,16", "how many there are")
	flag.BoolVar(&laid, "pattern", false, "the part has a pattern of two colours on it")
	deliver := flag.Bool("deliver", false, "and while an order is rendered")
	flag.Parse()
	var jobs []struct{ ID string }
	get("/api/jobs", &jobs)
	var job struct {
		Pictures []struct{ ID, Name, Format string }
	}
	get("/api/jobs/"+jobs[0].ID, &job)
	var photos []string
	var all []string
	for _, p := range job.Pictures {
		if p.Format == "png" && p.Name != "Sticker" {
			photos = append(photos, p.ID)
		}
		all = append(all, p.ID)
	}
	fmt.Println("people  steps/s  slowest/mean  median ms")
	for _, ordered := range []bool{false, true}[:1+btoi(*deliver)] {
		for _, n := range strings.Split(*list, ",") {
			people, err := strconv.Atoi(n)
			if err != nil || people < 1 {
				log.Fatalf("-people: %q is no number of people", n)
			}
			if ordered {
				var none any
				call("POST", "/api/jobs/"+jobs[0].ID+"/deliveries", map[string]any{"pictures": all, "colourways": []string{""}, "format": "png", "quality": 92}, &none)
			}
			counts, waits := drag(people, photos, time.Duration(*seconds)*time.Second)
			total := 0
			for _, c := range counts {
				total += c
			}
			slices.Sort(waits)
			fmt.Printf("%6d  %7.1f  %12.2f  %9.0f%s\n", people, float64(total)/float64(*seconds), float64(slices.Min(counts))*float64(people)/float64(total), waits[len(waits)/2].Seconds()*1000, map[bool]string{true: "  while an order is rendered"}[ordered])
		}
	}
}

func btoi(b bool) int {
	if b {
		return 1
	}
	return 0
}

// drag lets people drag for a while. It returns how many steps each made, and how long each step took.
func drag(people int, photos []string, d time.Duration) (counts []int, waits []time.Duration) {
	counts = make([]int, people)
	var mu sync.Mutex
	var g sync.WaitGroup
	end := time.Now().Add(d)
	for i := range people {
		g.Go(func() {
			id := photos[i%len(photos)]
			for step := 0; time.Now().Before(end); step++ {
				from := time.Now()
				view(id, float64((step*7+i)%90-45))
				mu.Lock()
				counts[i]++
				waits = append(waits, time.Since(from))
				mu.Unlock()
			}
		})
	}
	g.Wait()
	return counts, waits
}

// view asks for the whole picture with a broad part repainted, as a page does whose slider is at depth.
func view(id string, depth float64) {
	part := map[string]any{"id": "a", "name": "A", "target": map[string]any{"css": "#1d6a72"},
		"picks":    []any{map[string]any{"kind": "outline", "join": "add", "nodes": []any{node(300, 200), node(1500, 200), node(1500, 1000), node(300, 1000)}}},
		"settings": map[string]any{"shade_depth": depth, "highlights": 100, "strength": 100, "only_own": 50}}
	if laid {
		part["pattern"] = map[string]any{"lay": map[string]any{"tile": "dots", "share": 40, "size": 60, "offset": [2]float64{}, "folds": 25, "strength": 100},
			"colours": []any{map[string]any{"css": "#f2ece0"}, map[string]any{"css": "#d9a441"}}}
	}
	call("POST", "/api/pictures/"+id+"/view", map[string]any{"x": 0, "y": 0, "w": 1800, "h": 1200, "width": 900, "height": 600, "show": "picture", "part": "a", "hand": true,
		"document": map[string]any{"parts": []any{part}}}, nil)
}

func node(x, y float64) map[string]any { return map[string]any{"p": [2]float64{x, y}} }

func get(path string, out any) { call("GET", path, nil, out) }

func call(method, path string, in, out any) {
	b, err := json.Marshal(in)
	if err != nil {
		log.Fatal(err)
	}
	req, err := http.NewRequest(method, *url+path, bytes.NewReader(b))
	if err != nil {
		log.Fatal(err)
	}
	req.Header.Set("Content-Type", "application/json")
	res, err := http.DefaultClient.Do(req)
	if err != nil {
		log.Fatal(err)
	}
	defer res.Body.Close()
	body, err := io.ReadAll(res.Body)
	if err != nil || res.StatusCode >= 300 {
		log.Fatalf("%s %s: %d %s %v", method, path, res.StatusCode, body[:min(len(body), 200)], err)
	}
	if out != nil {
		if err := json.Unmarshal(body, out); err != nil {
			log.Fatal(err)
		}
	}
}
