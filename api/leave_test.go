package api_test

import (
	"bytes"
	"context"
	"encoding/json"
	"image"
	"image/jpeg"
	"io"
	"math"
	"net/http"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/core/recolour"
)

// big gives a photograph of so many megapixels: soft shapes with grain, which keeps every solver busy.
func big(t *testing.T, w, h int) []byte {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	seed := uint32(1)
	for y := range h {
		for x := range w {
			seed = seed*1664525 + 1013904223
			grain := float64(seed>>24)/16 - 8
			fx, fy := float64(x)/float64(w), float64(y)/float64(h)
			in := math.Sin(9*fx+3*math.Sin(7*fy)) + math.Cos(11*fy)
			v := 110 + 70*in + grain
			i := img.PixOffset(x, y)
			img.Pix[i], img.Pix[i+1], img.Pix[i+2], img.Pix[i+3] = byte(max(0, min(255, v))), byte(max(0, min(255, 200-v/2+grain))), byte(max(0, min(255, 60+90*fx+grain))), 255
		}
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, img, &jpeg.Options{Quality: 90}))
	return b.Bytes()
}

// spent is the processor time of the process and of its readers that ended so far.
func spent(t *testing.T) time.Duration {
	t.Helper()
	return spentBy(t, syscall.RUSAGE_SELF) + spentBy(t, syscall.RUSAGE_CHILDREN)
}

func spentBy(t *testing.T, who int) time.Duration {
	t.Helper()
	var u syscall.Rusage
	require.NoError(t, syscall.Getrusage(who, &u))
	return time.Duration(u.Utime.Nano() + u.Stime.Nano())
}

func TestNothingGoesOnOnceWhoAskedHasLeft(t *testing.T) {
	srv, s := serve(t)
	ctx := context.Background()
	job, err := s.Store.CreateJob(ctx, "Leaving", []byte(`{"palette":[],"colourways":[]}`))
	require.NoError(t, err)
	id, err := s.AddPicture(ctx, job, "big.jpg", bytes.NewReader(big(t, 4200, 2800)))
	require.NoError(t, err)
	pic := srv.URL + "/api/pictures/" + id.String()
	settings := recolour.Settings{ShadeDepth: 100, Highlights: 100, Strength: 100}
	n := 0
	// each is a document that nobody has asked for yet
	each := func(p isolate.Pick) any {
		n++
		brush := isolate.Pick{Kind: "brush", Join: "add", Strokes: []isolate.Stroke{{Stroke: raster.Stroke{Radius: 400 + float64(n), Points: [][2]float64{{500, 500}, {3000, 2200}}}}}}
		return document.Picture{Parts: []document.Part{{ID: "a", Name: "A", Picks: []isolate.Pick{brush, p}, Target: document.Target{CSS: "#a02040"}, Settings: settings}}}
	}
	stroke := func(r float64, xy ...float64) isolate.Stroke {
		st := isolate.Stroke{Stroke: raster.Stroke{Radius: r + float64(n)/10}}
		for i := 0; i < len(xy); i += 2 {
			st.Points = append(st.Points, [2]float64{xy[i], xy[i+1]})
		}
		return st
	}
	picks := map[string]func() isolate.Pick{
		"sweep": func() isolate.Pick {
			return isolate.Pick{Kind: "sweep", Join: "add", Strokes: []isolate.Stroke{stroke(80, 1500, 900, 2500, 1400, 900, 1900)}}
		},
		"marks": func() isolate.Pick {
			return isolate.Pick{Kind: "marks", Join: "add", Ring: [][2]float64{{400, 400}, {3800, 400}, {3800, 2400}, {400, 2400}}, Inside: []isolate.Stroke{stroke(60, 1500, 1200, 2600, 1500)}, Outside: []isolate.Stroke{stroke(30, 100, 100, 4000, 120)}}
		},
		"like": func() isolate.Pick {
			return isolate.Pick{Kind: "like", Join: "add", Samples: [][2]float64{{1500 + float64(n), 900}, {2100, 1700}}, Tolerance: 14, Light: 30}
		},
		"outline": func() isolate.Pick {
			return isolate.Pick{Kind: "outline", Join: "add", Snap: true, Nodes: []isolate.Node{{P: [2]float64{700 + float64(n), 500}}, {P: [2]float64{3500, 700}}, {P: [2]float64{3300, 2500}}, {P: [2]float64{600, 2300}}}}
		},
	}
	view := func(kind string, show string) func() (string, string, any) {
		return func() (string, string, any) {
			return "POST", pic + "/view", map[string]any{"x": 0, "y": 0, "w": 4200, "h": 2800, "width": 1260, "height": 840, "show": show, "part": "a", "document": each(picks[kind]())}
		}
	}
	part := func(call string) func() (string, string, any) {
		return func() (string, string, any) {
			return "POST", pic + "/" + call, map[string]any{"part": "a", "document": each(picks["like"]())}
		}
	}
	calls := map[string]func() (string, string, any){
		"a view with a sweep":      view("sweep", "picture"),
		"a view with marks":        view("marks", "picture"),
		"a view with like colours": view("like", "picture"),
		"a view with an outline":   view("outline", "picture"),
		"a view at full size": func() (string, string, any) {
			return "POST", pic + "/view", map[string]any{"x": 0, "y": 0, "w": 4200, "h": 2800, "width": 4200, "height": 2800, "show": "picture", "part": "a", "document": each(picks["like"]())}
		},
		"areas":        part("areas"),
		"a close look": part("closely"),
		"a proof": func() (string, string, any) {
			return "POST", pic + "/proof", map[string]any{"document": each(picks["marks"]())}
		},
		"how sure Subject is": func() (string, string, any) { return "GET", pic + "/subject", nil },
		"a walk along the edge": func() (string, string, any) {
			return "POST", pic + "/edge-walk", map[string]any{"part": "a", "w": 300, "h": 200, "document": each(picks["sweep"]())}
		},
		"an archive": func() (string, string, any) { return "GET", srv.URL + "/api/jobs/" + job.String() + "/archive", nil },
		"an upload that is decoded": func() (string, string, any) {
			return "POST", srv.URL + "/api/jobs/" + job.String() + "/pictures?name=x", nil
		},
	}
	upload := big(t, 4000, 3000)
	var making sync.Mutex
	ask := func(ctx context.Context, name string) {
		making.Lock()
		method, url, body := calls[name]()
		making.Unlock()
		var r io.Reader
		kind := "application/json"
		if body != nil {
			b, err := json.Marshal(body)
			assert.NoError(t, err)
			r = bytes.NewReader(b)
		} else if method == "POST" {
			r, kind = bytes.NewReader(upload), "application/octet-stream"
		}
		req, err := http.NewRequestWithContext(ctx, method, url, r)
		assert.NoError(t, err)
		req.Header.Set("Content-Type", kind)
		res, err := http.DefaultClient.Do(req)
		if err == nil {
			if res.StatusCode >= 400 {
				b, _ := io.ReadAll(res.Body)
				t.Errorf("%s: %d %s", name, res.StatusCode, b)
			}
			_, _ = io.Copy(io.Discard, res.Body)
			res.Body.Close()
		}
	}
	// The processor time that the process itself takes once whoever asked has been gone for a tenth of a second: a reader that ends in between
	// counts with all that it did before.
	for name := range calls {
		for _, after := range []time.Duration{60, 250} {
			leave, cancel := context.WithTimeout(ctx, after*time.Millisecond)
			ask(leave, name)
			left := leave.Err() != nil
			cancel()
			if !left {
				break // it was answered before
			}
			time.Sleep(100 * time.Millisecond)
			before := spentBy(t, syscall.RUSAGE_SELF)
			time.Sleep(300 * time.Millisecond)
			took := spentBy(t, syscall.RUSAGE_SELF) - before
			assert.Less(t, took, 250*time.Millisecond, "%s, left after %d ms", name, after)
			t.Logf("%-28s left after %4d ms: %d ms", name, after, took.Milliseconds())
		}
	}
	// A hundred at once.
	leave, cancel := context.WithTimeout(ctx, 1500*time.Millisecond)
	defer cancel()
	var all sync.WaitGroup
	for i := range 100 {
		name := []string{"a view with a sweep", "a view with marks", "a view at full size", "an archive", "an upload that is decoded", "a close look"}[i%6]
		all.Go(func() { ask(leave, name) })
	}
	all.Wait()
	// What is taken until nothing goes on any more is counted in processor time, which is the same on a busy machine.
	since := spent(t)
	quiet := func() bool {
		before := spent(t)
		time.Sleep(300 * time.Millisecond)
		return spent(t)-before < 30*time.Millisecond
	}
	require.Eventually(t, quiet, 20*time.Second, time.Millisecond, "a hundred left")
	t.Logf("a hundred left: %d ms", (spent(t) - since).Milliseconds())
	assert.Less(t, spent(t)-since, 6*time.Second, "a hundred left; readers that ended with them count with all they did before")
}
