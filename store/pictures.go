package store

import (
	"context"
	"io/fs"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
)

func mustSub() fs.FS {
	sub, err := fs.Sub(migrations, "migrations")
	if err != nil {
		panic(err) // the folder is embedded
	}
	return sub
}

// Picture is a picture of a job with its document as it stands.
type Picture struct {
	ID, Job       uuid.UUID
	JobName, Name string
	SHA           []byte
	Depth         []byte // hash of the depth map; nil where there is none
	Width, Height int
	Bits          int
	Format        string
	Step          int64
	Revision      int64
	Document      []byte
	Undo, Redo    string // labels of the steps they would take; empty where there is none
	Content       []byte // of the job: palette and colourways
	Parts         int
	JobRevision   int64
	Origin        []byte // JSON of a document.Origin; nil where it has none
}

// AddPicture adds a picture whose file is stored already; its document is the first step.
func (s *Store) AddPicture(ctx context.Context, p Picture) (uuid.UUID, error) {
	err := pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) (err error) {
		p.ID, err = insertPicture(ctx, tx, p)
		return err
	})
	return p.ID, err
}

func insertPicture(ctx context.Context, tx pgx.Tx, p Picture) (uuid.UUID, error) {
	id := uuid.New()
	if _, err := tx.Exec(ctx, `INSERT INTO pictures (id, job, name, sha, depth, width, height, bits, format, origin, place)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, (SELECT coalesce(max(place), 0) + 1 FROM pictures WHERE job = $2))`,
		id, p.Job, p.Name, p.SHA, p.Depth, p.Width, p.Height, p.Bits, p.Format, p.Origin); err != nil {
		return id, err
	}
	_, err := tx.Exec(ctx, `INSERT INTO steps (picture, step, label, document) VALUES ($1, 0, '', $2)`, id, p.Document)
	return id, err
}

// Filled is a picture with the masks that were brought into it; all its files are stored already.
type Filled struct {
	Picture
	Masks []StoredMask
}

// CreateWholeJob makes a job with all its pictures, or nothing.
func (s *Store) CreateWholeJob(ctx context.Context, name string, content []byte, pictures []Filled) (uuid.UUID, error) {
	var job uuid.UUID
	err := pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) (err error) {
		if job, err = insertJob(ctx, tx, name, content); err != nil {
			return err
		}
		for _, p := range pictures {
			p.Job = job
			id, err := insertPicture(ctx, tx, p.Picture)
			if err != nil {
				return err
			}
			for _, m := range p.Masks {
				if _, err := tx.Exec(ctx, `INSERT INTO picture_masks (picture, sha, name) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING`, id, m.SHA, m.Name); err != nil {
					return err
				}
			}
		}
		return nil
	})
	return job, err
}

// AddOnly adds a picture of an origin, unless a job other than its own has one: then that job is returned and nothing is added. Of those
// who try at once one comes first.
func (s *Store) AddOnly(ctx context.Context, p Picture, source, item string) (id, other uuid.UUID, err error) {
	err = pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) error {
		if _, err := tx.Exec(ctx, `SELECT pg_advisory_xact_lock(hashtextextended($1, 0))`, source+"\n"+item); err != nil {
			return err
		}
		if other, err = takenFrom(ctx, tx, source, item, p.Job); err != nil || other != uuid.Nil {
			return err
		}
		id, err = insertPicture(ctx, tx, p)
		return err
	})
	return id, other, err
}

// TakenFrom returns a job that has a picture of an origin, removed ones among them, other than except; uuid.Nil for none.
func (s *Store) TakenFrom(ctx context.Context, source, item string, except uuid.UUID) (uuid.UUID, error) {
	return takenFrom(ctx, s.Pool, source, item, except)
}

func takenFrom(ctx context.Context, q querier, source, item string, except uuid.UUID) (uuid.UUID, error) {
	var id uuid.UUID
	err := q.QueryRow(ctx, `SELECT coalesce((SELECT job FROM pictures WHERE origin->>'source' = $1 AND origin->>'item' = $2 AND job <> $3 LIMIT 1), '00000000-0000-0000-0000-000000000000')`, source, item, except).Scan(&id)
	return id, err
}

// RemovePicture takes a picture out of its job; its file and history stay in the database.
func (s *Store) RemovePicture(ctx context.Context, id uuid.UUID) error {
	return s.one(ctx, `UPDATE pictures SET removed = now() WHERE id = $1 AND removed IS NULL`, id)
}

// BringBackPicture puts a picture that was removed back into its job, where it was.
func (s *Store) BringBackPicture(ctx context.Context, id uuid.UUID) error {
	return s.one(ctx, `UPDATE pictures SET removed = NULL WHERE id = $1`, id)
}

// RenamePicture renames a picture.
func (s *Store) RenamePicture(ctx context.Context, id uuid.UUID, name string) error {
	return s.one(ctx, `UPDATE pictures SET name = $2 WHERE id = $1 AND removed IS NULL`, id, name)
}

// PlacePicture puts a picture before another one of its job, or last where before is nil.
func (s *Store) PlacePicture(ctx context.Context, id uuid.UUID, before *uuid.UUID) error {
	return pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) error {
		var job uuid.UUID
		if err := tx.QueryRow(ctx, `SELECT job FROM pictures WHERE id = $1 AND removed IS NULL`, id).Scan(&job); err != nil {
			return found(err)
		}
		// One at a time for each job: places are given anew, whole numbers from 1 on.
		if _, err := tx.Exec(ctx, `SELECT 1 FROM jobs WHERE id = $1 FOR UPDATE`, job); err != nil {
			return err
		}
		var at float64
		err := tx.QueryRow(ctx, `SELECT coalesce((SELECT place - 0.5 FROM pictures WHERE id = $2 AND job = $1 AND removed IS NULL), (SELECT max(place) + 1 FROM pictures WHERE job = $1 AND $2::uuid IS NULL))`, job, before).Scan(&at)
		if err != nil {
			return ErrNotFound
		}
		if _, err := tx.Exec(ctx, `UPDATE pictures SET place = $2 WHERE id = $1`, id, at); err != nil {
			return err
		}
		_, err = tx.Exec(ctx, `UPDATE pictures p SET place = q.n FROM (SELECT id, row_number() OVER (ORDER BY place, created) AS n FROM pictures WHERE job = $1) q WHERE q.id = p.id`, job)
		return err
	})
}

// RemovedPictures lists the pictures of a job that were removed and can be brought back, the last one first.
func (s *Store) RemovedPictures(ctx context.Context, job uuid.UUID) ([]Picture, error) {
	return s.pictures(ctx, `p.removed > now() - make_interval(days => $2) ORDER BY p.removed DESC`, job, TrashDays)
}

// Pictures lists a job's pictures in their order, without their documents.
func (s *Store) Pictures(ctx context.Context, job uuid.UUID) ([]Picture, error) {
	return s.pictures(ctx, `p.removed IS NULL ORDER BY p.place, p.created`, job)
}

// pictures lists those pictures of a job, the first argument, for which a condition holds.
func (s *Store) pictures(ctx context.Context, which string, args ...any) ([]Picture, error) {
	rows, err := s.Pool.Query(ctx, `SELECT p.id, p.name, p.width, p.height, p.format, p.revision, jsonb_array_length(t.document->'parts'), p.origin
		FROM pictures p JOIN steps t ON t.picture = p.id AND t.step = p.step WHERE p.job = $1 AND `+which, args...)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, func(r pgx.CollectableRow) (Picture, error) {
		var p Picture
		err := r.Scan(&p.ID, &p.Name, &p.Width, &p.Height, &p.Format, &p.Revision, &p.Parts, &p.Origin)
		return p, err
	})
}

const pictureSQL = `SELECT p.id, p.job, j.name, p.name, p.sha, p.depth, p.width, p.height, p.bits, p.format, p.step, p.revision, CASE WHEN $2 THEN t.document END, t.label, c.content, j.revision, p.origin,
	coalesce((SELECT n.label FROM steps n WHERE n.picture = p.id AND n.step = p.step + 1), '')
	FROM pictures p JOIN jobs j ON j.id = p.job JOIN job_steps c ON c.job = j.id AND c.step = j.step JOIN steps t ON t.picture = p.id AND t.step = p.step WHERE p.id = $1`

type querier interface {
	QueryRow(ctx context.Context, sql string, args ...any) pgx.Row
	Query(ctx context.Context, sql string, args ...any) (pgx.Rows, error)
}

// picture reads a picture, with its document or without.
func picture(ctx context.Context, q querier, id uuid.UUID, whole bool) (Picture, error) {
	var p Picture
	err := q.QueryRow(ctx, pictureSQL, id, whole).Scan(&p.ID, &p.Job, &p.JobName, &p.Name, &p.SHA, &p.Depth, &p.Width, &p.Height, &p.Bits, &p.Format,
		&p.Step, &p.Revision, &p.Document, &p.Undo, &p.Content, &p.JobRevision, &p.Origin, &p.Redo)
	return p, found(err)
}

// Picture gives one picture with its document.
func (s *Store) Picture(ctx context.Context, id uuid.UUID) (Picture, error) {
	return picture(ctx, s.Pool, id, true)
}

// Head gives one picture without its document, which may be large.
func (s *Store) Head(ctx context.Context, id uuid.UUID) (Picture, error) {
	return picture(ctx, s.Pool, id, false)
}

// keptSteps is how many steps of a picture's history are kept.
const keptSteps = 1000

// Edit stores a document as the next step. base is the revision it was made from; where that is not the
// newest, nothing is stored and ErrStale comes with the picture as it stands.
func (s *Store) Edit(ctx context.Context, id uuid.UUID, base int64, label string, document []byte) (Picture, error) {
	var out Picture
	err := pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) error {
		p, err := s.lock(ctx, tx, id)
		if err != nil {
			return err
		}
		if p.Revision != base {
			out = p
			return ErrStale
		}
		if _, err := tx.Exec(ctx, `DELETE FROM steps WHERE picture = $1 AND (step > $2 OR step < $2 - $3)`, id, p.Step, keptSteps); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `INSERT INTO steps (picture, step, label, document) VALUES ($1, $2, $3, $4)`, id, p.Step+1, label, document); err != nil {
			return err
		}
		out, err = s.move(ctx, tx, id, p.Step+1)
		return err
	})
	return out, err
}

// Move undoes (by -1) or redoes (by 1) a step.
func (s *Store) Move(ctx context.Context, id uuid.UUID, by int64) (Picture, error) {
	var out Picture
	err := pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) error {
		p, err := s.lock(ctx, tx, id)
		if err != nil {
			return err
		}
		var there bool
		if err := tx.QueryRow(ctx, `SELECT EXISTS (SELECT FROM steps WHERE picture = $1 AND step = $2)`, id, p.Step+by).Scan(&there); err != nil {
			return err
		}
		if !there {
			out = p
			return ErrNothing
		}
		out, err = s.move(ctx, tx, id, p.Step+by)
		return err
	})
	return out, err
}

func (s *Store) lock(ctx context.Context, tx pgx.Tx, id uuid.UUID) (Picture, error) {
	var one int
	if err := tx.QueryRow(ctx, `SELECT 1 FROM pictures WHERE id = $1 AND removed IS NULL FOR UPDATE`, id).Scan(&one); err != nil {
		return Picture{}, found(err)
	}
	return picture(ctx, tx, id, true)
}

func (s *Store) move(ctx context.Context, tx pgx.Tx, id uuid.UUID, step int64) (Picture, error) {
	if _, err := tx.Exec(ctx, `UPDATE pictures SET step = $2, revision = revision + 1 WHERE id = $1`, id, step); err != nil {
		return Picture{}, err
	}
	if _, err := tx.Exec(ctx, `SELECT pg_notify('episema_revision', $1)`, id.String()); err != nil {
		return Picture{}, err
	}
	return picture(ctx, tx, id, true)
}

// Revisions returns the revisions of those of some pictures and jobs that are there.
func (s *Store) Revisions(ctx context.Context, ids []uuid.UUID) (map[uuid.UUID]int64, error) {
	rows, err := s.Pool.Query(ctx, `SELECT id, revision FROM pictures WHERE id = ANY($1) AND removed IS NULL
		UNION ALL SELECT id, revision FROM jobs WHERE id = ANY($1) AND removed IS NULL`, ids)
	if err != nil {
		return nil, err
	}
	out := map[uuid.UUID]int64{}
	var id uuid.UUID
	var r int64
	_, err = pgx.ForEachRow(rows, []any{&id, &r}, func() error {
		out[id] = r
		return nil
	})
	return out, err
}
