package app

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"image/png"
	"io"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/artwork"
	"episema/core/colour"
	"episema/core/document"
	"episema/core/isolate"
	"episema/imagefile"
	"episema/store"
)

// drawnPoster brings the demo's poster into a new job with a colourway in which its reds are teal.
func drawnPoster(t *testing.T, s *Studio) (uuid.UUID, store.Job) {
	t.Helper()
	ctx := context.Background()
	content, err := json.Marshal(document.Content{Palette: []document.Swatch{{ID: "harbour", Name: "Harbour teal", CSS: "#1d6a72", Tolerance: 2}},
		Colourways: []document.Colourway{{ID: "teal", Name: "Teal", Cells: map[string]document.Cell{"Reds": {Target: document.Target{CSS: "#1d6a72", PaletteID: "harbour"}}}}}})
	require.NoError(t, err)
	job, err := s.Store.CreateJob(ctx, "A job", content)
	require.NoError(t, err)
	f, err := os.Open("../demo/artwork/poster.svg")
	require.NoError(t, err)
	defer f.Close()
	id, err := s.AddPicture(ctx, job, "poster.svg", f)
	require.NoError(t, err)
	// A family is a row of the colourways of its own until somebody names it.
	pic, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	var doc document.Picture
	require.NoError(t, json.Unmarshal(pic.Document, &doc))
	for i, p := range doc.Parts {
		require.Equal(t, "#"+p.ID, p.Row())
		if p.Name == "Red" {
			doc.Parts[i].Name, doc.Parts[i].Unnamed = "Reds", false
		}
	}
	_, err = s.Edit(ctx, id, pic.Revision, "name", doc)
	require.NoError(t, err)
	j, err := s.Store.Job(ctx, job)
	require.NoError(t, err)
	return id, j
}

func delivered(t *testing.T, s *Studio, job, id uuid.UUID, way, format string, o imagefile.Options) ([]byte, store.Delivery) {
	t.Helper()
	ctx := context.Background()
	worker, err := s.Queue(0)
	require.NoError(t, err)
	list, err := s.OrderFiles(ctx, worker, job, Order{Pictures: []uuid.UUID{id}, Colourways: []string{way}, Format: format, Quality: 92, Options: o})
	require.NoError(t, err)
	require.NoError(t, s.renderDelivery(ctx, list[0].ID))
	d, err := s.Store.Delivery(ctx, list[0].ID)
	require.NoError(t, err)
	r, err := s.Store.Blob(ctx, d.SHA)
	require.NoError(t, err)
	b, err := io.ReadAll(r)
	require.NoError(t, err)
	return b, d
}

// elsewhere opens a job's archive on another installation, and delivers its first picture in teal there.
func elsewhere(t *testing.T, s *Studio, job uuid.UUID) (*Studio, []byte) {
	t.Helper()
	ctx := context.Background()
	var buf bytes.Buffer
	require.NoError(t, s.WriteArchive(ctx, job, &buf))
	other := studio(t)
	opened, err := other.ReadArchive(ctx, bytes.NewReader(buf.Bytes()))
	require.NoError(t, err)
	pics, err := other.Store.Pictures(ctx, opened)
	require.NoError(t, err)
	svg, _ := delivered(t, other, opened, pics[0].ID, "teal", "svg", imagefile.Options{})
	return other, svg
}

// lastJob is the newest of an installation.
func lastJob(t *testing.T, s *Studio) uuid.UUID {
	t.Helper()
	jobs, err := s.Store.Jobs(context.Background(), false)
	require.NoError(t, err)
	return jobs[0].ID
}

// TestADrawingTakesPartInTheJob: its families are parts, colourways and palette reach it, it is delivered and archived.
func TestADrawingTakesPartInTheJob(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id, j := drawnPoster(t, s)
	original, err := os.ReadFile("../demo/artwork/poster.svg")
	require.NoError(t, err)
	rows, err := s.Store.PartRows(ctx, j.ID)
	require.NoError(t, err)
	var names []string
	for _, r := range rows {
		names = append(names, r.Name)
	}
	assert.Contains(t, names, "Reds")

	plain, _ := delivered(t, s, j.ID, id, "", "svg", imagefile.Options{})
	assert.Equal(t, string(original), string(plain), "nothing set: the very file")
	svg, d := delivered(t, s, j.ID, id, "teal", "svg", imagefile.Options{})
	assert.Equal(t, "Poster Teal.svg", d.Name)
	assert.NotContains(t, string(svg), "#9c2a1e")
	assert.Contains(t, string(svg), ".red { fill: #1d6a72 }")
	assert.Equal(t, strings.Count(string(original), "\n"), strings.Count(string(svg), "\n"))
	pdf, _ := delivered(t, s, j.ID, id, "teal", "pdf", imagefile.Options{})
	assert.True(t, bytes.HasPrefix(pdf, []byte("%PDF-")))
	pix, _ := delivered(t, s, j.ID, id, "teal", "png", imagefile.Options{Longest: 1680})
	img, err := png.Decode(bytes.NewReader(pix))
	require.NoError(t, err)
	assert.Equal(t, 1680, img.Bounds().Dy())
	r, g, b, _ := img.At(712, 1208).RGBA() // the tram's side
	assert.Equal(t, []uint32{0x1d, 0x6a, 0x72}, []uint32{r >> 8, g >> 8, b >> 8})

	// The stage, the proof and the matrix see the same.
	shown, err := s.ShowDrawing(ctx, id, nil)
	require.NoError(t, err)
	assert.Empty(t, shown.Groups)
	pic, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	doc, err := s.InColourway(ctx, pic, "teal")
	require.NoError(t, err)
	shown, err = s.ShowDrawing(ctx, id, &doc)
	require.NoError(t, err)
	assert.NotEmpty(t, shown.Groups)
	m, err := s.Prove(ctx, id, &doc)
	require.NoError(t, err)
	assert.Zero(t, m.ChangedOutside)
	for _, p := range m.Parts {
		if p.Name == "Reds" {
			assert.Equal(t, "within", p.State)
		} else {
			assert.Equal(t, "as it is", p.State)
		}
	}
	// The letters of the title were 6.6 to 1 against the sky; in the sky's colour nobody reads them.
	for i := range doc.Parts {
		if doc.Parts[i].Name == "Reds" {
			doc.Parts[i].Target = document.Target{CSS: "#f6ecd2"}
		}
	}
	shown, err = s.ShowDrawing(ctx, id, &doc)
	require.NoError(t, err)
	assert.NotEmpty(t, shown.Proof.Alike)
	found := false
	for _, c := range shown.Proof.Texts {
		if c.Text == "Ride to the" {
			found = true
			assert.Greater(t, c.Was, 5.0)
			assert.Less(t, c.Is, 1.1)
		}
	}
	assert.True(t, found)

	items, keys, err := s.PickDrawn(ctx, id, "#9c2a1e", 12, "fill", nil)
	require.NoError(t, err)
	assert.Contains(t, keys, "#9c2a1e")
	assert.NotEmpty(t, items)
	families, err := s.Families(ctx, id, 3)
	require.NoError(t, err)
	assert.Len(t, families, 3)

	other, there := elsewhere(t, s, j.ID)
	assert.Equal(t, string(svg), string(there))
	pics, err := other.Store.Pictures(ctx, lastJob(t, other))
	require.NoError(t, err)
	was, err := s.Cover(ctx, id, 200, "teal", false)
	require.NoError(t, err)
	is, err := other.Cover(ctx, pics[0].ID, 200, "teal", false)
	require.NoError(t, err)
	assert.Equal(t, was, is)
}

// TestBadDrawingsLeaveNothing: a refused file says why and the job stays as it was.
func TestBadDrawingsLeaveNothing(t *testing.T) {
	s, ctx := studio(t), context.Background()
	_, j := drawnPoster(t, s)
	for _, c := range []struct{ body, said string }{
		{`<svg><g></svg>`, "line 1"},
		{`<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY a "x"><!ENTITY b "&a;">]><svg/>`, "grow without end"},
		{"%PDF-1.7\nbroken", "cannot be converted"},
	} {
		_, err := s.AddPicture(ctx, j.ID, "bad.svg", strings.NewReader(c.body))
		assert.ErrorContains(t, err, c.said)
	}
	pics, err := s.Store.Pictures(ctx, j.ID)
	require.NoError(t, err)
	assert.Len(t, pics, 1)
}

// TestInksOfAJob: CMYK is a guess until the job has a profile; then palette, stage and delivery read through it, and the
// archive takes it along.
func TestInksOfAJob(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id, j := drawnPoster(t, s)
	var c document.Content
	require.NoError(t, json.Unmarshal(j.Content, &c))
	c.Palette[0].CSS = "cmyk(80 30 40 10)"
	j, err := s.EditJob(ctx, j.ID, j.Revision, "inks", c)
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(j.Content, &c))
	pal, err := s.ReadPalette(ctx, &c)
	require.NoError(t, err)
	assert.True(t, colour.Uncalibrated(pal[0].CSS))
	guessed, _ := delivered(t, s, j.ID, id, "teal", "svg", imagefile.Options{})
	profile, err := os.ReadFile("/usr/share/color/icc/ghostscript/default_cmyk.icc")
	require.NoError(t, err)
	_, err = s.SetInks(ctx, j.ID, j.Revision, "no.icc", strings.NewReader("no profile"))
	require.Error(t, err)
	_, err = s.SetInks(ctx, j.ID, j.Revision-1, "press.icc", bytes.NewReader(profile))
	require.ErrorIs(t, err, store.ErrStale)
	j, err = s.SetInks(ctx, j.ID, j.Revision, "press.icc", bytes.NewReader(profile))
	require.NoError(t, err)
	require.NoError(t, json.Unmarshal(j.Content, &c))
	assert.Equal(t, "cmyk(80 30 40 10)", c.Palette[0].CSS, "what was typed stays")
	pal, err = s.ReadPalette(ctx, &c)
	require.NoError(t, err)
	read := pal[0].CSS
	assert.False(t, colour.Uncalibrated(read))
	want, err := imagefile.InkLab(profile, [4]float64{.8, .3, .4, .1})
	require.NoError(t, err)
	got, err := colour.ParseCSS(read)
	require.NoError(t, err)
	assert.Less(t, colour.DeltaE00(want, got), 0.01)
	svg, _ := delivered(t, s, j.ID, id, "teal", "svg", imagefile.Options{})
	assert.Contains(t, string(svg), colour.Hex(want))
	assert.NotEqual(t, string(guessed), string(svg))
	_, there := elsewhere(t, s, j.ID)
	assert.Equal(t, string(svg), string(there))
	// A profile that is gone is an error, not another guess.
	c.Inks.Profile = strings.Repeat("0", 64)
	_, err = s.EditJob(ctx, j.ID, j.Revision, "lost", c)
	require.NoError(t, err)
	_, err = s.Cover(ctx, id, 100, "teal", false)
	assert.ErrorContains(t, err, "ink profile")
}

// TestMasksAndPartsGoOn: masks are delivered as grey PNGs, and what does not depend on the place is carried to another
// picture.
func TestMasksAndPartsGoOn(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	pic, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	b, d := delivered(t, s, pic.Job, id, "", "masks", imagefile.Options{})
	assert.True(t, strings.HasSuffix(d.Name, ".masks.zip"))
	z, err := zip.NewReader(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	require.Len(t, z.File, 1)
	f, err := z.File[0].Open()
	require.NoError(t, err)
	zipped, err := io.ReadAll(f)
	require.NoError(t, err)
	var alone bytes.Buffer
	var doc document.Picture
	require.NoError(t, json.Unmarshal(pic.Document, &doc))
	require.NoError(t, s.WriteMask(ctx, id, doc.Parts[0].ID, &alone))
	assert.Equal(t, alone.Bytes(), zipped)

	// Two parts of one name are two files, each with its own mask.
	two := doc
	two.Parts = append(slices.Clone(doc.Parts), document.Part{ID: "lower", Name: strings.ToUpper(doc.Parts[0].Name), Settings: doc.Parts[0].Settings, Overlap: true,
		Picks: []isolate.Pick{{Kind: "outline", Join: "add", Nodes: []isolate.Node{{P: [2]float64{10, 10}}, {P: [2]float64{90, 10}}, {P: [2]float64{90, 80}}}}}})
	_, err = s.Edit(ctx, id, pic.Revision, "two", two)
	require.NoError(t, err)
	b, _ = delivered(t, s, pic.Job, id, "", "masks", imagefile.Options{})
	z, err = zip.NewReader(bytes.NewReader(b), int64(len(b)))
	require.NoError(t, err)
	require.Len(t, z.File, 2)
	assert.NotEqual(t, strings.ToLower(z.File[0].Name), strings.ToLower(z.File[1].Name))
	for i, f := range z.File {
		r, err := f.Open()
		require.NoError(t, err)
		is, err := io.ReadAll(r)
		require.NoError(t, err)
		alone.Reset()
		require.NoError(t, s.WriteMask(ctx, id, two.Parts[i].ID, &alone))
		assert.Equal(t, alone.Bytes(), is, f.Name)
	}
	pic, err = s.Store.Move(ctx, id, -1)
	require.NoError(t, err)

	list, err := s.Carry(ctx, id)
	require.NoError(t, err)
	assert.Empty(t, list, "strokes stay where they are")
	doc.Parts[0].Picks = append([]isolate.Pick{{Kind: "like", Join: "add", Samples: [][2]float64{{900, 640}}, Not: [][2]float64{{100, 100}}, Tolerance: 20, Connected: true}, {Kind: "tones", Join: "intersect", From: 0, To: 70}}, doc.Parts[0].Picks...)
	doc.Parts[0].Edge = &isolate.Edge{Grow: 1.5, DropSpecksUnder: 20, DropAt: [][2]float64{{20, 30}}, FillAt: [][2]float64{{900, 640}}}
	_, err = s.Edit(ctx, id, pic.Revision, "like", doc)
	require.NoError(t, err)
	list, err = s.Carry(ctx, id)
	require.NoError(t, err)
	require.Len(t, list, 1)
	q := list[0]
	assert.Equal(t, 1, q.Left)
	assert.Equal(t, "#1d6a72", q.Part.Target.CSS)
	require.Len(t, q.Part.Picks, 2)
	assert.Empty(t, q.Part.Picks[0].Samples)
	require.Len(t, q.Part.Picks[0].Colours, 1)
	assert.Len(t, q.Part.Picks[0].NotLike, 1)
	assert.Equal(t, &isolate.Edge{Grow: 1.5, DropSpecksUnder: 20}, q.Part.Edge, "what was dropped or filled at a place is of that picture")
	// In the picture it came from it takes what it took.
	carried := document.Picture{Parts: []document.Part{q.Part}}
	areas, err := s.Areas(ctx, id, q.Part.ID, &carried)
	require.NoError(t, err)
	assert.NotEmpty(t, areas)
}

// TestADrawingOfPixels: a PNG of a few exact colours has families too; its rims follow, its transparency stays to the bit.
func TestADrawingOfPixels(t *testing.T) {
	s, ctx := studio(t), context.Background()
	_, j := drawnPoster(t, s)
	b, err := os.ReadFile("../demo/artwork/icon-sheet.svg")
	require.NoError(t, err)
	d, err := artwork.Parse(b)
	require.NoError(t, err)
	path := filepath.Join(t.TempDir(), "icons.png")
	require.NoError(t, imagefile.DrawingToPNG(d.Source, 960, 480, time.Minute, path))
	f, err := os.Open(path)
	require.NoError(t, err)
	id, err := s.AddPicture(ctx, j.ID, "icons.png", f)
	f.Close()
	require.NoError(t, err)
	pic, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	var doc document.Picture
	require.NoError(t, json.Unmarshal(pic.Document, &doc))
	var red *document.Part
	for i := range doc.Parts {
		for _, m := range doc.Parts[i].Family.Members {
			if m.Colour == "#9c2a1e" {
				red = &doc.Parts[i]
			}
		}
	}
	require.NotNil(t, red)
	assert.Less(t, len(doc.Parts), 15)
	red.Target = document.Target{CSS: "#345a86"}
	_, err = s.Edit(ctx, id, pic.Revision, "blue", doc)
	require.NoError(t, err)
	is, _ := delivered(t, s, j.ID, id, "", "png", imagefile.Options{})
	got, err := png.Decode(bytes.NewReader(is))
	require.NoError(t, err)
	// The same drawing recoloured as a drawing, then rendered.
	changes, err := (&artwork.Plan{Families: []artwork.Family{{Main: red.Family.Main, Members: red.Family.Members, Target: "#345a86", How: artwork.Tints}}}).Changes()
	require.NoError(t, err)
	require.NoError(t, imagefile.DrawingToPNG(d.Recolour(changes, nil).Source, 960, 480, time.Minute, path))
	f, err = os.Open(path)
	require.NoError(t, err)
	defer f.Close()
	want, err := png.Decode(f)
	require.NoError(t, err)
	far := 0
	for y := range 480 {
		for x := range 960 {
			r, g, b, a := got.At(x, y).RGBA()
			wr, wg, wb, wa := want.At(x, y).RGBA()
			require.Equal(t, wa, a)
			for _, v := range [][2]uint32{{r, wr}, {g, wg}, {b, wb}} {
				if max(v[0], v[1])-min(v[0], v[1]) > 12<<8 {
					far++
					break
				}
			}
		}
	}
	assert.Less(t, far, 960*480/2000, "pixels further than 12 levels from drawing it anew")
	m, err := s.Prove(ctx, id, &doc)
	require.NoError(t, err)
	assert.Zero(t, m.ChangedOutside)
	assert.Len(t, m.Parts, len(doc.Parts))
	shown, err := s.ShowDrawing(ctx, id, &doc)
	require.NoError(t, err)
	assert.Len(t, shown.Parts, len(doc.Parts))
	cover, err := s.Cover(ctx, id, 240, "", false)
	require.NoError(t, err)
	before, err := s.Cover(ctx, id, 240, "", true)
	require.NoError(t, err)
	assert.NotEqual(t, before, cover)
}
