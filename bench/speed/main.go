// Command speed measures against general-purpose yardsticks in the same run, as ratios: a full-size
// Repaint over libvips' conversion to LCh and back of the same picture, slider steps in the browser over
// panning, and the memory of a large delivery.
//
//	go run ./bench/speed [-large 100] [-browser=false]
package main

import (
	"bytes"
	"context"
	"encoding/json"
	"flag"
	"fmt"
	"image"
	"image/jpeg"
	"image/png"
	"io"
	"log"
	"net"
	"net/http"
	"os"
	"os/exec"
	"path/filepath"
	"sort"
	"strings"
	"time"

	"github.com/chromedp/chromedp"

	"episema/e2e/drive"
	"episema/internal/resident"
	"episema/internal/testdb"
)

func main() {
	browser, large := flag.Bool("browser", true, "measure the interface too"), flag.Int("large", 100, "megapixels of the large delivery")
	staged := flag.Bool("stage", false, "measure the stage alone")
	sweeping := flag.Bool("sweep", false, "measure Sweep under a dragging hand alone")
	ordering := flag.Bool("orders", false, "measure an order of 72 files alone")
	drawn := flag.Bool("drawings", false, "measure a drawing of 50,000 elements alone")
	shared := flag.Bool("workers", false, "measure two workers over one alone")
	flag.Parse()
	dir, err := testdb.Dir()
	check(err)
	defer os.RemoveAll(dir)
	bin := filepath.Join(dir, "episema")
	run(exec.Command("go", "build", "-o", bin, "./cmd/episema"))
	if *drawn {
		withServer(bin, dir, func(call caller, job string, _ int) { drawings(call, job) })
		return
	}
	p12, p24, pL := filepath.Join(dir, "12.jpg"), filepath.Join(dir, "24.jpg"), filepath.Join(dir, "large.jpg")
	enlarge("demo/pictures/depot-mug.png", p12, 4242, 2828)
	enlarge("demo/pictures/depot-mug.png", p24, 6000, 4000)
	if *sweeping {
		withServer(bin, dir, func(call caller, job string, pid int) { drag(call, job, p24, pid) })
		return
	}
	if *shared {
		sharing(bin, dir, p12)
		return
	}
	if *ordering {
		withServer(bin, dir, func(call caller, job string, pid int) { orders(bin, dir, p12, call, job, pid) })
		return
	}
	side := 1
	for side*side*3/2 < *large*1e6 {
		side += 10
	}
	enlarge("demo/pictures/depot-mug.png", pL, side*3/2, side)

	if *staged {
		withServer(bin, dir, func(call caller, job string, _ int) { stage(call, job, p12, p24, pL) })
		return
	}

	mask24, maskL := filepath.Join(dir, "m24.png"), filepath.Join(dir, "mL.png")
	grow("demo/truth/mug-mask.png", mask24, 6000, 4000)
	grow("demo/truth/mug-mask.png", maskL, side*3/2, side)
	if _, err := exec.LookPath("vips"); err == nil {
		lch := func() time.Duration {
			return timed(exec.Command("vips", "colourspace", p24, filepath.Join(dir, "lch.v"), "lch")) + timed(exec.Command("vips", "colourspace", filepath.Join(dir, "lch.v"), filepath.Join(dir, "back.png"), "srgb"))
		}
		paint := func() time.Duration {
			return timed(exec.Command(bin, "recolour", "--photo", p24, "--mask", mask24, "--target", "#1d6a72", "--out", filepath.Join(dir, "out.png")))
		}
		lch()
		paint()
		var r []float64
		for range 3 {
			r = append(r, paint().Seconds()/lch().Seconds())
		}
		sort.Float64s(r)
		fmt.Printf("Repaint 24 MP (whole command, PNG out) over libvips LCh and back (PNG out): %.2f %.2f %.2f\n", r[0], r[1], r[2])
		threeParts(p24, mask24, dir, lch)
	} else {
		fmt.Println("libvips-tools is not installed: no comparison with libvips")
	}
	cmd := exec.Command(bin, "recolour", "--photo", pL, "--mask", maskL, "--target", "#1d6a72", "--out", filepath.Join(dir, "outL.png"))
	took, most := watched(cmd)
	fmt.Printf("delivery of %d MP: %.1f s, peak memory %d MiB\n", *large, took.Seconds(), most>>20)
	if *browser {
		withServer(bin, dir, func(call caller, job string, _ int) { stage(call, job, p12, p24, pL) })
	}
}

func check(err error) {
	if err != nil {
		log.Fatal(err)
	}
}

func run(c *exec.Cmd) {
	if out, err := c.CombinedOutput(); err != nil {
		log.Fatalf("%v: %v\n%s", c.Args, err, out)
	}
}

func timed(c *exec.Cmd) time.Duration {
	t := time.Now()
	run(c)
	return time.Since(t)
}

// watched runs a command and returns how long it took and what memory it had at most, in bytes.
func watched(c *exec.Cmd) (took time.Duration, most int64) {
	start := time.Now()
	check(c.Start())
	over := make(chan error)
	go func() { over <- c.Wait() }()
	for {
		select {
		case err := <-over:
			check(err)
			return time.Since(start), most
		case <-time.After(20 * time.Millisecond):
			most = max(most, resident.Peak(c.Process.Pid))
		}
	}
}

func read(path string) image.Image {
	f, err := os.Open(path)
	check(err)
	defer f.Close()
	m, err := png.Decode(f)
	check(err)
	return m
}

// enlarge repeats pixels: what is measured does not depend on what is shown.
func enlarge(from, to string, w, h int) {
	src := read(from).(*image.RGBA)
	o := image.NewRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			s := src.PixOffset(x*src.Rect.Dx()/w, y*src.Rect.Dy()/h)
			copy(o.Pix[o.PixOffset(x, y):], src.Pix[s:s+4])
		}
	}
	f, err := os.Create(to)
	check(err)
	check(jpeg.Encode(f, o, &jpeg.Options{Quality: 92}))
	check(f.Close())
}

func grow(from, to string, w, h int) {
	src := read(from).(*image.Gray)
	o := image.NewGray(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			o.Pix[y*w+x] = src.GrayAt(x*src.Rect.Dx()/w, y*src.Rect.Dy()/h).Y
		}
	}
	f, err := os.Create(to)
	check(err)
	check((&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(f, o))
	check(f.Close())
}

// caller calls the server's API.
type caller func(method, path, kind string, body io.Reader) map[string]any

const url = "http://127.0.0.1:8499"

// withServer starts a server with an empty job.
func withServer(bin, dir string, use func(call caller, job string, pid int)) {
	srv := exec.Command(bin, "serve", "--port", "8499", "--data", filepath.Join(dir, "data"))
	srv.Stderr = os.Stderr
	check(srv.Start())
	defer func() {
		check(srv.Process.Signal(os.Interrupt))
		check(srv.Wait())
	}()
	for range 600 {
		if res, err := http.Get(url + "/api/jobs"); err == nil {
			res.Body.Close()
			break
		}
		time.Sleep(100 * time.Millisecond)
	}
	call := func(method, path, kind string, body io.Reader) map[string]any {
		req, err := http.NewRequest(method, url+path, body)
		check(err)
		req.Header.Set("Content-Type", kind)
		res, err := http.DefaultClient.Do(req)
		check(err)
		defer res.Body.Close()
		var v map[string]any
		check(json.NewDecoder(res.Body).Decode(&v))
		if res.StatusCode > 299 {
			log.Fatal(v)
		}
		return v
	}
	use(call, call("POST", "/api/jobs", "application/json", bytes.NewReader([]byte(`{"name":"Speed"}`)))["id"].(string), srv.Process.Pid)
}

// drag measures Sweep on a large picture while the hand moves, from each pointer event to the frame that
// answers it, and the server's memory over 200 strokes.
func drag(call caller, job, file string, pid int) {
	data, err := os.ReadFile(file)
	check(err)
	pic := call("POST", "/api/jobs/"+job+"/pictures?name=big.jpg", "application/octet-stream", bytes.NewReader(data))
	b, err := drive.Open(context.Background(), 1280, 800)
	check(err)
	defer b.Close()
	check(b.Do(chromedp.Navigate(url + "/pictures/" + pic["id"].(string))))
	check(b.Settled())
	check(b.Do(drive.JS(`(() => { window.__times = []; const c = document.querySelector("canvas");
		c.addEventListener("pointermove", (e) => { if (!e.buttons) return; const t = performance.now(), before = c.dataset.frames;
			const look = () => { if (c.dataset.frames !== before) __times.push(performance.now() - t); else requestAnimationFrame(look) }; requestAnimationFrame(look) }, {capture: true}) })()`)))
	w, h := pic["width"].(float64), pic["height"].(float64)
	k := w / 1800
	event := func(kind drive.MouseKind, x, y float64) {
		wx, wy, err := b.OnStage(x*k, y*k, w, h)
		check(err)
		check(b.Do(drive.Mouse(kind, wx, wy)))
	}
	event(drive.Pressed, 620, 600)
	for i := range 40 {
		event(drive.Dragged, 620+float64(i)*9, 600+float64(i%7)*4)
		check(b.Until(fmt.Sprintf("window.__times.length >= %d", i+1)))
	}
	event(drive.Released, 980, 620)
	check(b.Settled())
	times, err := drive.Eval[[]float64](b, "window.__times")
	check(err)
	times = times[5:]
	sort.Float64s(times)
	fmt.Printf("Sweep while dragging on 24 MP: median %.0f ms (%.1f frames of 60 a second), 95th percentile %.0f ms\n", times[len(times)/2], times[len(times)/2]*60/1000, times[len(times)*95/100])
	before := resident.Now(pid)
	for i := range 200 {
		x, y := 640+float64(i%20)*14, 480+float64(i/20)*40
		check(b.Drag(0, onStage(b, [][2]float64{{x * k, y * k}, {(x + 12) * k, (y + 5) * k}}, w, h)))
		if i == 20 {
			check(b.Settled())
			before = resident.Now(pid)
		}
	}
	check(b.Settled())
	fmt.Printf("server memory after 20 strokes %d MiB, after 200 strokes %d MiB\n", before>>20, resident.Now(pid)>>20)
}

func onStage(b *drive.Browser, points [][2]float64, w, h float64) [][2]float64 {
	out := make([][2]float64, len(points))
	for i, p := range points {
		x, y, err := b.OnStage(p[0], p[1], w, h)
		check(err)
		out[i] = [2]float64{x, y}
	}
	return out
}

// stage measures in Chromium, from an input event to the new pixels on the stage.
func stage(post caller, job string, files ...string) {
	fmt.Printf("%-6s %-6s | %28s | %18s | %8s | %s\n", "file", "zoom", "slider step p50, p95 (ms)", "pan p50, p95 (ms)", "floor", "slider and pan over the floor")
	steps := map[string]float64{}
	var ways []string
	for i := range rounds {
		ways = append(ways, fmt.Sprintf(`{"id":"w%d","name":"W%d","cells":{"Mug":{"target":{"css":"hsl(%d 50%% 40%%)"}}}}`, i, i, i*15))
	}
	post("PUT", "/api/jobs/"+job+"/content", "application/json", strings.NewReader(`{"base":1,"label":"x","palette":[],"colourways":[`+strings.Join(ways, ",")+`]}`))
	for _, f := range files {
		data, err := os.ReadFile(f)
		check(err)
		name := filepath.Base(f)
		pic := post("POST", "/api/jobs/"+job+"/pictures?name="+name, "application/octet-stream", bytes.NewReader(data))
		id := pic["id"].(string)
		k := pic["width"].(float64) / 1800
		doc := fmt.Sprintf(`{"base":1,"label":"x","document":{"parts":[{"id":"a","name":"Mug","picks":[{"kind":"sweep","join":"add","strokes":[{"radius":%f,"points":[[%f,%f],[%f,%f],[%f,%f]]}]}],"target":{"css":"#1d6a72"},"settings":{"shade_depth":0,"highlights":100,"strength":100}}]}}`,
			18*k, 620*k, 600*k, 1000*k, 640*k, 900*k, 880*k)
		b, err := drive.Open(context.Background(), 1280, 800)
		check(err)
		// Panning is measured on the picture as it came in, the slider after the part is made.
		zooms, panned, floors := []string{"fit", "100 %"}, map[string]answered{}, map[string]float64{}
		for _, zoom := range zooms {
			var size [2]int
			panned[zoom], size = measure(b, url+"/pictures/"+id, zoom, pan)
			floors[zoom] = floor(b, size)
			after, _ := measure(b, url+"/pictures/"+id, zoom, rested)
			fmt.Printf("%-6s %-6s | %s, p50 and p95 (ms): %.0f %.0f, over the floor %.2f\n", name[:2], zoom, rested, after.median, after.slow, after.median/floors[zoom])
		}
		post("PUT", "/api/pictures/"+id+"/document", "application/json", bytes.NewReader([]byte(doc)))
		for _, zoom := range zooms {
			slide, _ := measure(b, url+"/pictures/"+id, zoom, slider)
			steps[name+zoom] = slide.median
			if zoom == "fit" {
				firstLoad(b, id, pic["width"].(float64), pic["height"].(float64))
			}
			at := panned[zoom]
			fmt.Printf("%-6s %-6s | %14.0f %13.0f | %12.0f %5.0f | %8.0f | %6.2f %6.2f\n", name[:2], zoom, slide.median, slide.slow, at.median, at.slow, floors[zoom], slide.median/floors[zoom], at.median/floors[zoom])
			for _, what := range []string{dragged, colourway, looked, flip} {
				change, _ := measure(b, url+"/pictures/"+id, zoom, what)
				fmt.Printf("%-6s %-6s | %s, p50 and p95 (ms): %.0f %.0f, over the floor %.2f\n", name[:2], zoom, what, change.median, change.slow, change.median/floors[zoom])
			}
		}
		b.Close()
	}
	large, small := filepath.Base(files[2]), filepath.Base(files[0])
	fmt.Printf("slider step, large over 12 MP: fit %.2f, 100 %% %.2f\n", steps[large+"fit"]/steps[small+"fit"], steps[large+"100 %"]/steps[small+"100 %"])
}

// What measure does again and again.
const (
	pan       = "pan"                 // one after the other
	rested    = "pan after a look"    // at what came into sight, 0.6 s: what lies around has come by then
	slider    = "slider"              // set and let go of
	dragged   = "a step under a hand" // that goes on dragging
	colourway = "a colourway not seen before"
	looked    = "a colourway not seen before, after a look" // at the one before, 0.6 s
	flip      = "back and forth between two colourways"

	rounds = 24 // of each, of which the first four do not count
)

// floor gives the median of milliseconds in which as many pixels come from memory through the same kind of transfer onto a canvas.
func floor(b *drive.Browser, size [2]int) float64 {
	url, stop := fromMemory(size, fmt.Sprintf(`<canvas width="%d" height="%d"></canvas>`, size[0], size[1]))
	defer stop()
	check(b.Do(chromedp.Navigate(url)))
	check(b.Do(drive.JS(fmt.Sprintf(`(() => { const off = new OffscreenCanvas(%d, %d), g = document.querySelector("canvas").getContext("2d");
		let bytes = new ArrayBuffer(4 * off.width * off.height);
		window.__floor = async () => { const t = performance.now(), reader = (await fetch("/", { method: "POST", body: "{}" })).body.getReader({ mode: "byob" });
			for (let at = 0; at < bytes.byteLength;) { const { value } = await reader.read(new Uint8Array(bytes, at)); bytes = value.buffer; at += value.byteLength }
			off.getContext("2d").putImageData(new ImageData(new Uint8ClampedArray(bytes), off.width, off.height), 0, 0);
			const m = off.transferToImageBitmap(); g.drawImage(m, 0, 0); m.close(); await new Promise(requestAnimationFrame); return performance.now() - t } })()`, size[0], size[1]))))
	var all []float64
	for n := range 24 {
		ms, err := drive.Await[float64](b, "__floor()")
		check(err)
		if n > 3 {
			all = append(all, ms)
		}
	}
	sort.Float64s(all)
	return all[len(all)/2]
}

// fromMemory serves a page, and the RGBA pixels of a view from memory to whoever posts, until it is stopped.
func fromMemory(size [2]int, page string) (url string, stop func()) {
	pixels := make([]byte, 4*size[0]*size[1])
	for i := range pixels {
		pixels[i] = byte(i*7 + i>>8)
	}
	l, err := net.Listen("tcp4", "127.0.0.1:0")
	check(err)
	s := &http.Server{Handler: http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if r.Method == "POST" {
			w.Header().Set("Content-Type", "application/octet-stream")
			_, err := w.Write(pixels)
			check(err)
			return
		}
		w.Header().Set("Content-Type", "text/html")
		fmt.Fprint(w, page)
	})}
	go func() { _ = s.Serve(l) }() // until it is closed
	return "http://" + l.Addr().String(), func() { _ = s.Close() }
}

// answered is how long after an event the stage shows what it did, exactly, in milliseconds: median and 95th percentile.
type answered struct{ median, slow float64 }

// measure tells how quickly the stage answers, and how many pixels its last frame had.
func measure(b *drive.Browser, page, zoom, what string) (ms answered, size [2]int) {
	check(b.Do(chromedp.Navigate(page)))
	check(b.Settled())
	// The largest view that is asked for is a whole one.
	check(b.Do(drive.JS(`(() => { const plain = window.fetch; window.__size = [1, 1]; window.fetch = (to, how) => { if (String(to).endsWith("/view")) { const v = JSON.parse(how.body); if (!v.ahead && v.width * v.height > window.__size[0] * window.__size[1]) window.__size = [v.width, v.height] } return plain(to, how) } })()`)))
	if what != pan && what != rested {
		check(b.Click("Colour"))
		check(b.Until(`!!document.querySelector("[role=group] input[type=range], input[type=range]") && !!document.querySelector('select[aria-label="Colourway"]')`)) // they come later than the picture
		check(b.Settled())
	} else {
		check(b.Click("Picture"))
		check(b.Settled())
	}
	if zoom != "fit" {
		check(b.Do(chromedp.Focus(chromedp.CSS("canvas")), chromedp.KeyEvent("1")))
		check(b.Settled())
	}
	check(b.Do(drive.JS(`window.__answer = (act) => new Promise((done) => { const c = document.querySelector("canvas"); const t = performance.now();
		const before = c.dataset.frames; act(); const look = () => { if (c.dataset.settled === "true" && c.dataset.frames !== before) done(performance.now() - t); else requestAnimationFrame(look) };
		requestAnimationFrame(look) })`)))
	var all []float64
	var at [2]int
	for n := range rounds {
		if (what == pan || what == rested) && zoom != "fit" && n == 5*rows {
			break
		}
		if what == rested || what == looked {
			time.Sleep(600 * time.Millisecond)
		}
		to, brings := panned(zoom, n)
		act := fmt.Sprintf(`() => document.querySelector("canvas").dispatchEvent(new WheelEvent("wheel", {deltaX: %d, deltaY: %d, bubbles: true, cancelable: true}))`, to[0]-at[0], to[1]-at[1])
		at = to
		switch what {
		case colourway, looked, flip:
			way := fmt.Sprintf("w%d", n)
			if what == flip {
				way = []string{"w0", "w1"}[n%2]
			}
			act = fmt.Sprintf(`() => { const s = document.querySelector('select[aria-label="Colourway"]'); Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(s, %q); s.dispatchEvent(new Event("change", { bubbles: true })) }`, way)
		case dragged:
			act = fmt.Sprintf(`() => { const i = document.querySelector("[role=group] input[type=range], input[type=range]"); const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set; set.call(i, %d); i.dispatchEvent(new Event("input", {bubbles: true})) }`, 10+n)
		case slider:
			act = fmt.Sprintf(`() => { const i = document.querySelector("[role=group] input[type=range], input[type=range]"); const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, "value").set; set.call(i, %d); i.dispatchEvent(new Event("input", {bubbles: true})); i.dispatchEvent(new Event("change", {bubbles: true})) }`, 10+n)
		}
		ms, err := drive.Await[float64](b, "__answer("+act+")")
		check(err)
		if n > 3 && (what != pan && what != rested || brings) {
			all = append(all, ms)
		}
	}
	sort.Float64s(all)
	seen, err := drive.Eval[[]int](b, "window.__size")
	check(err)
	return answered{all[len(all)/2], all[len(all)*95/100]}, [2]int{seen[0], seen[1]}
}

// rows is how many rows of a picture at 100 % a hand pans along.
const rows = 4

// panned gives where the nth pan goes, in pixels of the screen from where the picture was first, and whether it brings into sight what then counts.
// At 100 % that is three quarters of a view that were not seen before, along rows which have no pixel in common: what was seen in the last minute is not
// asked for again. At fit all of the picture is seen from the start: it goes out of sight and comes back.
func panned(zoom string, n int) (to [2]int, brings bool) {
	if zoom == "fit" {
		return [2]int{3*n + 700*((n+1)%2), 0}, n%2 == 1
	}
	row, at := n/5, n%5
	if row%2 == 1 {
		at = 4 - at
	}
	return [2]int{700 * (at - 2), 640*row - 320*(rows-1)}, n%5 != 0
}
