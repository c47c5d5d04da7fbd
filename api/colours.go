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
func (s *Server) GetPlane(_ context.Context, r GetPlaneRequestObject) (GetPlaneResponseObject, error) {
	w, h := r.Params.Width, r.Params.Height
	var b bytes.Buffer
	err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, &image.NRGBA{Pix: colour.Plane(r.Params.Hue, w, h), Stride: 4 * w, Rect: image.Rect(0, 0, w, h)})
	return GetPlane200ImagepngResponse{Body: &b, ContentLength: int64(b.Len())}, err
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
