package app

import (
	"context"

	"github.com/google/uuid"

	"episema/core/colour"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/proof"
	"episema/core/raster"
	"episema/imagefile"
	"episema/internal/problem"
)

// Probe is what stands at a pixel.
type Probe struct {
	Was, Is  colour.Lab
	WasHex   string
	Share    float64  // of the part at hand
	Distance *float64 // to the target of the part at hand
	Near     *float64 // where there is a depth map, 0 far to 1 near
}

// Probe tells what a pixel of the full-size picture was and is.
func (s *Studio) Probe(ctx context.Context, id uuid.UUID, x, y float64, part string, draft *document.Picture) (Probe, error) {
	pic, doc, err := s.picture(ctx, id, draft)
	if err != nil {
		return Probe{}, err
	}
	px, py := int(x), int(y)
	if px < 0 || py < 0 || px >= pic.Width || py >= pic.Height {
		return Probe{}, problem.New("that is outside the picture")
	}
	p, release, err := s.derived.Pyramid(ctx, pic.SHA)
	if err != nil {
		return Probe{}, err
	}
	defer release()
	d, err := s.develop(ctx, p, pic, doc, isolate.Exact)
	if err != nil {
		return Probe{}, err
	}
	r, err := d.Render(0, raster.Rect{X0: px, Y0: py, X1: px + 1, Y1: py + 1})
	if err != nil {
		return Probe{}, err
	}
	lab := func(q *raster.RGB) colour.Lab {
		return p.Space.Lab(colour.RGB{float64(q.Pix[0]), float64(q.Pix[1]), float64(q.Pix[2])})
	}
	o := Probe{Was: lab(r.Given), Is: lab(r.After)}
	o.WasHex = colour.Hex(o.Was)
	if d.Depth != nil {
		near := isolate.Nearness(d.Depth, (x+0.5)/float64(pic.Width), (y+0.5)/float64(pic.Height))
		o.Near = &near
	}
	for i := range d.Parts {
		if d.Parts[i].ID != part {
			continue
		}
		if r.Masks[i] != nil {
			o.Share = float64(r.Masks[i].Pix[0]) / raster.Whole
		}
		if d.Parts[i].Plan != nil {
			e := colour.DeltaE00(o.Is, d.Parts[i].Want)
			o.Distance = &e
		}
	}
	return o, nil
}

// CardDoubt says what speaks against taking what lies at a point of the full-size picture for a grey card; empty where nothing does.
func (s *Studio) CardDoubt(ctx context.Context, id uuid.UUID, x, y float64) (string, error) {
	pic, _, err := s.picture(ctx, id, &document.Picture{})
	if err != nil {
		return "", err
	}
	p, release, err := s.derived.Pyramid(ctx, pic.SHA)
	if err != nil {
		return "", err
	}
	defer release()
	d, err := s.develop(ctx, p, pic, document.Picture{}, isolate.Exact)
	if err != nil {
		return "", err
	}
	return d.CardDoubt([2]float64{x, y})
}

// Measured is what a picture's document comes to.
type Measured struct {
	Parts          []proof.Part
	ChangedOutside int   // pixels of no part that changed
	Unfilled       []int // mends that nothing around can fill, by their places in the document
}

// Prove measures every part of a picture.
func (s *Studio) Prove(ctx context.Context, id uuid.UUID, draft *document.Picture) (Measured, error) {
	m, _, _, err := s.medium(ctx, id, draft)
	if err != nil {
		return Measured{}, err
	}
	return m.prove(ctx)
}

// Closely looks at a part at (nearly) full size; see proof.Closely.
func (s *Studio) Closely(ctx context.Context, id uuid.UUID, part string, draft *document.Picture) (c proof.Close, err error) {
	err = s.selection(ctx, id, part, draft, func(d *develop.Developed, at int, _ *imagefile.Pyramid) (err error) {
		c, err = proof.Closely(d, at, s.hands.between(ctx))
		return err
	})
	return c, err
}
