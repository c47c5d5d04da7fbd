package app

import (
	"context"
	"encoding/hex"
	"errors"
	"fmt"
	"io"
	"os"

	"github.com/google/uuid"

	"episema/core/develop"
	"episema/core/document"
	"episema/core/raster"
	"episema/imagefile"
	"episema/internal/memo"
	"episema/internal/problem"
	"episema/store"
)

// source gives what a document's picks refer to: the picture, the masks they name, its depth map.
func (s *Studio) source(ctx context.Context, p *imagefile.Pyramid, pic store.Picture, doc document.Picture) (develop.Source, error) {
	src := develop.Source{Done: ctx.Done(), Pyramid: p, Space: p.Space, Masks: map[string]*raster.Mask{}}
	for _, name := range doc.MaskFiles() {
		sha, err := hex.DecodeString(name)
		if err != nil {
			return src, problem.New("the mask " + name + " is not the name of a stored mask")
		}
		there, err := s.Store.HasMask(ctx, pic.ID, sha)
		if err != nil {
			return src, err
		}
		if !there {
			continue // the pick says what is missing
		}
		if src.Masks[name], err = s.storedMask(ctx, sha); err != nil {
			return src, err
		}
	}
	if pic.Depth != nil {
		var err error
		if src.Depth, err = s.storedMask(ctx, pic.Depth); err != nil {
			return src, err
		}
		src.DepthKey = hex.EncodeToString(pic.Depth)
	}
	return src, nil
}

// storedMask decodes a grey picture from the database, remembered.
func (s *Studio) storedMask(ctx context.Context, sha []byte) (*raster.Mask, error) {
	return memo.Get(ctx, s.memory, "grey|"+string(sha), bytesOfMask, func(ctx context.Context) (*raster.Mask, error) {
		r, err := s.Store.Blob(ctx, sha)
		if err != nil {
			return nil, fmt.Errorf("the mask's file: %w", err)
		}
		path, done, err := s.spool(r, "mask-*")
		if err != nil {
			return nil, err
		}
		defer done()
		return s.derived.Readers.ReadMask(ctx, path, 0, 0)
	})
}

// spool writes a stream of at most what a file may have to a temporary one; done removes it.
func (s *Studio) spool(r io.Reader, pattern string) (path string, done func(), err error) {
	return s.derived.Spool(r, pattern, s.derived.Limits.Bytes)
}

// AddMask brings a grey picture of a picture's size in as a mask; it gives the name that mask picks use.
func (s *Studio) AddMask(ctx context.Context, picture uuid.UUID, name string, body io.Reader) (string, error) {
	pic, err := s.Store.Picture(ctx, picture)
	if err != nil {
		return "", err
	}
	sha, err := s.takeGrey(ctx, body, pic.Width, pic.Height, func(*raster.Mask) error { return nil })
	if err != nil {
		return "", err
	}
	return hex.EncodeToString(sha), s.Store.AddMask(ctx, picture, sha, pictureName(name))
}

// SetDepth gives a picture a depth map: grey, white near, of the picture's proportions. nil takes it away.
func (s *Studio) SetDepth(ctx context.Context, picture uuid.UUID, body io.Reader) (store.Picture, error) {
	pic, err := s.Store.Picture(ctx, picture)
	if err != nil {
		return pic, err
	}
	var sha []byte
	if body != nil {
		sha, err = s.takeGrey(ctx, body, 0, 0, func(m *raster.Mask) error {
			if !imagefile.SameProportions(m, pic.Width, pic.Height) {
				return &imagefile.Rejected{Problem: fmt.Sprintf("the depth map has %d x %d pixels, which are not the proportions of the picture (%d x %d)", m.W, m.H, pic.Width, pic.Height)}
			}
			return nil
		})
		if err != nil {
			return pic, err
		}
	}
	pic, err = s.Store.SetDepth(ctx, picture, sha)
	if err == nil {
		s.Revisions.Changed(picture)
	}
	return pic, err
}

// takeGrey checks and stores a grey picture of a size, 0 x 0 for any; a bad one leaves nothing behind.
func (s *Studio) takeGrey(ctx context.Context, body io.Reader, w, h int, check func(*raster.Mask) error) ([]byte, error) {
	path, done, err := s.spool(body, "grey-*")
	if err != nil {
		return nil, err
	}
	defer done()
	m, err := s.derived.Readers.ReadMask(ctx, path, w, h)
	if err != nil {
		return nil, err
	}
	if err := check(m); err != nil {
		return nil, err
	}
	return s.putFile(ctx, path)
}

func (s *Studio) putFile(ctx context.Context, path string) ([]byte, error) {
	f, err := os.Open(path)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	sha, _, err := s.Store.PutBlob(ctx, f)
	return sha, err
}

// errNoPart is returned where a request names a part that the document does not have.
var errNoPart = errors.New("that part is not in the picture (any more)")

// selection gives a part of a document, made ready, and the whole it belongs to.
func (s *Studio) selection(ctx context.Context, id uuid.UUID, part string, draft *document.Picture, use func(d *develop.Developed, at int, p *imagefile.Pyramid) error) error {
	pic, doc, err := s.picture(ctx, id, draft)
	if err != nil {
		return err
	}
	p, release, err := s.derived.Pyramid(ctx, pic.SHA)
	if err != nil {
		return err
	}
	defer release()
	d, err := s.develop(ctx, p, pic, doc, 0)
	if err != nil {
		return err
	}
	for i := range d.Parts {
		if d.Parts[i].ID == part {
			return use(d, i, p)
		}
	}
	return problem.New(errNoPart.Error())
}
