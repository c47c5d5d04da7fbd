package store

import (
	"context"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
)

// Delivery is a file rendered for someone else.
type Delivery struct {
	ID, Picture uuid.UUID
	Name        string
	Document    []byte
	Format      string
	Quality     int
	State       string // waiting, running, done, failed, cancelled
	Progress    float64
	Problem     string
	SHA         []byte
	Bytes       int64
	Created     time.Time
	Batch       *uuid.UUID // deliveries ordered together
	Colourway   string     // its name; empty for the picture as it stands
	Options     []byte     // JSON: size, profile, metadata; nil is none of them
}

const deliverySQL = `SELECT d.id, d.picture, d.name, d.document, d.format, d.quality, d.state, d.progress, d.problem, d.sha, coalesce(b.size, 0), d.created, d.batch, d.colourway, d.options
	FROM deliveries d LEFT JOIN blobs b ON b.sha = d.sha `

func scanDelivery(r pgx.CollectableRow) (Delivery, error) {
	var d Delivery
	err := r.Scan(&d.ID, &d.Picture, &d.Name, &d.Document, &d.Format, &d.Quality, &d.State, &d.Progress, &d.Problem, &d.SHA, &d.Bytes, &d.Created, &d.Batch, &d.Colourway, &d.Options)
	return d, err
}

// AddDelivery adds a waiting delivery within tx, together with the queue's job.
func (s *Store) AddDelivery(ctx context.Context, tx pgx.Tx, d Delivery) error {
	_, err := tx.Exec(ctx, `INSERT INTO deliveries (id, picture, name, document, format, quality, batch, colourway, options) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, coalesce($9::jsonb, '{}'))`,
		d.ID, d.Picture, d.Name, d.Document, d.Format, d.Quality, d.Batch, d.Colourway, d.Options)
	return err
}

// Delivery gives one delivery.
func (s *Store) Delivery(ctx context.Context, id uuid.UUID) (Delivery, error) {
	rows, err := s.Pool.Query(ctx, deliverySQL+`WHERE d.id = $1`, id)
	if err != nil {
		return Delivery{}, err
	}
	d, err := pgx.CollectExactlyOneRow(rows, scanDelivery)
	return d, found(err)
}

// Deliveries lists a job's deliveries, newest first.
func (s *Store) Deliveries(ctx context.Context, job uuid.UUID) ([]Delivery, error) {
	rows, err := s.Pool.Query(ctx, deliverySQL+`JOIN pictures p ON p.id = d.picture WHERE p.job = $1 ORDER BY d.created DESC LIMIT 1000`, job)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, scanDelivery)
}

// Progress moves a delivery that is still wanted to running; it gives false where it was cancelled.
func (s *Store) Progress(ctx context.Context, id uuid.UUID, progress float64) (bool, error) {
	t, err := s.Pool.Exec(ctx, `UPDATE deliveries SET state = 'running', progress = $2 WHERE id = $1 AND state IN ('waiting', 'running')`, id, progress)
	return t.RowsAffected() == 1, err
}

// Finish ends a delivery that was not cancelled meanwhile, with its file or with a problem.
func (s *Store) Finish(ctx context.Context, id uuid.UUID, sha []byte, problem string) error {
	state := "done"
	if problem != "" {
		state = "failed"
	}
	_, err := s.Pool.Exec(ctx, `UPDATE deliveries SET state = $2, sha = $3, problem = $4, progress = CASE WHEN $2 = 'done' THEN 1 ELSE progress END
		WHERE id = $1 AND state IN ('waiting', 'running')`, id, state, sha, problem)
	return err
}

// Cancel ends a delivery that is not over yet.
func (s *Store) Cancel(ctx context.Context, id uuid.UUID) error {
	_, err := s.Pool.Exec(ctx, `UPDATE deliveries SET state = 'cancelled' WHERE id = $1 AND state IN ('waiting', 'running')`, id)
	return err
}

// BatchFiles lists the finished files of a batch in the order they were asked for.
func (s *Store) BatchFiles(ctx context.Context, batch uuid.UUID) ([]Delivery, error) {
	rows, err := s.Pool.Query(ctx, deliverySQL+`WHERE d.batch = $1 AND d.state = 'done' ORDER BY d.created, d.name`, batch)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, scanDelivery)
}

// Again sets a failed or cancelled delivery back to waiting within tx.
func (s *Store) Again(ctx context.Context, tx pgx.Tx, id uuid.UUID) error {
	t, err := tx.Exec(ctx, `UPDATE deliveries SET state = 'waiting', progress = 0, problem = '' WHERE id = $1 AND state IN ('failed', 'cancelled')`, id)
	if err == nil && t.RowsAffected() == 0 {
		err = ErrNothing
	}
	return err
}

// Sources lists a job's pictures with their documents as they stand.
func (s *Store) Sources(ctx context.Context, job uuid.UUID) ([]Picture, error) {
	rows, err := s.Pool.Query(ctx, `SELECT p.id, p.name, p.sha, p.depth, t.document, p.origin FROM pictures p JOIN steps t ON t.picture = p.id AND t.step = p.step
		WHERE p.job = $1 AND p.removed IS NULL ORDER BY p.place, p.created`, job)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(r pgx.CollectableRow) (Picture, error) {
		var p Picture
		err := r.Scan(&p.ID, &p.Name, &p.SHA, &p.Depth, &p.Document, &p.Origin)
		return p, err
	})
}
