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

// Job is one order, with its palette and colourways as they stand.
type Job struct {
	ID         uuid.UUID
	Name       string
	Content    []byte // JSON: palette and colourways
	Step       int64
	Revision   int64
	Undo, Redo string // labels of the steps they would take; empty where there is none
	Pictures   int
	Cover      *uuid.UUID
	Created    time.Time
	Archived   bool
	Removed    bool
}

// CreateJob makes an empty job.
func (s *Store) CreateJob(ctx context.Context, name string, content []byte) (uuid.UUID, error) {
	var id uuid.UUID
	err := pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) (err error) {
		id, err = insertJob(ctx, tx, name, content)
		return err
	})
	return id, err
}

func insertJob(ctx context.Context, tx pgx.Tx, name string, content []byte) (uuid.UUID, error) {
	id := uuid.New()
	if _, err := tx.Exec(ctx, `INSERT INTO jobs (id, name) VALUES ($1, $2)`, id, name); err != nil {
		return id, err
	}
	_, err := tx.Exec(ctx, `INSERT INTO job_steps (job, step, label, content) VALUES ($1, 0, '', $2)`, id, content)
	return id, err
}

const jobColumns = `SELECT j.id, j.name, s.content, j.step, j.revision, s.label, coalesce((SELECT n.label FROM job_steps n WHERE n.job = j.id AND n.step = j.step + 1), ''), j.created,
	j.archived IS NOT NULL, j.removed IS NOT NULL,
	(SELECT count(*) FROM pictures p WHERE p.job = j.id AND p.removed IS NULL),
	(SELECT p.id FROM pictures p WHERE p.job = j.id AND p.removed IS NULL ORDER BY p.place, p.created LIMIT 1)
	FROM jobs j JOIN job_steps s ON s.job = j.id AND s.step = j.step `

func scanJob(r pgx.CollectableRow) (Job, error) {
	var j Job
	err := r.Scan(&j.ID, &j.Name, &j.Content, &j.Step, &j.Revision, &j.Undo, &j.Redo, &j.Created, &j.Archived, &j.Removed, &j.Pictures, &j.Cover)
	return j, err
}

// TrashDays is how long a removed job or picture can be brought back.
const TrashDays = 30

// Jobs lists all jobs that were not removed, newest first; of those that were, the ones that can be brought back.
func (s *Store) Jobs(ctx context.Context, removed bool) ([]Job, error) {
	rows, err := s.Pool.Query(ctx, jobColumns+`WHERE CASE WHEN $1 THEN j.removed > now() - make_interval(days => $2) ELSE j.removed IS NULL END
		ORDER BY coalesce(j.removed, j.created) DESC`, removed, TrashDays)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, scanJob)
}

// Job gives one job.
func (s *Store) Job(ctx context.Context, id uuid.UUID) (Job, error) { return job(ctx, s.Pool, id) }

func job(ctx context.Context, q querier, id uuid.UUID) (Job, error) {
	rows, err := q.Query(ctx, jobColumns+`WHERE j.id = $1`, id)
	if err != nil {
		return Job{}, err
	}
	j, err := pgx.CollectExactlyOneRow(rows, scanJob)
	return j, found(err)
}

// RenameJob renames a job.
func (s *Store) RenameJob(ctx context.Context, id uuid.UUID, name string) error {
	return s.one(ctx, `UPDATE jobs SET name = $2 WHERE id = $1`, id, name)
}

func (s *Store) one(ctx context.Context, sql string, args ...any) error {
	t, err := s.Pool.Exec(ctx, sql, args...)
	if err == nil && t.RowsAffected() == 0 {
		err = ErrNotFound
	}
	return err
}
