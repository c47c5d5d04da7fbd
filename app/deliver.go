package app

import (
	"context"
	"encoding/json"
	"errors"
	"os"
	"path/filepath"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/riverqueue/river"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"

	"episema/core/document"
	"episema/imagefile"
)

// deliverArgs is the queue's job: which delivery to render.
type deliverArgs struct {
	Delivery uuid.UUID `json:"delivery"`
}

func (deliverArgs) Kind() string { return "deliver" }

type deliverWorker struct {
	river.WorkerDefaults[deliverArgs]
	studio *Studio
}

// Timeout is far above what the largest picture takes.
func (w *deliverWorker) Timeout(*river.Job[deliverArgs]) time.Duration { return 30 * time.Minute }

// errCancelled ends a delivery that is not wanted any more.
var errCancelled = errors.New("cancelled")

func (w *deliverWorker) Work(ctx context.Context, job *river.Job[deliverArgs]) error {
	err := w.studio.renderDelivery(ctx, job.Args.Delivery)
	if err == nil || errors.Is(err, errCancelled) {
		return nil
	}
	w.studio.Log.Error("delivery failed", "delivery", job.Args.Delivery, "attempt", job.Attempt, "error", err)
	if job.Attempt < job.MaxAttempts && ctx.Err() != nil {
		return err // stopped from outside: another worker goes on
	}
	if finishErr := w.studio.Store.Finish(context.WithoutCancel(ctx), job.Args.Delivery, nil, err.Error()); finishErr != nil {
		return finishErr
	}
	return nil
}

// Queue makes the queue's client. workers is how many deliveries run at once; 0 only adds jobs.
func (s *Studio) Queue(workers int) (*river.Client[pgx.Tx], error) {
	cfg := &river.Config{Logger: s.Log, JobTimeout: -1, RescueStuckJobsAfter: 31 * time.Minute, MaxAttempts: 5}
	if workers > 0 {
		cfg.Workers = river.NewWorkers()
		river.AddWorker(cfg.Workers, &deliverWorker{studio: s})
		cfg.Queues = map[string]river.QueueConfig{river.QueueDefault: {MaxWorkers: workers}}
	}
	return river.NewClient(riverpgxv5.New(s.Store.Pool), cfg)
}

func (s *Studio) renderDelivery(ctx context.Context, id uuid.UUID) error {
	d, err := s.Store.Delivery(ctx, id)
	if err != nil {
		return err
	}
	last, rest := time.Time{}, s.hands.between(ctx)
	report := func(p float64) error {
		rest()
		if time.Since(last) < 150*time.Millisecond {
			return nil
		}
		last = time.Now()
		wanted, err := s.Store.Progress(ctx, id, p)
		if err == nil && !wanted {
			err = errCancelled
		}
		return err
	}
	if err := report(0); err != nil {
		return err
	}
	pic, err := s.Store.Picture(ctx, d.Picture)
	if err != nil {
		return err
	}
	var doc document.Picture
	if err := json.Unmarshal(d.Document, &doc); err != nil {
		return err
	}
	work, err := os.MkdirTemp(s.derived.Making(), "delivery-*")
	if err != nil {
		return err
	}
	defer os.RemoveAll(work)
	out := filepath.Join(work, "out")
	var opts imagefile.Options
	if err := json.Unmarshal(d.Options, &opts); err != nil {
		return err
	}
	if opts.Inks != "" {
		p, err := s.inkProfile(ctx, opts.Inks)
		if err != nil {
			return err
		}
		opts.InkFile = filepath.Join(work, "inks.icc")
		if err := os.WriteFile(opts.InkFile, p, 0o644); err != nil {
			return err
		}
	}
	origin, err := OriginOf(pic)
	if err != nil {
		return err
	}
	if err := deliverableFrom(pic.Name, origin); err != nil {
		return err
	}
	opts.Rights = rightsOf(origin, doc.Credits())
	if err := s.mediumOf(pic, doc).deliver(ctx, ordered{d.Format, d.Quality, opts, work, out, report}); err != nil {
		return err
	}
	return s.finishDelivery(ctx, id, out)
}

// finishDelivery stores a delivery's file.
func (s *Studio) finishDelivery(ctx context.Context, id uuid.UUID, out string) error {
	f, err := os.Open(out)
	if err != nil {
		return err
	}
	defer f.Close()
	sha, _, err := s.Store.PutBlob(ctx, f)
	if err != nil {
		return err
	}
	return s.Store.Finish(ctx, id, sha, "")
}
