package api

import (
	"context"

	"episema/core/colour"
	"episema/core/isolate"
)

// TakeTile takes a picture apart to be the tile of a pattern.
func (s *Server) TakeTile(ctx context.Context, r TakeTileRequestObject) (TakeTileResponseObject, error) {
	t, err := s.Studio.TakeTile(ctx, r.Picture, r.Body.From)
	if err != nil {
		return nil, err
	}
	o := TakeTile200JSONResponse{File: t.File, Colours: []string{}, Width: t.Width, Height: t.Height}
	for _, c := range t.Colours {
		o.Colours = append(o.Colours, colour.Hex(c))
	}
	if t.Ground != nil {
		g := colour.Hex(*t.Ground)
		o.Ground = &g
	}
	if t.Credit != "" {
		o.Credit = &t.Credit
	}
	return o, nil
}

// DrawTile makes a tile of strokes.
func (s *Server) DrawTile(ctx context.Context, r DrawTileRequestObject) (DrawTileResponseObject, error) {
	file, figures, err := s.Studio.DrawTile(ctx, r.Picture, r.Body.Strokes)
	if err != nil {
		return nil, err
	}
	return DrawTile200JSONResponse{File: file, Figures: figures}, nil
}

// CutOut cuts a part out of another picture.
func (s *Server) CutOut(ctx context.Context, r CutOutRequestObject) (CutOutResponseObject, error) {
	p, err := s.Studio.CutOut(ctx, r.Picture, r.Body.From, r.Body.Part)
	if err != nil {
		return nil, err
	}
	if p.Picks == nil {
		p.Picks = []isolate.Pick{}
	}
	return CutOut200JSONResponse(p), nil
}
