package app

import (
	"context"
	"encoding/json"
	"io"
	"os"
	"path/filepath"
	"strings"

	"github.com/google/uuid"

	"episema/core/document"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/imagefile"
	"episema/store"
)

// AddPicture takes a picture into a job: the file is checked and decoded once before anything is stored,
// so that a bad one leaves nothing behind. body streams; it is never whole in memory.
func (s *Studio) AddPicture(ctx context.Context, job uuid.UUID, name string, body io.Reader) (uuid.UUID, error) {
	if _, err := s.Store.Job(ctx, job); err != nil {
		return uuid.Nil, err
	}
	p, err := s.take(ctx, name, body)
	if err != nil {
		return uuid.Nil, err
	}
	p.Job = job
	return s.Store.AddPicture(ctx, p)
}

// take checks a file and stores it; what it gives is a picture of no job yet.
func (s *Studio) take(ctx context.Context, name string, body io.Reader) (store.Picture, error) {
	var none store.Picture
	path, done, err := s.spool(body, "upload-*")
	if err != nil {
		return none, err
	}
	defer done()
	if imagefile.IsPages(path) {
		svg, err := imagefile.PagesToSVG(ctx, path)
		if err != nil {
			return none, err
		}
		path := path + ".svg"
		defer os.Remove(path)
		if err := os.WriteFile(path, svg, 0o600); err != nil {
			return none, err
		}
		return s.takeDrawing(ctx, name, path)
	}
	if imagefile.IsDrawing(path) {
		return s.takeDrawing(ctx, name, path)
	}
	made := filepath.Join(s.derived.Making(), "picture-"+uuid.NewString())
	p, err := s.derived.Readers.BuildPyramid(ctx, path, made, s.derived.Limits)
	if err != nil {
		return none, err
	}
	info := p.Info
	flat, err := flatDocument(p)
	p.Close()
	if err != nil {
		os.RemoveAll(made)
		return none, err
	}
	defer os.RemoveAll(made)
	sha, err := s.putFile(ctx, path)
	if err != nil {
		return none, err
	}
	var depth []byte
	if m, err := s.derived.Readers.EmbeddedDepth(ctx, path); err != nil {
		return none, err
	} else if m != nil && imagefile.SameProportions(m, info.Width, info.Height) {
		png := path + ".depth"
		defer os.Remove(png)
		if err := imagefile.WriteMask(png, m.W, m.H, func(r raster.Rect) (*raster.Mask, error) { return m.Crop(r), nil }); err != nil {
			return none, err
		}
		if depth, err = s.putFile(ctx, png); err != nil {
			return none, err
		}
	}
	// The decoded picture is kept: the stage will want it next.
	if err := s.derived.Adopt(made, sha); err != nil {
		return none, err
	}
	doc, err := json.Marshal(flat)
	if err != nil {
		return none, err
	}
	return store.Picture{Name: pictureName(name), SHA: sha, Depth: depth, Width: info.Width, Height: info.Height,
		Bits: info.Bits, Format: info.Format, Document: doc}, nil
}

// pictureName makes a name people read out of a file name.
func pictureName(file string) string {
	n := strings.TrimSuffix(filepath.Base(strings.ReplaceAll(file, "\\", "/")), filepath.Ext(file))
	n = strings.TrimSpace(strings.NewReplacer("-", " ", "_", " ").Replace(strings.ToValidUTF8(n, "")))
	if n == "" || n == "." {
		return "Picture"
	}
	r := []rune(n)
	if len(r) > 120 {
		r = r[:120]
	}
	return strings.ToUpper(string(r[:1])) + string(r[1:])
}

// Edit stores an edit of a picture's document; see store.Edit for stale ones.
func (s *Studio) Edit(ctx context.Context, id uuid.UUID, base int64, label string, doc document.Picture) (store.Picture, error) {
	if err := doc.Validate(); err != nil {
		return store.Picture{}, err
	}
	if doc.Parts == nil {
		doc.Parts = []document.Part{}
	}
	b, err := json.Marshal(doc)
	if err != nil {
		return store.Picture{}, err
	}
	if strings.TrimSpace(label) == "" {
		label = "edit"
	}
	p, err := s.Store.Edit(ctx, id, base, label, b)
	if err == nil {
		s.remember(id, p.Revision, doc, len(b))
		s.Revisions.Changed(id)
	}
	return p, err
}

// Move undoes (-1) or redoes (1).
func (s *Studio) Move(ctx context.Context, id uuid.UUID, by int64) (store.Picture, error) {
	p, err := s.Store.Move(ctx, id, by)
	if err == nil {
		s.Revisions.Changed(id)
	}
	return p, err
}

// NewPart gives a part with the defaults.
func NewPart(name string) document.Part {
	return document.Part{ID: uuid.NewString(), Name: name, Settings: recolour.Defaults()}
}
