package api

import (
	"bytes"
	"context"
	"encoding/hex"
	"encoding/json"
	"errors"
	"fmt"
	"math"
	"mime"
	"time"

	"github.com/google/uuid"

	"episema/app"
	"episema/core/colour"
	"episema/core/document"
	"episema/core/proof"
	"episema/internal/problem"
)

var _ StrictServerInterface = (*Server)(nil)

func labOf(l colour.Lab) []float64 {
	return []float64{round(l[0], 2), round(l[1], 2), round(l[2], 2)}
}

func round(v float64, d int) float64 {
	k := math.Pow10(d)
	return math.Round(v*k) / k
}

func ptr[T any](v T) *T { return &v }

// alike is the CIEDE2000 below which two colours of a palette are hard to tell apart.
const alike = 1.5

// swatches gives a palette for the front end; read has its colours as they are read in the job.
func swatches(list, read []document.Swatch) ([]Swatch, error) {
	out := []Swatch{}
	for i, c := range list {
		l, err := colour.ParseCSS(read[i].CSS)
		if err != nil {
			return nil, err
		}
		w := Swatch{Id: c.ID, Name: c.Name, Css: c.CSS, Tolerance: c.Tolerance, Hex: ptr(colour.Hex(l)), Lab: ptr(labOf(l))}
		if colour.Uncalibrated(read[i].CSS) {
			w.Uncalibrated = ptr(true)
		}
		if n, d := app.Nearest(read, l, c.ID); n != nil && d < alike {
			w.Near = &n.Name
		}
		out = append(out, w)
	}
	return out, nil
}

func (s *Server) contentOf(ctx context.Context, b []byte) (pal []Swatch, c document.Content, err error) {
	if err := json.Unmarshal(b, &c); err != nil {
		return nil, c, err
	}
	c.ResolveCells()
	if c.Colourways == nil {
		c.Colourways = []document.Colourway{}
	}
	read, err := s.Studio.ReadPalette(ctx, &c)
	if err != nil {
		return nil, c, err
	}
	pal, err = swatches(c.Palette, read)
	return pal, c, err
}

func (s *Server) pictureOf(ctx context.Context, p app.Picture) (Picture, error) {
	var doc document.Picture
	if err := json.Unmarshal(p.Document, &doc); err != nil {
		return Picture{}, err
	}
	if doc.Parts == nil {
		doc.Parts = []document.Part{}
	}
	var content document.Content
	if err := json.Unmarshal(p.Content, &content); err != nil {
		return Picture{}, err
	}
	content.Resolve(&doc)
	origin, err := app.OriginOf(p)
	if err != nil {
		return Picture{}, err
	}
	pal, c, err := s.contentOf(ctx, p.Content)
	var depth *string
	if p.Depth != nil {
		depth = ptr(hex.EncodeToString(p.Depth))
	}
	return Picture{Origin: origin, Id: p.ID, Job: p.Job, JobName: p.JobName, Name: p.Name, Width: p.Width, Height: p.Height, Bits: p.Bits, Format: p.Format, Depth: depth != nil, DepthMap: depth,
		Palette: pal, Colourways: c.Colourways, JobRevision: p.JobRevision, Document: doc, Revision: p.Revision, Undo: p.Undo, Redo: p.Redo}, err
}

func (s *Server) picture(ctx context.Context, p app.Picture) (Picture, error) {
	o, err := s.pictureOf(ctx, p)
	if err != nil {
		return o, err
	}
	o.Space, err = s.Studio.SpaceName(ctx, p)
	return o, err
}

func (s *Server) job(ctx context.Context, id uuid.UUID) (Job, error) {
	j, err := s.Studio.Job(ctx, id)
	if err != nil {
		return Job{}, err
	}
	return s.jobOf(ctx, j)
}

// jobOf gives a job with its pictures and the rows of its parts.
func (s *Server) jobOf(ctx context.Context, j app.Job) (Job, error) {
	in, err := s.Studio.Contents(ctx, j.ID)
	if err != nil {
		return Job{}, err
	}
	o := Job{Id: j.ID, Name: j.Name, Pictures: []PictureSummary{}, Trash: []PictureSummary{}, Rows: []PartRow{}, Revision: j.Revision, Undo: j.Undo, Redo: j.Redo, Archived: j.Archived}
	for _, p := range in.Pictures {
		q, err := summary(p)
		if err != nil {
			return Job{}, err
		}
		o.Pictures = append(o.Pictures, q)
	}
	for _, p := range in.Removed {
		q, err := summary(p)
		if err != nil {
			return Job{}, err
		}
		o.Trash = append(o.Trash, q)
	}
	at := map[string]int{}
	for _, r := range in.Rows {
		i, ok := at[r.Row]
		if !ok {
			i = len(o.Rows)
			at[r.Row] = i
			o.Rows = append(o.Rows, PartRow{Key: r.Row, Name: r.Name})
		}
		o.Rows[i].Pictures = append(o.Rows[i].Pictures, r.Picture)
	}
	pal, c, err := s.contentOf(ctx, j.Content)
	o.Palette, o.Colourways = pal, c.Colourways
	if len(c.Recipes) > 0 {
		o.Recipes = &c.Recipes
	}
	if c.Inks != nil {
		o.Inks = &Inks{Profile: c.Inks.Profile, Name: c.Inks.Name}
	}
	return o, err
}

func summary(p app.Picture) (PictureSummary, error) {
	o, err := app.OriginOf(p)
	return PictureSummary{Id: p.ID, Name: p.Name, Width: p.Width, Height: p.Height, Parts: p.Parts, Revision: p.Revision, Format: p.Format, Origin: o}, err
}

// ListJobs lists all jobs.
func (s *Server) ListJobs(ctx context.Context, r ListJobsRequestObject) (ListJobsResponseObject, error) {
	jobs, err := s.Studio.Jobs(ctx, r.Params.Removed != nil && *r.Params.Removed)
	if err != nil {
		return nil, err
	}
	out := ListJobs200JSONResponse{}
	for _, j := range jobs {
		out = append(out, JobSummary{Id: j.ID, Name: j.Name, Pictures: j.Pictures, Cover: j.Cover, Created: j.Created, Archived: &j.Archived})
	}
	return out, nil
}

// CreateJob makes an empty job.
func (s *Server) CreateJob(ctx context.Context, r CreateJobRequestObject) (CreateJobResponseObject, error) {
	id, err := s.Studio.NewJob(ctx, r.Body.Name)
	if err != nil {
		return nil, err
	}
	j, err := s.job(ctx, id)
	return CreateJob201JSONResponse(j), err
}

// GetJob gives a job with its pictures and palette.
func (s *Server) GetJob(ctx context.Context, r GetJobRequestObject) (GetJobResponseObject, error) {
	j, err := s.job(ctx, r.Job)
	return GetJob200JSONResponse(j), err
}

// AddPicture takes a file.
func (s *Server) AddPicture(ctx context.Context, r AddPictureRequestObject) (AddPictureResponseObject, error) {
	id, err := s.Studio.AddPicture(ctx, r.Job, r.Params.Name, r.Body)
	if err != nil {
		return nil, err
	}
	p, err := s.Studio.Picture(ctx, id)
	if err != nil {
		return nil, err
	}
	q, err := summary(p)
	return AddPicture201JSONResponse(q), err
}

// GetPicture gives a picture with its document.
func (s *Server) GetPicture(ctx context.Context, r GetPictureRequestObject) (GetPictureResponseObject, error) {
	p, err := s.Studio.Picture(ctx, r.Picture)
	if err != nil {
		return nil, err
	}
	o, err := s.picture(ctx, p)
	return GetPicture200JSONResponse(o), err
}

// RemovePicture takes a picture out of its job.
func (s *Server) RemovePicture(ctx context.Context, r RemovePictureRequestObject) (RemovePictureResponseObject, error) {
	return RemovePicture204Response{}, s.Studio.RemovePicture(ctx, r.Picture)
}

// ChangePicture renames a picture, brings it back or gives it another place.
func (s *Server) ChangePicture(ctx context.Context, r ChangePictureRequestObject) (ChangePictureResponseObject, error) {
	if r.Body.Removed != nil {
		if err := s.Studio.BringBackPicture(ctx, r.Picture); err != nil {
			return nil, err
		}
	}
	if r.Body.Name != nil {
		if err := s.Studio.RenamePicture(ctx, r.Picture, *r.Body.Name); err != nil {
			return nil, err
		}
	}
	if r.Body.Before != nil || r.Body.Last != nil {
		if err := s.Studio.PlacePicture(ctx, r.Picture, r.Body.Before); err != nil {
			return nil, err
		}
	}
	return ChangePicture204Response{}, nil
}

// PutDocument stores an edit.
func (s *Server) PutDocument(ctx context.Context, r PutDocumentRequestObject) (PutDocumentResponseObject, error) {
	p, err := s.Studio.Edit(ctx, r.Picture, r.Body.Base, r.Body.Label, r.Body.Document)
	if err != nil && !errors.Is(err, app.ErrStale) {
		return nil, err
	}
	o, convErr := s.picture(ctx, p)
	if convErr != nil {
		return nil, convErr
	}
	if err != nil {
		return PutDocument409JSONResponse(o), nil
	}
	return PutDocument200JSONResponse(o), nil
}

// PatchDocument stores an edit that comes as changes.
func (s *Server) PatchDocument(ctx context.Context, r PatchDocumentRequestObject) (PatchDocumentResponseObject, error) {
	p, err := s.Studio.EditBy(ctx, r.Picture, r.Body.Base, r.Body.Label, r.Body.Changes)
	if errors.Is(err, app.ErrStale) {
		o, err := s.picture(ctx, p)
		return PatchDocument409JSONResponse(o), err
	}
	return PatchDocument200JSONResponse{Revision: p.Revision, Undo: p.Undo, Redo: p.Redo}, err
}

// Undo goes a step back.
func (s *Server) Undo(ctx context.Context, r UndoRequestObject) (UndoResponseObject, error) {
	p, err := s.Studio.Move(ctx, r.Picture, -1)
	if err != nil {
		return nil, err
	}
	o, err := s.picture(ctx, p)
	return Undo200JSONResponse(o), err
}

// Redo goes a step forward.
func (s *Server) Redo(ctx context.Context, r RedoRequestObject) (RedoResponseObject, error) {
	p, err := s.Studio.Move(ctx, r.Picture, 1)
	if err != nil {
		return nil, err
	}
	o, err := s.picture(ctx, p)
	return Redo200JSONResponse(o), err
}

// AwaitRevisions waits for somebody's edit of any of some pictures.
func (s *Server) AwaitRevisions(ctx context.Context, r AwaitRevisionsRequestObject) (AwaitRevisionsResponseObject, error) {
	after := map[uuid.UUID]int64{}
	for _, p := range r.Body.Pictures {
		after[p.Picture] = p.Revision
	}
	now, gone, err := s.Studio.Revisions.Await(ctx, after, 25*time.Second)
	o := Revisions{Pictures: []Revision{}, Gone: append([]uuid.UUID{}, gone...)}
	for id, v := range now {
		o.Pictures = append(o.Pictures, Revision{Picture: id, Revision: v})
	}
	return AwaitRevisions200JSONResponse(o), err
}

// GetCover gives a small PNG.
func (s *Server) GetCover(ctx context.Context, r GetCoverRequestObject) (GetCoverResponseObject, error) {
	size := 360
	if r.Params.Size != nil {
		size = *r.Params.Size
	}
	colourway := ""
	if r.Params.Colourway != nil {
		colourway = *r.Params.Colourway
	}
	if r.Params.Quick != nil && *r.Params.Quick {
		b, form, err := s.Studio.QuickCover(ctx, r.Picture, size, colourway)
		if err == nil && form == app.SentJPEG {
			return GetCover200ImagejpegResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, nil
		}
		return GetCover200ImagepngResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, err
	}
	b, err := s.Studio.Cover(ctx, r.Picture, size, colourway, r.Params.Before != nil && *r.Params.Before)
	if err != nil {
		return nil, err
	}
	return GetCover200ImagepngResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b))}, nil
}

// RenderView gives the stage its pixels.
func (s *Server) RenderView(ctx context.Context, r RenderViewRequestObject) (RenderViewResponseObject, error) {
	doc, err := s.drafted(ctx, r.Picture, r.Body.Document, r.Body.Draft)
	if err != nil {
		return nil, err
	}
	v := app.View{X: r.Body.X, Y: r.Body.Y, W: r.Body.W, H: r.Body.H, Width: r.Body.Width, Height: r.Body.Height,
		Stage: true, Show: string(r.Body.Show), Document: doc}
	if r.Body.Part != nil {
		v.Part = *r.Body.Part
	}
	v.Draft = r.Body.Quick != nil && *r.Body.Quick
	v.Hand = v.Draft || r.Body.Hand != nil && *r.Body.Hand
	v.Ahead = r.Body.Ahead != nil && *r.Body.Ahead
	v.Overlay = overlayOf(r.Body)
	if r.Body.Ink != nil {
		v.Ink = string(*r.Body.Ink)
	}
	v.InkMarks = r.Body.InkMarks != nil && *r.Body.InkMarks
	sent, err := s.Studio.Send(ctx, r.Picture, v, asOf(r.Body))
	if err != nil {
		return nil, err
	}
	body, size := bytes.NewReader(sent.Body), int64(len(sent.Body))
	headers := RenderView200ResponseHeaders{XRect: ptr(fmt.Sprintf("%d %d %d %d", sent.Rect.Min.X, sent.Rect.Min.Y, sent.Rect.Dx(), sent.Rect.Dy()))}
	if sent.Frame != "" {
		headers.XFrame = &sent.Frame
	}
	switch sent.Form {
	case app.SentPNG:
		return RenderView200ImagepngResponse{Body: body, ContentLength: size, Headers: headers}, nil
	case app.SentJPEG:
		return RenderView200ImagejpegResponse{Body: body, ContentLength: size}, nil
	}
	return RenderView200ApplicationoctetStreamResponse{Body: body, ContentLength: size, Headers: headers}, nil
}

// asOf returns how a view shall be sent.
func asOf(v *View) app.As {
	var as app.As
	if v.As != nil {
		as.Form = string(*v.As)
	}
	if v.Quality != nil {
		as.Quality = *v.Quality
	}
	as.Keep = v.Keep != nil && *v.Keep
	if v.Have != nil {
		as.Have = *v.Have
	}
	return as
}

// Probe tells what stands at a pixel.
func (s *Server) Probe(ctx context.Context, r ProbeRequestObject) (ProbeResponseObject, error) {
	part := ""
	if r.Body.Part != nil {
		part = *r.Body.Part
	}
	doc, err := s.drafted(ctx, r.Picture, r.Body.Document, r.Body.Draft)
	if err != nil {
		return nil, err
	}
	p, err := s.Studio.Probe(ctx, r.Picture, r.Body.X, r.Body.Y, part, doc)
	if err != nil {
		return nil, err
	}
	o := Probe200JSONResponse{Was: labOf(p.Was), Is: labOf(p.Is), WasHex: p.WasHex, Share: round(p.Share, 3)}
	if p.Distance != nil {
		o.Distance = ptr(round(*p.Distance, 2))
	}
	if p.Near != nil {
		o.Near = ptr(round(*p.Near, 3))
	}
	if r.Body.Card != nil && *r.Body.Card {
		doubt, err := s.Studio.CardDoubt(ctx, r.Picture, r.Body.X, r.Body.Y)
		if err != nil {
			return nil, err
		}
		if doubt != "" {
			o.CardDoubt = &doubt
		}
	}
	return o, nil
}

// drafted gives the document that a request brings, whole or as changes; nil as stored.
func (s *Server) drafted(ctx context.Context, picture uuid.UUID, doc *document.Picture, d *Draft) (*document.Picture, error) {
	if d == nil {
		return doc, nil
	}
	if doc != nil {
		return nil, problem.New("the call brings a document and a draft; send one of them")
	}
	return s.Studio.Draft(ctx, picture, d.Base, d.Changes)
}

// asked gives the document that a request means: the one it brings, else the stored one in a colourway; nil as stored.
func (s *Server) asked(ctx context.Context, picture uuid.UUID, doc *document.Picture, d *Draft, colourway *string) (*document.Picture, error) {
	doc, err := s.drafted(ctx, picture, doc, d)
	if err != nil || doc != nil || colourway == nil {
		return doc, err
	}
	p, err := s.Studio.Picture(ctx, picture)
	if err != nil {
		return nil, err
	}
	in, err := s.Studio.InColourway(ctx, p, *colourway)
	return &in, err
}

// Prove measures.
func (s *Server) Prove(ctx context.Context, r ProveRequestObject) (ProveResponseObject, error) {
	doc, err := s.asked(ctx, r.Picture, r.Body.Document, r.Body.Draft, r.Body.Colourway)
	if err != nil {
		return nil, err
	}
	m, err := s.Studio.Prove(ctx, r.Picture, doc)
	if err != nil {
		return nil, err
	}
	o := Prove200JSONResponse{Parts: []PartProof{}, ChangedOutside: m.ChangedOutside}
	if len(m.Unfilled) > 0 {
		o.Unfilled = &m.Unfilled
	}
	for _, p := range m.Parts {
		o.Parts = append(o.Parts, proofOf(p))
	}
	return o, nil
}

func proofOf(p proof.Part) PartProof {
	q := PartProof{Id: p.ID, Name: p.Name, State: PartProofState(p.State), Own: labOf(p.Own), OwnHex: colour.Hex(p.Own), Share: round(p.Share, 2), Tolerance: p.Tolerance}
	if p.Ink != nil {
		q.Ink = &InkProof{Beyond: round(p.Ink.Beyond, 2), MissedPercent: round(p.Ink.Missed, 2), Nearest: labOf(p.Ink.Nearest), NearestHex: colour.Hex(p.Ink.Nearest)}
		if p.Ink.At != nil {
			q.Ink.At = ptr(p.Ink.At[:])
		}
	}
	if p.Painted {
		q.Want, q.Got, q.WantHex = ptr(labOf(p.Want)), ptr(labOf(p.Got)), ptr(colour.Hex(p.Want))
		q.NearestHex, q.DeltaE00, q.At = ptr(colour.Hex(p.Nearest)), ptr(round(p.DeltaE, 2)), ptr(p.At[:])
		q.OutOfGamutPercent, q.ClippedPercent = ptr(round(p.OutOfGamut, 2)), ptr(round(p.Clipped, 2))
		q.BurnedPercent, q.CrushedPercent = ptr(round(p.Whole.Burned, 2)), ptr(round(p.Whole.Crushed, 2))
		q.TintedPercent, q.HeldPercent = ptr(round(p.Whole.Tinted, 2)), ptr(round(p.Whole.Held, 1))
		q.LitMedian, q.LitP95, q.AimHex, q.Beyond = ptr(round(p.Whole.Median, 2)), ptr(round(p.Whole.Most, 2)), ptr(colour.Hex(p.Aim)), ptr(round(p.Beyond, 2))
		q.LitLab, q.LitAt = ptr(labOf(p.LitTone)), ptr(p.LitAt[:])
		if p.GamutAt != nil && p.OutOfGamut > 0 {
			q.GamutAt = ptr(p.GamutAt[:])
		}
		if p.ClippedAt != nil && p.Clipped > 0 {
			q.ClippedAt = ptr(p.ClippedAt[:])
		}
		if p.Vivid != nil {
			q.VividStrength = ptr(round(*p.Vivid, 1))
		}
		if p.Cast > 0 {
			q.Cast, q.CastAt = ptr(round(p.Cast, 3)), ptr(p.CastAt[:])
		}
	}
	return q
}

func deliveryOf(d app.Delivery) Delivery {
	o := Delivery{Id: d.ID, Picture: d.Picture, Name: d.Name, Format: d.Format, Quality: d.Quality, State: DeliveryState(d.State), Progress: d.Progress, Created: d.Created, Batch: d.Batch}
	if d.Colourway != "" {
		o.Colourway = &d.Colourway
	}
	if d.Bytes > 0 {
		o.Bytes = &d.Bytes
	}
	if d.Problem != "" {
		o.Problem = &d.Problem
	}
	return o
}

// ListDeliveries lists a job's deliveries.
func (s *Server) ListDeliveries(ctx context.Context, r ListDeliveriesRequestObject) (ListDeliveriesResponseObject, error) {
	list, err := s.Studio.Deliveries(ctx, r.Job)
	if err != nil {
		return nil, err
	}
	o := ListDeliveries200JSONResponse{}
	for _, d := range list {
		o = append(o, deliveryOf(d))
	}
	return o, nil
}

// GetDelivery gives one delivery.
func (s *Server) GetDelivery(ctx context.Context, r GetDeliveryRequestObject) (GetDeliveryResponseObject, error) {
	d, err := s.Studio.Delivery(ctx, r.Delivery)
	return GetDelivery200JSONResponse(deliveryOf(d)), err
}

// CancelDelivery ends a delivery that is not over.
func (s *Server) CancelDelivery(ctx context.Context, r CancelDeliveryRequestObject) (CancelDeliveryResponseObject, error) {
	d, err := s.Studio.CancelDelivery(ctx, r.Delivery)
	return CancelDelivery200JSONResponse(deliveryOf(d)), err
}

// GetDeliveredFile streams the file.
func (s *Server) GetDeliveredFile(ctx context.Context, r GetDeliveredFileRequestObject) (GetDeliveredFileResponseObject, error) {
	d, body, err := s.Studio.DeliveredFile(ctx, r.Delivery)
	if err != nil {
		return nil, err
	}
	return GetDeliveredFile200ApplicationoctetStreamResponse{Body: body, ContentLength: d.Bytes,
		Headers: GetDeliveredFile200ResponseHeaders{ContentDisposition: ptr(mime.FormatMediaType("attachment", map[string]string{"filename": d.Name}))}}, nil
}
