package app

import (
	"context"
	"math"
	"os"
	"path/filepath"

	"episema/core/artwork"
	"episema/core/colour"
	"episema/core/document"
	"episema/core/palette"
	"episema/core/raster"
	"episema/imagefile"
	"episema/internal/memo"
	"episema/internal/problem"
)

// drawnInPixels reports whether a picture, of pixels, is a flat drawing: its parts are families of exact colours.
func drawnInPixels(doc document.Picture) bool {
	for i := range doc.Parts {
		if doc.Parts[i].Family != nil {
			return true
		}
	}
	return false
}

// pixels gives a decoded picture as 8 bit RGBA; nil where it is not 8 bit sRGB.
func pixels(p *imagefile.Pyramid) ([]byte, error) {
	if p.Info.Bits != 8 || p.Space != colour.SRGB {
		return nil, nil
	}
	w, h := p.Size(0)
	b, err := p.Coded(0, raster.Rect{X1: w, Y1: h})
	if err != nil || p.Info.Bands == 4 {
		return b, err
	}
	out := make([]byte, 4*w*h)
	for i := range w * h {
		out[4*i], out[4*i+1], out[4*i+2], out[4*i+3] = b[3*i], b[3*i+1], b[3*i+2], 255
	}
	return out, nil
}

// flatDocument gives the families of a PNG that is a flat drawing of pixels; no parts for a photo.
func flatDocument(p *imagefile.Pyramid) (document.Picture, error) {
	doc := document.Picture{Parts: []document.Part{}}
	if w, h := p.Size(0); p.Info.Format != "png" || w*h > artwork.MostFlat {
		return doc, nil
	}
	pix, err := pixels(p)
	if err != nil || pix == nil {
		return doc, err
	}
	f, ok := artwork.NewFlat(pix, p.Info.Width, p.Info.Height)
	if !ok || len(f.Colours) < 2 {
		return doc, nil
	}
	families, err := artwork.Gather(f.Colours, 0, nil)
	doc.Parts = familyParts(families)
	return doc, err
}

// flat gives a flat drawing, remembered.
func (s *Studio) flat(ctx context.Context, sha []byte) (*artwork.Flat, error) {
	return memo.Get(ctx, s.memory, "flat|"+string(sha), func(f *artwork.Flat) int64 { return int64(6 * f.W * f.H) }, func(ctx context.Context) (*artwork.Flat, error) {
		p, release, err := s.derived.Pyramid(ctx, sha)
		if err != nil {
			return nil, err
		}
		defer release()
		pix, err := pixels(p)
		if err != nil {
			return nil, err
		}
		f, ok := artwork.NewFlat(pix, p.Info.Width, p.Info.Height)
		if !ok {
			return nil, problem.New("this picture is a photo: it has no exact colours to gather into families")
		}
		return f, nil
	})
}

// pixelArt is a flat drawing of pixels: its families are of exact colours.
type pixelArt struct{ asDocument }

func (s pixelArt) drawing(ctx context.Context) (*artwork.Drawing, document.Want, error) {
	f, err := s.flat(ctx, s.pic.SHA)
	if err != nil {
		return nil, document.Want{}, err
	}
	d := f.Drawing()
	w, err := s.doc.Drawn(d)
	return d, w, err
}

// recoloured returns the drawing as it came in, and its pixels in their colours.
func (s pixelArt) recoloured(ctx context.Context) (*artwork.Flat, []byte, error) {
	f, err := s.flat(ctx, s.pic.SHA)
	if err != nil {
		return nil, nil, err
	}
	w, err := s.doc.Drawn(f.Drawing())
	if err != nil {
		return nil, nil, err
	}
	return f, f.Recolour(w.To), nil // an item for each colour, in their order
}

func (s pixelArt) prove(ctx context.Context) (Measured, error) {
	return proveDrawing(ctx, s, &s.doc)
}

func (s pixelArt) colours(ctx context.Context, k int) ([]palette.Taken, error) {
	return photo(s).colours(ctx, k)
}

func (s pixelArt) space(ctx context.Context) (string, error) { return photo(s).space(ctx) }

// render shows it with its transparency: enlarged pixels are repeated, others averaged in light.
func (s pixelArt) render(ctx context.Context, v View) ([]byte, error) {
	if v.Show == "before" {
		s.doc = document.Picture{}
	}
	f, pix, err := s.recoloured(ctx)
	if err != nil {
		return nil, err
	}
	k := v.W / float64(v.Width)
	out := make([]byte, 4*v.Width*v.Height)
	if k <= 1 {
		for y := range v.Height {
			sy := int(v.Y + (float64(y)+0.5)*k)
			for x := range v.Width {
				if sx := int(v.X + (float64(x)+0.5)*k); sx >= 0 && sy >= 0 && sx < f.W && sy < f.H {
					copy(out[4*(y*v.Width+x):], pix[4*(sy*f.W+sx):4*(sy*f.W+sx)+4])
				}
			}
		}
		return out, nil
	}
	light := make([]float32, 4*f.W*f.H)
	lut := &colour.Light8
	raster.Parallel(f.H, func(y int) {
		for i := y * f.W; i < (y+1)*f.W; i++ {
			a := float32(pix[4*i+3]) / 255
			light[4*i], light[4*i+1], light[4*i+2], light[4*i+3] = a*lut[pix[4*i]], a*lut[pix[4*i+1]], a*lut[pix[4*i+2]], a
		}
	})
	small := raster.Shrink(light, f.W, f.H, 4, v.X, v.Y, k, v.Width, v.Height)
	for i := range v.Width * v.Height {
		a := float64(small[4*i+3])
		if a <= 0 {
			continue
		}
		for c := range 3 {
			out[4*i+c] = uint8(math.Round(255 * math.Max(0, math.Min(1, colour.SRGBEncode(float64(small[4*i+c])/a)))))
		}
		out[4*i+3] = uint8(math.Round(255 * math.Min(1, a)))
	}
	return out, nil
}

func (s pixelArt) deliver(ctx context.Context, o ordered) error {
	if o.format == FormatSVG || o.format == "pdf" || o.format == "ora" || o.format == "masks" {
		return problem.New("a drawing of pixels is delivered in a format of pixels, such as PNG")
	}
	p, release, err := s.derived.Pyramid(ctx, s.pic.SHA)
	if err != nil {
		return err
	}
	defer release()
	original, done, err := s.derived.Original(ctx, s.pic.SHA)
	if err != nil {
		return err
	}
	defer done()
	_, pix, err := s.recoloured(ctx)
	if err != nil {
		return err
	}
	if p.Info.Bands == 3 {
		for i := range len(pix) / 4 {
			copy(pix[3*i:3*i+3], pix[4*i:4*i+3])
		}
		pix = pix[:len(pix)/4*3]
	}
	if err := o.report(0.5); err != nil {
		return err
	}
	raw := filepath.Join(o.work, "flat.raw")
	if err := os.WriteFile(raw, pix, 0o644); err != nil {
		return err
	}
	return s.derived.Readers.Encode(ctx, raw, p.Info, original, o.format, o.quality, o.options, o.out)
}
