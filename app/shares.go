package app

import (
	"context"
	"image"
	"runtime"
	"slices"

	"github.com/google/uuid"
	"golang.org/x/sync/errgroup"

	"episema/core/colour"
	"episema/core/document"
	"episema/internal/problem"
)

// Of how many colours shares are given at once, and how many pixels their sheets have together.
const (
	mostShares      = 24
	mostSharePixels = 80_000_000
)

// Shares gives how much of each pixel of a view of a drawing is painted in each of some colours of a part: what a change of
// them changes there, times the change, since painting one colour over another mixes coded values. A page can so follow a
// hand on a drawing that takes long to paint. It comes as a PNG: for each three colours, from the top down, the view with
// their shares as red, green and blue. Filters and blend modes that are not linear make it an approximation.
func (s *Studio) Shares(ctx context.Context, id uuid.UUID, part string, colours []string, v View) ([]byte, error) {
	if len(colours) == 0 || len(colours) > mostShares || v.Width < 1 || v.Height < 1 || v.Width > 8192 || v.Height > 8192 || !(v.W > 0) || !(v.H > 0) {
		return nil, problem.New("shares are given of 1 to 24 colours, in a view of 1 to 8192 pixels")
	}
	sheets := (len(colours) + 2) / 3
	if v.Width*v.Height*sheets > mostSharePixels {
		return nil, problem.New("shares of so many colours are given in a smaller view: 80 million pixels for all sheets of three colours together")
	}
	m, _, doc, err := s.medium(ctx, id, v.Document)
	if err != nil {
		return nil, err
	}
	of, ok := m.(shapes)
	if !ok {
		return nil, problem.New("shares are given of drawings that are made of shapes")
	}
	at := slices.IndexFunc(doc.Parts, func(p document.Part) bool { return p.ID == part })
	if at < 0 {
		return nil, problem.New("the document has no such part")
	}
	full, none, err := s.inPrimaries(ctx, of, at, colours, sheets, v)
	if err != nil {
		return nil, err
	}
	return pngOf(sharesOf(full, none, v.Width, v.Height))
}

// inPrimaries renders a drawing once for each sheet of three colours of a part, these in the primaries of light and all else black: what is
// then seen is the shares, but for embedded pictures, which none has alone; it is nil where there are none.
func (s *Studio) inPrimaries(ctx context.Context, of shapes, part int, colours []string, sheets int, v View) (full [][]byte, none []byte, err error) {
	d, w, err := of.drawing(ctx)
	if err != nil {
		return nil, nil, err
	}
	full = make([][]byte, sheets+1)
	g, ctx := errgroup.WithContext(ctx)
	g.SetLimit(runtime.GOMAXPROCS(0))
	for n := range full {
		if n == sheets && len(d.Images) == 0 {
			break
		}
		g.Go(func() (err error) {
			if err := ctx.Err(); err != nil {
				return err
			}
			r := d.Apply(func(i int) *colour.Lab {
				k := slices.Index(colours, d.Colours[d.Items[i].Colour].Key) - 3*n
				if w.At[i] != part || k < 0 || k >= 3 {
					return &black
				}
				return &primaries[k]
			})
			full[n], err = s.renderDrawn(ctx, of.pic, r.Source, v)
			return err
		})
	}
	err = g.Wait() // before they are looked at
	return full[:sheets], full[sheets], err
}

// sharesOf lays sheets of w x h RGBA pixels below each other, each without what none has, over black.
func sharesOf(full [][]byte, none []byte, w, h int) image.Image {
	out := image.NewRGBA(image.Rect(0, 0, w, h*len(full)))
	for n, sheet := range full {
		to := out.Pix[4*n*w*h:]
		for i := 0; i < len(sheet); i += 4 {
			a := int(sheet[i+3])
			for c := range 3 {
				is := int(sheet[i+c])
				if none != nil {
					is = max(0, is-int(none[i+c]))
				}
				to[i+c] = uint8((is*a + 127) / 255)
			}
			to[i+3] = 255
		}
	}
	return out
}

var (
	black     = colour.SRGB.Lab(colour.RGB{})
	primaries = [3]colour.Lab{colour.SRGB.Lab(colour.RGB{1, 0, 0}), colour.SRGB.Lab(colour.RGB{0, 1, 0}), colour.SRGB.Lab(colour.RGB{0, 0, 1})}
)

// PartColours says what each colour of each family becomes.
type PartColours struct {
	ID string
	To map[string]string
}

// Coloured says what a document makes of the colours of a drawing's families, without looking at the drawing.
func (s *Studio) Coloured(ctx context.Context, id uuid.UUID, draft *document.Picture) ([]PartColours, error) {
	_, doc, err := s.picture(ctx, id, draft)
	if err != nil {
		return nil, err
	}
	var out []PartColours
	for k := range doc.Parts {
		p := &doc.Parts[k]
		changes, err := p.Becomes()
		if err != nil {
			return nil, err
		}
		o := PartColours{p.ID, map[string]string{}}
		for c, l := range changes {
			o.To[c] = colour.Hex(l)
		}
		out = append(out, o)
	}
	return out, nil
}
