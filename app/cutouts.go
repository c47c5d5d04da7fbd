package app

import (
	"context"
	"encoding/hex"
	"os"
	"path/filepath"

	"github.com/google/uuid"

	"episema/core/copies"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/raster"
	"episema/imagefile"
	"episema/internal/problem"
)

// CutOut makes a part of another picture of the job one that can be set into this one: a copy of what it is there, with its target and
// its way of recolouring. What becomes of the other picture changes it no more. The part is not stored: whoever asked adds it.
func (s *Studio) CutOut(ctx context.Context, id, from uuid.UUID, part string) (q document.Part, err error) {
	to, err := s.Store.Head(ctx, id)
	if err != nil {
		return q, err
	}
	src, err := s.Store.Head(ctx, from)
	if err != nil {
		return q, err
	}
	switch {
	case src.Job != to.Job:
		return q, problem.New("the thing is of a picture in another job; bring that picture into this one first")
	case to.Format == FormatSVG || src.Format == FormatSVG:
		return q, problem.New("things are set from photo to photo; a drawing has none")
	}
	credit, err := usedElsewhere(src)
	if err != nil {
		return q, err
	}
	leave, err := s.admit(ctx, min(copies.MostCut, int64(src.Width)*int64(src.Height))*bytesAPixel)
	if err != nil {
		return q, err
	}
	defer leave()
	err = s.selection(ctx, from, part, nil, func(d *develop.Developed, at int, p *imagefile.Pyramid) error {
		pic, share, step, err := d.CutOut(at, copies.MostCut)
		if err != nil {
			return err
		}
		if share == nil {
			return problem.New("that part has nothing in it, or is a copy itself; choose another")
		}
		m := copies.Pack(pic, share, p.Space)
		path := filepath.Join(s.derived.Making(), "cut-"+uuid.NewString()+".png")
		defer os.Remove(path)
		if err := imagefile.WriteMask(path, m.W, m.H, func(r raster.Rect) (*raster.Mask, error) { return m.Crop(r), nil }); err != nil {
			return err
		}
		sha, err := s.putFile(ctx, path)
		if err != nil {
			return err
		}
		if err := s.Store.AddMask(ctx, id, sha, pictureName(d.Parts[at].Name+" of "+src.Name)); err != nil {
			return err
		}
		of := d.Parts[at].Part
		w, h := float64(pic.W), float64(pic.H)
		scale := min(step, 0.8*float64(to.Width)/w, 0.8*float64(to.Height)/h, 10)
		q = document.Part{ID: uuid.NewString(), Name: of.Name, Unnamed: of.Unnamed, Picks: nil, Target: of.Target, Own: of.Own, Settings: of.Settings,
			Copy: &copies.Copy{Cut: &copies.Cut{File: hex.EncodeToString(sha), Size: [2]int{pic.W, pic.H}, Credit: credit}, About: [2]float64{w / 2, h / 2},
				At: [2]float64{float64(to.Width / 2), float64(to.Height / 2)}, Scale: max(0.05, scale)}}
		q.Settings.Rebuild = nil // its strokes lie in the other picture
		return nil
	})
	return q, err
}
