package app

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"encoding/xml"
	"image"
	"image/color"
	"image/png"
	"io"
	"log/slog"
	"math"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/app/export"
	"episema/core/copies"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/mend"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/imagefile"
	"episema/internal/problem"
	"episema/internal/testdb"
	"episema/store"
)

func TestMain(m *testing.M) { testdb.Main(m) }

func studio(t *testing.T) *Studio {
	t.Helper()
	s, err := NewStudio(testdb.Store(t), t.TempDir(), slog.New(slog.DiscardHandler), Budgets{})
	require.NoError(t, err)
	t.Cleanup(s.Close)
	return s
}

// mug brings the demo's mug into a new job, with its body in teal.
func mug(t *testing.T, s *Studio) uuid.UUID {
	t.Helper()
	ctx := context.Background()
	job, err := s.Store.CreateJob(ctx, "A job", []byte(`{"palette":[],"colourways":[]}`))
	require.NoError(t, err)
	f, err := os.Open("../demo/pictures/depot-mug.png")
	require.NoError(t, err)
	defer f.Close()
	id, err := s.AddPicture(ctx, job, "depot-mug.png", f)
	require.NoError(t, err)
	_, err = s.Edit(ctx, id, 1, "a part", teal())
	require.NoError(t, err)
	return id
}

func teal() document.Picture {
	p := NewPart("Mug body")
	p.Target = document.Target{CSS: "#1d6a72", Tolerance: 2}
	p.Picks = []isolate.Pick{{Kind: "sweep", Join: "add", Strokes: []isolate.Stroke{{Stroke: raster.Stroke{Radius: 18, Points: [][2]float64{{620, 600}, {1000, 640}, {900, 880}}}}}}}
	return document.Picture{Parts: []document.Part{p}}
}

func TestWhatTheStageShowsIsWhatIsDelivered(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	pic, doc, err := s.picture(ctx, id, nil)
	require.NoError(t, err)
	p, release, err := s.derived.Pyramid(ctx, pic.SHA)
	require.NoError(t, err)
	defer release()
	d, err := s.develop(ctx, p, pic, doc, isolate.Exact)
	require.NoError(t, err)
	original, done, err := s.derived.Original(ctx, pic.SHA)
	require.NoError(t, err)
	defer done()
	out := filepath.Join(t.TempDir(), "out.png")
	totals, err := export.Picture(d, p, original, t.TempDir(), "png", 0, imagefile.Options{}, out, nil, imagefile.Encode)
	require.NoError(t, err)
	assert.Zero(t, totals.ChangedOutside)
	assert.Positive(t, totals.Inside)
	f, err := os.Open(out)
	require.NoError(t, err)
	defer f.Close()
	img, err := png.Decode(f)
	require.NoError(t, err)
	const x0, y0, w, h = 500, 300, 300, 200
	view, err := s.Render(ctx, id, View{X: x0, Y: y0, W: w, H: h, Width: w, Height: h, Show: "picture"})
	require.NoError(t, err)
	off := 0
	for y := range h {
		for x := range w {
			r, g, b, _ := img.At(x0+x, y0+y).RGBA()
			for c, v := range []uint32{r, g, b} {
				if d := int(v>>8) - int(view[4*(y*w+x)+c]); d < -1 || d > 1 {
					off++
				}
			}
		}
	}
	assert.Zero(t, off, "samples that differ between the stage at 100 %% and the file")

	_, err = export.Picture(d, p, original, t.TempDir(), "png", 0, imagefile.Options{}, filepath.Join(t.TempDir(), "x.png"), func(float64) error { return errCancelled }, imagefile.Encode)
	assert.ErrorIs(t, err, errCancelled)
}

func TestTheCacheFolderIsDerived(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	v := View{W: 1800, H: 1200, Width: 300, Height: 200, Show: "picture"}
	before, err := s.Render(ctx, id, v)
	require.NoError(t, err)
	again, err := NewStudio(s.Store, t.TempDir(), s.Log, Budgets{Disk: 1}) // another machine on the same database, with hardly a disk
	require.NoError(t, err)
	defer again.Close()
	after, err := again.Render(ctx, id, v)
	require.NoError(t, err)
	assert.True(t, bytes.Equal(before, after))
	part := NewPart("Body")
	part.Picks = []isolate.Pick{{Kind: "sweep", Join: "add", Strokes: []isolate.Stroke{{Stroke: raster.Stroke{Radius: 30, Points: [][2]float64{{620, 600}, {1000, 640}, {900, 880}}}}}}}
	part.Target.CSS = "#1d6a72"
	v.Document = &document.Picture{Parts: []document.Part{part}}
	_, err = again.Render(ctx, id, v)
	require.NoError(t, err)
	again.derived.Trim()
	_, err = again.Render(ctx, id, View{X: 500, Y: 300, W: 800, H: 600, Width: 800, Height: 600, Show: "picture", Document: v.Document})
	require.NoError(t, err, "what was worked out before does not hold on to what was trimmed")
}

func TestADraftIsShownButNotStored(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	draft := teal()
	draft.Parts[0].Settings.Strength = 101
	_, err := s.Render(ctx, id, View{W: 10, H: 10, Width: 10, Height: 10, Show: "picture", Document: &draft})
	var bad *document.Error
	require.ErrorAs(t, err, &bad)
	draft.Parts[0].Settings = recolour.Settings{Highlights: 100}
	v := View{X: 700, Y: 700, W: 8, H: 8, Width: 8, Height: 8, Show: "picture"}
	stored, err := s.Render(ctx, id, v)
	require.NoError(t, err)
	v.Document = &draft
	none, err := s.Render(ctx, id, v)
	require.NoError(t, err)
	v.Document, v.Show = nil, "before"
	before, err := s.Render(ctx, id, v)
	require.NoError(t, err)
	assert.Equal(t, before, none, "at no strength the picture is as it came in")
	assert.NotEqual(t, before, stored)
	p, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	var doc document.Picture
	require.NoError(t, json.Unmarshal(p.Document, &doc))
	assert.EqualValues(t, 100, doc.Parts[0].Settings.Strength)
}

func TestADeliveryThatAKilledServerWasWorkingOnIsDoneByTheNext(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	only, err := s.Queue(0)
	require.NoError(t, err)
	p, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	list, err := s.OrderFiles(ctx, only, p.Job, Order{Pictures: []uuid.UUID{id}, Format: "png", Quality: 92})
	require.NoError(t, err)
	d := list[0]
	_, err = s.Store.Pool.Exec(ctx, "UPDATE river_job SET state = 'running', attempt = 1, attempted_at = now() WHERE state = 'available'")
	require.NoError(t, err)
	_, err = s.Store.Progress(ctx, d.ID, 0.4)
	require.NoError(t, err)
	n, err := s.Store.ReleaseInterrupted(ctx)
	require.NoError(t, err)
	assert.EqualValues(t, 1, n)
	worker, err := s.Queue(1)
	require.NoError(t, err)
	require.NoError(t, worker.Start(ctx))
	defer func() { require.NoError(t, worker.StopAndCancel(ctx)) }()
	require.Eventually(t, func() bool {
		d, err = s.Store.Delivery(ctx, d.ID)
		return err == nil && d.State == "done"
	}, 60*time.Second, 50*time.Millisecond, "%+v", d.State)
	assert.Positive(t, d.Bytes)
	var bad *problem.Input
	for _, wrong := range []Order{{Pictures: []uuid.UUID{id}, Format: "gif", Quality: 92}, {Pictures: []uuid.UUID{id}, Format: "png", Quality: 0}, {Format: "png", Quality: 92},
		{Pictures: []uuid.UUID{uuid.New()}, Format: "png", Quality: 92}, {Pictures: []uuid.UUID{id}, Colourways: []string{"none"}, Format: "png", Quality: 92}} {
		_, err = s.OrderFiles(ctx, only, p.Job, wrong)
		assert.ErrorAs(t, err, &bad, "%+v", wrong)
	}
}

func TestAFileThatEndedTwoWorkersIsSetAsideAndTheOthersGoOn(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	only, err := s.Queue(0)
	require.NoError(t, err)
	p, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	order := func() uuid.UUID {
		list, err := s.OrderFiles(ctx, only, p.Job, Order{Pictures: []uuid.UUID{id}, Format: "png", Quality: 92})
		require.NoError(t, err)
		return list[0].ID
	}
	poison := order()
	for end := range 2 {
		_, err = s.Store.Pool.Exec(ctx, "UPDATE river_job SET state = 'running', attempt = 1, attempted_at = now(), attempted_by = '{gone}' WHERE state = 'available'")
		require.NoError(t, err)
		n, err := s.Store.ReleaseInterrupted(ctx)
		require.NoError(t, err)
		assert.EqualValues(t, 1-end, n, "the first end is forgiven")
	}
	d, err := s.Store.Delivery(ctx, poison)
	require.NoError(t, err)
	assert.Equal(t, "failed", d.State)
	assert.Contains(t, d.Problem, "set aside")
	good := order()
	worker, err := s.Queue(1)
	require.NoError(t, err)
	require.NoError(t, worker.Start(ctx))
	defer func() { require.NoError(t, worker.StopAndCancel(ctx)) }()
	require.Eventually(t, func() bool {
		d, err := s.Store.Delivery(ctx, good)
		return err == nil && d.State == "done"
	}, 60*time.Second, 50*time.Millisecond)
	d, err = s.Store.Delivery(ctx, poison)
	require.NoError(t, err)
	assert.Equal(t, "failed", d.State, "it is not tried a third time")
	_, err = s.DeliverAgain(ctx, only, poison)
	assert.NoError(t, err, "somebody may ask for it again")
}

// twoColourways gives the mug's job two: one that paints its part in the palette's colour, one that leaves it.
func twoColourways(t *testing.T, s *Studio, id uuid.UUID) store.Job {
	t.Helper()
	ctx := context.Background()
	p, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	var doc document.Picture
	require.NoError(t, json.Unmarshal(p.Document, &doc))
	name := doc.Parts[0].Name
	j, err := s.EditJob(ctx, p.Job, p.JobRevision, "colourways", document.Content{Palette: []document.Swatch{{ID: "a", Name: "Amber", CSS: "#d9a441", Tolerance: 2}}, Colourways: []document.Colourway{
		{ID: "one", Name: "Amber", Cells: map[string]document.Cell{name: {Target: document.Target{CSS: "#000000", PaletteID: "a"}}}},
		{ID: "two", Name: "Left/as is", Cells: map[string]document.Cell{name: {}}}}})
	require.NoError(t, err)
	return j
}

func TestAnOrderIsEveryPictureInEveryColourwayOnceAndWhole(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	j := twoColourways(t, s, id)
	worker, err := s.Queue(2)
	require.NoError(t, err)
	_, err = s.OrderFiles(ctx, worker, j.ID, Order{Pictures: []uuid.UUID{id}, Colourways: []string{"one", "two"}, Format: "png", Quality: 92, Pattern: "{picture}"})
	var bad *problem.Input
	require.ErrorAs(t, err, &bad)
	assert.Contains(t, bad.Problem, "{colourway}", "a collision says what to do")
	list, err := s.OrderFiles(ctx, worker, j.ID, Order{Pictures: []uuid.UUID{id}, Colourways: []string{"", "one", "two"}, Format: "tiff8", Quality: 92})
	require.NoError(t, err)
	var none bytes.Buffer
	require.ErrorAs(t, s.WriteBatch(ctx, *list[0].Batch, &none), &bad)
	require.NoError(t, worker.Start(ctx))
	defer func() { require.NoError(t, worker.StopAndCancel(ctx)) }()
	require.Eventually(t, func() bool {
		done, err := s.Store.BatchFiles(ctx, *list[0].Batch)
		return err == nil && len(done) == 3
	}, 60*time.Second, 50*time.Millisecond)
	var b bytes.Buffer
	require.NoError(t, s.WriteBatch(ctx, *list[0].Batch, &b))
	z, err := zip.NewReader(bytes.NewReader(b.Bytes()), int64(b.Len()))
	require.NoError(t, err)
	files := map[string][]byte{}
	for _, f := range z.File {
		r, err := f.Open()
		require.NoError(t, err)
		files[f.Name], err = io.ReadAll(r)
		require.NoError(t, err)
	}
	require.Len(t, files, 3)
	p, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	assert.Contains(t, files, p.Name+" Left-as is.tif", "what no file system takes is left out of names")
	assert.NotEqual(t, files[p.Name+".tif"], files[p.Name+" Amber.tif"])

	// A change of the palette is a change everywhere it is used.
	shown := func() []byte {
		b, err := s.Cover(ctx, id, 120, "one", false)
		require.NoError(t, err)
		return b
	}
	amber := shown()
	var c document.Content
	require.NoError(t, json.Unmarshal(j.Content, &c))
	c.Palette[0].CSS = "#1d6a72"
	_, err = s.EditJob(ctx, j.ID, j.Revision, "teal instead", c)
	require.NoError(t, err)
	assert.NotEqual(t, amber, shown())
	_, err = s.Store.MoveJob(ctx, j.ID, -1)
	require.NoError(t, err)
	assert.Equal(t, amber, shown(), "and undo takes it back")

	// What failed or was cancelled is tried again.
	_, err = s.DeliverAgain(ctx, worker, list[0].ID)
	require.ErrorIs(t, err, store.ErrNothing)
}

func TestUploadsLeaveNothingHalfStored(t *testing.T) {
	s, ctx := studio(t), context.Background()
	job, err := s.Store.CreateJob(ctx, "A job", []byte(`{"palette":[],"colourways":[]}`))
	require.NoError(t, err)
	count := func() (n int) {
		require.NoError(t, s.Store.Pool.QueryRow(ctx, "SELECT count(*) FROM blobs").Scan(&n))
		return n
	}
	before := count()
	s.derived.Limits.Bytes = 1000
	var big bytes.Buffer
	require.NoError(t, png.Encode(&big, image.NewNRGBA(image.Rect(0, 0, 2000, 2000))))
	_, err = s.AddPicture(ctx, job, "big.png", &big)
	var r *imagefile.Rejected
	require.ErrorAs(t, err, &r)
	assert.Equal(t, before, count())
	left, err := os.ReadDir(s.derived.Making())
	require.NoError(t, err)
	assert.Empty(t, left)
	for file, want := range map[string]string{"depot-mug_2.png": "Depot mug 2", `C:\photos\a.jpg`: "A", "": "Picture", "../../etc/passwd": "Passwd", "\xff\xfe.png": "Picture"} {
		assert.Equal(t, want, pictureName(file), "%q", file)
	}
}

func TestAnArchiveOpensElsewhereToTheSameResult(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	j := twoColourways(t, s, id)
	f, err := os.Open("../demo/truth/mug-depth.png")
	require.NoError(t, err)
	_, err = s.SetDepth(ctx, id, f)
	f.Close()
	require.NoError(t, err)
	var b bytes.Buffer
	require.NoError(t, s.WriteArchive(ctx, j.ID, &b))

	other := studio(t) // another installation
	job, err := other.ReadArchive(ctx, bytes.NewReader(b.Bytes()))
	require.NoError(t, err)
	pics, err := other.Store.Pictures(ctx, job)
	require.NoError(t, err)
	require.Len(t, pics, 1)
	for _, way := range []string{"", "one", "two"} {
		was, err := s.Cover(ctx, id, 300, way, false)
		require.NoError(t, err)
		is, err := other.Cover(ctx, pics[0].ID, 300, way, false)
		require.NoError(t, err)
		assert.Equal(t, was, is, "colourway %q", way)
	}
	was, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	is, err := other.Store.Picture(ctx, pics[0].ID)
	require.NoError(t, err)
	assert.JSONEq(t, string(was.Document), string(is.Document))
	assert.Equal(t, was.Depth, is.Depth)
	assert.Equal(t, was.Name, is.Name)
	var again bytes.Buffer
	require.NoError(t, other.WriteArchive(ctx, job, &again))
	assert.Equal(t, b.Bytes(), again.Bytes(), "written again it is the same file")

	// A wrong one leaves nothing.
	jobs := func() int {
		all, err := other.Store.Jobs(ctx, false)
		require.NoError(t, err)
		return len(all)
	}
	before := jobs()
	broken := append([]byte(nil), b.Bytes()...)
	broken[len(broken)/2] ^= 0xff // in the original's bytes
	for name, body := range map[string][]byte{"damaged": broken, "cut off": b.Bytes()[:b.Len()/2], "no zip": []byte("hello"), "empty": nil} {
		_, err := other.ReadArchive(ctx, bytes.NewReader(body))
		var bad *problem.Input
		assert.ErrorAs(t, err, &bad, name)
	}
	assert.Equal(t, before, jobs())
}

func TestOpenRasterLayersAreTheResult(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	// A painted part, a copy before it that throws a shadow, and a stroke beside both.
	doc := teal()
	second := NewPart("Second")
	second.Copy = &copies.Copy{Of: doc.Parts[0].ID, About: [2]float64{900, 700}, At: [2]float64{1250, 780}, Scale: 0.8, Shadow: &copies.Shadow{Direction: 30, Length: 0.4, Softness: 20, Strength: 60}}
	doc.Parts = append(doc.Parts, second)
	doc.Mends = []document.Mend{{Kind: "brush", Strokes: []mend.Stroke{{Stroke: raster.Stroke{Radius: 20, Points: [][2]float64{{200, 1000}, {300, 1050}}}, Strength: 1}}}}
	p, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	_, err = s.Edit(ctx, id, p.Revision, "more", doc)
	require.NoError(t, err)
	p, err = s.Store.Picture(ctx, id)
	require.NoError(t, err)
	worker, err := s.Queue(1)
	require.NoError(t, err)
	list, err := s.OrderFiles(ctx, worker, p.Job, Order{Pictures: []uuid.UUID{id}, Format: "ora", Quality: 92})
	require.NoError(t, err)
	require.NoError(t, s.renderDelivery(ctx, list[0].ID))
	d, err := s.Store.Delivery(ctx, list[0].ID)
	require.NoError(t, err)
	r, err := s.Store.Blob(ctx, d.SHA)
	require.NoError(t, err)
	b, err := io.ReadAll(r)
	require.NoError(t, err)
	z, err := zip.NewReader(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	// What the OpenRaster specification asks of every file: mimetype first and stored, stack.xml, the merged image
	// and a thumbnail of at most 256 pixels a side.
	assert.Equal(t, "mimetype", z.File[0].Name)
	assert.EqualValues(t, zip.Store, z.File[0].Method)
	assert.True(t, bytes.HasPrefix(b[30+len("mimetype"):], []byte("image/openraster")))
	read := func(name string) []byte {
		f, err := z.Open(name)
		require.NoError(t, err, name)
		defer f.Close()
		b, err := io.ReadAll(f)
		require.NoError(t, err)
		return b
	}
	picture := func(name string) image.Image {
		img, err := png.Decode(bytes.NewReader(read(name)))
		require.NoError(t, err, name)
		return img
	}
	var stack struct {
		Layers []struct {
			Name string `xml:"name,attr"`
			Src  string `xml:"src,attr"`
		} `xml:"stack>layer"`
	}
	require.NoError(t, xml.Unmarshal(read("stack.xml"), &stack))
	require.Len(t, stack.Layers, 4)
	var names []string
	for _, l := range stack.Layers {
		names = append(names, l.Name)
	}
	assert.Equal(t, []string{"Beside the parts", "Second", "Mug body", "As it came in"}, names, "the uppermost first")
	small := picture("Thumbnails/thumbnail.png").Bounds()
	assert.LessOrEqual(t, max(small.Dx(), small.Dy()), 256)
	var layers []image.Image
	for k := len(stack.Layers) - 1; k >= 0; k-- {
		layers = append(layers, picture(stack.Layers[k].Src))
	}
	merged := picture("mergedimage.png")
	worst := 0.0
	at := func(img image.Image, x, y int) [4]float64 {
		c := color.NRGBAModel.Convert(img.At(x, y)).(color.NRGBA)
		return [4]float64{float64(c.R), float64(c.G), float64(c.B), float64(c.A) / 255}
	}
	for y := 0; y < merged.Bounds().Dy(); y += 3 {
		for x := 0; x < merged.Bounds().Dx(); x += 3 {
			var over [3]float64
			for _, l := range layers {
				c := at(l, x, y)
				for k := range over {
					over[k] += c[3] * (c[k] - over[k])
				}
			}
			want := at(merged, x, y)
			for k, v := range over {
				worst = max(worst, math.Abs(v-want[k]))
			}
		}
	}
	assert.LessOrEqual(t, worst, 2.0, "laid over each other the layers are the merged image")
}

func TestOnlyAPictureThatIsOpenIsWorkedOutAhead(t *testing.T) {
	s := studio(t)
	ctx := context.Background()
	id := mug(t, s)
	v := View{W: 1800, H: 1200, Width: 300, Height: 200, Show: "picture"}
	_, err := s.Render(ctx, id, v)
	require.NoError(t, err)
	prepared := func() (n int, busy bool) {
		s.ahead.mu.Lock()
		defer s.ahead.mu.Unlock()
		return len(s.ahead.done), s.ahead.busy
	}
	n, _ := prepared()
	assert.Zero(t, n, "a cover is looked at, and nothing more")
	v.Stage = true
	_, err = s.Render(ctx, id, v)
	require.NoError(t, err)
	n, _ = prepared()
	assert.Equal(t, 1, n)
	require.Eventually(t, func() bool { _, busy := prepared(); return !busy }, 30*time.Second, 20*time.Millisecond)
	n, _ = prepared()
	assert.Equal(t, 1, n, "it did not fail")
}
