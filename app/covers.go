package app

import (
	"context"

	"github.com/google/uuid"

	"episema/core/document"
	"episema/core/isolate"
	"episema/core/mend"
	"episema/core/raster"
	"episema/internal/problem"
)

// mostCovers is how many places for a cover are offered.
const mostCovers = 3

// Covers looks for places that could cover what a patch encloses, in the picture as its parts are painted and before its mends.
func (s *Studio) Covers(ctx context.Context, id uuid.UUID, patch mend.Patch, draft *document.Picture) (found []mend.Found, err error) {
	defer raster.Recover(&err)
	if err := patch.Validate(); err != nil {
		return nil, problem.New(err.Error())
	}
	pic, doc, err := s.picture(ctx, id, draft)
	if err != nil {
		return nil, err
	}
	if _, ok := s.mediumOf(pic, doc).(photo); !ok {
		return nil, problem.New("a drawing has no patches; they are for photos")
	}
	p, release, err := s.derived.Pyramid(ctx, pic.SHA)
	if err != nil {
		return nil, err
	}
	defer release()
	doc.Mends = nil
	d, err := s.develop(ctx, p, pic, doc, isolate.Exact)
	if err != nil {
		return nil, err
	}
	r, err := d.Overview()
	if err != nil {
		return nil, err
	}
	return mend.FindCovers(r.After, float64(int(1)<<d.LearnLevel()), patch, mostCovers, ctx.Done()), nil
}
