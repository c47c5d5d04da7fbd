package app

import (
	"archive/zip"
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"strings"

	"github.com/google/uuid"

	"episema/core/document"
	"episema/store"
)

// Archive is job.json of a job's archive: a zip with it and the files it names, under files/ by the SHA-256 of their
// bytes.
type Archive struct {
	Format   string            `json:"format"` // ArchiveFormat
	Version  int               `json:"version"`
	Name     string            `json:"name"`
	Content  document.Content  `json:"content"`
	Pictures []ArchivedPicture `json:"pictures"`
}

// ArchivedPicture is a picture with its document and all the document refers to.
type ArchivedPicture struct {
	Name     string           `json:"name"`
	File     string           `json:"file"`            // hash of the original
	Depth    string           `json:"depth,omitempty"` // hash of the depth map
	Masks    []ArchivedMask   `json:"masks,omitempty"` // brought in from files
	Origin   *document.Origin `json:"origin,omitempty"`
	Document document.Picture `json:"document"`
}

// ArchivedMask is a mask file that was brought into a picture.
type ArchivedMask struct {
	File string `json:"file"`
	Name string `json:"name"`
}

// ArchiveFormat and ArchiveVersion tell an archive of ours.
const (
	ArchiveFormat  = "episema-job"
	ArchiveVersion = 1
)

const (
	mostArchived = 2000      // pictures of an archive
	mostArchive  = 200 << 30 // bytes of one
)

// WriteArchive streams a job as an archive that opens again on another installation to the same result.
func (s *Studio) WriteArchive(ctx context.Context, id uuid.UUID, w io.Writer) error {
	j, err := s.Store.Job(ctx, id)
	if err != nil {
		return err
	}
	a := Archive{Format: ArchiveFormat, Version: ArchiveVersion, Name: j.Name, Pictures: []ArchivedPicture{}}
	if err := json.Unmarshal(j.Content, &a.Content); err != nil {
		return err
	}
	list, err := s.Store.Sources(ctx, id)
	if err != nil {
		return err
	}
	var files []string
	need := func(sha []byte) string {
		name := hex.EncodeToString(sha)
		files = append(files, name)
		return name
	}
	if a.Content.Inks != nil {
		files = append(files, a.Content.Inks.Profile)
	}
	for _, p := range list {
		q := ArchivedPicture{Name: p.Name, File: need(p.SHA)}
		if err := json.Unmarshal(p.Document, &q.Document); err != nil {
			return err
		}
		if p.Depth != nil {
			q.Depth = need(p.Depth)
		}
		if q.Origin, err = OriginOf(p); err != nil {
			return err
		}
		masks, err := s.Store.MasksOf(ctx, p.ID)
		if err != nil {
			return err
		}
		for _, m := range masks {
			q.Masks = append(q.Masks, ArchivedMask{need(m.SHA), m.Name})
		}
		a.Pictures = append(a.Pictures, q)
	}
	z := zip.NewWriter(w)
	head, err := z.Create("job.json")
	if err != nil {
		return err
	}
	e := json.NewEncoder(head)
	e.SetIndent("", "  ")
	if err := e.Encode(a); err != nil {
		return err
	}
	written := map[string]bool{}
	for _, name := range files {
		if written[name] {
			continue
		}
		written[name] = true
		sha, err := hex.DecodeString(name)
		if err != nil {
			return err
		}
		to, err := z.CreateHeader(&zip.FileHeader{Name: "files/" + name, Method: zip.Store})
		if err != nil {
			return err
		}
		from, err := s.Store.Blob(ctx, sha)
		if err != nil {
			return err
		}
		if _, err := io.Copy(to, from); err != nil {
			return err
		}
	}
	return z.Close()
}

// ReadArchive makes a job of an archive. It is checked whole before anything is stored; one that is not taken leaves
// nothing behind.
func (s *Studio) ReadArchive(ctx context.Context, body io.Reader) (uuid.UUID, error) {
	path, done, err := s.spoolUpTo(body, "archive-*", mostArchive)
	if err != nil {
		return uuid.Nil, err
	}
	defer done()
	z, err := zip.OpenReader(path)
	if err != nil {
		return uuid.Nil, &InputError{"this is no archive of a job: it is not a zip that can be read"}
	}
	defer z.Close()
	entries := map[string]*zip.File{}
	for _, f := range z.File {
		entries[f.Name] = f
	}
	a, err := readHead(entries["job.json"])
	if err != nil {
		return uuid.Nil, err
	}
	if inks := a.Content.Inks; inks != nil {
		if err := s.unpackInks(ctx, entries, inks.Profile); err != nil {
			return uuid.Nil, err
		}
	}
	seen := map[string]bool{} // a file that is named many times is looked at once
	for _, p := range a.Pictures {
		for _, name := range p.files() {
			if seen[name] {
				continue
			}
			seen[name] = true
			if err := ctx.Err(); err != nil {
				return uuid.Nil, err
			}
			if err := verify(entries["files/"+name], name, s.Limits.Bytes); err != nil {
				return uuid.Nil, err
			}
		}
	}
	content, err := json.Marshal(a.Content)
	if err != nil {
		return uuid.Nil, err
	}
	pictures := make([]store.Filled, len(a.Pictures))
	u := unpacking{s, entries, map[string]store.Picture{}, map[string][]byte{}}
	for i, p := range a.Pictures {
		if pictures[i], err = u.picture(ctx, p); err != nil {
			return uuid.Nil, fmt.Errorf("the picture %q: %w", p.Name, err)
		}
	}
	return s.Store.CreateWholeJob(ctx, a.Name, content, pictures)
}

// unpackInks stores the ink profile of an archive.
func (s *Studio) unpackInks(ctx context.Context, entries map[string]*zip.File, name string) error {
	f := entries["files/"+name]
	if err := verify(f, name, mostProfile); err != nil {
		return err
	}
	r, err := f.Open()
	if err != nil {
		return err
	}
	defer r.Close()
	b, err := io.ReadAll(io.LimitReader(r, mostProfile))
	if err != nil {
		return err
	}
	if err := s.readers.CheckInkProfile(ctx, b); err != nil {
		return err
	}
	_, _, err = s.Store.PutBlob(ctx, bytes.NewReader(b))
	return err
}

func readHead(f *zip.File) (Archive, error) {
	var a Archive
	if f == nil || f.UncompressedSize64 > 256<<20 {
		return a, &InputError{"this is no archive of a job: job.json is missing in it"}
	}
	r, err := f.Open()
	if err != nil {
		return a, &InputError{"job.json cannot be read out of the archive: " + err.Error()}
	}
	defer r.Close()
	if err := decodeHead(json.NewDecoder(io.LimitReader(r, 256<<20)), &a); err != nil {
		return a, &InputError{"job.json is not what this expects: " + err.Error()}
	}
	switch {
	case a.Format != ArchiveFormat:
		return a, &InputError{"this is no archive of a job: its format is not " + ArchiveFormat}
	case a.Version != ArchiveVersion:
		return a, &InputError{fmt.Sprintf("the archive is of version %d; this installation reads version %d", a.Version, ArchiveVersion)}
	case strings.TrimSpace(a.Name) == "" || len(a.Name) > document.MaxName:
		return a, &InputError{"the job's name has 1 to 200 characters"}
	}
	// Lists that are null are empty ones.
	if a.Content.Palette == nil {
		a.Content.Palette = []document.Swatch{}
	}
	if a.Content.Colourways == nil {
		a.Content.Colourways = []document.Colourway{}
	}
	for i := range a.Pictures {
		if a.Pictures[i].Document.Parts == nil {
			a.Pictures[i].Document.Parts = []document.Part{}
		}
	}
	if err := a.Content.Validate(); err != nil {
		return a, err
	}
	for i := range a.Pictures {
		if n := a.Pictures[i].Name; strings.TrimSpace(n) == "" || len(n) > document.MaxName {
			return a, &InputError{fmt.Sprintf("the name of picture %d has 1 to 200 characters", i+1)}
		}
		if err := a.Pictures[i].Document.Validate(); err != nil {
			return a, fmt.Errorf("the picture %q: %w", a.Pictures[i].Name, err)
		}
		if err := a.Pictures[i].Origin.Validate(); err != nil {
			return a, fmt.Errorf("the picture %q: %w", a.Pictures[i].Name, err)
		}
	}
	return a, nil
}

// decodeHead reads job.json piece by piece, so that its pictures are counted before all of them are there.
func decodeHead(d *json.Decoder, a *Archive) error {
	d.DisallowUnknownFields()
	open := func(want json.Delim) error {
		t, err := d.Token()
		if err != nil {
			return err
		}
		if t != want {
			return fmt.Errorf("%v stands where %v should", t, want)
		}
		return nil
	}
	if err := open('{'); err != nil {
		return err
	}
	for d.More() {
		t, err := d.Token()
		if err != nil {
			return err
		}
		field, _ := t.(string)
		var to any
		switch field {
		case "format":
			to = &a.Format
		case "version":
			to = &a.Version
		case "name":
			to = &a.Name
		case "content":
			to = &a.Content
		case "pictures":
			if err := open('['); err != nil {
				return err
			}
			for d.More() {
				if len(a.Pictures) == mostArchived {
					return fmt.Errorf("the archive has over %d pictures", mostArchived)
				}
				var p ArchivedPicture
				if err := d.Decode(&p); err != nil {
					return err
				}
				a.Pictures = append(a.Pictures, p)
			}
			if err := open(']'); err != nil {
				return err
			}
			continue
		default:
			return fmt.Errorf("unknown field %q", field)
		}
		if err := d.Decode(to); err != nil {
			return err
		}
	}
	return open('}')
}

func (p ArchivedPicture) files() []string {
	out := []string{p.File}
	if p.Depth != "" {
		out = append(out, p.Depth)
	}
	for _, m := range p.Masks {
		out = append(out, m.File)
	}
	return out
}

// verify checks that a file of an archive is there, is no larger than most bytes, and is what its name says.
func verify(f *zip.File, name string, most int64) error {
	if f == nil {
		return &InputError{fmt.Sprintf("the archive lacks the file %.12s…", name)}
	}
	if f.UncompressedSize64 > uint64(most) {
		return &InputError{fmt.Sprintf("the file %.12s… of the archive has %d MB; at most %d are taken", name, f.UncompressedSize64>>20, most>>20)}
	}
	r, err := f.Open()
	if err != nil {
		return &InputError{fmt.Sprintf("the file %.12s… of the archive cannot be read: %v", name, err)}
	}
	defer r.Close()
	h := sha256.New()
	if _, err := io.Copy(h, r); err != nil {
		return &InputError{fmt.Sprintf("the file %.12s… of the archive cannot be read: %v", name, err)}
	}
	if hex.EncodeToString(h.Sum(nil)) != name {
		return &InputError{fmt.Sprintf("the file %.12s… of the archive is damaged", name)}
	}
	return nil
}

// unpacking stores the files of an archive, each once: a job often has one photo several times.
type unpacking struct {
	*Studio
	entries   map[string]*zip.File
	originals map[string]store.Picture
	greys     map[string][]byte // hashes of masks and depth maps that are stored
}

func (u *unpacking) open(name string) (io.ReadCloser, error) { return u.entries["files/"+name].Open() }

func (u *unpacking) original(ctx context.Context, p ArchivedPicture) (store.Picture, error) {
	if o, ok := u.originals[p.File]; ok {
		return o, nil
	}
	r, err := u.open(p.File)
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
	r, err := u.open(name)
	if err != nil {
		return nil, err
	}
	defer r.Close()
	path, done, err := u.spool(r, "archived-*")
	if err != nil {
		return nil, err
	}
	defer done()
	if _, err := u.readers.ReadMask(ctx, path, 0, 0); err != nil {
		return nil, err
	}
	sha, err := u.putFile(ctx, path)
	if err == nil {
		u.greys[name] = sha
	}
	return sha, err
}

// picture stores the files of one picture.
func (u *unpacking) picture(ctx context.Context, p ArchivedPicture) (store.Filled, error) {
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
	return FileName(markPicture, j.Name, "", 1) + ".episema.zip", func(w io.Writer) error { return s.WriteArchive(ctx, id, w) }, nil
}
