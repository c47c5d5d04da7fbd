// Package archive is a job in one file: a zip that opens again on another installation to the same result.
package archive

import (
	"archive/zip"
	"encoding/hex"
	"encoding/json"
	"io"

	"episema/core/document"
)

// Job is job.json of a job's archive: a zip with it and the files it names, under files/ by the SHA-256 of their
// bytes.
type Job struct {
	Format   string           `json:"format"` // Format
	Version  int              `json:"version"`
	Name     string           `json:"name"`
	Content  document.Content `json:"content"`
	Pictures []Picture        `json:"pictures"`
}

// Picture is a picture with its document and all the document refers to.
type Picture struct {
	Name     string           `json:"name"`
	File     string           `json:"file"`            // hash of the original
	Depth    string           `json:"depth,omitempty"` // hash of the depth map
	Masks    []Mask           `json:"masks,omitempty"` // brought in from files
	Origin   *document.Origin `json:"origin,omitempty"`
	Document document.Picture `json:"document"`
}

// Mask is a mask file that was brought into a picture.
type Mask struct {
	File string `json:"file"`
	Name string `json:"name"`
}

// Format and Version tell an archive of ours.
const (
	Format  = "episema-job"
	Version = 1
)

const (
	mostPictures = 2000
	mostHead     = 256 << 20 // bytes of job.json
)

// Files returns the names of all files that a picture is made of.
func (p Picture) Files() []string {
	out := []string{p.File}
	if p.Depth != "" {
		out = append(out, p.Depth)
	}
	for _, m := range p.Masks {
		out = append(out, m.File)
	}
	return out
}

// Write streams a job with its files; file opens one by the SHA-256 of its bytes.
func Write(w io.Writer, j Job, file func(sha []byte) (io.Reader, error)) error {
	z := zip.NewWriter(w)
	head, err := z.Create("job.json")
	if err != nil {
		return err
	}
	e := json.NewEncoder(head)
	e.SetIndent("", "  ")
	if err := e.Encode(j); err != nil {
		return err
	}
	var files []string
	if j.Content.Inks != nil {
		files = append(files, j.Content.Inks.Profile)
	}
	for _, p := range j.Pictures {
		files = append(files, p.Files()...)
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
		from, err := file(sha)
		if err != nil {
			return err
		}
		if _, err := io.Copy(to, from); err != nil {
			return err
		}
	}
	return z.Close()
}
