package api

import (
	"bytes"
	"context"
)

// ListShelf lists what is on the picture shelf.
func (s *Server) ListShelf(ctx context.Context, r ListShelfRequestObject) (ListShelfResponseObject, error) {
	question := ""
	if r.Params.Q != nil {
		question = *r.Params.Q
	}
	name, list, err := s.Studio.Shelf.List(ctx, question)
	if err != nil {
		return nil, err
	}
	o := ListShelf200JSONResponse{Shelf: name, Items: []Shelved{}}
	for _, i := range list {
		o.Items = append(o.Items, Shelved{Kind: ShelvedKind(i.Kind), Width: i.Width, Height: i.Height, Origin: i.Origin})
	}
	return o, nil
}

// GetShelfPreview passes a small picture on from the shelf: pages ask no other server than this one.
func (s *Server) GetShelfPreview(ctx context.Context, r GetShelfPreviewRequestObject) (GetShelfPreviewResponseObject, error) {
	b, err := s.Studio.Shelf.Preview(ctx, r.Item)
	if err != nil {
		return nil, err
	}
	return GetShelfPreview200ImagejpegResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, nil
}

// TakeFromShelf brings a picture from the shelf into a job.
func (s *Server) TakeFromShelf(ctx context.Context, r TakeFromShelfRequestObject) (TakeFromShelfResponseObject, error) {
	id, err := s.Studio.TakeFromShelf(ctx, r.Job, r.Body.Item)
	if err != nil {
		return nil, err
	}
	p, err := s.Studio.Picture(ctx, id)
	if err != nil {
		return nil, err
	}
	q, err := summary(p)
	return TakeFromShelf201JSONResponse(q), err
}
