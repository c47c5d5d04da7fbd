package app

import (
	"context"

	"github.com/google/uuid"

	"episema/core/colour"
	"episema/core/proof"
	"episema/core/raster"
)

// Plane draws the Oklch colours of a hue, as colour.Plane does; of a job with an ink profile with the edge of what its inks reach. job
// may be nil.
func (s *Studio) Plane(ctx context.Context, hue float64, w, h int, job *uuid.UUID) ([]byte, error) {
	var inks *colour.InkTable
	if job != nil {
		j, err := s.Store.Job(ctx, *job)
		if err != nil {
			return nil, err
		}
		if inks, err = s.inksOf(ctx, j.Content); err != nil {
			return nil, err
		}
	}
	return colour.Plane(hue, w, h, inks), nil
}

// vividSide is the side, in pixels, of the level that the most vivid colour is looked for on: about that of the proof.
const vividSide = 1000

// MostVivid returns how vivid (Oklab chroma) the most vivid colour of a photo is that is like one of a lightness (0..1) and a hue (in
// degrees), as proof.MostVivid finds it; 0 where there is none like it.
func (s *Studio) MostVivid(ctx context.Context, id uuid.UUID, lightness, hue float64) (float64, error) {
	pic, err := s.Store.Picture(ctx, id)
	if err != nil {
		return 0, err
	}
	if pic.Format == FormatSVG {
		return 0, nil
	}
	p, release, err := s.derived.Pyramid(ctx, pic.SHA)
	if err != nil {
		return 0, err
	}
	defer release()
	level := levelUpTo(p, vividSide)
	w, h := p.Size(level)
	leave, err := s.admit(ctx, int64(w)*int64(h)*bytesAPixel)
	if err != nil {
		return 0, err
	}
	defer leave()
	px, err := p.Linear(level, raster.Rect{X1: w, Y1: h})
	if err == nil {
		err = ctx.Err()
	}
	if err != nil {
		return 0, err
	}
	const faint = 0.01 // a hue needs some chroma to be one
	return proof.MostVivid(p.Space, px, p.Space.Lab(p.Space.FromOklab(colour.OklabOfPolar(lightness, faint, hue)))), nil
}
