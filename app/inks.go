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
	"episema/core/raster"
	"episema/imagefile"
	"episema/internal/memo"
	"episema/internal/problem"
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
		return store.Job{}, problem.Inputf("the profile has more than %d MB", mostProfile>>20)
	}
	if err := s.derived.Readers.CheckInkProfile(ctx, b); err != nil {
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

// inkProfile returns the bytes of an ink profile, remembered.
func (s *Studio) inkProfile(ctx context.Context, profile string) ([]byte, error) {
	return memo.Get(ctx, s.memory, "profile|"+profile, func(b []byte) int64 { return int64(len(b)) }, func(ctx context.Context) ([]byte, error) {
		sha, err := hex.DecodeString(profile)
		if err != nil {
			return nil, err
		}
		r, err := s.Store.Blob(ctx, sha)
		if err != nil {
			return nil, err
		}
		return io.ReadAll(r)
	})
}

// inksOf returns the table of a job's inks, by the job's content; nil where it has none.
func (s *Studio) inksOf(ctx context.Context, content []byte) (*colour.InkTable, error) {
	var c document.Content
	if err := json.Unmarshal(content, &c); err != nil || c.Inks == nil {
		return nil, err
	}
	return memo.Get(ctx, s.memory, "ink table|"+c.Inks.Profile, func(t *colour.InkTable) int64 { return int64(t.Bytes()) }, func(ctx context.Context) (*colour.InkTable, error) {
		p, err := s.inkProfile(ctx, c.Inks.Profile)
		if err != nil {
			return nil, err
		}
		return imagefile.InkTable(p)
	})
}

// Ways to see a view in ink.
const (
	InkOnWhite = "white" // the paper's white is the screen's
	InkOnPaper = "paper" // the paper is seen as it is
)

// intoInk turns the pixels of a view to what they look like in the job's inks.
func (s *Studio) intoInk(ctx context.Context, content, pix []byte, v View) error {
	table, err := s.inksOf(ctx, content)
	if err != nil {
		return err
	}
	if table == nil {
		return problem.New("the job has no ink profile to see this in; bring one in beside the palette")
	}
	const rows = 64
	raster.Parallel((v.Height+rows-1)/rows, func(n int) {
		from, to := n*rows, min(v.Height, (n+1)*rows)
		if ctx.Err() == nil {
			table.Show(pix[4*v.Width*from:4*v.Width*to], v.Width, from, v.Ink == InkOnPaper, v.InkMarks)
		}
	})
	return ctx.Err()
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
		v, err := memo.Get(ctx, s.memory, "inks|"+c.Inks.Profile+"|"+css, func(string) int64 { return 256 }, func(ctx context.Context) (string, error) {
			p, err := s.inkProfile(ctx, c.Inks.Profile)
			if err != nil {
				return "", err
			}
			l, err := imagefile.InkLab(p, inks)
			return fmt.Sprintf("lab(%.4f %.4f %.4f)", max(0, min(100, l[0])), l[1], l[2]), err
		})
		if err != nil {
			problem = fmt.Errorf("the job's ink profile %s: %w", c.Inks.Name, err)
			return css
		}
		return v
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
