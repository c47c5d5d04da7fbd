package app

import (
	"context"

	"github.com/google/uuid"

	"episema/core/artwork"
	"episema/core/document"
	"episema/core/palette"
	"episema/imagefile"
	"episema/store"
)

// medium is what a picture is made of: a photo (photo.go), a drawing of shapes (drawings.go) or a drawing of pixels (flat.go).
// All that differs between them stands behind it; nothing else asks for a picture's format.
type medium interface {
	// render returns a view as rows of 8 bit sRGB RGBA. The view is one that checkView lets pass.
	render(ctx context.Context, v View) ([]byte, error)
	// prove measures every part, and counts the pixels that changed outside of all.
	prove(ctx context.Context) (Measured, error)
	// drawing returns the drawing and what its items become; of a photo it is a *problem.Input.
	drawing(ctx context.Context) (*artwork.Drawing, document.Want, error)
	// colours returns at most k colours that stand for the picture as it came in, the one with the largest share first.
	colours(ctx context.Context, k int) ([]palette.Taken, error)
	// space names the colour space of its pixels.
	space(ctx context.Context) (string, error)
	// deliver writes the file that is ordered; a format that the medium has no file in is a *problem.Input.
	deliver(ctx context.Context, o ordered) error
}

// asDocument is a picture with a document: what a medium is made from.
type asDocument struct {
	*Studio
	pic store.Picture
	doc document.Picture
}

// ordered is the file that a delivery asks for.
type ordered struct {
	format    string
	quality   int // of formats that lose something, 1..100
	options   imagefile.Options
	work, out string // a folder for what is needed on the way, and the path of the file
	report    func(progress float64) error
}

// mediumOf returns the medium of a picture as a document has it.
func (s *Studio) mediumOf(pic store.Picture, doc document.Picture) medium {
	p := asDocument{s, pic, doc}
	switch {
	case pic.Format == FormatSVG:
		return shapes{p}
	case drawnInPixels(doc):
		return pixelArt{p}
	}
	return photo{p}
}

// medium returns the medium of a picture: as it is stored, or as a draft has it.
func (s *Studio) medium(ctx context.Context, id uuid.UUID, draft *document.Picture) (medium, store.Picture, document.Picture, error) {
	pic, doc, err := s.picture(ctx, id, draft)
	if err != nil {
		return nil, pic, doc, err
	}
	return s.mediumOf(pic, doc), pic, doc, nil
}
