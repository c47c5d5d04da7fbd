package store

import (
	"context"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
)

// EditJob stores a job's content as the next step of its history; see Edit.
func (s *Store) EditJob(ctx context.Context, id uuid.UUID, base int64, label string, content []byte) (Job, error) {
	return s.inJob(ctx, id, func(tx pgx.Tx, j Job) (int64, error) {
		if j.Revision != base {
			return 0, ErrStale
		}
		if _, err := tx.Exec(ctx, `DELETE FROM job_steps WHERE job = $1 AND (step > $2 OR step < $2 - $3)`, id, j.Step, keptSteps); err != nil {
			return 0, err
		}
		_, err := tx.Exec(ctx, `INSERT INTO job_steps (job, step, label, content) VALUES ($1, $2, $3, $4)`, id, j.Step+1, label, content)
		return j.Step + 1, err
	})
}

// MoveJob undoes (by -1) or redoes (by 1) a step of a job's content.
func (s *Store) MoveJob(ctx context.Context, id uuid.UUID, by int64) (Job, error) {
	return s.inJob(ctx, id, func(tx pgx.Tx, j Job) (int64, error) {
		var there bool
		err := tx.QueryRow(ctx, `SELECT EXISTS (SELECT FROM job_steps WHERE job = $1 AND step = $2)`, id, j.Step+by).Scan(&there)
		if err == nil && !there {
			err = ErrNothing
		}
		return j.Step + by, err
	})
}

// inJob changes the step of a locked job to what f gives. Where f says that somebody was first, the job as it stands
// comes with the error.
func (s *Store) inJob(ctx context.Context, id uuid.UUID, f func(tx pgx.Tx, j Job) (int64, error)) (Job, error) {
	var out Job
	err := pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) error {
		var one int
		if err := tx.QueryRow(ctx, `SELECT 1 FROM jobs WHERE id = $1 FOR UPDATE`, id).Scan(&one); err != nil {
			return found(err)
		}
		var err error
		if out, err = job(ctx, tx, id); err != nil {
			return err
		}
		step, err := f(tx, out)
		if err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `UPDATE jobs SET step = $2, revision = revision + 1 WHERE id = $1`, id, step); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `SELECT pg_notify('episema_revision', $1)`, id.String()); err != nil {
			return err
		}
		out, err = job(ctx, tx, id)
		return err
	})
	return out, err
}

// PartRow is a part of a job: its row (document.Part.Row), its name, and in which picture.
type PartRow struct {
	Row     string
	Name    string
	Picture uuid.UUID
}

// PartRows lists the parts of all of a job's pictures, in the order of the pictures and their documents.
func (s *Store) PartRows(ctx context.Context, id uuid.UUID) ([]PartRow, error) {
	rows, err := s.Pool.Query(ctx, `SELECT CASE WHEN (q.part->>'unnamed')::boolean THEN '#' || (q.part->>'id') ELSE trim(q.part->>'name') END, trim(q.part->>'name'), p.id FROM pictures p JOIN steps t ON t.picture = p.id AND t.step = p.step
		CROSS JOIN LATERAL jsonb_array_elements(t.document->'parts') WITH ORDINALITY AS q(part, n)
		WHERE p.job = $1 AND p.removed IS NULL ORDER BY p.place, p.created, q.n`, id)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowToStructByPos[PartRow])
}

// SetArchived and SetRemoved put a job aside or bring it back.
func (s *Store) SetArchived(ctx context.Context, id uuid.UUID, on bool) error {
	return s.one(ctx, `UPDATE jobs SET archived = CASE WHEN $2 THEN now() END WHERE id = $1`, id, on)
}

// SetRemoved takes a job out of the list; its pictures stay in the database until it is brought back.
func (s *Store) SetRemoved(ctx context.Context, id uuid.UUID, on bool) error {
	return s.one(ctx, `UPDATE jobs SET removed = CASE WHEN $2 THEN now() END WHERE id = $1`, id, on)
}

// DuplicateJob copies a job with its content and its pictures as they stand, without their histories.
func (s *Store) DuplicateJob(ctx context.Context, id uuid.UUID, name string) (uuid.UUID, error) {
	to := uuid.New()
	err := pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) error {
		t, err := tx.Exec(ctx, `INSERT INTO jobs (id, name) SELECT $2::uuid, $3 FROM jobs WHERE id = $1`, id, to, name)
		if err != nil {
			return err
		}
		if t.RowsAffected() == 0 {
			return ErrNotFound
		}
		_, err = tx.Exec(ctx, `INSERT INTO job_steps (job, step, label, content) SELECT $2::uuid, 0, '', s.content FROM jobs j JOIN job_steps s ON s.job = j.id AND s.step = j.step WHERE j.id = $1`, id, to)
		if err != nil {
			return err
		}
		// Each picture's new id follows from the old one and the new job's, so that the three statements agree.
		const copied = `md5(p.id::text || $2::uuid::text)::uuid`
		if _, err := tx.Exec(ctx, `INSERT INTO pictures (id, job, name, sha, depth, width, height, bits, format, created, place, origin)
			SELECT `+copied+`, $2::uuid, p.name, p.sha, p.depth, p.width, p.height, p.bits, p.format, p.created, p.place, p.origin FROM pictures p WHERE p.job = $1 AND p.removed IS NULL`, id, to); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `INSERT INTO steps (picture, step, label, document)
			SELECT `+copied+`, 0, '', t.document FROM pictures p JOIN steps t ON t.picture = p.id AND t.step = p.step WHERE p.job = $1 AND p.removed IS NULL`, id, to); err != nil {
			return err
		}
		_, err = tx.Exec(ctx, `INSERT INTO picture_masks (picture, sha, name)
			SELECT `+copied+`, m.sha, m.name FROM pictures p JOIN picture_masks m ON m.picture = p.id WHERE p.job = $1 AND p.removed IS NULL`, id, to)
		return err
	})
	return to, err
}
