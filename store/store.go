// Package store keeps jobs, pictures, documents and files in PostgreSQL.
package store

import (
	"context"
	"embed"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
	"github.com/jackc/pgx/v5/pgxpool"
	"github.com/jackc/pgx/v5/stdlib"
	"github.com/pressly/goose/v3"
	"github.com/riverqueue/river/riverdriver/riverpgxv5"
	"github.com/riverqueue/river/rivermigrate"
)

//go:embed migrations/*.sql
var migrations embed.FS

// Store is a pool of connections to the database.
type Store struct{ Pool *pgxpool.Pool }

// Errors that callers tell apart.
var (
	ErrNotFound = errors.New("it is not there (any more)")
	ErrStale    = errors.New("somebody else changed it first")
	ErrNothing  = errors.New("there is nothing to undo or redo")
)

// Open connects; the schema must be there, see Migrate.
func Open(ctx context.Context, url string) (*Store, error) {
	cfg, err := pgxpool.ParseConfig(url)
	if err != nil {
		return nil, fmt.Errorf("the database address is not understood: %w", err)
	}
	cfg.MaxConns = 16
	pool, err := pgxpool.NewWithConfig(ctx, cfg)
	if err != nil {
		return nil, err
	}
	if err := pool.Ping(ctx); err != nil {
		pool.Close()
		return nil, fmt.Errorf("the database does not answer: %w", err)
	}
	return &Store{pool}, nil
}

// Close gives the connections back.
func (s *Store) Close() { s.Pool.Close() }

// Migrate brings the schema (ours and the queue's) to the newest version.
func (s *Store) Migrate(ctx context.Context) error {
	db := stdlib.OpenDBFromPool(s.Pool)
	defer db.Close()
	sub, err := goose.NewProvider(goose.DialectPostgres, db, mustSub())
	if err != nil {
		return err
	}
	if _, err := sub.Up(ctx); err != nil {
		return err
	}
	m, err := rivermigrate.New(riverpgxv5.New(s.Pool), nil)
	if err != nil {
		return err
	}
	_, err = m.Migrate(ctx, rivermigrate.DirectionUp, nil)
	return err
}

func found(err error) error {
	if errors.Is(err, pgx.ErrNoRows) {
		return ErrNotFound
	}
	return err
}

// Job is one order.
type Job struct {
	ID       uuid.UUID
	Name     string
	Palette  []byte // JSON
	Pictures int
	Cover    *uuid.UUID
	Created  time.Time
}

// CreateJob makes an empty job.
func (s *Store) CreateJob(ctx context.Context, name string, palette []byte) (uuid.UUID, error) {
	id := uuid.New()
	_, err := s.Pool.Exec(ctx, `INSERT INTO jobs (id, name, palette) VALUES ($1, $2, $3)`, id, name, palette)
	return id, err
}

const jobColumns = `SELECT j.id, j.name, j.palette, j.created,
	(SELECT count(*) FROM pictures p WHERE p.job = j.id AND p.removed IS NULL),
	(SELECT p.id FROM pictures p WHERE p.job = j.id AND p.removed IS NULL ORDER BY p.created LIMIT 1) FROM jobs j `

func scanJob(r pgx.CollectableRow) (Job, error) {
	var j Job
	err := r.Scan(&j.ID, &j.Name, &j.Palette, &j.Created, &j.Pictures, &j.Cover)
	return j, err
}

// Jobs lists all jobs, newest first.
func (s *Store) Jobs(ctx context.Context) ([]Job, error) {
	rows, err := s.Pool.Query(ctx, jobColumns+`ORDER BY j.created DESC`)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, scanJob)
}

// Job gives one job.
func (s *Store) Job(ctx context.Context, id uuid.UUID) (Job, error) {
	rows, err := s.Pool.Query(ctx, jobColumns+`WHERE j.id = $1`, id)
	if err != nil {
		return Job{}, err
	}
	j, err := pgx.CollectExactlyOneRow(rows, scanJob)
	return j, found(err)
}

// RenameJob and PutPalette change a job.
func (s *Store) RenameJob(ctx context.Context, id uuid.UUID, name string) error {
	return s.one(ctx, `UPDATE jobs SET name = $2 WHERE id = $1`, id, name)
}

// PutPalette replaces a job's palette.
func (s *Store) PutPalette(ctx context.Context, id uuid.UUID, palette []byte) error {
	return s.one(ctx, `UPDATE jobs SET palette = $2 WHERE id = $1`, id, palette)
}

func (s *Store) one(ctx context.Context, sql string, args ...any) error {
	t, err := s.Pool.Exec(ctx, sql, args...)
	if err == nil && t.RowsAffected() == 0 {
		err = ErrNotFound
	}
	return err
}
