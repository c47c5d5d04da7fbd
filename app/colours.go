package app

import (
	"context"

	"github.com/google/uuid"

	"episema/core/colour"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/proof"
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

// MostVivid returns how vivid (Oklab chroma) the most vivid colour of a photo is that is like one of a lightness (0..1) and a hue (in
// degrees), looked for where the proof looks for it (proof.MostVivid); 0 where there is none like it, and of a drawing of shapes.
func (s *Studio) MostVivid(ctx context.Context, id uuid.UUID, lightness, hue float64) (float64, error) {
	pic, err := s.Store.Picture(ctx, id)
	if err != nil {
		return 0, err
	}
	if _, ok := s.mediumOf(pic, document.Picture{}).(photo); !ok {
		return 0, nil
	}
	p, release, err := s.derived.Pyramid(ctx, pic.SHA)
	if err != nil {
		return 0, err
	}
	defer release()
	px, err := develop.Source{Done: ctx.Done(), Pyramid: p, Space: p.Space}.LearningPicture(picked{ctx, s.memory, string(pic.SHA)})
	if err != nil {
		return 0, err
	}
	const faint = 0.01 // a hue needs some chroma to be one
	return proof.MostVivid(p.Space, px, p.Space.Lab(p.Space.FromOklab(colour.OklabOfPolar(lightness, faint, hue)))), nil
}
