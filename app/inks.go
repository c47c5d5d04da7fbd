package app

import (
	"bytes"
	"context"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"

	"github.com/google/uuid"

	"episema/core/colour"
	"episema/core/document"
	"episema/imagefile"
	"episema/store"
)

// mostProfile is how many bytes an ink profile has at most; those of printing conditions have some 3 MB.
const mostProfile = 32 << 20

// SetInks gives a job the ICC profile through which its CMYK colours are read, as a step of its history.
func (s *Studio) SetInks(ctx context.Context, job uuid.UUID, base int64, name string, body io.Reader) (store.Job, error) {
	b, err := io.ReadAll(io.LimitReader(body, mostProfile+1))
	if err != nil {
		return store.Job{}, err
	}
	if len(b) > mostProfile {
		return store.Job{}, &InputError{fmt.Sprintf("the profile has more than %d MB", mostProfile>>20)}
	}
	if err := s.readers.CheckInkProfile(ctx, b); err != nil {
		return store.Job{}, err
	}
	sha, _, err := s.Store.PutBlob(ctx, bytes.NewReader(b))
	if err != nil {
		return store.Job{}, err
	}
	j, err := s.Store.Job(ctx, job)
	if err != nil {
		return j, err
	}
	var c document.Content
	if err := json.Unmarshal(j.Content, &c); err != nil {
		return j, err
	}
	c.Inks = &document.Inks{Profile: hex.EncodeToString(sha), Name: pictureName(name)}
	return s.EditJob(ctx, job, base, "ink profile", c)
}

// reader gives how a job's colours are read: those in CMYK through its profile where it has one, as lab(); all others as
// they stand. failed says whether one could not be read.
func (s *Studio) reader(ctx context.Context, c *document.Content) (read func(css string) string, failed func() error) {
	var problem error
	return func(css string) string {
		inks, ok := colour.Inks(css)
		if !ok || c.Inks == nil {
			return css
		}
		v, err := s.memory.do(ctx, "inks|"+c.Inks.Profile+"|"+css, func(any) int64 { return 256 }, func(ctx context.Context) (any, error) {
			p, err := s.memory.do(ctx, "profile|"+c.Inks.Profile, func(v any) int64 { return int64(len(v.([]byte))) }, func(ctx context.Context) (any, error) {
				sha, err := hex.DecodeString(c.Inks.Profile)
				if err != nil {
					return nil, err
				}
				r, err := s.Store.Blob(ctx, sha)
				if err != nil {
					return nil, err
				}
				return io.ReadAll(r)
			})
			if err != nil {
				return nil, err
			}
			l, err := imagefile.InkLab(p.([]byte), inks)
			return fmt.Sprintf("lab(%.4f %.4f %.4f)", max(0, min(100, l[0])), l[1], l[2]), err
		})
		if err != nil {
			problem = fmt.Errorf("the job's ink profile %s: %w", c.Inks.Name, err)
			return css
		}
		return v.(string)
	}, func() error { return problem }
}

// ReadPalette gives a content's palette with every colour as it is read in the job.
func (s *Studio) ReadPalette(ctx context.Context, c *document.Content) ([]document.Swatch, error) {
	read, failed := s.reader(ctx, c)
	out := make([]document.Swatch, len(c.Palette))
	for i, w := range c.Palette {
		w.CSS = read(w.CSS)
		out[i] = w
	}
	return out, failed()
}

// ReadIn gives a colour as it is read in a job.
func (s *Studio) ReadIn(ctx context.Context, job uuid.UUID, css string) (string, error) {
	j, err := s.Store.Job(ctx, job)
	if err != nil {
		return "", err
	}
	var c document.Content
	if err := json.Unmarshal(j.Content, &c); err != nil {
		return "", err
	}
	read, failed := s.reader(ctx, &c)
	css = read(css)
	return css, failed()
}
