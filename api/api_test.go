package api_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"io"
	"log/slog"
	"net/http"
	"net/http/httptest"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
	"testing/fstest"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/api"
	"episema/app"
	"episema/core/colour"
	"episema/core/document"
	"episema/core/isolate"
	"episema/internal/testdb"
	"episema/store"
)

func TestMain(m *testing.M) { testdb.Main(m) }

func serve(t *testing.T) (*httptest.Server, *app.Studio) {
	t.Helper()
	s, err := app.NewStudio(testdb.Store(t), t.TempDir(), slog.New(slog.DiscardHandler), app.Budgets{})
	require.NoError(t, err)
	t.Cleanup(s.Close)
	q, err := s.Queue(1)
	require.NoError(t, err)
	require.NoError(t, q.Start(context.Background()))
	t.Cleanup(func() { _ = q.StopAndCancel(context.Background()) })
	h := (&api.Server{Studio: s, Queue: q, Log: s.Log, Hosts: []string{"127.0.0.1"}}).Handler(fstest.MapFS{"index.html": {Data: []byte("front end")}})
	srv := httptest.NewServer(h)
	t.Cleanup(srv.Close)
	return srv, s
}

// call sends JSON and reads JSON; it gives the status.
func call(t *testing.T, method, url string, body, out any) int {
	t.Helper()
	var r io.Reader
	switch b := body.(type) {
	case nil:
	case []byte:
		r = bytes.NewReader(b)
	default:
		j, err := json.Marshal(b)
		require.NoError(t, err)
		r = bytes.NewReader(j)
	}
	req, err := http.NewRequest(method, url, r)
	require.NoError(t, err)
	req.Header.Set("Content-Type", "application/json")
	if _, raw := body.([]byte); raw {
		req.Header.Set("Content-Type", "application/octet-stream")
	}
	res, err := http.DefaultClient.Do(req)
	require.NoError(t, err)
	defer res.Body.Close()
	if out != nil {
		b, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		require.NoError(t, json.Unmarshal(b, out), "%s", b)
	}
	return res.StatusCode
}

func TestGeneratedCodeIsFresh(t *testing.T) {
	out := filepath.Join(t.TempDir(), "api.gen.go")
	cfg, err := os.ReadFile("oapi.yaml")
	require.NoError(t, err)
	there := filepath.Join(t.TempDir(), "oapi.yaml")
	require.NoError(t, os.WriteFile(there, bytes.Replace(cfg, []byte("output: api.gen.go"), []byte("output: "+out), 1), 0o644))
	msg, err := exec.Command("go", "tool", "oapi-codegen", "-config", there, "openapi.yaml").CombinedOutput()
	require.NoError(t, err, "%s", msg)
	want, err := os.ReadFile(out)
	require.NoError(t, err)
	got, err := os.ReadFile("api.gen.go")
	require.NoError(t, err)
	assert.True(t, bytes.Equal(want, got), "api.gen.go is stale: run go generate ./api")

	ts := filepath.Join(t.TempDir(), "schema.gen.ts")
	cmd := exec.Command("npx", "--no-install", "openapi-typescript", "../api/openapi.yaml", "-o", ts)
	cmd.Dir = "../web"
	msg, err = cmd.CombinedOutput()
	require.NoError(t, err, "%s", msg)
	want, err = os.ReadFile(ts)
	require.NoError(t, err)
	got, err = os.ReadFile("../web/src/api/schema.gen.ts")
	require.NoError(t, err)
	assert.True(t, bytes.Equal(want, got), "schema.gen.ts is stale: run npm run generate in web")
}

func TestOtherNamesAndSitesAreTurnedAway(t *testing.T) {
	srv, _ := serve(t)
	for name, change := range map[string]func(*http.Request){
		"a rebound name": func(r *http.Request) { r.Host = "evil.test" },
		"another site":   func(r *http.Request) { r.Header.Set("Origin", "http://evil.test") },
		"no origin":      func(r *http.Request) { r.Header.Set("Origin", "null") },
		"a cross post":   func(r *http.Request) { r.Header.Set("Sec-Fetch-Site", "cross-site") },
	} {
		req, err := http.NewRequest("POST", srv.URL+"/api/jobs", strings.NewReader(`{"name":"x"}`))
		require.NoError(t, err)
		req.Header.Set("Content-Type", "application/json")
		change(req)
		res, err := http.DefaultClient.Do(req)
		require.NoError(t, err)
		res.Body.Close()
		assert.Contains(t, []int{http.StatusForbidden, http.StatusMisdirectedRequest}, res.StatusCode, name)
	}
	res, err := http.Get(srv.URL + "/jobs/whatever")
	require.NoError(t, err)
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	assert.Equal(t, "front end", string(b))
	csp := res.Header.Get("Content-Security-Policy")
	assert.Contains(t, csp, "default-src 'none'")
	assert.NotContains(t, csp, "http", "no other host is named")
	for _, closed := range []string{"frame-ancestors", "form-action", "base-uri"} {
		assert.Contains(t, csp, closed+" 'none'")
	}
	assert.Equal(t, "nosniff", res.Header.Get("X-Content-Type-Options"))
	assert.Equal(t, "same-origin", res.Header.Get("Cross-Origin-Resource-Policy"))
	assert.Equal(t, "no-referrer", res.Header.Get("Referrer-Policy"), "what a job is called goes nowhere")
}

// A window that another site opened is severed from it (Cross-Origin-Opener-Policy, HTML standard); one that somebody opened by its address
// has nobody to be severed from.
func TestAWindowThatAnotherSiteOpenedIsSevered(t *testing.T) {
	srv, _ := serve(t)
	for from, want := range map[string]string{"": "same-origin", "cross-site": "same-origin", "same-site": "same-origin", "same-origin": "same-origin", "none": ""} {
		req, err := http.NewRequest("GET", srv.URL+"/jobs/whatever", nil)
		require.NoError(t, err)
		if from != "" {
			req.Header.Set("Sec-Fetch-Site", from)
		}
		res, err := http.DefaultClient.Do(req)
		require.NoError(t, err)
		res.Body.Close()
		assert.Equal(t, want, res.Header.Get("Cross-Origin-Opener-Policy"), from)
	}
}

func TestWrongCallsSayWhatToDo(t *testing.T) {
	srv, _ := serve(t)
	var job api.Job
	require.Equal(t, 201, call(t, "POST", srv.URL+"/api/jobs", map[string]string{"name": "A job"}, &job))
	upload := func(name string, data []byte) (int, string) {
		var p api.Problem
		s := call(t, "POST", fmt.Sprintf("%s/api/jobs/%s/pictures?name=%s", srv.URL, job.Id, name), data, &p)
		return s, p.Message
	}
	status, msg := upload("a.png", []byte("not a picture"))
	assert.Equal(t, 422, status)
	assert.Contains(t, msg, "none of JPEG")
	var after api.Job
	call(t, "GET", srv.URL+"/api/jobs/"+job.Id.String(), nil, &after)
	assert.Empty(t, after.Pictures, "nothing half-stored")
	var p api.Problem
	assert.Equal(t, 422, call(t, "GET", srv.URL+"/api/colour?css=%2312", nil, &p))
	assert.Contains(t, p.Message, "3 or 6 digits")
	assert.NotEmpty(t, p.RequestId)
	assert.Equal(t, 404, call(t, "GET", srv.URL+"/api/jobs/00000000-0000-0000-0000-000000000000", nil, &p))
	assert.Equal(t, 400, call(t, "GET", srv.URL+"/api/jobs/seven", nil, &p))
	assert.Equal(t, 404, call(t, "GET", srv.URL+"/api/nothing", nil, &p))
	assert.Equal(t, 422, call(t, "POST", srv.URL+"/api/jobs", map[string]string{"name": ""}, &p))
}

func TestFromUploadToDeliveryThroughTheContract(t *testing.T) {
	srv, _ := serve(t)
	var job api.Job
	require.Equal(t, 201, call(t, "POST", srv.URL+"/api/jobs", map[string]string{"name": "A job"}, &job))
	data, err := os.ReadFile("../demo/pictures/depot-mug.png")
	require.NoError(t, err)
	var sum api.PictureSummary
	require.Equal(t, 201, call(t, "POST", fmt.Sprintf("%s/api/jobs/%s/pictures?name=depot-mug.png", srv.URL, job.Id), data, &sum))
	assert.Equal(t, "Depot mug", sum.Name)
	url := srv.URL + "/api/pictures/" + sum.Id.String()
	var pic api.Picture
	require.Equal(t, 200, call(t, "GET", url, nil, &pic))
	edit := `{"base":1,"label":"sweep","document":{"parts":[{"id":"a","name":"Mug body","picks":[{"kind":"sweep","join":"add","strokes":[{"radius":18,"points":[[620,600],[1000,640],[900,880]]}]}],"target":{"css":"#1d6a72","tolerance":2},"settings":{"shade_depth":0,"highlights":100,"strength":100}}]}}`
	require.Equal(t, 200, call(t, "PUT", url+"/document", json.RawMessage(edit), &pic))
	require.Equal(t, 409, call(t, "PUT", url+"/document", json.RawMessage(edit), &pic), "made from what is not the newest any more")
	var proof api.Proof
	require.Equal(t, 200, call(t, "POST", url+"/proof", map[string]any{}, &proof))
	require.Len(t, proof.Parts, 1)
	assert.EqualValues(t, "within", proof.Parts[0].State)
	assert.Zero(t, proof.ChangedOutside)

	view := func(body map[string]any) []byte {
		j, err := json.Marshal(body)
		require.NoError(t, err)
		res, err := http.Post(url+"/view", "application/json", bytes.NewReader(j))
		require.NoError(t, err)
		defer res.Body.Close()
		b, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		require.Equal(t, 200, res.StatusCode, "%s", b)
		return b
	}
	at100 := map[string]any{"x": 700, "y": 500, "w": 64, "h": 48, "width": 64, "height": 48, "show": "before"}
	before := view(at100)
	require.Len(t, before, 64*48*4)
	at100["show"] = "picture"
	after := view(at100)
	assert.NotEqual(t, before, after)
	at100["x"], at100["y"] = 20, 20 // outside the part: the very same bytes
	now := view(at100)
	at100["show"] = "before"
	assert.Equal(t, view(at100), now)

	// An enlarged view repeats the picture's own pixels.
	big := view(map[string]any{"x": 700, "y": 500, "w": 16, "h": 12, "width": 64, "height": 48, "show": "before"})
	assert.Equal(t, before[0:4], big[0:4])
	assert.Equal(t, big[0:4], big[4*3:4*3+4])

	var d api.Delivery
	var placed struct{ Batch string }
	require.Equal(t, 202, call(t, "POST", srv.URL+"/api/jobs/"+job.Id.String()+"/deliveries", map[string]any{"pictures": []string{sum.Id.String()}, "colourways": []string{""}, "format": "png"}, &placed))
	var all []api.Delivery
	require.Equal(t, 200, call(t, "GET", srv.URL+"/api/jobs/"+job.Id.String()+"/deliveries", nil, &all))
	require.Len(t, all, 1)
	d = all[0]
	require.Eventually(t, func() bool {
		call(t, "GET", srv.URL+"/api/deliveries/"+d.Id.String(), nil, &d)
		return d.State == "done" || d.State == "failed"
	}, 60e9, 50e6)
	require.EqualValues(t, "done", d.State)
	res, err := http.Get(srv.URL + "/api/deliveries/" + d.Id.String() + "/file")
	require.NoError(t, err)
	defer res.Body.Close()
	assert.Contains(t, res.Header.Get("Content-Disposition"), "Depot mug.png")
	b, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	assert.True(t, bytes.HasPrefix(b, []byte("\x89PNG")))
	assert.EqualValues(t, *d.Bytes, len(b))
}

// What is shown of changes is what is shown of the document that they make, and what is stored of them is that document.
func TestChangesAreShownAndStoredAsTheirDocumentIs(t *testing.T) {
	srv, _ := serve(t)
	var job api.Job
	require.Equal(t, 201, call(t, "POST", srv.URL+"/api/jobs", map[string]string{"name": "A job"}, &job))
	data, err := os.ReadFile("../demo/pictures/depot-mug.png")
	require.NoError(t, err)
	var sum api.PictureSummary
	require.Equal(t, 201, call(t, "POST", fmt.Sprintf("%s/api/jobs/%s/pictures?name=mug.png", srv.URL, job.Id), data, &sum))
	url := srv.URL + "/api/pictures/" + sum.Id.String()
	const part = `{"id":"a","name":"Mug","picks":[{"kind":"sweep","join":"add","strokes":[{"radius":18,"points":[[620,600],[1000,640],[900,880]]}]}],"target":{"css":"#1d6a72"},"settings":{"shade_depth":0,"highlights":100,"strength":100}}`
	const bluer = `{"op":"replace","path":"/parts/0/target/css","value":"#2038a0"}`
	edit := func(base int, changes string) (api.Stored, int) {
		var out api.Stored
		status := call(t, "PATCH", url+"/document", json.RawMessage(fmt.Sprintf(`{"base":%d,"label":"x","changes":[%s]}`, base, changes)), &out)
		return out, status
	}
	view := func(with string) (string, int) {
		res, err := http.Post(url+"/view", "application/json", strings.NewReader(`{"x":0,"y":0,"w":1600,"h":1200,"width":160,"height":120,"show":"picture"`+with+`}`))
		require.NoError(t, err)
		defer res.Body.Close()
		b, err := io.ReadAll(res.Body)
		require.NoError(t, err)
		return string(b), res.StatusCode
	}
	asItCame, _ := view("")
	whole, status := view(`,"document":{"parts":[` + part + `]}`)
	require.Equal(t, 200, status)
	require.NotEqual(t, asItCame, whole)
	changed, status := view(`,"draft":{"base":1,"changes":[{"op":"add","path":"/parts/-","value":` + part + `}]}`)
	require.Equal(t, 200, status)
	assert.True(t, whole == changed, "a view of changes is the view of their document")

	stored, status := edit(1, `{"op":"add","path":"/parts/-","value":`+part+`}`)
	require.Equal(t, 200, status)
	require.Equal(t, api.Stored{Revision: 2, Undo: "x"}, stored)
	now, _ := view("")
	assert.True(t, whole == now)
	draft, _ := view(`,"draft":{"base":2,"changes":[` + bluer + `]}`)
	assert.NotEqual(t, whole, draft)
	now, _ = view("")
	assert.True(t, whole == now, "a draft leaves what is stored as it is")
	again, status := view(`,"draft":{"base":1,"changes":[{"op":"add","path":"/parts/-","value":` + part + `}]}`)
	assert.Equal(t, 200, status, "the document of a revision is kept for who does not have the next yet")
	assert.True(t, whole == again)

	_, status = edit(1, bluer)
	assert.Equal(t, 409, status, "somebody else was first")
	_, status = view(`,"draft":{"base":77,"changes":[]}`)
	assert.Equal(t, 409, status, "a revision that is not there")
	said, status := view(`,"draft":{"base":2,"changes":[]},"document":{"parts":[]}`)
	assert.Equal(t, 422, status)
	assert.Contains(t, said, "send one of them")
	for _, wrong := range []string{`{"op":"remove","path":"/parts/7"}`, `{"op":"replace","path":"/parts/0/target/css","value":"no colour"}`, `{"op":"add","path":"/parts/0/hiden","value":true}`} {
		_, status = edit(2, wrong)
		assert.Equal(t, 422, status, wrong)
	}
	stored, status = edit(2, bluer)
	require.Equal(t, 200, status)
	assert.EqualValues(t, 3, stored.Revision)
	var pic api.Picture
	require.Equal(t, 200, call(t, "GET", url, nil, &pic))
	assert.Equal(t, "#2038a0", pic.Document.Parts[0].Target.CSS)
	now, _ = view("")
	assert.True(t, draft == now, "what was shown is what is stored")
}

// The colours of an answer are those that the bench shows: CIELAB in its order, and the same colour as its hex.
func TestAProbeSaysTheColourInOrder(t *testing.T) {
	srv, _ := serve(t)
	var job api.Job
	require.Equal(t, 201, call(t, "POST", srv.URL+"/api/jobs", map[string]string{"name": "A job"}, &job))
	data, err := os.ReadFile("../demo/pictures/depot-mug.png")
	require.NoError(t, err)
	var sum api.PictureSummary
	require.Equal(t, 201, call(t, "POST", fmt.Sprintf("%s/api/jobs/%s/pictures?name=mug.png", srv.URL, job.Id), data, &sum))
	for _, at := range [][2]float64{{700, 640}, {300, 780}, {200, 200}} {
		var p api.Probe
		require.Equal(t, 200, call(t, "POST", srv.URL+"/api/pictures/"+sum.Id.String()+"/probe", map[string]any{"x": at[0], "y": at[1]}, &p))
		want, err := colour.ParseCSS(p.WasHex)
		require.NoError(t, err)
		for c := range 3 {
			assert.InDelta(t, want[c], p.Was[c], 0.6, "%v: %s", at, p.WasHex)
		}
	}
}

// A call is bounded by its length, whatever it holds.
func TestACallOfAnyLengthIsNotRead(t *testing.T) {
	srv, _ := serve(t)
	body := `{"name":"A job"` + strings.Repeat(" ", 65<<20) + "}"
	res, err := http.Post(srv.URL+"/api/jobs", "application/json", strings.NewReader(body))
	require.NoError(t, err)
	defer res.Body.Close()
	assert.Equal(t, http.StatusRequestEntityTooLarge, res.StatusCode)
}

func TestAFileThatIsNotDoneIsNotServed(t *testing.T) {
	srv, s := serve(t)
	ctx := context.Background()
	job, err := s.Store.CreateJob(ctx, "A job", []byte(`{"palette":[],"colourways":[]}`))
	require.NoError(t, err)
	f, err := os.Open("../demo/pictures/depot-mug.png")
	require.NoError(t, err)
	defer f.Close()
	id, err := s.AddPicture(ctx, job, "mug.png", f)
	require.NoError(t, err)
	queue, err := s.Queue(0) // nobody renders it
	require.NoError(t, err)
	list, err := s.OrderFiles(ctx, queue, job, app.Order{Pictures: []uuid.UUID{id}, Colourways: []string{""}, Format: "png", Quality: 92})
	require.NoError(t, err)
	require.NoError(t, s.Store.Cancel(ctx, list[0].ID))
	res, err := http.Get(srv.URL + "/api/deliveries/" + list[0].ID.String() + "/file")
	require.NoError(t, err)
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	assert.Equal(t, 422, res.StatusCode)
	assert.Contains(t, string(b), "cancelled")
}

func TestPaletteAndColourwaysThroughTheContract(t *testing.T) {
	srv, s := serve(t)
	var job api.Job
	require.Equal(t, 201, call(t, "POST", srv.URL+"/api/jobs", map[string]string{"name": "A job"}, &job))
	url := srv.URL + "/api/jobs/" + job.Id.String()
	content := func(base int64, css string) map[string]any {
		return map[string]any{"base": base, "label": "an edit", "palette": []any{map[string]any{"id": "x", "name": "X", "css": css, "tolerance": 2}, map[string]any{"id": "y", "name": "Y", "css": "#1d6a73", "tolerance": 2}},
			"colourways": []any{map[string]any{"id": "w", "name": "W", "cells": map[string]any{"Body": map[string]any{"target": map[string]any{"css": "red", "palette_id": "x"}}}}}}
	}
	require.Equal(t, 200, call(t, "PUT", url+"/content", content(job.Revision, "#1d6a72"), &job))
	assert.Equal(t, "#1d6a72", job.Colourways[0].Cells["Body"].Target.CSS, "the palette's colour as it stands")
	assert.Equal(t, "Y", *job.Palette[0].Near, "near-duplicates are pointed out")
	assert.Equal(t, "an edit", job.Undo)
	var theirs api.Job
	require.Equal(t, 409, call(t, "PUT", url+"/content", content(job.Revision-1, "#000000"), &theirs))
	assert.Equal(t, job.Revision, theirs.Revision, "the newest state comes with the refusal")
	require.Equal(t, 422, call(t, "PUT", url+"/content", content(job.Revision, "#12"), nil))
	require.Equal(t, 200, call(t, "PUT", url+"/content", content(job.Revision, "cmyk(80 30 40 10)"), &job))
	assert.True(t, *job.Palette[0].Uncalibrated)
	require.Equal(t, 200, call(t, "POST", url+"/undo", nil, &job))
	assert.Equal(t, "#1d6a72", job.Palette[0].Css)

	for format, part := range map[string]string{"tokens": `"colorSpace"`, "css": "--x: #1d6a72;", "csv": "X,#1d6a72,2"} {
		res, err := http.Get(url + "/palette-file?format=" + format)
		require.NoError(t, err)
		b, err := io.ReadAll(res.Body)
		res.Body.Close()
		require.NoError(t, err)
		assert.Contains(t, string(b), part)
		back, err := http.Post(srv.URL+"/api/palette-file", "text/plain", bytes.NewReader(b))
		require.NoError(t, err)
		var list []api.Swatch
		require.NoError(t, json.NewDecoder(back.Body).Decode(&list))
		back.Body.Close()
		require.Len(t, list, 2, format)
	}
	res, err := http.Post(srv.URL+"/api/palette-file", "text/plain", strings.NewReader("name,colour\nA,#12"))
	require.NoError(t, err)
	b, err := io.ReadAll(res.Body)
	res.Body.Close()
	require.NoError(t, err)
	assert.Equal(t, 422, res.StatusCode)
	assert.Contains(t, string(b), "line 2")

	var copied api.Job
	require.Equal(t, 201, call(t, "POST", url+"/duplicate", map[string]string{"name": "A copy"}, &copied))
	assert.Len(t, copied.Colourways, 1)
	require.Equal(t, 200, call(t, "PATCH", srv.URL+"/api/jobs/"+copied.Id.String(), map[string]any{"removed": true}, nil))
	var all []api.JobSummary
	require.Equal(t, 200, call(t, "GET", srv.URL+"/api/jobs", nil, &all))
	for _, j := range all {
		assert.NotEqual(t, copied.Id, j.Id, "a deleted job is not listed")
	}
	require.Equal(t, 200, call(t, "GET", srv.URL+"/api/jobs?removed=true", nil, &all))
	require.Len(t, all, 1, "it is in the trash")
	assert.Equal(t, copied.Id, all[0].Id)
	require.Equal(t, 200, call(t, "PATCH", srv.URL+"/api/jobs/"+copied.Id.String(), map[string]any{"removed": false}, nil))
	require.Equal(t, 200, call(t, "GET", srv.URL+"/api/jobs?removed=true", nil, &all))
	assert.Empty(t, all)
	_, err = s.Store.Pool.Exec(context.Background(), `UPDATE jobs SET removed = now() - interval '31 days' WHERE id = $1`, copied.Id)
	require.NoError(t, err)
	require.Equal(t, 200, call(t, "GET", srv.URL+"/api/jobs?removed=true", nil, &all))
	assert.Empty(t, all, "after thirty days it is not offered any more")
	var d struct {
		DeltaE00 float64 `json:"delta_e00"`
	}
	// The first pair of Sharma, Wu and Dalal's table (2005).
	require.Equal(t, 200, call(t, "GET", srv.URL+"/api/difference?a=lab(50+2.6772+-79.7751)&b=lab(50+0+-82.7485)", nil, &d))
	assert.InDelta(t, 2.0425, d.DeltaE00, 1e-4)
	require.Equal(t, 422, call(t, "POST", srv.URL+"/api/archives", []byte("no zip"), nil))
}

// TestALargeJobStaysLight: 300 pictures and 40 colourways; what its page asks for is under 100 KB on the wire.
func TestALargeJobStaysLight(t *testing.T) {
	srv, s := serve(t)
	ctx := context.Background()
	job, err := s.Store.CreateJob(ctx, "Large", []byte(`{"palette":[],"colourways":[]}`))
	require.NoError(t, err)
	f, err := os.Open("../demo/pictures/depot-mug.png")
	require.NoError(t, err)
	id, err := s.AddPicture(ctx, job, "mug.png", f)
	f.Close()
	require.NoError(t, err)
	first, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	for i := range 299 {
		var doc document.Picture
		for k := range 3 {
			p := app.NewPart(fmt.Sprintf("Part %d", (3*i+k)%25))
			p.Picks = []isolate.Pick{{Kind: "subject", Join: "add"}}
			doc.Parts = append(doc.Parts, p)
		}
		b, err := json.Marshal(doc)
		require.NoError(t, err)
		_, err = s.Store.AddPicture(ctx, store.Picture{Job: job, Name: fmt.Sprintf("Picture %d", i), SHA: first.SHA, Width: 1800, Height: 1200, Bits: 8, Format: "png", Document: b})
		require.NoError(t, err)
	}
	c := document.Content{Palette: []document.Swatch{{ID: "a", Name: "Teal", CSS: "#1d6a72", Tolerance: 2}}}
	for w := range 40 {
		cells := map[string]document.Cell{}
		for k := range 25 {
			cells[fmt.Sprintf("Part %d", k)] = document.Cell{Target: document.Target{CSS: fmt.Sprintf("#%02x%02x72", 6*w, 10*k)}}
		}
		c.Colourways = append(c.Colourways, document.Colourway{ID: fmt.Sprint(w), Name: fmt.Sprint("Way ", w), Cells: cells})
	}
	_, err = s.EditJob(ctx, job, 1, "many", c)
	require.NoError(t, err)
	for _, path := range []string{"/api/jobs", "/api/jobs/" + job.String(), "/api/jobs/" + job.String() + "/deliveries", "/api/pictures/" + id.String()} {
		req, err := http.NewRequest("GET", srv.URL+path, nil)
		require.NoError(t, err)
		req.Header.Set("Accept-Encoding", "gzip")
		res, err := http.DefaultTransport.RoundTrip(req)
		require.NoError(t, err)
		b, err := io.ReadAll(res.Body)
		res.Body.Close()
		require.NoError(t, err)
		assert.Equal(t, 200, res.StatusCode)
		assert.Less(t, len(b), 100_000, path)
		t.Logf("%s: %d bytes", path, len(b))
	}
	var whole struct{ Pictures, Colourways []any }
	require.Equal(t, 200, call(t, "GET", srv.URL+"/api/jobs/"+job.String(), nil, &whole))
	assert.Len(t, whole.Pictures, 300, "compressed or not it is the same")
	assert.Len(t, whole.Colourways, 40)
}

// A body is counted whatever it calls itself, and what nobody knows is refused by its name.
func TestBodiesAreBoundedAndUnknownFieldsRefused(t *testing.T) {
	srv, _ := serve(t)
	big := bytes.Repeat([]byte("a"), 70<<20)
	for _, kind := range []string{"application/json", "application/json; charset=utf-8", "text/plain", "application/octet-stream", ""} {
		req, err := http.NewRequest("POST", srv.URL+"/api/palette-file", bytes.NewReader(big))
		require.NoError(t, err)
		if kind != "" {
			req.Header.Set("Content-Type", kind)
		}
		res, err := http.DefaultClient.Do(req)
		if err != nil {
			continue // cut off while it was still sending
		}
		res.Body.Close()
		assert.Contains(t, []int{400, 413, 422}, res.StatusCode, kind)
	}
	var problem api.Problem
	require.Equal(t, 422, call(t, "POST", srv.URL+"/api/jobs", map[string]any{"name": "Job", "colur": "red"}, &problem))
	assert.Contains(t, problem.Message, "colur")
}

// The height decides as much as the width: a view whose scales differ would ask for the picture at a size nobody sees.
func TestAViewWithTwoScalesIsRefused(t *testing.T) {
	srv, _ := serve(t)
	var j api.Job
	require.Equal(t, 201, call(t, "POST", srv.URL+"/api/jobs", map[string]any{"name": "Job"}, &j))
	b, err := os.ReadFile("../demo/pictures/depot-mug.png")
	require.NoError(t, err)
	var pic api.PictureSummary
	require.Equal(t, 201, call(t, "POST", srv.URL+"/api/jobs/"+j.Id.String()+"/pictures?name=mug.png", b, &pic))
	url := srv.URL + "/api/pictures/" + pic.Id.String() + "/view"
	view := func(w, h float64, width, height int) int {
		var p api.Problem
		return call(t, "POST", url, map[string]any{"x": 0, "y": 0, "w": w, "h": h, "width": width, "height": height, "show": "before"}, &p)
	}
	assert.Equal(t, 422, view(8191, 999999, 8192, 1))
	assert.Equal(t, 422, view(10, 1000, 100, 100))
	assert.Equal(t, 422, view(1800, 1200, 900, 700))
}
