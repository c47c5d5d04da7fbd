package api

import (
	"bytes"
	"context"
	"image"
	"image/png"

	"episema/core/colour"
)

// ReadColour reads a typed colour.
func (s *Server) ReadColour(ctx context.Context, r ReadColourRequestObject) (ReadColourResponseObject, error) {
	css := r.Params.Css
	if r.Params.Job != nil {
		var err error
		if css, err = s.Studio.ReadIn(ctx, *r.Params.Job, css); err != nil {
			return nil, err
		}
	}
	l, err := readColour(css, r.Params.Own)
	if err != nil {
		return nil, err
	}
	light := colour.SRGB.Linear(l)
	lightness, chroma, hue := colour.SRGB.Oklab(light).Oklch()
	return ReadColour200JSONResponse{Css: r.Params.Css, Hex: colour.Hex(l), Lab: labOf(l), Oklch: []float64{lightness, chroma, hue}, InSrgb: colour.InGamut(light)}, nil
}

// readColour reads a colour that may start from another one where that is given.
func readColour(css string, own *string) (colour.Lab, error) {
	if own == nil {
		return colour.ParseCSS(css)
	}
	origin, err := colour.ParseCSS(*own)
	if err != nil {
		return origin, err
	}
	return colour.ParseFrom(css, origin)
}

// GetPlane draws the colours of a hue, to choose one by eye.
func (s *Server) GetPlane(ctx context.Context, r GetPlaneRequestObject) (GetPlaneResponseObject, error) {
	w, h := r.Params.Width, r.Params.Height
	pix, err := s.Studio.Plane(ctx, r.Params.Hue, w, h, r.Params.Job)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	err = (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, &image.NRGBA{Pix: pix, Stride: 4 * w, Rect: image.Rect(0, 0, w, h)})
	return GetPlane200ImagepngResponse{Body: &b, ContentLength: int64(b.Len())}, err
}

// GetMostVivid tells how vivid a photo is near a colour.
func (s *Server) GetMostVivid(ctx context.Context, r GetMostVividRequestObject) (GetMostVividResponseObject, error) {
	c, err := s.Studio.MostVivid(ctx, r.Picture, r.Params.Lightness, r.Params.Hue)
	return GetMostVivid200JSONResponse{Chroma: c}, err
}

// CompareColours measures two colours.
func (s *Server) CompareColours(_ context.Context, r CompareColoursRequestObject) (CompareColoursResponseObject, error) {
	a, err := colour.ParseCSS(r.Params.A)
	if err != nil {
		return nil, err
	}
	b, err := colour.ParseCSS(r.Params.B)
	if err != nil {
		return nil, err
	}
	return CompareColours200JSONResponse{DeltaE00: colour.DeltaE00(a, b)}, nil
}
