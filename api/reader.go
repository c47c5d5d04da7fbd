package api

import (
	"context"
	"fmt"

	"episema/core/colour"
)

// ListReaderPlaces lists what the swatch reader can lie on.
func (s *Server) ListReaderPlaces(ctx context.Context, _ ListReaderPlacesRequestObject) (ListReaderPlacesResponseObject, error) {
	places, err := s.Studio.Reader.Places(ctx)
	return ListReaderPlaces200JSONResponse(places), err
}

// Measure has the swatch reader measure.
func (s *Server) Measure(ctx context.Context, r MeasureRequestObject) (MeasureResponseObject, error) {
	place := 0
	if r.Body.Place != nil {
		place = *r.Body.Place
	}
	m, err := s.Studio.Reader.Measure(ctx, place)
	if err != nil {
		return nil, err
	}
	o := Measure200JSONResponse{Css: fmt.Sprintf("lab(%.2f %.2f %.2f)", m.Lab[0], m.Lab[1], m.Lab[2]), Hex: colour.Hex(m.Lab), Lab: labOf(m.Lab), Spread: round(m.Spread, 2)}
	for _, e := range m.Each {
		o.Each = append(o.Each, labOf(e))
	}
	return o, nil
}
