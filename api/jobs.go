package api

import (
	"bytes"
	"context"
	"errors"
	"io"
	"mime"
	"strconv"

	"github.com/google/uuid"

	"episema/app"
	"episema/core/colour"
	"episema/core/document"
	"episema/core/palette"
	"episema/internal/problem"
)

// ChangeJob renames a job, puts it aside or takes it out of the list.
func (s *Server) ChangeJob(ctx context.Context, r ChangeJobRequestObject) (ChangeJobResponseObject, error) {
	if err := s.Studio.ChangeJob(ctx, r.Job, app.JobChange{Name: r.Body.Name, Archived: r.Body.Archived, Removed: r.Body.Removed}); err != nil {
		return nil, err
	}
	j, err := s.job(ctx, r.Job)
	return ChangeJob200JSONResponse(j), err
}

// DuplicateJob copies a job.
func (s *Server) DuplicateJob(ctx context.Context, r DuplicateJobRequestObject) (DuplicateJobResponseObject, error) {
	id, err := s.Studio.DuplicateJob(ctx, r.Job, r.Body.Name)
	if err != nil {
		return nil, err
	}
	j, err := s.job(ctx, id)
	return DuplicateJob201JSONResponse(j), err
}

// PutContent stores an edit of palette and colourways.
func (s *Server) PutContent(ctx context.Context, r PutContentRequestObject) (PutContentResponseObject, error) {
	c := document.Content{Colourways: r.Body.Colourways}
	if r.Body.Recipes != nil {
		c.Recipes = *r.Body.Recipes
	}
	for _, w := range r.Body.Palette {
		c.Palette = append(c.Palette, document.Swatch{ID: w.Id, Name: w.Name, CSS: w.Css, Tolerance: w.Tolerance})
	}
	if r.Body.Inks != nil {
		c.Inks = &document.Inks{Profile: r.Body.Inks.Profile, Name: r.Body.Inks.Name}
	}
	j, err := s.Studio.EditJob(ctx, r.Job, r.Body.Base, r.Body.Label, c)
	if err != nil && !errors.Is(err, app.ErrStale) {
		return nil, err
	}
	o, convErr := s.jobOf(ctx, j)
	if convErr != nil {
		return nil, convErr
	}
	if err != nil {
		return PutContent409JSONResponse(o), nil
	}
	return PutContent200JSONResponse(o), nil
}

// PutInks gives the job an ink profile.
func (s *Server) PutInks(ctx context.Context, r PutInksRequestObject) (PutInksResponseObject, error) {
	j, err := s.Studio.SetInks(ctx, r.Job, r.Params.Base, r.Params.Name, r.Body)
	if err != nil && !errors.Is(err, app.ErrStale) {
		return nil, err
	}
	o, convErr := s.jobOf(ctx, j)
	if convErr != nil {
		return nil, convErr
	}
	if err != nil {
		return PutInks409JSONResponse(o), nil
	}
	return PutInks200JSONResponse(o), nil
}

func (s *Server) moveJob(ctx context.Context, id uuid.UUID, by int64) (Job, error) {
	j, err := s.Studio.MoveJob(ctx, id, by)
	if err != nil {
		return Job{}, err
	}
	return s.jobOf(ctx, j)
}

// UndoJob goes a step of the palette and colourways back.
func (s *Server) UndoJob(ctx context.Context, r UndoJobRequestObject) (UndoJobResponseObject, error) {
	j, err := s.moveJob(ctx, r.Job, -1)
	return UndoJob200JSONResponse(j), err
}

// RedoJob goes a step forward.
func (s *Server) RedoJob(ctx context.Context, r RedoJobRequestObject) (RedoJobResponseObject, error) {
	j, err := s.moveJob(ctx, r.Job, 1)
	return RedoJob200JSONResponse(j), err
}

// GetPaletteFile writes the palette as a file.
func (s *Server) GetPaletteFile(ctx context.Context, r GetPaletteFileRequestObject) (GetPaletteFileResponseObject, error) {
	format := string(r.Params.Format)
	b, err := s.Studio.PaletteFile(ctx, r.Job, format)
	if err != nil {
		return nil, err
	}
	name := "palette" + map[string]string{"tokens": ".tokens.json", "css": ".css", "csv": ".csv", "cgats": ".cgats.txt"}[format]
	return GetPaletteFile200ApplicationoctetStreamResponse{Body: bytes.NewReader(b), ContentLength: int64(len(b)),
		Headers: GetPaletteFile200ResponseHeaders{ContentDisposition: attachment(name)}}, nil
}

func attachment(name string) *string {
	return ptr(mime.FormatMediaType("attachment", map[string]string{"filename": name}))
}

// ReadPaletteFile reads a palette file; nothing is stored.
func (s *Server) ReadPaletteFile(_ context.Context, r ReadPaletteFileRequestObject) (ReadPaletteFileResponseObject, error) {
	list, err := palette.Read("", []byte(*r.Body))
	if err != nil {
		return nil, err
	}
	var pal []document.Swatch
	for i, e := range list {
		pal = append(pal, document.Swatch{ID: strconv.Itoa(i), Name: e.Name, CSS: e.CSS, Tolerance: e.Tolerance})
	}
	o, err := swatches(pal, pal)
	return ReadPaletteFile200JSONResponse(o), err
}

// ColoursOfPicture takes representative colours out of a picture.
func (s *Server) ColoursOfPicture(ctx context.Context, r ColoursOfPictureRequestObject) (ColoursOfPictureResponseObject, error) {
	k := 6
	if r.Params.K != nil {
		k = *r.Params.K
	}
	list, err := s.Studio.ColoursOf(ctx, r.Picture, k)
	if err != nil {
		return nil, err
	}
	o := ColoursOfPicture200JSONResponse{}
	for _, t := range list {
		o = append(o, struct {
			Css   string  `json:"css"`
			Hex   string  `json:"hex"`
			Share float64 `json:"share"`
		}{colour.Hex(t.Lab), colour.Hex(t.Lab), round(t.Share, 3)})
	}
	return o, nil
}

// Order puts pictures in colourways into the queue.
func (s *Server) Order(ctx context.Context, r OrderRequestObject) (OrderResponseObject, error) {
	o := app.Order{Pictures: r.Body.Pictures, Colourways: r.Body.Colourways, Format: string(r.Body.Format), Quality: 92}
	if r.Body.Quality != nil {
		o.Quality = *r.Body.Quality
	}
	if r.Body.Pattern != nil {
		o.Pattern = *r.Body.Pattern
	}
	if r.Body.Longest != nil {
		o.Options.Longest = *r.Body.Longest
	}
	if r.Body.Profile != nil {
		o.Options.Profile = string(*r.Body.Profile)
	}
	if r.Body.Metadata != nil {
		o.Options.Metadata = string(*r.Body.Metadata)
	}
	if r.Body.Chroma != nil {
		o.Options.Chroma = string(*r.Body.Chroma)
	}
	list, err := s.Studio.OrderFiles(ctx, s.Queue, r.Job, o)
	if err != nil {
		return nil, err
	}
	return Order202JSONResponse{Batch: *list[0].Batch, Files: len(list)}, nil
}

// DeliverAgain tries a failed or cancelled delivery once more.
func (s *Server) DeliverAgain(ctx context.Context, r DeliverAgainRequestObject) (DeliverAgainResponseObject, error) {
	d, err := s.Studio.DeliverAgain(ctx, s.Queue, r.Delivery)
	return DeliverAgain200JSONResponse(deliveryOf(d)), err
}

// GetBatch streams the finished files of an order.
func (s *Server) GetBatch(ctx context.Context, r GetBatchRequestObject) (GetBatchResponseObject, error) {
	files, err := s.Studio.BatchFiles(ctx, r.Batch)
	if err != nil {
		return nil, err
	}
	if len(files) == 0 {
		return nil, problem.New("nothing of this order is finished yet")
	}
	out, in := io.Pipe()
	go func() { in.CloseWithError(s.Studio.WriteBatch(ctx, r.Batch, in)) }()
	return GetBatch200ApplicationoctetStreamResponse{Body: out, Headers: GetBatch200ResponseHeaders{ContentDisposition: attachment("delivery.zip")}}, nil
}

// GetArchive streams the whole job.
func (s *Server) GetArchive(ctx context.Context, r GetArchiveRequestObject) (GetArchiveResponseObject, error) {
	name, write, err := s.Studio.Archive(ctx, r.Job)
	if err != nil {
		return nil, err
	}
	out, in := io.Pipe()
	go func() { in.CloseWithError(write(in)) }()
	return GetArchive200ApplicationoctetStreamResponse{Body: out, Headers: GetArchive200ResponseHeaders{ContentDisposition: attachment(name)}}, nil
}

// OpenArchive makes a job of an archive.
func (s *Server) OpenArchive(ctx context.Context, r OpenArchiveRequestObject) (OpenArchiveResponseObject, error) {
	id, err := s.Studio.ReadArchive(ctx, r.Body)
	if err != nil {
		return nil, err
	}
	j, err := s.job(ctx, id)
	return OpenArchive201JSONResponse(j), err
}
