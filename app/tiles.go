package app

import (
	"context"
	"encoding/hex"
	"os"
	"path/filepath"

	"github.com/google/uuid"

	"episema/core/colour"
	"episema/core/pattern"
	"episema/core/raster"
	"episema/imagefile"
	"episema/internal/problem"
)

// Tile is a picture taken apart to be the tile of a pattern.
type Tile struct {
	File          string       // names it in documents of the picture that it was made for
	Colours       []colour.Lab // of its figures, the largest first
	Ground        *colour.Lab  // nil: it is transparent there
	Width, Height int          // of the picture it was taken from
	Credit        string       // that goes with what is delivered; empty where none is asked for
}

// sketchBytes is what drawing a tile takes, generously.
const sketchBytes = 16 << 20

// tileSide is the long side at which a picture is taken apart; its tile is half as wide.
const tileSide = 2048

// TakeTile makes a tile for patterns in a picture from another picture of the same job, as that stands. One that has no figures is an
// *problem.Input.
func (s *Studio) TakeTile(ctx context.Context, id, from uuid.UUID) (t Tile, err error) {
	defer raster.Recover(&err)
	to, err := s.Store.Head(ctx, id)
	if err != nil {
		return t, err
	}
	src, err := s.Store.Head(ctx, from)
	if err != nil {
		return t, err
	}
	if src.Job != to.Job {
		return t, problem.New("the tile's picture is in another job; bring it into this one first")
	}
	credit, err := usedElsewhere(src)
	if err != nil {
		return t, err
	}
	w, h := fitted(src.Width, src.Height, tileSide)
	if src.Format != FormatSVG { // pixels are not enlarged
		w, h = fitted(src.Width, src.Height, min(tileSide, max(src.Width, src.Height)))
	}
	if w < 2 || h < 2 {
		return t, problem.New("the picture is too narrow to be a tile")
	}
	full := float64(src.Width) / float64(w)
	pix, err := s.Render(ctx, from, View{W: float64(w) * full, H: float64(h) * full, Width: w, Height: h, Show: "picture"})
	if err != nil {
		return t, err
	}
	leave, err := s.admit(ctx, int64(w)*int64(h)*bytesAPixel)
	if err != nil {
		return t, err
	}
	defer leave()
	f, err := pattern.TakeApart(pix, w, h, ctx.Done())
	if err != nil {
		return t, problem.New("this picture makes no tile: " + err.Error())
	}
	file, err := s.keepTile(ctx, id, f.Mask, "tile of "+src.Name)
	return Tile{file, f.Colours, f.Ground, src.Width, src.Height, credit}, err
}

// keepTile makes a tile a mask of a picture, and returns what names it in documents.
func (s *Studio) keepTile(ctx context.Context, id uuid.UUID, m *raster.Mask, name string) (file string, err error) {
	path := filepath.Join(s.derived.Making(), "tile-"+uuid.NewString()+".png")
	defer os.Remove(path)
	if err := imagefile.WriteMask(path, m.W, m.H, func(r raster.Rect) (*raster.Mask, error) { return m.Crop(r), nil }); err != nil {
		return "", err
	}
	sha, err := s.putFile(ctx, path)
	if err != nil {
		return "", err
	}
	return hex.EncodeToString(sha), s.Store.AddMask(ctx, id, sha, pictureName(name))
}

// DrawTile makes a tile for patterns in a picture of strokes, and says which figures are on it. Strokes of which nothing is left are a
// *problem.Input.
func (s *Studio) DrawTile(ctx context.Context, id uuid.UUID, strokes []pattern.Sketched) (file string, figures []int, err error) {
	defer raster.Recover(&err)
	if _, err := s.Store.Head(ctx, id); err != nil {
		return "", nil, err
	}
	leave, err := s.admit(ctx, sketchBytes)
	if err != nil {
		return "", nil, err
	}
	defer leave()
	m, figures, err := pattern.Sketch(strokes, ctx.Done())
	if err != nil {
		return "", nil, problem.New(err.Error())
	}
	file, err = s.keepTile(ctx, id, m, "tile drawn by hand")
	return file, figures, err
}

// fitted returns the size that a picture has when its long side has so many pixels.
func fitted(w, h, side int) (int, int) {
	if w >= h {
		return side, max(1, h*side/w)
	}
	return max(1, w*side/h), side
}
