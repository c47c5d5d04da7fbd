package api_test

import (
	"archive/zip"
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"hash/crc32"
	"image"
	"image/color"
	"image/jpeg"
	"image/png"
	"io"
	"net/http"
	"os"
	"slices"
	"strings"
	"sync"
	"syscall"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/api"
	"episema/core/document"
	"episema/core/isolate"
)

// hostile are files that were made to end a server, or to keep it busy for good. Each is refused with a sentence of its own, or
// taken without harm.
func hostile(t *testing.T) map[string]struct {
	path string
	file []byte
	ok   bool // it may be taken, too
} {
	type attack = struct {
		path string
		file []byte
		ok   bool
	}
	svg := func(head, body string) []byte {
		return []byte(head + `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="200" height="200">` + body + `</svg>`)
	}
	var entities strings.Builder
	for range 30_000 {
		entities.WriteString("&a;")
	}
	nested := `<g id="n0"><rect width="9" height="9" fill="red"/></g>`
	for i := 1; i < 11; i++ {
		nested += fmt.Sprintf(`<g id="n%d">`, i) + strings.Repeat(fmt.Sprintf(`<use xlink:href="#n%d"/>`, i-1), 10) + `</g>`
	}
	var rules strings.Builder
	for i := range 20_000 {
		fmt.Fprintf(&rules, ".c%d g > rect:nth-child(%d) { fill: #%06x }", i, i, i)
	}
	return map[string]attack{
		"a convolution of order 21":                 {"pictures", svg("", `<filter id="f"><feConvolveMatrix order="21" kernelMatrix="`+strings.Repeat("1 ", 441)+`"/></filter><rect width="99" height="99" fill="red" filter="url(#f)"/>`), true},
		"turbulence without end":                    {"pictures", svg("", `<filter id="f"><feTurbulence baseFrequency="0.9" numOctaves="90000000"/></filter><rect width="200" height="200" fill="red" filter="url(#f)"/>`), false},
		"uses of uses":                              {"pictures", svg("", `<rect width="9" height="9" fill="blue"/><defs>`+nested+`</defs><use xlink:href="#n10"/>`), true},
		"entities that multiply":                    {"pictures", svg(`<!DOCTYPE svg [<!ENTITY a "`+strings.Repeat("x", 4000)+`">]>`, `<desc id="`+entities.String()+`"/><rect width="9" height="9" fill="red"/>`), false},
		"many rules":                                {"pictures", svg("", `<style>`+rules.String()+`</style><g>`+strings.Repeat(`<rect width="9" height="9"/>`, 500)+`</g>`), true},
		"a handler in the document type":            {"pictures", svg(`<!DOCTYPE svg [<!ATTLIST svg onload CDATA "alert(1)">]>`, `<rect width="9" height="9" fill="red"/>`), true},
		"a style of another namespace":              {"pictures", svg("", `<h:style xmlns:h="http://www.w3.org/1999/xhtml">body{display:none}</h:style><rect width="9" height="9" fill="red"/>`), true},
		"a drawing of 9 million nodes":              {"pictures", svg("", strings.Repeat("<g/>", 9_000_000)), false},
		"a grey profile in red, green and blue":     {"pictures", withProfile(t, photo(t, 64, 48), "default_gray.icc"), true},
		"a profile of print in red, green and blue": {"pictures", withProfile(t, photo(t, 64, 48), "default_cmyk.icc"), true},
		"a photo that claims 14000 x 14000":         {"pictures", claims(t, 14000, 14000), false},
		"90,000 tokens":                             {"palette-file", tokens(90_000), false},
		"a palette of brackets":                     {"palette-file", []byte(strings.Repeat("{\"a\":", 500_000)), false},
		"one entry named 20 times":                  {"archives", twenty(t), false},
		"a picture of one pixel":                    {"pictures", pixels(t, 1, 1), true},
		"a thin picture":                            {"pictures", pixels(t, 3000, 1), true},
		"a header of 40 gigapixels":                 {"pictures", huge(), false},
		"nothing":                                   {"pictures", nil, false},
		"a cut-off picture":                         {"pictures", pixels(t, 300, 300)[:700], false},
		"60 million pictures":                       {"archives", archiveOf(t, `{"format":"episema-job","version":1,"name":"x","content":{"palette":[],"colourways":[]},"pictures":[`+strings.Repeat("{},", 3_000_000)+`{}]}`), false},
		"an archive cut off":                        {"archives", archiveOf(t, `{}`)[:60], false},
	}
}

// photo gives a small JPEG.
func photo(t *testing.T, w, h int) []byte {
	t.Helper()
	img := image.NewRGBA(image.Rect(0, 0, w, h))
	for i := range w * h {
		img.Set(i%w, i/w, color.RGBA{uint8(3 * i), uint8(5 * i), 90, 255})
	}
	var b bytes.Buffer
	require.NoError(t, jpeg.Encode(&b, img, nil))
	return b.Bytes()
}

// withProfile puts one of Debian's ICC profiles (ghostscript's) into a JPEG, as ICC.1 B.4 has it.
func withProfile(t *testing.T, jpg []byte, name string) []byte {
	t.Helper()
	icc, err := os.ReadFile("/usr/share/color/icc/ghostscript/" + name)
	require.NoError(t, err)
	out := slices.Clone(jpg[:2])
	for at, n := 0, (len(icc)+59_999)/60_000; at*60_000 < len(icc); at++ {
		piece := icc[at*60_000 : min(len(icc), (at+1)*60_000)]
		l := len(piece) + 16
		out = append(out, 0xff, 0xe2, byte(l>>8), byte(l))
		out = append(append(out, "ICC_PROFILE\x00"...), byte(at+1), byte(n))
		out = append(out, piece...)
	}
	return append(out, jpg[2:]...)
}

// claims is a small JPEG whose header says another size.
func claims(t *testing.T, w, h int) []byte {
	b := photo(t, 16, 16)
	i := bytes.Index(b, []byte{0xff, 0xc0})
	require.Positive(t, i)
	copy(b[i+5:], []byte{byte(h >> 8), byte(h), byte(w >> 8), byte(w)})
	return b
}

func tokens(n int) []byte {
	var b strings.Builder
	b.WriteString("{")
	for i := range n {
		fmt.Fprintf(&b, `%q:{"$type":"color","$value":"#%06x"},`, fmt.Sprintf("c%d", n-i), i)
	}
	b.WriteString(`"last":{"$type":"color","$value":"red"}}`)
	return []byte(b.String())
}

// twenty is an archive with a large entry that twenty pictures name; what it unpacks to is no picture.
func twenty(t *testing.T) []byte {
	zeros := make([]byte, 64<<20)
	sum := sha256.Sum256(zeros)
	name := hex.EncodeToString(sum[:])
	var pics []string
	for range 20 {
		pics = append(pics, fmt.Sprintf(`{"name":"A","file":%q,"document":{"parts":[]}}`, name))
	}
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	w, err := z.Create("job.json")
	require.NoError(t, err)
	_, err = io.WriteString(w, `{"format":"episema-job","version":1,"name":"Twenty","content":{},"pictures":[`+strings.Join(pics, ",")+`]}`)
	require.NoError(t, err)
	w, err = z.Create("files/" + name)
	require.NoError(t, err)
	_, err = w.Write(zeros)
	require.NoError(t, err)
	require.NoError(t, z.Close())
	return b.Bytes()
}

func pixels(t *testing.T, w, h int) []byte {
	t.Helper()
	img := image.NewNRGBA(image.Rect(0, 0, w, h))
	for i := range w * h {
		img.Set(i%w, i/w, color.NRGBA{uint8(31 * i), uint8(17 * i), 90, 255})
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, img))
	return b.Bytes()
}

// huge is a PNG whose header says 200,000 x 200,000.
func huge() []byte {
	chunk := []byte("IHDR\x00\x03\x0d\x40\x00\x03\x0d\x40\x08\x02\x00\x00\x00")
	sum := crc32.ChecksumIEEE(chunk)
	b := append([]byte("\x89PNG\r\n\x1a\n\x00\x00\x00\x0d"), chunk...)
	return append(b, byte(sum>>24), byte(sum>>16), byte(sum>>8), byte(sum))
}

func archiveOf(t *testing.T, head string) []byte {
	t.Helper()
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	w, err := z.Create("job.json")
	require.NoError(t, err)
	_, err = io.WriteString(w, head)
	require.NoError(t, err)
	require.NoError(t, z.Close())
	return b.Bytes()
}

func TestHostileFilesAreAnsweredWhileTheServerIsWell(t *testing.T) {
	srv, s := serve(t)
	job, err := s.Store.CreateJob(context.Background(), "Hostile", []byte(`{"palette":[],"colourways":[]}`))
	require.NoError(t, err)
	type health struct {
		asked, failed int
		slowest       time.Duration
	}
	stop, well := make(chan struct{}), make(chan health)
	go func() {
		var h health
		for {
			select {
			case <-stop:
				well <- h
				return
			case <-time.After(20 * time.Millisecond):
			}
			start := time.Now()
			res, err := http.Get(srv.URL + "/healthz")
			h.asked++
			if err != nil {
				h.failed++
				continue
			}
			res.Body.Close()
			if res.StatusCode != 200 {
				h.failed++
			}
			h.slowest = max(h.slowest, time.Since(start))
		}
	}()
	var wait sync.WaitGroup
	for name, a := range hostile(t) {
		wait.Go(func() {
			path := "/api/" + a.path
			if a.path == "pictures" {
				path = "/api/jobs/" + job.String() + "/pictures?name=x"
			}
			start := time.Now()
			var answer struct{ Message string }
			kind := "application/octet-stream"
			if a.path == "palette-file" {
				kind = "text/plain"
			}
			res, err := http.Post(srv.URL+path, kind, bytes.NewReader(a.file))
			if !assert.NoError(t, err, name) {
				return
			}
			defer res.Body.Close()
			body, err := io.ReadAll(res.Body)
			assert.NoError(t, err, name)
			_ = json.Unmarshal(body, &answer) // a picture that was taken has no message
			status := res.StatusCode
			t.Logf("%-28s %d in %5.1f s: %.90s", name, status, time.Since(start).Seconds(), answer.Message)
			if a.ok && status == 201 {
				return
			}
			assert.Equal(t, 422, status, name)
			assert.NotEmpty(t, answer.Message, name)
			assert.NotContains(t, answer.Message, "/tmp", name)
		})
	}
	wait.Wait()
	close(stop)
	var mine, others syscall.Rusage
	require.NoError(t, syscall.Getrusage(syscall.RUSAGE_SELF, &mine))
	require.NoError(t, syscall.Getrusage(syscall.RUSAGE_CHILDREN, &others))
	t.Logf("at most %d MB in the server's process, the test's own files included, and %d MB in a reader", mine.Maxrss>>10, others.Maxrss>>10)
	h := <-well
	assert.Positive(t, h.asked)
	assert.Zero(t, h.failed, "of small calls meanwhile")
	t.Log("slowest answer meanwhile:", h.slowest)
}

func TestAnArchiveWithNullListsOpensToAJobThatAnswers(t *testing.T) {
	srv, _ := serve(t)
	pic := pixels(t, 40, 30)
	sum := sha256.Sum256(pic)
	name := hex.EncodeToString(sum[:])
	var b bytes.Buffer
	z := zip.NewWriter(&b)
	w, err := z.Create("job.json")
	require.NoError(t, err)
	_, err = fmt.Fprintf(w, `{"format":"episema-job","version":1,"name":"Nulls","content":{"palette":null,"colourways":null},"pictures":[{"name":"A","file":%q,"document":null},{"name":"B","file":%q,"document":null}]}`, name, name)
	require.NoError(t, err)
	w, err = z.Create("files/" + name)
	require.NoError(t, err)
	_, err = w.Write(pic)
	require.NoError(t, err)
	require.NoError(t, z.Close())
	var made api.Job
	require.Equal(t, 201, call(t, "POST", srv.URL+"/api/archives", b.Bytes(), &made))
	require.Len(t, made.Pictures, 2)
	for _, p := range made.Pictures {
		var got api.Picture
		require.Equal(t, 200, call(t, "GET", srv.URL+"/api/pictures/"+p.Id.String(), nil, &got))
		assert.NotNil(t, got.Document.Parts)
	}
}

// A job comes out of an archive whole, or not at all: what the database refuses at the last picture takes the first one back.
func TestAnArchiveIsTakenWholeOrNotAtAll(t *testing.T) {
	srv, s := serve(t)
	pic := pixels(t, 41, 30)
	sum := sha256.Sum256(pic)
	name := hex.EncodeToString(sum[:])
	archive := func(last string) []byte {
		var b bytes.Buffer
		z := zip.NewWriter(&b)
		w, err := z.Create("job.json")
		require.NoError(t, err)
		_, err = fmt.Fprintf(w, `{"format":"episema-job","version":1,"name":"Whole","content":{},"pictures":[{"name":"A","file":%q,"document":{"parts":[]}},{"name":"%s","file":%q,"document":{"parts":[]}}]}`, name, last, name)
		require.NoError(t, err)
		w, err = z.Create("files/" + name)
		require.NoError(t, err)
		_, err = w.Write(pic)
		require.NoError(t, err)
		require.NoError(t, z.Close())
		return b.Bytes()
	}
	var said struct{ Message string }
	require.Equal(t, 422, call(t, "POST", srv.URL+"/api/archives", archive(`B\u0000`), &said), "%s", said.Message)
	left := 0
	require.NoError(t, s.Store.Pool.QueryRow(context.Background(), "SELECT (SELECT count(*) FROM jobs WHERE name = 'Whole') + (SELECT count(*) FROM pictures WHERE sha = $1)", sum[:]).Scan(&left))
	assert.Zero(t, left)
	var made api.Job
	require.Equal(t, 201, call(t, "POST", srv.URL+"/api/archives", archive("B"), &made))
	require.Len(t, made.Pictures, 2)
	assert.Equal(t, []string{"A", "B"}, []string{made.Pictures[0].Name, made.Pictures[1].Name}, "in their order")
}

func TestAnswersThatBreakOffDoNotEndLikeWholeOnes(t *testing.T) {
	srv, s := serve(t)
	ctx := context.Background()
	job, err := s.Store.CreateJob(ctx, "Broken", []byte(`{"palette":[],"colourways":[]}`))
	require.NoError(t, err)
	f, err := os.Open("../demo/pictures/depot-mug.png")
	require.NoError(t, err)
	defer f.Close()
	_, err = s.AddPicture(ctx, job, "mug.png", f)
	require.NoError(t, err)
	// Some of the picture's file is gone from the database.
	_, err = s.Store.Pool.Exec(ctx, `DELETE FROM blob_pieces WHERE n = (SELECT max(n) FROM blob_pieces)`)
	require.NoError(t, err)
	res, err := http.Get(srv.URL + "/api/jobs/" + job.String() + "/archive")
	require.NoError(t, err)
	defer res.Body.Close()
	_, err = io.ReadAll(res.Body)
	assert.Error(t, err, "the client sees that it is not the whole")
}

func TestRequestsThatNobodyMeansAreRefused(t *testing.T) {
	srv, s := serve(t)
	ctx := context.Background()
	job, err := s.Store.CreateJob(ctx, "Limits", []byte(`{"palette":[],"colourways":[]}`))
	require.NoError(t, err)
	id, err := s.AddPicture(ctx, job, "p.png", bytes.NewReader(pixels(t, 320, 240)))
	require.NoError(t, err)
	url := srv.URL + "/api/pictures/" + id.String()
	view := map[string]any{"x": 0, "y": 0, "w": 320, "h": 240, "width": 320, "height": 240, "show": "nonsense"}
	var said struct{ Message string }
	assert.Contains(t, []int{400, 422}, call(t, "POST", url+"/view", view, &said))
	assert.Contains(t, said.Message, "nonsense")
	view = map[string]any{"x": 0, "y": 0, "w": 320, "h": 320, "width": 8192, "height": 8192, "show": "picture"}
	assert.Equal(t, 422, call(t, "POST", url+"/view", view, &said))
	assert.Contains(t, said.Message, "smaller")
	assert.Equal(t, 422, call(t, "POST", srv.URL+"/api/jobs", map[string]string{"name": "a\x00b"}, &said))
	assert.Contains(t, said.Message, "NUL")
	// An outline a million pixels wide on a small picture.
	p := document.Part{ID: "a", Name: "A", Picks: []isolate.Pick{{Kind: "outline", Join: "add", Nodes: []isolate.Node{{P: [2]float64{-9e5, -9e5}}, {P: [2]float64{9e5, -9e5}}, {P: [2]float64{9e5, 9e5}}, {P: [2]float64{-9e5, 8e5}}}, Snap: true}}}
	view = map[string]any{"x": 0, "y": 0, "w": 320, "h": 240, "width": 320, "height": 240, "show": "mask", "part": "a", "document": document.Picture{Parts: []document.Part{p}}}
	start := time.Now()
	status := call(t, "POST", url+"/view", view, nil)
	assert.Equal(t, 422, status)
	assert.Less(t, time.Since(start), 10*time.Second)
}
