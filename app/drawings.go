package app

import (
	"context"
	"crypto/sha256"
	"encoding/json"
	"fmt"
	"io"
	"math"
	"os"
	"path/filepath"
	"slices"
	"time"

	"github.com/google/uuid"

	"episema/core/artwork"
	"episema/core/colour"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/palette"
	"episema/core/proof"
	"episema/imagefile"
	"episema/imagefile/apart"
	"episema/internal/memo"
	"episema/internal/problem"
	"episema/store"
)

// FormatSVG is the format of a picture that is a drawing.
const FormatSVG = "svg"

// drawingTime is how long rendering a drawing may take.
const drawingTime = 9 * time.Second

// deliverTime is how long it may take for a file.
const deliverTime = time.Minute

// addDrawing takes an SVG into a job. Its colours are gathered into families, which are its parts.
func (s *Studio) takeDrawing(ctx context.Context, name, path string) (store.Picture, error) {
	var none store.Picture
	b, err := os.ReadFile(path)
	if err != nil {
		return none, err
	}
	d, err := artwork.Parse(b)
	if err != nil {
		return none, err
	}
	w, h := d.Pixels()
	if err := s.derived.Readers.DrawingToPNG(ctx, d.Source, min(w, 512), max(1, min(w, 512)*h/w), drawingTime, path+".png"); err != nil {
		return none, err // it reads, but cannot be shown
	}
	os.Remove(path + ".png")
	families, err := artwork.Gather(d.Colours, 0, nil)
	if err != nil {
		return none, err
	}
	doc, err := json.Marshal(document.Picture{Parts: familyParts(families)})
	if err != nil {
		return none, err
	}
	sha, err := s.putFile(ctx, path)
	if err != nil {
		return none, err
	}
	return store.Picture{Name: pictureName(name), SHA: sha, Width: w, Height: h, Bits: 8, Format: FormatSVG, Document: doc}, nil
}

// familyParts makes parts of families.
func familyParts(families []artwork.Family) []document.Part {
	out := []document.Part{}
	for _, f := range families {
		p := NewPart(f.Name)
		p.Unnamed = true
		p.Picks = []isolate.Pick{}
		p.Family = &document.Family{Main: f.Main, Held: f.Held, Members: f.Members}
		out = append(out, p)
	}
	return out
}

// svg returns a picture's drawing, remembered.
func (s *Studio) svg(ctx context.Context, sha []byte) (*artwork.Drawing, error) {
	return memo.Get(ctx, s.memory, "drawing|"+string(sha), func(d *artwork.Drawing) int64 { return int64(20 * len(d.Source)) }, func(ctx context.Context) (*artwork.Drawing, error) {
		r, err := s.Store.Blob(ctx, sha)
		if err != nil {
			return nil, fmt.Errorf("the drawing's file: %w", err)
		}
		b, err := io.ReadAll(io.LimitReader(r, artwork.MaxBytes+1))
		if err != nil {
			return nil, err
		}
		return artwork.Parse(b)
	})
}

// drawn returns a drawing picture with its document and what becomes of its items.
func (s *Studio) drawn(ctx context.Context, id uuid.UUID, draft *document.Picture) (store.Picture, document.Picture, *artwork.Drawing, document.Want, error) {
	m, pic, doc, err := s.medium(ctx, id, draft)
	if err != nil {
		return pic, doc, nil, document.Want{}, err
	}
	d, w, err := m.drawing(ctx)
	return pic, doc, d, w, err
}

// Drawing gives a drawing as it came in, made safe.
func (s *Studio) Drawing(ctx context.Context, id uuid.UUID) (store.Picture, *artwork.Drawing, error) {
	pic, _, d, _, err := s.drawn(ctx, id, nil)
	return pic, d, err
}

// Shown is what a page shows a drawing's changes with, and their proof.
type Shown struct {
	Groups []artwork.Group
	Proof  proof.Drawing
	Parts  []ShownPart
}

// ShownPart counts a family.
type ShownPart struct {
	ID     string
	Count  int
	Boards []string // on which it is, by id
	To     []MemberTo
}

// MemberTo is a member with what it becomes.
type MemberTo struct {
	Colour, To string
	Count      int
	Area       float64
}

// ShowDrawing says how a drawing looks as a document has it.
func (s *Studio) ShowDrawing(ctx context.Context, id uuid.UUID, draft *document.Picture) (Shown, error) {
	var o Shown
	_, doc, d, w, err := s.drawn(ctx, id, draft)
	if err != nil {
		return o, err
	}
	o.Groups = d.Preview(func(i int) (int, *colour.Lab) { return w.At[i], w.To[i] })
	o.Proof = proof.MeasureDrawing(&doc, d, w)
	o.Parts = shownParts(&doc, d, w)
	return o, nil
}

// shownParts counts what each family has, and what its members become.
func shownParts(doc *document.Picture, d *artwork.Drawing, w document.Want) []ShownPart {
	out := make([]ShownPart, len(doc.Parts))
	for k := range doc.Parts {
		out[k].ID = doc.Parts[k].ID
	}
	boards := d.Boards()
	on := make([][]bool, len(out))
	at := map[[2]int]int{} // part and colour: which member
	for i := range d.Items {
		k := w.At[i]
		if k < 0 {
			continue
		}
		it, p := &d.Items[i], &out[k]
		p.Count++
		n, ok := at[[2]int{k, it.Colour}]
		if !ok {
			n = len(p.To)
			at[[2]int{k, it.Colour}] = n
			m := MemberTo{Colour: d.Colours[it.Colour].Key}
			if m.To = m.Colour; w.To[i] != nil {
				m.To = colour.Hex(*w.To[i])
			}
			p.To = append(p.To, m)
		}
		p.To[n].Count++
		p.To[n].Area += it.Area
		if on[k] == nil {
			on[k] = make([]bool, len(boards))
		}
		for b := range boards {
			on[k][b] = on[k][b] || boards[b].Holds(d, it)
		}
	}
	for k := range out {
		for b, is := range on[k] {
			if is {
				out[k].Boards = append(out[k].Boards, boards[b].ID)
			}
		}
	}
	return out
}

// Families gathers a drawing's colours into n families, as parts; 0 finds how many there are.
func (s *Studio) Families(ctx context.Context, id uuid.UUID, n int) ([]document.Part, error) {
	_, d, err := s.Drawing(ctx, id)
	if err != nil {
		return nil, err
	}
	f, err := artwork.Gather(d.Colours, n, nil)
	return familyParts(f), err
}

// PickDrawn lists the items whose colour is within a tolerance (CIEDE2000) of one, on some boards or all, fills or strokes
// or both.
func (s *Studio) PickDrawn(ctx context.Context, id uuid.UUID, css string, tolerance float64, prop string, boards []string) ([]int, []string, error) {
	if !(tolerance >= 0 && tolerance <= 100) {
		return nil, nil, problem.New("the tolerance runs from 0 to 100")
	}
	_, d, err := s.Drawing(ctx, id)
	if err != nil {
		return nil, nil, err
	}
	keys, err := artwork.Same(d.Colours, css, tolerance)
	if err != nil {
		return nil, nil, err
	}
	items := []int{}
	all := d.Boards()
	for i := range d.Items {
		it := &d.Items[i]
		if !slices.Contains(keys, d.Colours[it.Colour].Key) || prop != "" && it.Prop != prop {
			continue
		}
		on := len(boards) == 0
		for k := range all {
			on = on || slices.Contains(boards, all[k].ID) && all[k].Holds(d, it)
		}
		if on {
			items = append(items, i)
		}
	}
	return items, keys, nil
}

// renderDrawn gives a view of a drawing. What has been read for rendering is remembered: reading takes as long.
func (s *Studio) renderDrawn(ctx context.Context, pic store.Picture, svg []byte, v View) ([]byte, error) {
	sum := sha256.Sum256(svg)
	r, err := memo.Get(ctx, s.memory, "rendering|"+string(sum[:]), func(*apart.Rendering) int64 { return 64<<20 + int64(30*len(svg)) }, func(ctx context.Context) (*apart.Rendering, error) {
		return s.derived.Readers.OpenDrawing(ctx, svg)
	})
	if err != nil {
		return nil, err
	}
	k := float64(v.Width) / v.W // device pixels a pixel of the picture
	return r.RGBA(ctx, k*float64(pic.Width), k*float64(pic.Height), int(math.Round(v.X*k)), int(math.Round(v.Y*k)), v.Width, v.Height, drawingTime)
}

// shapes is a drawing made of shapes: an SVG, or what was made one.
type shapes struct{ asDocument }

func (s shapes) drawing(ctx context.Context) (*artwork.Drawing, document.Want, error) {
	d, err := s.svg(ctx, s.pic.SHA)
	if err != nil {
		return nil, document.Want{}, err
	}
	w, err := s.doc.Drawn(d)
	return d, w, err
}

// recoloured returns the file in its colours.
func (s shapes) recoloured(ctx context.Context) ([]byte, error) {
	d, err := s.svg(ctx, s.pic.SHA)
	if err != nil {
		return nil, err
	}
	r, err := s.doc.Recoloured(d)
	return r.Source, err
}

func (s shapes) render(ctx context.Context, v View) ([]byte, error) {
	if v.Show == "before" {
		s.doc = document.Picture{}
	}
	svg, err := s.recoloured(ctx)
	if err != nil {
		return nil, err
	}
	return s.renderDrawn(ctx, s.pic, svg, v)
}

func (s shapes) prove(ctx context.Context) (Measured, error) {
	return proveDrawing(ctx, s, &s.doc)
}

// proveDrawing measures the families of a drawing, in which nothing outside of them can change.
func proveDrawing(ctx context.Context, m medium, doc *document.Picture) (Measured, error) {
	d, w, err := m.drawing(ctx)
	if err != nil {
		return Measured{}, err
	}
	return Measured{Parts: proof.MeasureDrawing(doc, d, w).Parts}, nil
}

// colours of a drawing are those that most things are painted with.
func (s shapes) colours(ctx context.Context, k int) ([]palette.Taken, error) {
	d, err := s.svg(ctx, s.pic.SHA)
	if err != nil {
		return nil, err
	}
	total := 0
	for i := range d.Colours {
		total += d.Colours[i].Count
	}
	out := []palette.Taken{}
	for i := range d.Colours[:min(len(d.Colours), k)] {
		out = append(out, palette.Taken{Lab: d.Colours[i].Lab(), Share: float64(d.Colours[i].Count) / float64(total)})
	}
	return out, nil
}

func (shapes) space(context.Context) (string, error) { return colour.SRGB.Name, nil }

func (s shapes) deliver(ctx context.Context, o ordered) error {
	svg, err := s.recoloured(ctx)
	if err != nil {
		return err
	}
	if err := o.report(0.3); err != nil {
		return err
	}
	switch o.format {
	case FormatSVG:
		return os.WriteFile(o.out, o.options.Rights.InSVG(svg), 0o644)
	case "pdf":
		return imagefile.DrawingToPDF(ctx, svg, o.out)
	case "ora", "masks":
		return problem.New("a drawing is delivered as SVG, PDF or pixels; OpenRaster and masks are of photos")
	}
	w, h := s.pic.Width, s.pic.Height
	if o.options.Longest > 0 {
		k := float64(o.options.Longest) / float64(max(w, h))
		w, h = max(1, int(math.Round(float64(w)*k))), max(1, int(math.Round(float64(h)*k)))
	}
	if n := int64(w) * int64(h); n > s.derived.Limits.Pixels {
		return problem.Inputf("%d x %d pixels are %d megapixels; a drawing is delivered in at most %d", w, h, n/1_000_000, s.derived.Limits.Pixels/1_000_000)
	}
	flat := filepath.Join(o.work, "drawing.png")
	if err := s.derived.Readers.DrawingToPNG(ctx, svg, w, h, deliverTime, flat); err != nil {
		return err
	}
	if err := o.report(0.6); err != nil {
		return err
	}
	raw := filepath.Join(o.work, "drawing.raw")
	info, err := s.derived.Readers.Decode(ctx, flat, raw, s.derived.Limits)
	if err != nil {
		return err
	}
	o.options.Longest = 0
	return s.derived.Readers.Encode(ctx, raw, info, flat, o.format, o.quality, o.options, o.out)
}
