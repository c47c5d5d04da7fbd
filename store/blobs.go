package store

import (
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"io"

	"github.com/jackc/pgx/v5"
)

const piece = 512 << 10 // bytes a row

// PutBlob stores a stream under the hash of its bytes; a file stored already costs nothing more. It
// appears whole or not at all, and never more than a piece of it is in memory.
func (s *Store) PutBlob(ctx context.Context, r io.ReadSeeker) (sha []byte, size int64, err error) {
	h := sha256.New()
	if size, err = io.Copy(h, r); err != nil {
		return nil, 0, err
	}
	sha = h.Sum(nil)
	if _, err = r.Seek(0, io.SeekStart); err != nil {
		return nil, 0, err
	}
	err = pgx.BeginFunc(ctx, s.Pool, func(tx pgx.Tx) error {
		t, err := tx.Exec(ctx, `INSERT INTO blobs (sha, size) VALUES ($1, $2) ON CONFLICT DO NOTHING`, sha, size)
		if err != nil || t.RowsAffected() == 0 {
			return err
		}
		buf := make([]byte, piece)
		again := int64(0)
		for n := 0; ; n++ {
			k, err := io.ReadFull(r, buf)
			again += int64(k)
			if k > 0 {
				if _, err := tx.Exec(ctx, `INSERT INTO blob_pieces (sha, n, data) VALUES ($1, $2, $3)`, sha, n, buf[:k]); err != nil {
					return err
				}
			}
			if errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) {
				if again != size {
					return fmt.Errorf("a file of %d bytes had %d when it was read again to be stored", size, again)
				}
				return nil
			}
			if err != nil {
				return err
			}
		}
	})
	return sha, size, err
}

// BlobSize gives the size of a stored file.
func (s *Store) BlobSize(ctx context.Context, sha []byte) (int64, error) {
	var n int64
	err := s.Pool.QueryRow(ctx, `SELECT size FROM blobs WHERE sha = $1`, sha).Scan(&n)
	return n, found(err)
}

// Blob streams a stored file, a piece at a time.
func (s *Store) Blob(ctx context.Context, sha []byte) (io.Reader, error) {
	size, err := s.BlobSize(ctx, sha)
	if err != nil {
		return nil, err
	}
	return &blobReader{ctx: ctx, s: s, sha: sha, left: size}, nil
}

type blobReader struct {
	ctx  context.Context
	s    *Store
	sha  []byte
	n    int
	rest []byte
	left int64 // bytes that are still to come
}

func (b *blobReader) Read(p []byte) (int, error) {
	if len(b.rest) == 0 {
		err := b.s.Pool.QueryRow(b.ctx, `SELECT data FROM blob_pieces WHERE sha = $1 AND n = $2`, b.sha, b.n).Scan(&b.rest)
		if errors.Is(err, pgx.ErrNoRows) {
			if b.left > 0 {
				return 0, fmt.Errorf("a stored file lacks its last %d bytes", b.left)
			}
			return 0, io.EOF
		}
		if err != nil {
			return 0, err
		}
		b.n++
	}
	n := copy(p, b.rest)
	b.rest = b.rest[n:]
	b.left -= int64(n)
	return n, nil
}
