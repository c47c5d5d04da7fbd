package app

import (
	"bytes"
	"context"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"

	"github.com/google/uuid"

	"episema/app/archive"
	"episema/app/export"
	"episema/store"
)

// mostArchive is how many bytes an archive has at most.
const mostArchive = 200 << 30

// WriteArchive streams a job as an archive that opens again on another installation to the same result.
func (s *Studio) WriteArchive(ctx context.Context, id uuid.UUID, w io.Writer) error {
	j, err := s.Store.Job(ctx, id)
	if err != nil {
		return err
	}
	a := archive.Job{Format: archive.Format, Version: archive.Version, Name: j.Name, Pictures: []archive.Picture{}}
	if err := json.Unmarshal(j.Content, &a.Content); err != nil {
		return err
	}
	list, err := s.Store.Sources(ctx, id)
	if err != nil {
		return err
	}
	for _, p := range list {
		q := archive.Picture{Name: p.Name, File: hex.EncodeToString(p.SHA)}
		if err := json.Unmarshal(p.Document, &q.Document); err != nil {
			return err
		}
		if p.Depth != nil {
			q.Depth = hex.EncodeToString(p.Depth)
		}
		if q.Origin, err = OriginOf(p); err != nil {
			return err
		}
		masks, err := s.Store.MasksOf(ctx, p.ID)
		if err != nil {
			return err
		}
		for _, m := range masks {
			q.Masks = append(q.Masks, archive.Mask{File: hex.EncodeToString(m.SHA), Name: m.Name})
		}
		a.Pictures = append(a.Pictures, q)
	}
	return archive.Write(w, a, func(sha []byte) (io.Reader, error) { return s.Store.Blob(ctx, sha) })
}

// ReadArchive makes a job of an archive. It is checked whole before anything is stored; one that is not taken leaves
// nothing behind.
func (s *Studio) ReadArchive(ctx context.Context, body io.Reader) (uuid.UUID, error) {
	path, done, err := s.derived.Spool(body, "archive-*", mostArchive)
	if err != nil {
		return uuid.Nil, err
	}
	defer done()
	from, err := archive.Open(path)
	if err != nil {
		return uuid.Nil, err
	}
	defer from.Close()
	a := from.Job
	if inks := a.Content.Inks; inks != nil {
		if err := s.unpackInks(ctx, from, inks.Profile); err != nil {
			return uuid.Nil, err
		}
	}
	seen := map[string]bool{} // a file that is named many times is looked at once
	for _, p := range a.Pictures {
		for _, name := range p.Files() {
			if seen[name] {
				continue
			}
			seen[name] = true
			if err := ctx.Err(); err != nil {
				return uuid.Nil, err
			}
			if err := from.Verify(name, s.derived.Limits.Bytes); err != nil {
				return uuid.Nil, err
			}
		}
	}
	content, err := json.Marshal(a.Content)
	if err != nil {
		return uuid.Nil, err
	}
	pictures := make([]store.Filled, len(a.Pictures))
	u := unpacking{s, from, map[string]store.Picture{}, map[string][]byte{}}
	for i, p := range a.Pictures {
		if pictures[i], err = u.picture(ctx, p); err != nil {
			return uuid.Nil, fmt.Errorf("the picture %q: %w", p.Name, err)
		}
	}
	return s.Store.CreateWholeJob(ctx, a.Name, content, pictures)
}

// unpackInks stores the ink profile of an archive.
func (s *Studio) unpackInks(ctx context.Context, from *archive.Reader, name string) error {
	if err := from.Verify(name, mostProfile); err != nil {
		return err
	}
	r, err := from.File(name)
	if err != nil {
		return err
	}
	defer r.Close()
	b, err := io.ReadAll(io.LimitReader(r, mostProfile))
	if err != nil {
		return err
	}
	if err := s.derived.Readers.CheckInkProfile(ctx, b); err != nil {
		return err
	}
	_, _, err = s.Store.PutBlob(ctx, bytes.NewReader(b))
	return err
}

// unpacking stores the files of an archive, each once: a job often has one photo several times.
type unpacking struct {
	*Studio
	from      *archive.Reader
	originals map[string]store.Picture
	greys     map[string][]byte // hashes of masks and depth maps that are stored
}

func (u *unpacking) original(ctx context.Context, p archive.Picture) (store.Picture, error) {
	if o, ok := u.originals[p.File]; ok {
		return o, nil
	}
	r, err := u.from.File(p.File)
	if err != nil {
		return store.Picture{}, err
	}
	defer r.Close()
	o, err := u.take(ctx, p.Name, r)
	if err == nil {
		u.originals[p.File] = o
	}
	return o, err
}

func (u *unpacking) grey(ctx context.Context, name string) ([]byte, error) {
	if sha, ok := u.greys[name]; ok {
		return sha, nil
	}
	r, err := u.from.File(name)
	if err != nil {
		return nil, err
	}
	defer r.Close()
	path, done, err := u.spool(r, "archived-*")
	if err != nil {
		return nil, err
	}
	defer done()
	if _, err := u.derived.Readers.ReadMask(ctx, path, 0, 0); err != nil {
		return nil, err
	}
	sha, err := u.putFile(ctx, path)
	if err == nil {
		u.greys[name] = sha
	}
	return sha, err
}

// picture stores the files of one picture.
func (u *unpacking) picture(ctx context.Context, p archive.Picture) (store.Filled, error) {
	var out store.Filled
	var err error
	if out.Picture, err = u.original(ctx, p); err != nil {
		return out, err
	}
	out.Name, out.Depth = p.Name, nil
	if p.Depth != "" {
		if out.Depth, err = u.grey(ctx, p.Depth); err != nil {
			return out, err
		}
	}
	for _, m := range p.Masks {
		sha, err := u.grey(ctx, m.File)
		if err != nil {
			return out, err
		}
		out.Masks = append(out.Masks, store.StoredMask{SHA: sha, Name: m.Name})
	}
	if p.Origin != nil {
		if out.Origin, err = json.Marshal(p.Origin); err != nil {
			return out, err
		}
	}
	out.Document, err = json.Marshal(p.Document)
	return out, err
}

// Archive names a job's archive and gives what writes it.
func (s *Studio) Archive(ctx context.Context, id uuid.UUID) (name string, write func(w io.Writer) error, err error) {
	j, err := s.Store.Job(ctx, id)
	if err != nil {
		return "", nil, err
	}
	return export.Plain(j.Name) + ".episema.zip", func(w io.Writer) error { return s.WriteArchive(ctx, id, w) }, nil
}
