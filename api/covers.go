package api

import "context"

// FindCovers offers places that could cover what an outline encloses.
func (s *Server) FindCovers(ctx context.Context, r FindCoversRequestObject) (FindCoversResponseObject, error) {
	doc, err := s.drafted(ctx, r.Picture, r.Body.Document, r.Body.Draft)
	if err != nil {
		return nil, err
	}
	found, err := s.Studio.Covers(ctx, r.Picture, r.Body.Patch, doc)
	if err != nil {
		return nil, err
	}
	o := FindCovers200JSONResponse{}
	for _, f := range found {
		o = append(o, FoundCover{Shift: f.Shift[:], Repeats: f.Repeats})
	}
	return o, nil
}
