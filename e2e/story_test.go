package e2e

import (
	"bytes"
	"encoding/json"
	"fmt"
	"image"
	_ "image/jpeg"
	"image/png"
	"io"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"syscall"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/document"
	"episema/e2e/drive"
)

const w, h = 1800, 1200 // of the demo's pictures

// send calls the server with JSON, past the browser, and returns what it answers.
func send(t *testing.T, method, url, body string) []byte {
	t.Helper()
	return call(t, method, url, "application/json", strings.NewReader(body))
}

// call does so with a body of any kind.
func call(t *testing.T, method, url, kind string, body io.Reader) []byte {
	t.Helper()
	req, err := http.NewRequest(method, url, body)
	require.NoError(t, err)
	req.Header.Set("Content-Type", kind)
	res, err := http.DefaultClient.Do(req)
	require.NoError(t, err)
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	require.Less(t, res.StatusCode, 300, string(b))
	return b
}

func get[T any](t *testing.T, url string) T {
	t.Helper()
	res, err := http.Get(url)
	require.NoError(t, err)
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	require.Equal(t, 200, res.StatusCode, "%s: %s", url, b)
	var v T
	require.NoError(t, json.Unmarshal(b, &v))
	return v
}

type picture struct {
	ID       string           `json:"id"`
	Revision int64            `json:"revision"`
	Document document.Picture `json:"document"`
}

// openMug goes the way a user goes, from the jobs to the bench, and gives the picture's id.
func openMug(t *testing.T, b *drive.Browser, s *server) string {
	t.Helper()
	require.NoError(t, b.Do(chromedp.Navigate(s.url())))
	require.NoError(t, b.Click("Lisk Street Tramway shop"))
	require.NoError(t, b.Click("Depot mug"))
	require.NoError(t, b.Settled())
	path, err := drive.Eval[string](b, "location.pathname")
	require.NoError(t, err)
	return strings.TrimPrefix(path, "/pictures/")
}

func key(k string, m ...chromedp.KeyOption) drive.Action { return chromedp.KeyEvent(k, m...) }

// canvasAt reads a pixel of the stage.
func canvasAt(t *testing.T, b *drive.Browser, x, y float64) [3]float64 {
	t.Helper()
	wx, wy, err := b.OnStage(x, y, w, h)
	require.NoError(t, err)
	v, err := drive.Eval[[]float64](b, fmt.Sprintf(`(() => { const c = document.querySelector("canvas"); const r = c.getBoundingClientRect();
		return [...c.getContext("2d").getImageData(Math.round((%f - r.x) * devicePixelRatio), Math.round((%f - r.y) * devicePixelRatio), 1, 1).data] })()`, wx, wy))
	require.NoError(t, err)
	return [3]float64{v[0], v[1], v[2]}
}

func TestTheStoryOfTheMug(t *testing.T) {
	t.Parallel()
	s := newServerOf(t, seeded)
	b := open(t)
	id := openMug(t, b, s)
	now := func() picture { return get[picture](t, s.url()+"/api/pictures/"+id) }

	// Drag inside the body; take away what it caught.
	require.NoError(t, b.Stroke(w, h, 0, [2]float64{620, 600}, [2]float64{1000, 640}, [2]float64{900, 880}))
	require.NoError(t, b.Settled())
	require.NoError(t, b.Stroke(w, h, drive.Alt, [2]float64{1300, 850}, [2]float64{1560, 850}))
	require.NoError(t, b.Settled())
	parts := now().Document.Parts
	require.Len(t, parts, 1)
	require.Len(t, parts[0].Picks, 2)
	assert.Equal(t, []string{"add", "subtract"}, []string{parts[0].Picks[0].Join, parts[0].Picks[1].Join})
	assert.Greater(t, len(parts[0].Picks[0].Strokes[0].Points), 10, "strokes are stored as strokes")

	// Name it.
	require.NoError(t, b.Click("Rename Part 1"))
	require.NoError(t, b.Do(chromedp.SendKeys(chromedp.CSS(`input[aria-label="Name of the part"]`), "Mug body"+kb.Enter)))
	require.NoError(t, b.Until(`document.querySelector("section[aria-label=Parts]").textContent.includes("Mug body")`))
	require.NoError(t, b.Settled())

	// Harbour teal from the palette: repainted as the button is let go.
	require.NoError(t, b.Click("Colour"))
	require.NoError(t, b.Settled())
	red := canvasAt(t, b, 700, 700)
	assert.Greater(t, red[0], red[2]+60)
	require.NoError(t, b.Click("Harbour teal"))
	require.NoError(t, b.Settled())
	teal := canvasAt(t, b, 700, 700)
	assert.Greater(t, teal[2], teal[0]+40)
	require.NoError(t, b.Until(`/ΔE [01]\.\d of 2\.0/.test(document.body.textContent)`), "how far the result is from the target")

	// A typed colour; a wrong one says why and changes nothing.
	field := `input[aria-label="Target colour"]`
	typed := func(css string) {
		require.NoError(t, b.Do(chromedp.Click(chromedp.CSS(field)), drive.JS(`document.querySelector('`+field+`').select()`), chromedp.SendKeys(chromedp.CSS(field), css+kb.Enter)))
	}
	typed("#12")
	require.NoError(t, b.Until(`[...document.querySelectorAll("[role=alert]")].some((e) => e.textContent.includes("3 or 6 digits"))`))
	assert.Equal(t, "#1d6a72", now().Document.Parts[0].Target.CSS)
	typed("lab(71 13 57)")
	require.NoError(t, b.Until(`!document.querySelector("[role=alert]")`))
	require.NoError(t, b.Settled())
	assert.Equal(t, "lab(71 13 57)", now().Document.Parts[0].Target.CSS)

	// Sampled from the picture: the books' teal.
	require.NoError(t, b.Click("Sample"))
	x, y, err := b.OnStage(200, 670, w, h)
	require.NoError(t, err)
	require.NoError(t, b.Do(chromedp.MouseClickXY(x, y)))
	require.NoError(t, b.Until(`document.querySelector('`+field+`').value.startsWith("lab(")  && !document.querySelector('`+field+`').value.startsWith("lab(71")`))
	require.NoError(t, b.Settled())

	// Hold V: the picture as it came in; wipe.
	require.NoError(t, b.Do(chromedp.Blur(chromedp.CSS(field)), chromedp.Focus(chromedp.CSS("canvas"))))
	require.NoError(t, b.Do(drive.KeyDown("v", "KeyV")))
	require.NoError(t, b.Until(`document.body.textContent.includes("As it came in")`))
	require.NoError(t, b.Until(`document.querySelector("canvas").dataset.settled === "true"`))
	held := canvasAt(t, b, 700, 700)
	assert.InDeltaSlice(t, red[:], held[:], 1)
	require.NoError(t, b.Do(drive.KeyUp("v", "KeyV")))
	require.NoError(t, b.Until(`!document.body.textContent.includes("As it came in")`))
	require.NoError(t, b.Click("Split"))
	require.NoError(t, b.Settled())
	require.NoError(t, b.Until(`document.querySelector("canvas") && document.body.textContent.includes("Before")`))
	left := canvasAt(t, b, 600, 700)
	assert.Greater(t, left[0], left[2]+60, "left of the bar it is as it came in")

	// Undo all of it, redo all of it, by key.
	want := now().Document
	steps := 0
	require.NoError(t, b.Do(chromedp.Focus(chromedp.CSS("canvas"))))
	for ; ; steps++ {
		undo, err := drive.Eval[bool](b, `!document.querySelector("button[aria-label^=Undo]").disabled`)
		require.NoError(t, err)
		if !undo {
			break
		}
		before := now().Revision
		require.NoError(t, b.Do(key("z", chromedp.KeyModifiers(drive.Ctrl))))
		require.Eventually(t, func() bool { return now().Revision > before }, 10e9, 20e6)
		require.NoError(t, b.Until(fmt.Sprintf(`document.querySelector("[data-revision]").dataset.revision === "%d"`, now().Revision)))
		require.NoError(t, b.Settled())
	}
	assert.GreaterOrEqual(t, steps, 6)
	assert.Empty(t, now().Document.Parts)
	for range steps {
		before := now().Revision
		require.NoError(t, b.Do(key("z", chromedp.KeyModifiers(drive.Ctrl|drive.Shift))))
		require.Eventually(t, func() bool { return now().Revision > before }, 10e9, 20e6)
		require.NoError(t, b.Settled())
	}
	assert.Equal(t, want, now().Document)

	// The server is killed in the middle of a stroke: nothing is lost, and the stroke is stored once it is back.
	x0, y0, err := b.OnStage(640, 900, w, h)
	require.NoError(t, err)
	require.NoError(t, b.Click("Isolate"))
	require.NoError(t, b.Click("Now"))
	press := drive.Mouse(drive.Pressed, x0, y0)
	require.NoError(t, b.Do(press, drive.Mouse(drive.Dragged, x0+40, y0+3)))
	s.kill()
	require.NoError(t, b.Do(drive.Mouse(drive.Dragged, x0+80, y0+6),
		drive.Mouse(drive.Released, x0+80, y0+6)))
	require.NoError(t, b.Until(`document.querySelector("[data-saving]").dataset.saving === "offline"`))
	// Even a reload keeps it: the page comes from the cache of the browser only once the server is back.
	s.start()
	require.NoError(t, b.Do(chromedp.Reload()))
	require.NoError(t, b.Settled())
	require.Eventually(t, func() bool { return len(now().Document.Parts[0].Picks) == len(want.Parts[0].Picks)+1 }, 20e9, 50e6)

	// Everything is there after closing the browser and restarting the server.
	kept := now().Document
	s.stop()
	s.start()
	assert.Equal(t, kept, now().Document)

	// Deliver a PNG and a JPEG from the interface, and compare the bytes.
	b2 := open(t)
	openMug(t, b2, s)
	require.NoError(t, b2.Click("Deliver"))
	require.NoError(t, b2.Click("Render at full size"))
	require.NoError(t, b2.Until(`[...document.querySelectorAll("[role=dialog] a")].filter((a) => a.textContent.includes("Save file")).length === 1`))
	require.NoError(t, b2.Click("JPEG"))
	require.NoError(t, b2.Click("Render at full size"))
	require.NoError(t, b2.Until(`[...document.querySelectorAll("[role=dialog] a")].filter((a) => a.textContent.includes("Save file")).length === 2`))
	links, err := drive.Eval[[]string](b2, `[...document.querySelectorAll("[role=dialog] a[download]")].map((a) => a.href)`)
	require.NoError(t, err)
	f, err := os.Open("../demo/pictures/depot-mug.png")
	require.NoError(t, err)
	defer f.Close()
	original, err := png.Decode(f)
	require.NoError(t, err)
	changed, formats := 0, map[string]bool{}
	for _, l := range links {
		res, err := http.Get(l)
		require.NoError(t, err)
		img, format, err := image.Decode(res.Body)
		res.Body.Close()
		require.NoError(t, err)
		formats[format] = true
		assert.Equal(t, original.Bounds(), img.Bounds())
		if format != "png" {
			continue
		}
		for y := 0; y < h; y++ {
			for x := 0; x < w; x++ {
				if original.At(x, y) != img.At(x, y) {
					changed++
					// Far from the mug nothing may have changed by a bit.
					require.False(t, x < 300 || y < 150 || x > 1700 || y > 1120, "pixel %d, %d changed", x, y)
				}
			}
		}
	}
	assert.Equal(t, map[string]bool{"png": true, "jpeg": true}, formats)
	assert.Greater(t, changed, 100000)
}

func TestOwnPhotosAndBadFiles(t *testing.T) {
	t.Parallel()
	s := newServerOf(t, seeded)
	b := open(t)
	dir := t.TempDir()
	var good bytes.Buffer
	require.NoError(t, png.Encode(&good, image.NewNRGBA64(image.Rect(0, 0, 640, 420))))
	write := func(name string, data []byte) string {
		p := filepath.Join(dir, name)
		require.NoError(t, os.WriteFile(p, data, 0o644))
		return p
	}
	files := []string{write("my own photo.png", good.Bytes()), write("cut off.png", good.Bytes()[:good.Len()/2]), write("letter.jpg", []byte("Dear all")), write("another.tif", nil)}
	require.NoError(t, b.Do(chromedp.Navigate(s.url())))
	require.NoError(t, b.Click("New job"))
	const photos = "main input[type=file]" // the list of jobs takes files too: archives
	require.NoError(t, b.Until(`location.pathname.startsWith("/jobs/") && !!document.querySelector("`+photos+`")`))
	require.NoError(t, b.Do(chromedp.SetUploadFiles(chromedp.CSS(photos), files)))
	require.NoError(t, b.Until(`document.querySelectorAll("ul[aria-label='Files coming in'] [role=alert]").length === 3 && document.body.textContent.includes("My own photo")`))
	said, err := drive.Eval[string](b, `document.querySelector("ul[aria-label='Files coming in']").textContent`)
	require.NoError(t, err)
	for _, part := range []string{"damaged", "none of JPEG", "empty"} {
		assert.Contains(t, said, part)
	}
	path, err := drive.Eval[string](b, "location.pathname")
	require.NoError(t, err)
	job := get[struct{ Pictures []picture }](t, s.url()+"/api"+path)
	assert.Len(t, job.Pictures, 1, "the bad ones are not there, the good one is")

	// PostgreSQL is killed in the middle of an upload: a clear word, nothing half-stored, and it works again.
	demo, err := os.ReadFile("../demo/pictures/tram-at-the-depot.png")
	require.NoError(t, err)
	body, sent := io.Pipe()
	done := make(chan int)
	go func() {
		res, err := http.Post(s.url()+"/api"+path+"/pictures?name=tram.png", "application/octet-stream", body)
		if err != nil {
			done <- 0
			return
		}
		res.Body.Close()
		done <- res.StatusCode
	}()
	_, err = sent.Write(demo[:len(demo)/2])
	require.NoError(t, err)
	require.NoError(t, syscall.Kill(s.databasePID(), syscall.SIGKILL))
	_, _ = sent.Write(demo[len(demo)/2:]) // it may have been refused already
	_ = sent.Close()
	first := <-done
	assert.Contains(t, []int{0, 201, 503}, first, "refused with a word, or taken once the database was back")
	stored := 1
	if first == 201 {
		stored++
	}
	// The server starts it again by itself.
	require.Eventually(t, func() bool {
		res, err := http.Get(s.url() + "/api" + path)
		if err != nil {
			return false
		}
		defer res.Body.Close()
		return res.StatusCode == 200
	}, 20e9, 50e6)
	job = get[struct{ Pictures []picture }](t, s.url()+"/api"+path)
	assert.Len(t, job.Pictures, stored, "nothing half-stored")
	res, err := http.Post(s.url()+"/api"+path+"/pictures?name=tram.png", "application/octet-stream", bytes.NewReader(demo))
	require.NoError(t, err)
	res.Body.Close()
	assert.Equal(t, 201, res.StatusCode)
}

func TestTwoTabsOnOnePicture(t *testing.T) {
	t.Parallel()
	s := newServer(t)
	one := open(t)
	id := openMug(t, one, s)
	two := open(t)
	openMug(t, two, s)
	// The second sees the first's part.
	require.NoError(t, one.Click("New part"))
	require.NoError(t, two.Until(`document.querySelector("section[aria-label=Parts]").textContent.includes("Part 1")`))
	// While the second is cut off, both edit: it is told, and keeps its own on top by choice.
	require.NoError(t, two.Do(drive.Line(true, 0, -1, -1)))
	require.NoError(t, two.Click("New part"))
	require.NoError(t, two.Until(`document.querySelector("[data-saving]").dataset.saving === "offline"`))
	require.NoError(t, one.Click("New part"))
	require.NoError(t, one.Settled())
	require.NoError(t, two.Do(drive.Line(false, 0, -1, -1)))
	require.NoError(t, two.Until(`document.body.textContent.includes("changed elsewhere")`))
	require.NoError(t, two.Click("Keep mine, theirs as an undo step"))
	require.NoError(t, two.Settled())
	p := get[picture](t, s.url()+"/api/pictures/"+id)
	assert.Len(t, p.Document.Parts, 2)
	require.NoError(t, one.Until(`document.querySelector("section[aria-label=Parts]").querySelectorAll("li").length === 2`))
}

func TestEverythingByKeyboardAndNothingFromElsewhere(t *testing.T) {
	t.Parallel()
	s := newServer(t)
	b := open(t)
	openMug(t, b, s)
	hosts, err := drive.Eval[[]string](b, `[...new Set(performance.getEntriesByType("resource").map((e) => new URL(e.name).host))]`)
	require.NoError(t, err)
	assert.Equal(t, []string{fmt.Sprintf("127.0.0.1:%d", s.port)}, hosts)
	nameless, err := drive.Eval[[]string](b, `[...document.querySelectorAll("button,a,input,[role=slider],canvas")].filter((e) => e.getClientRects().length > 0 && !(e.getAttribute("aria-label") || e.getAttribute("aria-labelledby") || e.textContent.trim() || e.labels?.length)).map((e) => e.outerHTML.slice(0, 120))`)
	require.NoError(t, err)
	assert.Empty(t, nameless, "everything that can be used has a name for screen readers")
	require.NoError(t, b.Do(chromedp.Focus(chromedp.CSS("canvas")), key("?")))
	require.NoError(t, b.Until(`document.querySelector("[role=dialog]")?.textContent.includes("as it came in")`))
	require.NoError(t, b.Do(key(kb.Escape)))
	require.NoError(t, b.Until(`!document.querySelector("[role=dialog]")`))
	size := func() string {
		v, err := drive.Eval[string](b, `document.querySelector('input[aria-label="Size, typed"]').value`)
		require.NoError(t, err)
		return v
	}
	require.NoError(t, b.Until(`!!document.querySelector('input[aria-label="Size, typed"]')`)) // the face comes after the picture
	before := size()
	require.NoError(t, b.Do(chromedp.Focus(chromedp.CSS("canvas")), key("]")))
	require.NoError(t, b.Until(fmt.Sprintf(`document.querySelector('input[aria-label="Size, typed"]').value !== %q`, before)))
	require.NoError(t, b.Do(key("b")))
	require.NoError(t, b.Until(`!!document.querySelector('input[aria-label="Softness, typed"]')`))
	require.NoError(t, b.Do(key("1")))
	require.NoError(t, b.Until(`document.querySelector("footer").textContent.includes("100 %")`))
	require.NoError(t, b.Do(key("0")))
	require.NoError(t, b.Until(`!document.querySelector("footer").textContent.includes("100 %")`))
	require.NoError(t, b.Do(key("c")))
	require.NoError(t, b.Until(`document.querySelector("[role=tab][aria-selected=true]").textContent === "Colour"`))
	// Tab reaches every control, each with a visible focus.
	seen := map[string]bool{}
	for range 40 {
		require.NoError(t, b.Do(key(kb.Tab)))
		// What has the focus looks otherwise than without it: itself, or what stands for it (the thumb of a slider, a label).
		v, err := drive.Eval[string](b, `(() => {
			const e = document.activeElement;
			if (e === document.body) return "the page itself|true";
			const near = [e, e.parentElement, e.parentElement?.parentElement, e.closest("label")].filter((n) => n && n !== document.body);
			const look = () => near.map((n) => { const s = getComputedStyle(n); return [s.outlineStyle, s.outlineWidth, s.outlineColor, s.borderColor, s.boxShadow, s.backgroundColor].join(); }).join("|");
			const name = e.getAttribute("aria-label") ?? e.textContent.trim();
			const drawn = near.some((n) => { const s = getComputedStyle(n); return s.outlineStyle !== "none" && Number.parseFloat(s.outlineWidth) >= 1; });
			if (drawn) return name + "|true";
			const on = look();
			e.blur();
			const off = look();
			e.focus({ preventScroll: true });
			return name + "|" + (on !== off);
		})()`)
		require.NoError(t, err)
		name, visible, _ := strings.Cut(v, "|")
		seen[name] = true
		assert.Equal(t, "true", visible, "the focus on %q is seen", name)
	}
	for _, name := range []string{"Deliver", "Colour", "New part", "Keys"} {
		assert.True(t, seen[name], "Tab does not reach %q: %v", name, seen)
	}
}
