package store

import (
	"context"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
)

// SetDepth gives a picture a depth map whose file is stored already; nil takes it away. The revision rises, so
// that other tabs see it.
func (s *Store) SetDepth(ctx context.Context, picture uuid.UUID, sha []byte) (Picture, error) {
	var out Picture
	err := pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) error {
		p, err := s.lock(ctx, tx, picture)
		if err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `UPDATE pictures SET depth = $2 WHERE id = $1`, picture, sha); err != nil {
			return err
		}
		out, err = s.move(ctx, tx, picture, p.Step)
		return err
	})
	return out, err
}

// AddMask notes that a mask, whose file is stored already, was brought into a picture.
func (s *Store) AddMask(ctx context.Context, picture uuid.UUID, sha []byte, name string) error {
	_, err := s.Pool.Exec(ctx, `INSERT INTO picture_masks (picture, sha, name) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING`, picture, sha, name)
	return err
}

// HasMask says whether a mask was brought into a picture.
func (s *Store) HasMask(ctx context.Context, picture uuid.UUID, sha []byte) (bool, error) {
	var there bool
	err := s.Pool.QueryRow(ctx, `SELECT EXISTS (SELECT FROM picture_masks WHERE picture = $1 AND sha = $2)`, picture, sha).Scan(&there)
	return there, err
}

// StoredMask is a mask file that was brought into a picture.
type StoredMask struct {
	SHA  []byte
	Name string
}

// MasksOf lists the mask files of a picture.
func (s *Store) MasksOf(ctx context.Context, picture uuid.UUID) ([]StoredMask, error) {
	rows, err := s.Pool.Query(ctx, `SELECT sha, name FROM picture_masks WHERE picture = $1 ORDER BY created`, picture)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowToStructByPos[StoredMask])
}
