package api

import (
	"bytes"
	"context"
	"encoding/json"
	"mime"
	"strconv"

	"episema/app"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/proof"
)

const listedAreas = 200

// ListAreas lists the separate areas and holes of a part.
func (s *Server) ListAreas(ctx context.Context, r ListAreasRequestObject) (ListAreasResponseObject, error) {
	doc, err := s.drafted(ctx, r.Picture, r.Body.Document, r.Body.Draft)
	if err != nil {
		return nil, err
	}
	all, err := s.Studio.Areas(ctx, r.Picture, r.Body.Part, doc)
	if err != nil {
		return nil, err
	}
	o := ListAreas200JSONResponse{List: []Area{}}
	most := 0
	for _, a := range all {
		if !a.Hole {
			most = max(most, a.Pixels)
		}
	}
	for _, a := range all {
		small := a.Pixels*100 < most
		switch {
		case a.Hole:
			o.Holes++
			if small {
				o.Pinholes++
				o.PinholeMost = max(o.PinholeMost, a.Pixels)
			}
		default:
			o.Areas++
			if small {
				o.Specks++
				o.SpeckMost = max(o.SpeckMost, a.Pixels)
			}
		}
		if len(o.List) < listedAreas {
			o.List = append(o.List, Area{Hole: a.Hole, Pixels: a.Pixels, Box: []int{a.Box.X0, a.Box.Y0, a.Box.X1, a.Box.Y1}, At: a.At[:]})
		}
	}
	return o, nil
}

// EdgeWalk gives the places from which all of a part's edge is seen.
func (s *Server) EdgeWalk(ctx context.Context, r EdgeWalkRequestObject) (EdgeWalkResponseObject, error) {
	doc, err := s.drafted(ctx, r.Picture, r.Body.Document, r.Body.Draft)
	if err != nil {
		return nil, err
	}
	stops, err := s.Studio.EdgeWalk(ctx, r.Picture, r.Body.Part, r.Body.W, r.Body.H, doc)
	if err != nil {
		return nil, err
	}
	o := EdgeWalk200JSONResponse{}
	for _, p := range stops {
		o = append(o, Point{p[0], p[1]})
	}
	return o, nil
}

// Histogram counts a picture's hues, tones or depths.
func (s *Server) Histogram(ctx context.Context, r HistogramRequestObject) (HistogramResponseObject, error) {
	if r.Params.Of == "values" {
		part := ""
		if r.Params.Part != nil {
			part = *r.Params.Part
		}
		b, err := s.Studio.Values(ctx, r.Picture, part)
		return Histogram200JSONResponse(b), err
	}
	b, err := s.Studio.Histogram(ctx, r.Picture, string(r.Params.Of))
	return Histogram200JSONResponse(b), err
}

// Subject tells how sure the Subject pick is.
func (s *Server) Subject(ctx context.Context, r SubjectRequestObject) (SubjectResponseObject, error) {
	all, err := s.Studio.Subject(ctx, r.Picture)
	o := Subject200JSONResponse{}
	for _, v := range all {
		o = append(o, Sureness{Sure: round(v, 2), Unsure: v < isolate.SubjectUnsure})
	}
	return o, err
}

// PutDepth brings a depth map in.
func (s *Server) PutDepth(ctx context.Context, r PutDepthRequestObject) (PutDepthResponseObject, error) {
	p, err := s.Studio.SetDepth(ctx, r.Picture, r.Body)
	if err != nil {
		return nil, err
	}
	o, err := s.picture(ctx, p)
	return PutDepth200JSONResponse(o), err
}

// RemoveDepth takes the depth map away.
func (s *Server) RemoveDepth(ctx context.Context, r RemoveDepthRequestObject) (RemoveDepthResponseObject, error) {
	p, err := s.Studio.SetDepth(ctx, r.Picture, nil)
	if err != nil {
		return nil, err
	}
	o, err := s.picture(ctx, p)
	return RemoveDepth200JSONResponse(o), err
}

// AddMask brings a mask in.
func (s *Server) AddMask(ctx context.Context, r AddMaskRequestObject) (AddMaskResponseObject, error) {
	f, err := s.Studio.AddMask(ctx, r.Picture, r.Params.Name, r.Body)
	return AddMask201JSONResponse{File: f}, err
}

// GetMask gives a part's mask as PNG.
func (s *Server) GetMask(ctx context.Context, r GetMaskRequestObject) (GetMaskResponseObject, error) {
	p, err := s.Studio.Picture(ctx, r.Picture)
	if err != nil {
		return nil, err
	}
	var b bytes.Buffer
	if err := s.Studio.WriteMask(ctx, r.Picture, r.Part, &b); err != nil {
		return nil, err
	}
	return GetMask200ImagepngResponse{Body: &b, ContentLength: int64(b.Len()),
		Headers: GetMask200ResponseHeaders{ContentDisposition: ptr(mime.FormatMediaType("attachment", map[string]string{"filename": maskName(p, r.Part)}))}}, nil
}

// CarriedParts gives the parts of a picture as they can be begun in another.
func (s *Server) CarriedParts(ctx context.Context, r CarriedPartsRequestObject) (CarriedPartsResponseObject, error) {
	list, err := s.Studio.Carry(ctx, r.Picture)
	if err != nil {
		return nil, err
	}
	o := CarriedParts200JSONResponse{}
	for _, c := range list {
		o = append(o, CarriedPart{Part: c.Part, Left: c.Left})
	}
	return o, nil
}

func maskName(p app.Picture, part string) string {
	var doc document.Picture
	if err := json.Unmarshal(p.Document, &doc); err == nil {
		for _, q := range doc.Parts {
			if q.ID == part {
				return p.Name + ", " + q.Name + ".png"
			}
		}
	}
	return p.Name + ", mask.png"
}

// overlayOf reads how a view shows the mask.
func overlayOf(v *View) app.Overlay {
	o := app.Overlay{Tint: [3]byte{0x8a, 0x8a, 0x8a}, Strength: 0.78}
	if v.Tint != nil {
		n, _ := strconv.ParseUint((*v.Tint)[1:], 16, 32) // the contract allows nothing else
		o.Tint = [3]byte{byte(n >> 16), byte(n >> 8), byte(n)}
	}
	if v.TintStrength != nil {
		o.Strength = *v.TintStrength
	}
	if v.Ground != nil {
		o.Ground = string(*v.Ground)
	}
	return o
}

// Band reads the band that points of the picture span.
func (s *Server) Band(ctx context.Context, r BandRequestObject) (BandResponseObject, error) {
	var points [][2]float64
	for _, p := range r.Body.Points {
		points = append(points, [2]float64{p[0], p[1]})
	}
	from, to, soft, err := s.Studio.Band(ctx, r.Picture, string(r.Body.Of), points)
	return Band200JSONResponse{From: from, To: to, Soft: soft}, err
}

// FitOutline makes nodes of a path drawn by hand.
func (s *Server) FitOutline(_ context.Context, r FitOutlineRequestObject) (FitOutlineResponseObject, error) {
	points := make([][2]float64, len(r.Body.Points))
	for i, p := range r.Body.Points {
		points[i] = [2]float64{p[0], p[1]}
	}
	point := func(p *[2]float64) *Point {
		if p == nil {
			return nil
		}
		return &Point{round(p[0], 1), round(p[1], 1)}
	}
	o := FitOutline200JSONResponse{}
	for _, n := range isolate.FitPath(points, r.Body.Error) {
		o = append(o, Node{P: *point(&n.P), In: point(n.In), Out: point(n.Out)})
	}
	return o, nil
}

// Closely looks for old colour around a part's edge and at the detail it kept.
func (s *Server) Closely(ctx context.Context, r CloselyRequestObject) (CloselyResponseObject, error) {
	doc, err := s.drafted(ctx, r.Picture, r.Body.Document, r.Body.Draft)
	if err != nil {
		return nil, err
	}
	c, err := s.Studio.Closely(ctx, r.Picture, r.Body.Part, doc)
	if err != nil {
		return nil, err
	}
	return Closely200JSONResponse{LeftPixels: c.Left.Pixels, DetailKept: round(c.Detail, 3), Places: placesOf(c.Left.Places), Specks: placesOf(c.Specks)}, nil
}

type place = struct {
	Pixels int `json:"pixels"`
	X      int `json:"x"`
	Y      int `json:"y"`
}

func placesOf(all []proof.Place) []place {
	o := make([]place, min(100, len(all)))
	for i := range o {
		o[i] = place{all[i].Pixels, all[i].X, all[i].Y}
	}
	return o
}
