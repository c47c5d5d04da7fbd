package app

import (
	"archive/zip"
	"context"
	"encoding/json"
	"errors"
	"io"
	"strings"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"

	"episema/app/export"
	"episema/core/document"
	"episema/imagefile"
	"episema/internal/problem"
	"episema/store"
)

// Order asks for files: every picture in every colourway.
type Order struct {
	Pictures   []uuid.UUID
	Colourways []string // ids; "" is the picture as it is set
	Format     string   // one of imagefile.Formats, ora for OpenRaster, or masks
	Quality    int      // 1..100, of JPEG, WebP and AVIF
	Pattern    string   // of the names, without ending
	Options    imagefile.Options
}

const maxFiles = 20000

// OrderFiles puts an order into the queue as one batch. The names must differ from each other; where they would not, the
// error says which.
func (s *Studio) OrderFiles(ctx context.Context, queue *river.Client[pgx.Tx], job uuid.UUID, o Order) ([]store.Delivery, error) {
	if err := o.validate(); err != nil {
		return nil, err
	}
	j, err := s.Store.Job(ctx, job)
	if err != nil {
		return nil, err
	}
	if err := o.withInks(j); err != nil {
		return nil, err
	}
	if err := o.Options.ValidateFor(o.Format); err != nil {
		return nil, err
	}
	list, err := s.filesOf(ctx, j, o)
	if err != nil {
		return nil, err
	}
	if err := distinct(list, export.Ending(o.Format)); err != nil {
		return nil, err
	}
	err = pgx.BeginFunc(ctx, s.Store.Pool, func(tx pgx.Tx) error {
		jobs := make([]river.InsertManyParams, len(list))
		for i, d := range list {
			if err := s.Store.AddDelivery(ctx, tx, d); err != nil {
				return err
			}
			jobs[i] = river.InsertManyParams{Args: deliverArgs{d.ID}}
		}
		_, err := queue.InsertManyTx(ctx, tx, jobs)
		return err
	})
	if err != nil {
		return nil, err
	}
	return list, nil
}

// validate checks an order by itself, and lets one without colourways ask for the pictures as they are set.
func (o *Order) validate() error {
	if o.Quality < 1 || o.Quality > 100 {
		return problem.New("quality runs from 1 to 100")
	}
	if export.Ending(o.Format) == "" {
		return problem.Inputf("the format %q is not delivered; png, png8, jpeg, webp, tiff, tiff8, avif, ora, masks, svg and pdf are", o.Format)
	}
	if len(o.Colourways) == 0 || o.Format == "masks" { // masks are the same in every colourway
		o.Colourways = []string{""}
	}
	if n := len(o.Pictures) * len(o.Colourways); n == 0 || n > maxFiles {
		return problem.Inputf("an order has 1 to %d files; this one has %d", maxFiles, n)
	}
	return nil
}

// withInks names the inks that the job has now: the file is as it was ordered.
func (o *Order) withInks(j store.Job) error {
	if o.Options.Profile != "inks" {
		return nil
	}
	var c document.Content
	if err := json.Unmarshal(j.Content, &c); err != nil {
		return err
	}
	if c.Inks != nil {
		o.Options.Inks = c.Inks.Profile
	}
	return nil
}

// filesOf lists what an order asks for: each of its pictures in each of its colourways.
func (s *Studio) filesOf(ctx context.Context, j store.Job, o Order) ([]store.Delivery, error) {
	options, err := json.Marshal(o.Options)
	if err != nil {
		return nil, err
	}
	sources, err := s.Store.Sources(ctx, j.ID)
	if err != nil {
		return nil, err
	}
	byID := map[uuid.UUID]store.Picture{}
	for _, p := range sources {
		byID[p.ID] = p
	}
	batch := uuid.New()
	var list []store.Delivery
	for _, id := range o.Pictures {
		pic, ok := byID[id]
		if !ok {
			return nil, problem.New("one of the pictures is not in this job (any more)")
		}
		origin, err := OriginOf(pic)
		if err != nil {
			return nil, err
		}
		if err := deliverableFrom(pic.Name, origin); err != nil {
			return nil, err
		}
		var stored document.Picture
		if err := json.Unmarshal(pic.Document, &stored); err != nil {
			return nil, err
		}
		for _, w := range o.Colourways {
			doc, colourway, err := s.inColourway(ctx, j.Content, stored, w)
			if err != nil {
				return nil, err
			}
			b, err := json.Marshal(doc)
			if err != nil {
				return nil, err
			}
			name := export.Name(o.Pattern, pic.Name, colourway, len(list)+1)
			list = append(list, store.Delivery{ID: uuid.New(), Picture: id, Name: name + export.Ending(o.Format), Document: b, Format: o.Format, Quality: o.Quality, Batch: &batch, Colourway: colourway, Options: options})
		}
	}
	return list, nil
}

// distinct says which of the files of an order would have one name.
func distinct(list []store.Delivery, ending string) error {
	plain := func(d store.Delivery) string { return strings.ToLower(strings.TrimSuffix(d.Name, ending)) }
	names := map[string]int{}
	for _, d := range list {
		names[plain(d)]++
	}
	for _, d := range list {
		if n := names[plain(d)]; n > 1 {
			return problem.Inputf("%d files would be called %q; put {picture}, {colourway} or {number} into the pattern", n, d.Name)
		}
	}
	return nil
}

// DeliverAgain puts a failed or cancelled delivery back into the queue.
func (s *Studio) DeliverAgain(ctx context.Context, queue *river.Client[pgx.Tx], id uuid.UUID) (store.Delivery, error) {
	err := pgx.BeginFunc(ctx, s.Store.Pool, func(tx pgx.Tx) error {
		if err := s.Store.Again(ctx, tx, id); err != nil {
			return err
		}
		_, err := queue.InsertTx(ctx, tx, deliverArgs{id}, nil)
		return err
	})
	if err != nil {
		return store.Delivery{}, err
	}
	return s.Store.Delivery(ctx, id)
}

// WriteBatch streams the finished files of a batch as a zip. Pictures are packed already: they are stored as they are.
func (s *Studio) WriteBatch(ctx context.Context, batch uuid.UUID, w io.Writer) error {
	files, err := s.Store.BatchFiles(ctx, batch)
	if err != nil {
		return err
	}
	if len(files) == 0 {
		return problem.New("nothing of this order is finished yet")
	}
	z := zip.NewWriter(w)
	names, whose := make([]string, len(files)), make([][]string, len(files))
	for i, f := range files {
		pic, err := s.Store.Head(ctx, f.Picture)
		if err != nil && !errors.Is(err, ErrNotFound) {
			return err
		}
		o, err := OriginOf(pic)
		if err != nil {
			return err
		}
		if o != nil {
			whose[i] = append(whose[i], creditOf(o))
		}
		var doc document.Picture
		if err := json.Unmarshal(f.Document, &doc); err != nil {
			return err
		}
		names[i], whose[i] = f.Name, append(whose[i], doc.Credits()...)
	}
	if text := credits(names, whose); text != "" {
		to, err := z.Create(creditsFile)
		if err != nil {
			return err
		}
		if _, err := io.WriteString(to, text); err != nil {
			return err
		}
	}
	for _, f := range files {
		to, err := z.CreateHeader(&zip.FileHeader{Name: f.Name, Method: zip.Store, Modified: f.Created})
		if err != nil {
			return err
		}
		from, err := s.Store.Blob(ctx, f.SHA)
		if err != nil {
			return err
		}
		if _, err := io.Copy(to, from); err != nil {
			return err
		}
	}
	return z.Close()
}
