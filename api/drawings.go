package api

import (
	"bytes"
	"context"
	"hash/fnv"
	"maps"
	"slices"
	"strconv"

	"episema/app"
	"episema/core/document"
	"episema/core/proof"
)

// GetDrawing gives a drawing with what is painted in it.
func (s *Server) GetDrawing(ctx context.Context, r GetDrawingRequestObject) (GetDrawingResponseObject, error) {
	_, d, err := s.Studio.Drawing(ctx, r.Picture)
	if err != nil {
		return nil, err
	}
	o := Drawing{Source: string(d.Source), LeftOut: d.LeftOut, Images: d.Images, Size: d.Size[:], Colours: []string{}, Boards: []Board{},
		Items: DrawnItems{Elements: []int{}, Props: []string{}, Colours: []int{}}}
	if o.LeftOut == nil {
		o.LeftOut = []string{}
	}
	if o.Images == nil {
		o.Images = []int{}
	}
	for i := range d.Colours {
		o.Colours = append(o.Colours, d.Colours[i].Key)
	}
	for _, it := range d.Items {
		o.Items.Elements = append(o.Items.Elements, it.Element)
		o.Items.Props = append(o.Items.Props, it.Prop)
		o.Items.Colours = append(o.Items.Colours, it.Colour)
	}
	for _, b := range d.Boards() {
		o.Boards = append(o.Boards, Board{Id: b.ID, Name: b.Name, Box: []float64{b.X, b.Y, b.W, b.H}})
	}
	return GetDrawing200JSONResponse(o), nil
}

// ShowDrawing says how a drawing looks as a document has it.
func (s *Server) ShowDrawing(ctx context.Context, r ShowDrawingRequestObject) (ShowDrawingResponseObject, error) {
	doc, err := s.asked(ctx, r.Picture, r.Body.Document, r.Body.Draft, r.Body.Colourway)
	if err != nil {
		return nil, err
	}
	shown, err := s.Studio.ShowDrawing(ctx, r.Picture, doc)
	if err != nil {
		return nil, err
	}
	o := ShownDrawing{Groups: []DrawnGroup{}, Parts: []ShownPart{}, Proofs: []PartProof{}, Alike: []AlikePair{}, Texts: []TextContrast{}}
	h := fnv.New64a()
	for _, g := range shown.Groups {
		for _, v := range append([]int{g.Part, g.Colour, len(g.Elements)}, g.Elements...) {
			h.Write([]byte{byte(v), byte(v >> 8), byte(v >> 16), byte(v >> 24)})
		}
		h.Write([]byte(g.Prop))
		o.Groups = append(o.Groups, DrawnGroup{Prop: g.Prop, Css: g.CSS, Elements: g.Elements})
	}
	o.Members = strconv.FormatUint(h.Sum64(), 36)
	if r.Body.Members != nil && *r.Body.Members == o.Members {
		for i := range o.Groups {
			o.Groups[i].Elements = []int{} // the page has them already
		}
	}
	for _, p := range shown.Parts {
		q := ShownPart{Id: p.ID, Count: p.Count, Boards: p.Boards, Members: []ShownMember{}}
		if q.Boards == nil {
			q.Boards = []string{}
		}
		for _, m := range p.To {
			q.Members = append(q.Members, ShownMember{Colour: m.Colour, To: m.To, Count: m.Count, Area: round(m.Area, 1)})
		}
		o.Parts = append(o.Parts, q)
	}
	for _, p := range shown.Proof.Parts {
		o.Proofs = append(o.Proofs, proofOf(p))
	}
	for _, a := range shown.Proof.Alike {
		o.Alike = append(o.Alike, AlikePair{A: a.A, B: a.B, Was: round(a.Was, 1), Is: round(a.Is, 1), Element: a.At})
	}
	for _, t := range shown.Proof.Texts {
		o.Texts = append(o.Texts, contrastOf(t))
	}
	return ShowDrawing200JSONResponse(o), nil
}

func contrastOf(t proof.Contrast) TextContrast {
	return TextContrast{Element: t.Element, Was: round(t.Was, 2), Is: round(t.Is, 2), Large: t.Large, Text: t.Text}
}

// GatherFamilies gathers a drawing's colours into families.
func (s *Server) GatherFamilies(ctx context.Context, r GatherFamiliesRequestObject) (GatherFamiliesResponseObject, error) {
	n := 0
	if r.Params.N != nil {
		n = *r.Params.N
	}
	parts, err := s.Studio.Families(ctx, r.Picture, n)
	if parts == nil {
		parts = []document.Part{}
	}
	return GatherFamilies200JSONResponse(parts), err
}

// PickDrawn lists what has a colour like one.
func (s *Server) PickDrawn(ctx context.Context, r PickDrawnRequestObject) (PickDrawnResponseObject, error) {
	prop, boards := "", []string{}
	if r.Body.Prop != nil {
		prop = string(*r.Body.Prop)
	}
	if r.Body.Boards != nil {
		boards = *r.Body.Boards
	}
	items, keys, err := s.Studio.PickDrawn(ctx, r.Picture, r.Body.Colour, r.Body.Tolerance, prop, boards)
	if keys == nil {
		keys = []string{}
	}
	return PickDrawn200JSONResponse{Items: items, Colours: keys}, err
}

// ShowColours says what becomes of the colours of the families.
func (s *Server) ShowColours(ctx context.Context, r ShowColoursRequestObject) (ShowColoursResponseObject, error) {
	doc, err := s.asked(ctx, r.Picture, r.Body.Document, r.Body.Draft, r.Body.Colourway)
	if err != nil {
		return nil, err
	}
	parts, err := s.Studio.Coloured(ctx, r.Picture, doc)
	if err != nil {
		return nil, err
	}
	out := ShowColours200JSONResponse{}
	for _, p := range parts {
		f := FamilyColours{Id: p.ID, From: []string{}, To: []string{}}
		for _, from := range slices.Sorted(maps.Keys(p.To)) {
			f.From, f.To = append(f.From, from), append(f.To, p.To[from])
		}
		out = append(out, f)
	}
	return out, nil
}

// ShowShares gives how much of each pixel is painted in each of some colours.
func (s *Server) ShowShares(ctx context.Context, r ShowSharesRequestObject) (ShowSharesResponseObject, error) {
	v := r.Body.View
	doc, err := s.drafted(ctx, r.Picture, v.Document, v.Draft)
	if err != nil {
		return nil, err
	}
	b, err := s.Studio.Shares(ctx, r.Picture, r.Body.Part, r.Body.Colours, app.View{X: v.X, Y: v.Y, W: v.W, H: v.H, Width: v.Width, Height: v.Height, Document: doc})
	if err != nil {
		return nil, err
	}
	return ShowShares200ImagepngResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, nil
}
