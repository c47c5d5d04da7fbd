package archive

import (
	"archive/zip"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"strings"

	"episema/core/document"
	"episema/internal/problem"
)

// Reader is an archive that is being read: its job has been checked, its files are once they are verified.
type Reader struct {
	Job   Job
	zip   *zip.ReadCloser
	files map[string]*zip.File // by their names in the zip
}

// Open opens an archive. One that is none, or whose job is not valid, is an error that says so.
func Open(path string) (*Reader, error) {
	z, err := zip.OpenReader(path)
	if err != nil {
		return nil, problem.New("this is no archive of a job: it is not a zip that can be read")
	}
	r := &Reader{zip: z, files: map[string]*zip.File{}}
	for _, f := range z.File {
		r.files[f.Name] = f
	}
	if r.Job, err = readHead(r.files["job.json"]); err != nil {
		z.Close()
		return nil, err
	}
	return r, nil
}

// Close ends the reading.
func (r *Reader) Close() error { return r.zip.Close() }

// File opens a file by the hash that the job names it by.
func (r *Reader) File(name string) (io.ReadCloser, error) {
	f := r.files["files/"+name]
	if f == nil {
		return nil, lacks(name)
	}
	return f.Open()
}

func lacks(name string) error { return problem.Inputf("the archive lacks the file %.12s…", name) }

// Verify checks that a file is there, is no larger than most bytes, and is what its name says.
func (r *Reader) Verify(name string, most int64) error {
	f := r.files["files/"+name]
	if f == nil {
		return lacks(name)
	}
	if f.UncompressedSize64 > uint64(most) {
		return problem.Inputf("the file %.12s… of the archive has %d MB; at most %d are taken", name, f.UncompressedSize64>>20, most>>20)
	}
	from, err := f.Open()
	if err != nil {
		return problem.Inputf("the file %.12s… of the archive cannot be read: %v", name, err)
	}
	defer from.Close()
	h := sha256.New()
	if _, err := io.Copy(h, from); err != nil {
		return problem.Inputf("the file %.12s… of the archive cannot be read: %v", name, err)
	}
	if hex.EncodeToString(h.Sum(nil)) != name {
		return problem.Inputf("the file %.12s… of the archive is damaged", name)
	}
	return nil
}

func readHead(f *zip.File) (Job, error) {
	var a Job
	if f == nil || f.UncompressedSize64 > mostHead {
		return a, problem.New("this is no archive of a job: job.json is missing in it")
	}
	r, err := f.Open()
	if err != nil {
		return a, problem.New("job.json cannot be read out of the archive: " + err.Error())
	}
	defer r.Close()
	if err := decodeHead(json.NewDecoder(io.LimitReader(r, mostHead)), &a); err != nil {
		return a, problem.New("job.json is not what this expects: " + err.Error())
	}
	switch {
	case a.Format != Format:
		return a, problem.New("this is no archive of a job: its format is not " + Format)
	case a.Version != Version:
		return a, problem.Inputf("the archive is of version %d; this installation reads version %d", a.Version, Version)
	case strings.TrimSpace(a.Name) == "" || len(a.Name) > document.MaxName:
		return a, problem.New("the job's name has 1 to 200 characters")
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
			return a, problem.Inputf("the name of picture %d has 1 to 200 characters", i+1)
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
func decodeHead(d *json.Decoder, a *Job) error {
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
				if len(a.Pictures) == mostPictures {
					return fmt.Errorf("the archive has over %d pictures", mostPictures)
				}
				var p Picture
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
