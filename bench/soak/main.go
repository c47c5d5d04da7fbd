// Command soak works on ten pictures of 12 MP for as long as it is told, as a hand would but without its pauses, and prints what memory the
// server holds: selecting, dragging sliders, looking closely, proofs, undo, orders. It compares what is held at the end to what was
// held after the first part of the time, and ends with 1 where that grew by more than a tenth.
//
//	bin/episema serve --data /tmp/soak --port 8428 &
//	go run ./bench/soak -url http://127.0.0.1:8428 -pid $! [-for 2h] [-settled 10m] [-pause 0s]
package main

import (
	"bytes"
	"encoding/json"
	"flag"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"
	"io"
	"log"
	"maps"
	"math/rand"
	"net/http"
	"os"
	"strings"
	"time"

	"golang.org/x/image/draw"

	"episema/internal/resident"
)

var (
	url   = flag.String("url", "http://127.0.0.1:8428", "the server")
	pause = flag.Duration("pause", 0, "after each thing that is done")
)

// The pictures are ours, enlarged.
var pictures = []string{"demo/pictures/canvas-tote.png", "demo/pictures/conductors-cap.png", "demo/pictures/conductors-scarf.png", "demo/pictures/depot-mug.png",
	"demo/pictures/tram-at-the-depot.png", "demo/truth/bloom-a1.png", "demo/truth/curtain-a1.png", "demo/truth/muff-a1.png", "demo/truth/pot-a1.png", "demo/truth/seat-a1.png"}

const width, height = 4240, 2830

func main() {
	length, settled := flag.Duration("for", 2*time.Hour, "how long"), flag.Duration("settled", 10*time.Minute, "after which the memory is to stay what it is")
	pid, seed := flag.Int("pid", 0, "of the server, whose memory is looked at"), flag.Int64("seed", 1, "of what is done")
	flag.Parse()
	if resident.Now(*pid) == 0 {
		log.Fatalf("-pid: there is no process %d", *pid)
	}
	var job struct{ ID string }
	call("POST", "/api/jobs", map[string]any{"name": "Soak"}, &job)
	var ids []string
	for _, path := range pictures {
		var p struct{ ID string }
		send("POST", "/api/jobs/"+job.ID+"/pictures?name="+path[strings.LastIndex(path, "/")+1:]+".jpg", "application/octet-stream", enlarged(path), &p)
		ids = append(ids, p.ID)
	}
	h := &hand{rnd: rand.New(rand.NewSource(*seed)), job: job.ID}
	begun := time.Now()
	var before, after []int // MiB, in the last third of the time to settle and for as long at the end
	for told := begun; time.Since(begun) < *length; {
		h.sitting(ids[h.rnd.Intn(len(ids))])
		mib := int(resident.Now(*pid) >> 20)
		since := time.Since(begun)
		switch {
		case since > *settled*2/3 && since <= *settled:
			before = append(before, mib)
		case since > *length-*settled/3:
			after = append(after, mib)
		}
		if time.Since(told) > *length/24 {
			told = time.Now()
			fmt.Printf("%7s  %6d things done  %5d MiB\n", since.Round(time.Second), h.done, mib)
		}
	}
	if len(before) == 0 || len(after) == 0 {
		log.Fatal("nothing was measured when it had settled, or at the end: -for has to be longer than -settled, and -settled some minutes")
	}
	b, a := mean(before), mean(after)
	fmt.Printf("after %s %.0f MiB, at the end %.0f MiB (%d things done)\n", *settled, b, a, h.done)
	if a > 1.1*b {
		os.Exit(1)
	}
}

func mean(v []int) float64 {
	s := 0.0
	for _, n := range v {
		s += float64(n)
	}
	return s / float64(len(v))
}

// hand does what people do at a picture.
type hand struct {
	rnd  *rand.Rand
	job  string
	done int
}

func (h *hand) did() {
	h.done++
	time.Sleep(*pause)
}

// sitting is some work on one picture: it is opened, a part is selected by some strokes and recoloured, and what comes of it is looked at.
func (h *hand) sitting(id string) {
	var pic struct{ Revision int }
	call("GET", "/api/pictures/"+id, nil, &pic)
	fit := map[string]any{"x": 0, "y": 0, "w": width, "h": height, "width": 900, "height": 600, "show": "picture", "part": "a"}
	at := func() [2]float64 {
		return [2]float64{width * (0.25 + 0.5*h.rnd.Float64()), height * (0.25 + 0.5*h.rnd.Float64())}
	}
	var picks []any
	part := map[string]any{"id": "a", "name": "A", "target": map[string]any{"css": fmt.Sprintf("#%06x", h.rnd.Intn(1<<24))},
		"settings": map[string]any{"shade_depth": 0, "highlights": 100, "strength": 100, "only_own": 50}}
	kinds := []string{"sweep", "sweep", "sweep", "brush", "like", "marks"}
	for n := range 2 + h.rnd.Intn(4) {
		p := map[string]any{"kind": kinds[h.rnd.Intn(len(kinds))], "join": "add"}
		a, b := at(), at()
		stroke := map[string]any{"radius": 60, "points": [][2]float64{a, b}}
		switch p["kind"] {
		case "sweep", "brush":
			p["strokes"] = []any{stroke}
		case "like":
			p["samples"], p["tolerance"] = [][2]float64{a, b}, 12
		case "marks":
			p["inside"] = []any{stroke}
			p["ring"] = [][2]float64{{a[0] - 600, a[1] - 500}, {a[0] + 600, a[1] - 500}, {b[0] + 600, b[1] + 500}, {b[0] - 600, b[1] + 500}}
		}
		picks = append(picks, p)
		part["picks"] = picks
		view := maps.Clone(fit)
		view["document"] = map[string]any{"parts": []any{part}}
		h.see(id, view)
		var put struct{ Revision int }
		call("PUT", "/api/pictures/"+id+"/document", map[string]any{"base": pic.Revision, "label": fmt.Sprintf("pick %d", n), "document": view["document"]}, &put)
		pic.Revision = put.Revision
		h.did()
	}
	for n := range 12 { // a slider
		part["settings"] = map[string]any{"shade_depth": 4*n - 20, "highlights": 100, "strength": 100, "only_own": 50}
		view := maps.Clone(fit)
		view["quick"], view["document"] = true, map[string]any{"parts": []any{part}}
		h.see(id, view)
	}
	for range 3 { // closely
		a := at()
		view := maps.Clone(fit)
		view["x"], view["y"], view["w"], view["h"] = int(a[0])-450, int(a[1])-300, 900, 600
		view["document"] = map[string]any{"parts": []any{part}}
		h.see(id, view)
	}
	send("GET", "/api/pictures/"+id+"/cover", "", nil, nil)
	h.did()
	call("POST", "/api/pictures/"+id+"/proof", map[string]any{}, nil)
	h.did()
	if h.rnd.Intn(2) == 0 {
		call("POST", "/api/pictures/"+id+"/undo", nil, nil)
		h.did()
	}
	if h.rnd.Intn(4) == 0 {
		h.deliver(id)
	}
}

func (h *hand) see(id string, view map[string]any) {
	call("POST", "/api/pictures/"+id+"/view", view, nil)
	h.did()
}

// deliver orders a picture and fetches what comes.
func (h *hand) deliver(id string) {
	call("POST", "/api/jobs/"+h.job+"/deliveries", map[string]any{"pictures": []string{id}, "colourways": []string{""}, "format": []string{"png", "jpeg", "tiff", "webp"}[h.rnd.Intn(4)], "quality": 92}, nil)
	for range 600 {
		var list []struct{ ID, State string }
		call("GET", "/api/jobs/"+h.job+"/deliveries", nil, &list)
		open := 0
		for _, d := range list {
			if d.State != "done" && d.State != "failed" && d.State != "cancelled" {
				open++
			}
		}
		if open == 0 {
			if list[0].State == "failed" {
				log.Fatalf("delivery %s failed", list[0].ID)
			}
			if list[0].State == "done" {
				send("GET", "/api/deliveries/"+list[0].ID+"/file", "", nil, nil)
			}
			h.did()
			return
		}
		time.Sleep(200 * time.Millisecond)
	}
	log.Fatal("a delivery does not end")
}

// enlarged reads one of the pictures and returns it at the size that is worked on, as JPEG.
func enlarged(path string) []byte {
	f, err := os.Open(path)
	check(err)
	defer f.Close()
	src, err := png.Decode(f)
	check(err)
	out := image.NewRGBA(image.Rect(0, 0, width, height))
	draw.CatmullRom.Scale(out, out.Rect, src, src.Bounds(), draw.Src, nil)
	var b bytes.Buffer
	check(jpeg.Encode(&b, out, &jpeg.Options{Quality: 92}))
	return b.Bytes()
}

func call(method, path string, in, out any) {
	b, err := json.Marshal(in)
	check(err)
	send(method, path, "application/json", b, out)
}

// send calls the server and reads the answer to its end.
func send(method, path, kind string, body []byte, out any) {
	req, err := http.NewRequest(method, *url+path, bytes.NewReader(body))
	check(err)
	if kind != "" {
		req.Header.Set("Content-Type", kind)
	}
	res, err := http.DefaultClient.Do(req)
	check(err)
	defer res.Body.Close()
	answer, err := io.ReadAll(res.Body)
	check(err)
	if res.StatusCode >= 300 {
		log.Fatalf("%s %s: %d %s", method, path, res.StatusCode, answer[:min(len(answer), 300)])
	}
	if out != nil {
		check(json.Unmarshal(answer, out))
	}
}

func check(err error) {
	if err != nil {
		log.Fatal(err)
	}
}
