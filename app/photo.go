package app

import (
	"context"
	"slices"

	"episema/app/export"
	"episema/core/artwork"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/palette"
	"episema/core/proof"
	"episema/core/raster"
	"episema/imagefile"
	"episema/internal/problem"
)

// photo is a picture whose parts are selected in its pixels.
type photo struct{ asDocument }

func (s photo) render(ctx context.Context, v View) ([]byte, error) {
	pix, err := s.view(ctx, v)
	if err == nil && v.Stage && !v.Draft {
		s.prepare(s.pic.SHA) // what is seen comes first
	}
	return pix, err
}

func (s photo) view(ctx context.Context, v View) ([]byte, error) {
	pic, doc := s.pic, s.doc
	if v.Show == "before" {
		doc = document.Picture{}
	}
	p, release, err := s.derived.Pyramid(ctx, pic.SHA)
	if err != nil {
		return nil, err
	}
	defer release()
	effort := isolate.Exact
	if v.Draft {
		effort = isolate.Quick
	}
	d, err := s.develop(ctx, p, pic, doc, effort)
	if err != nil {
		return nil, err
	}
	if err := ctx.Err(); err != nil {
		return nil, err // a newer value is wanted already
	}
	if (v.Show == "before" || v.Show == "picture") && d.Untouched() {
		return s.asItCame(ctx, p, v, d)
	}
	d.Again, d.Ahead = v.Stage, v.Ahead
	g := gridOf(p, v, d.Margin)
	src, err := s.light(ctx, p, pic.SHA, g)
	if err != nil {
		return nil, err
	}
	maskGrid := g
	if v.Draft && g.level < p.Levels()-1 {
		maskGrid = g.coarser() // a quick mask is no finer
	}
	masks, err := s.masks(ctx, d, maskGrid)
	if err != nil {
		return nil, err
	}
	painted, err := d.Paint(src, masks, g.place(), g.inner())
	if err == nil {
		err = ctx.Err()
	}
	if err != nil {
		return nil, err
	}
	var part *raster.Mask
	if at := slices.IndexFunc(d.Parts, func(q develop.Part) bool { return q.ID == v.Part }); at >= 0 {
		switch q := &d.Parts[at]; v.Show {
		case "cast":
			part = q.CastMask(g.place(), src.W, src.H)
		case "changed":
			part = d.ChangedMask(at, painted.Before, masks[at])
		default:
			part = masks[at]
		}
	}
	defer painted.Release()
	pix := display(p.Space, painted.After, g.inner(), g.first(), part, v.Show, v.Overlay)
	return enlarge(pix, g.w, g.h, v.Width, v.Height), nil
}

// asItCame returns a view of a picture that nothing changes.
func (s photo) asItCame(ctx context.Context, p *imagefile.Pyramid, v View, d *develop.Developed) ([]byte, error) {
	g := gridOf(p, v, func(float64) int { return 0 })
	if r := g.area(p); g.whole(r) {
		if pix, ok, err := p.Shown(g.level, r, ctx.Done()); ok || err != nil {
			return enlarge(pix, g.w, g.h, v.Width, v.Height), err
		}
	}
	if v.Show == "before" {
		g = gridOf(p, v, d.Margin) // what it is laid against is read with as much around it, most times
	}
	src, err := s.light(ctx, p, s.pic.SHA, g)
	if err != nil {
		return nil, err
	}
	return enlarge(display(p.Space, src, g.inner(), g.first(), nil, v.Show, v.Overlay), g.w, g.h, v.Width, v.Height), nil
}

// masks returns the masks of all parts on a grid, settled among each other; nil for a part without picks.
func (s photo) masks(ctx context.Context, d *develop.Developed, g grid) ([]*raster.Mask, error) {
	masks := make([]*raster.Mask, len(d.Parts))
	for i := range d.Parts {
		if d.Parts[i].Selection.Empty() {
			continue
		}
		var err error
		if masks[i], err = s.mask(ctx, s.pic.SHA, &d.Parts[i], g); err != nil {
			return nil, err
		}
	}
	if err := ctx.Err(); err != nil {
		return nil, err
	}
	masks = d.Settle(masks)
	return masks, ctx.Err()
}

func (s photo) prove(ctx context.Context) (m Measured, err error) {
	p, release, err := s.derived.Pyramid(ctx, s.pic.SHA)
	if err != nil {
		return m, err
	}
	defer release()
	d, err := s.develop(ctx, p, s.pic, s.doc, isolate.Exact)
	if err != nil {
		return m, err
	}
	inks, err := s.inksOf(ctx, s.pic.Content)
	if err != nil {
		return m, err
	}
	m.Unfilled = d.Unfilled
	m.Parts, m.ChangedOutside, err = proof.MeasureInInk(d, inks)
	return m, err
}

func (photo) drawing(context.Context) (*artwork.Drawing, document.Want, error) {
	return nil, document.Want{}, problem.New("this picture is a photo, not a drawing")
}

// coloursAt is the long side of the level that a photo's colours are taken from.
const coloursAt = 400

func (s photo) colours(ctx context.Context, k int) ([]palette.Taken, error) {
	p, release, err := s.derived.Pyramid(ctx, s.pic.SHA)
	if err != nil {
		return nil, err
	}
	defer release()
	level := levelUpTo(p, coloursAt)
	w, h := p.Size(level)
	px, err := p.Linear(level, raster.Rect{X1: w, Y1: h})
	if err != nil {
		return nil, err
	}
	return palette.OfPicture(p.Space, px, k), nil
}

func (s photo) space(ctx context.Context) (string, error) {
	p, release, err := s.derived.Pyramid(ctx, s.pic.SHA)
	if err != nil {
		return "", err
	}
	defer release()
	return p.Space.Name, nil
}

// prepared makes the document ready to be delivered; its selections are cut in one piece.
func (s photo) prepared(ctx context.Context, p *imagefile.Pyramid) (*develop.Developed, error) {
	defer s.hands.alone(ctx)()
	return s.develop(ctx, p, s.pic, s.doc, isolate.Exact)
}

func (s photo) deliver(ctx context.Context, o ordered) error {
	if o.format == FormatSVG || o.format == "pdf" {
		return problem.New("a photo is not delivered as " + o.format + "; choose a format of pixels for it")
	}
	p, release, err := s.derived.Pyramid(ctx, s.pic.SHA)
	if err != nil {
		return err
	}
	defer release()
	d, err := s.prepared(ctx, p)
	if err != nil {
		return err
	}
	switch o.format {
	case "ora":
		return export.OpenRaster(d, p, o.out, o.report)
	case "masks":
		return export.Masks(d, p, o.out, o.report)
	}
	original, done, err := s.derived.Original(ctx, s.pic.SHA)
	if err != nil {
		return err
	}
	defer done()
	t, err := export.Picture(d, p, original, o.work, o.format, o.quality, o.options, o.out, o.report, func(raw string, info imagefile.Info, original, format string, quality int, opts imagefile.Options, out string) error {
		return s.derived.Readers.Encode(ctx, raw, info, original, format, quality, opts, out)
	})
	if err != nil {
		return err
	}
	return t.Deliverable()
}
