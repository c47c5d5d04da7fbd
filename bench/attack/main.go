// Command attack sends mutated photos, drawings, archives, masks, palettes, documents and views to a running server for a
// while, with fixed seeds, and says what was answered with an error of the server's, took too long, or ended it. Now and then a
// client leaves before it is answered. With the server's process id it also says what memory that and its readers took at most.
//
//	go run ./bench/attack -url http://127.0.0.1:8427 -for 2m [-seed 1] [-clients 6] [-pid 4711]
package main

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"io"
	"log"
	"math"
	"math/rand"
	"net/http"
	"os"
	"path/filepath"
	"sort"
	"strings"
	"sync"
	"time"
)

const patience = 60 * time.Second

// left is the status of a call whose client went before it was answered.
const left = -1

type result struct {
	kind   string
	status int // 0: no answer
	took   time.Duration
	said   string
	saved  string
}

func main() {
	url := flag.String("url", "http://127.0.0.1:8427", "the server")
	length := flag.Duration("for", 2*time.Minute, "how long")
	seed := flag.Int64("seed", 1, "of the mutations")
	clients := flag.Int("clients", 6, "at once")
	pid := flag.Int("pid", 0, "of the server, whose memory is looked at")
	keep := flag.String("keep", filepath.Join(os.TempDir(), "attack"), "folder for what was not withstood")
	flag.Parse()
	check(os.MkdirAll(*keep, 0o755))
	a := &attack{url: *url, keep: *keep, http: &http.Client{Timeout: patience}}
	a.prepare()
	end := time.Now().Add(*length)
	var mu sync.Mutex
	var all []result
	var wait sync.WaitGroup
	for c := range *clients {
		wait.Go(func() {
			rnd := rand.New(rand.NewSource(*seed*1000 + int64(c)))
			for time.Now().Before(end) {
				r := a.once(rnd)
				mu.Lock()
				all = append(all, r)
				mu.Unlock()
			}
		})
	}
	var slowest time.Duration
	var most memory
	for n := 0; time.Now().Before(end); n++ {
		if *pid > 0 {
			most.look(*pid)
		}
		start := time.Now()
		res, err := a.http.Get(*url + "/healthz")
		if err != nil {
			log.Fatalf("the server is gone: %v", err)
		}
		res.Body.Close()
		slowest = max(slowest, time.Since(start))
		time.Sleep(100 * time.Millisecond)
	}
	wait.Wait()
	print(all, slowest)
	if *pid > 0 {
		fmt.Printf("at most %d MB in the server and %d MB in a process that reads a file\n", most.server>>20, most.reader>>20)
	}
	for _, r := range all {
		if r.status == 0 || r.status >= 500 {
			os.Exit(1)
		}
	}
}

func print(all []result, slowest time.Duration) {
	type sum struct {
		n, taken, refused, left, bad int
		longest                      time.Duration
	}
	by := map[string]*sum{}
	for _, r := range all {
		s := by[r.kind]
		if s == nil {
			s = &sum{}
			by[r.kind] = s
		}
		s.n++
		s.longest = max(s.longest, r.took)
		switch {
		case r.status >= 200 && r.status < 300:
			s.taken++
		case r.status >= 400 && r.status < 500:
			s.refused++
		case r.status == left:
			s.left++
		default:
			s.bad++
			fmt.Printf("NOT WITHSTOOD: %s answered %d after %.1f s: %.160s (%s)\n", r.kind, r.status, r.took.Seconds(), r.said, r.saved)
		}
	}
	var kinds []string
	for k := range by {
		kinds = append(kinds, k)
	}
	sort.Strings(kinds)
	fmt.Printf("%-18s %7s %7s %8s %6s %5s %9s\n", "", "sent", "taken", "refused", "left", "bad", "longest s")
	for _, k := range kinds {
		s := by[k]
		fmt.Printf("%-18s %7d %7d %8d %6d %5d %9.2f\n", k, s.n, s.taken, s.refused, s.left, s.bad, s.longest.Seconds())
	}
	fmt.Printf("a small call was answered within %s all the while\n", slowest.Round(time.Millisecond))
}

type attack struct {
	url, keep           string
	http                *http.Client
	job, picture, other string
	photos, drawings    [][]byte
	archive, document   []byte
}

// prepare makes a job with a photo and a drawing to work on.
func (a *attack) prepare() {
	for _, g := range []string{"demo/truth/mug-mask.png", "demo/truth/scarf-bright.png"} {
		a.photos = append(a.photos, read(g))
	}
	svgs, err := filepath.Glob("demo/artwork/*.svg")
	check(err)
	for _, f := range svgs {
		a.drawings = append(a.drawings, read(f))
	}
	var made struct{ ID string }
	a.must("POST", "/api/jobs", "application/json", []byte(`{"name":"Attack"}`), &made)
	a.job = made.ID
	a.must("POST", "/api/jobs/"+a.job+"/pictures?name=photo.png", "application/octet-stream", read("demo/truth/scarf-bright.png"), &made)
	a.picture = made.ID
	a.must("POST", "/api/jobs/"+a.job+"/pictures?name=drawing.svg", "application/octet-stream", a.drawings[0], &made)
	a.other = made.ID
	a.archive = a.fetch("/api/jobs/" + a.job + "/archive")
	a.photos = append(a.photos, a.delivered("jpeg", "webp", "tiff", "tiff8", "png8", "avif")...)
	a.document = []byte(`{"parts":[{"id":"p","name":"P","picks":[{"kind":"sweep","join":"add","reach":0.7,"strokes":[{"radius":12,"points":[[300,200],[420,260],[500,300]]}]},` +
		`{"kind":"like","join":"intersect","samples":[[300,200]],"boxes":[[200,150,400,300]],"not":[[20,20]],"tolerance":14,"light":20,"connected":true},` +
		`{"kind":"outline","join":"add","snap":true,"nodes":[{"p":[100,100],"out":[160,90]},{"p":[400,120]},{"p":[300,400],"in":[350,390]}]},` +
		`{"kind":"brush","join":"subtract","softness":0.4,"strength":0.8,"flow":0.5,"strokes":[{"radius":20,"points":[[10,10],[60,80]],"pressure":[0.3,1]}]},` +
		`{"kind":"tones","join":"subtract","from":10,"to":30,"soft":5}],"edge":{"feather":1.5,"grow":-1,"smooth":2,"tidy":3,"drop_specks_under":30},` +
		`"target":{"css":"#1d6a72","tolerance":2},"settings":{"method":"repaint","shade_depth":20,"highlights":120,"strength":90,"only_own":50,"even":30}}]}`)
}

func (a *attack) must(method, path, kind string, body []byte, out any) {
	r := a.send("setting up", method, path, kind, body, out)
	if r.status/100 != 2 {
		log.Fatalf("%s %s: %d %s", method, path, r.status, r.said)
	}
}

// delivered has the server write its photo in some formats, small, and fetches the files.
func (a *attack) delivered(formats ...string) (files [][]byte) {
	for _, f := range formats {
		a.must("POST", "/api/jobs/"+a.job+"/deliveries", "application/json", []byte(fmt.Sprintf(`{"pictures":[%q],"colourways":[""],"format":%q,"longest":200}`, a.picture, f)), nil)
	}
	for range 600 {
		var list []struct{ ID, State, Format string }
		check(json.Unmarshal(a.fetch("/api/jobs/"+a.job+"/deliveries"), &list))
		done := 0
		for _, d := range list {
			if d.State == "done" || d.State == "failed" {
				done++
			}
		}
		if done < len(formats) {
			time.Sleep(100 * time.Millisecond)
			continue
		}
		for _, d := range list {
			if d.State == "done" {
				files = append(files, a.fetch("/api/deliveries/"+d.ID+"/file"))
			}
		}
		return files
	}
	log.Fatal("the deliveries were not done in a minute")
	return nil
}

func (a *attack) fetch(path string) []byte {
	res, err := a.http.Get(a.url + path)
	check(err)
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	check(err)
	return b
}

func (a *attack) send(what, method, path, kind string, body []byte, out any) result {
	return a.sendFor(patience, what, method, path, kind, body, out)
}

// sendFor sends a call whose client leaves after a while.
func (a *attack) sendFor(stay time.Duration, what, method, path, kind string, body []byte, out any) result {
	ctx, cancel := context.WithTimeout(context.Background(), stay)
	defer cancel()
	req, err := http.NewRequestWithContext(ctx, method, a.url+path, bytes.NewReader(body))
	check(err)
	req.Header.Set("Content-Type", kind)
	start := time.Now()
	r := result{kind: what}
	res, err := a.http.Do(req)
	r.took = time.Since(start)
	if err != nil && stay < patience && ctx.Err() != nil {
		r.status = left
	} else if err != nil {
		r.said = err.Error()
	} else {
		defer res.Body.Close()
		r.status = res.StatusCode
		b, err := io.ReadAll(res.Body)
		if err != nil && stay < patience && ctx.Err() != nil {
			r.status = left
		} else if err != nil {
			r.status, r.said = 0, err.Error()
		} else if r.status >= 300 {
			r.said = string(b)
		} else if out != nil {
			check(json.Unmarshal(b, out))
		}
	}
	if r.status == 0 || r.status >= 500 {
		r.saved = filepath.Join(a.keep, fmt.Sprintf("%s-%d", strings.ReplaceAll(what, " ", "-"), time.Now().UnixNano()))
		check(os.WriteFile(r.saved, body, 0o644))
	}
	return r
}

func (a *attack) once(rnd *rand.Rand) result {
	const raw, js = "application/octet-stream", "application/json"
	upload := "/api/jobs/" + a.job + "/pictures?name=x"
	pick := func(list [][]byte) []byte { return list[rnd.Intn(len(list))] }
	if rnd.Intn(12) == 0 { // gone in the middle
		stay := time.Duration(1+rnd.Intn(300)) * time.Millisecond
		switch rnd.Intn(4) {
		case 0:
			return a.sendFor(stay, "left: photo", "POST", upload, raw, pick(a.photos), nil)
		case 1:
			return a.sendFor(stay, "left: archive", "GET", "/api/jobs/"+a.job+"/archive", "", nil, nil)
		case 2:
			return a.sendFor(stay, "left: drawing", "POST", upload, raw, pick(a.drawings), nil)
		}
		return a.sendFor(stay, "left: view", "POST", "/api/pictures/"+a.picture+"/view", js, mutatedJSON(rnd, []byte(`{"x":0,"y":0,"w":900,"h":600,"width":900,"height":600,"show":"picture","part":"p","document":`+string(a.document)+`}`)), nil)
	}
	switch rnd.Intn(12) {
	case 9:
		kind := []string{"proof", "areas", "closely", "probe", "edge-walk"}[rnd.Intn(5)]
		more := map[string]string{"proof": "", "areas": `"part":"p",`, "closely": `"part":"p",`, "probe": `"x":300,"y":200,"part":"p",`, "edge-walk": `"part":"p","w":300,"h":200,`}[kind]
		return a.send("measurement", "POST", "/api/pictures/"+a.picture+"/"+kind, js, mutatedJSON(rnd, []byte(`{`+more+`"document":`+string(a.document)+`}`)), nil)
	case 10:
		return a.send("depth map", "PUT", "/api/pictures/"+a.picture+"/depth", raw, mutated(rnd, pick(a.photos)), nil)
	case 11:
		return a.send("colourways", "PUT", "/api/jobs/"+a.job+"/content", js, []byte(fmt.Sprintf(`{"base":%d,"label":"x","palette":[{"id":"a","name":"A","css":"#1d6a72","tolerance":2}],"colourways":%s}`, rnd.Intn(9), mutatedJSON(rnd, []byte(`[{"id":"w","name":"W","cells":{"P":{"target":{"palette_id":"a"}}},"remark":"r"}]`)))), nil)
	case 0:
		return a.send("photo", "POST", upload, raw, mutated(rnd, pick(a.photos)), nil)
	case 1:
		return a.send("drawing", "POST", upload, raw, mutated(rnd, pick(a.drawings)), nil)
	case 2:
		return a.send("archive", "POST", "/api/archives", raw, mutated(rnd, a.archive), nil)
	case 3:
		return a.send("mask", "POST", "/api/pictures/"+a.picture+"/masks?name=m", raw, mutated(rnd, pick(a.photos)), nil)
	case 4:
		return a.send("palette", "POST", "/api/palette-file", "text/plain", mutated(rnd, []byte("name,colour,tolerance\nHarbour teal,#1d6a72,2\nLamp amber,oklch(0.8 0.15 80),3\n\"A, b\",lab(50 20 -30),1\n")), nil)
	case 5:
		var now struct{ Revision int64 }
		if json.Unmarshal(a.fetch("/api/pictures/"+a.picture), &now) != nil {
			now.Revision = int64(rnd.Intn(9))
		}
		return a.send("document", "PUT", "/api/pictures/"+a.picture+"/document", js, []byte(fmt.Sprintf(`{"base":%d,"label":"x","document":%s}`, now.Revision, mutatedJSON(rnd, a.document))), nil)
	case 6:
		return a.send("view of a drawing", "POST", "/api/pictures/"+a.other+"/view", js, mutatedJSON(rnd, []byte(`{"x":0,"y":0,"w":600,"h":400,"width":600,"height":400,"show":"picture"}`)), nil)
	default:
		return a.send("view", "POST", "/api/pictures/"+a.picture+"/view", js, mutatedJSON(rnd, []byte(`{"x":0,"y":0,"w":900,"h":600,"width":300,"height":200,"show":"mask","part":"p","document":`+string(a.document)+`}`)), nil)
	}
}

// mutated changes, cuts, repeats and swaps a few bytes.
func mutated(rnd *rand.Rand, b []byte) []byte {
	b = bytes.Clone(b)
	for range 1 + rnd.Intn(6) {
		if len(b) == 0 {
			return b
		}
		i := rnd.Intn(len(b))
		if rnd.Intn(2) == 0 {
			i = rnd.Intn(min(len(b), 300)) // headers matter more
		}
		switch rnd.Intn(6) {
		case 0:
			b[i] = byte(rnd.Intn(256))
		case 1:
			b[i] ^= 1 << rnd.Intn(8)
		case 2:
			b = b[:i]
		case 3:
			n := min(len(b)-i, rnd.Intn(200))
			b = append(b[:i:i], append(bytes.Repeat(b[i:i+n], 1+rnd.Intn(20)), b[i:]...)...)
		case 4:
			copy(b[i:], []byte{0xff, 0xff, 0xff, 0xff})
		case 5:
			j := rnd.Intn(len(b))
			n := min(len(b)-i, len(b)-j, rnd.Intn(64))
			copy(b[i:i+n], bytes.Clone(b[j:j+n]))
		}
	}
	return b
}

// mutatedJSON changes values of a document, and now and then its bytes.
func mutatedJSON(rnd *rand.Rand, b []byte) []byte {
	if rnd.Intn(5) == 0 {
		return mutated(rnd, b)
	}
	var v any
	check(json.Unmarshal(b, &v))
	for range 1 + rnd.Intn(4) {
		v = change(rnd, v)
	}
	out, err := json.Marshal(v)
	check(err)
	return out
}

// odd gives a value that nobody expects.
func odd(rnd *rand.Rand) any {
	list := []any{nil, 0.0, -1.0, 1e9, -1e9, 1e308, 0.5, 8192.0, "", "nonsense", "a\x00b", true, []any{}, map[string]any{}, strings.Repeat("x", 5000)}
	return list[rnd.Intn(len(list))]
}

func change(rnd *rand.Rand, v any) any {
	switch x := v.(type) {
	case map[string]any:
		var keys []string
		for k := range x {
			keys = append(keys, k)
		}
		sort.Strings(keys)
		if len(keys) == 0 || rnd.Intn(40) == 0 {
			x["more"] = odd(rnd)
			return x
		}
		k := keys[rnd.Intn(len(keys))]
		if rnd.Intn(30) == 0 {
			delete(x, k)
		} else {
			x[k] = change(rnd, x[k])
		}
		return x
	case []any:
		if len(x) == 0 || rnd.Intn(40) == 0 {
			for range rnd.Intn(300) {
				x = append(x, odd(rnd))
			}
			return x
		}
		i := rnd.Intn(len(x))
		x[i] = change(rnd, x[i])
		return x
	case float64:
		switch rnd.Intn(8) {
		case 0:
		case 1, 2:
			return min(1e300, max(-1e300, x*(rnd.Float64()*4-1)))
		default: // near enough to be taken
			return math.Round(x * (0.7 + 0.6*rnd.Float64()))
		}
	case string, bool:
		if rnd.Intn(3) > 0 {
			return x
		}
	}
	return odd(rnd)
}

func read(path string) []byte {
	b, err := os.ReadFile(path)
	check(err)
	return b
}

func check(err error) {
	if err != nil {
		log.Fatal(err)
	}
}
