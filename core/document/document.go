// Package document holds what a retoucher makes: parts, picks, targets and settings. It is the truth;
// masks and results are computed from it.
package document

import (
	"bytes"
	"encoding/json"
	"fmt"
	"strings"

	"episema/core/colour"
	"episema/core/isolate"
	"episema/core/recolour"
)

// Picture is the document of one picture.
type Picture struct {
	Parts []Part `json:"parts"`
}

// Part is a named thing in a picture.
type Part struct {
	ID     string         `json:"id"`
	Name   string         `json:"name"`
	Hidden bool           `json:"hidden,omitempty"` // left as it is for now
	Picks  []isolate.Pick `json:"picks"`
	// Target is what the part shall become; empty leaves it as it is.
	Target Target `json:"target"`
	// Own is the thing's own colour where it is known, as a CSS colour; empty to estimate it.
	Own string `json:"own,omitempty"`
	// Match is the pixel of the full-size picture whose tone shall equal the target.
	Match    *[2]float64       `json:"match,omitempty"`
	Settings recolour.Settings `json:"settings"`
}

// Target is a colour with the palette entry it came from, if any.
type Target struct {
	CSS       string  `json:"css,omitempty"`
	PaletteID string  `json:"palette_id,omitempty"`
	Tolerance float64 `json:"tolerance,omitempty"` // CIEDE2000; 0 where none was said
}

// Swatch is a named colour of a job's palette.
type Swatch struct {
	ID        string  `json:"id"`
	Name      string  `json:"name"`
	CSS       string  `json:"css"`
	Tolerance float64 `json:"tolerance"`
}

// Error says which part of a document is wrong and how to mend it.
type Error struct{ Where, Problem string }

func (e *Error) Error() string { return e.Where + ": " + e.Problem }

// Bounds no work meets, only broken or hostile input.
const (
	MaxParts = 500
	MaxName  = 200
)

// Parse reads and validates a document. Unknown fields are errors, so that a misspelt one is not lost.
func Parse(b []byte) (Picture, error) {
	var p Picture
	d := json.NewDecoder(bytes.NewReader(b))
	d.DisallowUnknownFields()
	if err := d.Decode(&p); err != nil {
		return p, &Error{"document", "it is not the JSON this expects: " + err.Error()}
	}
	return p, p.Validate()
}

// Validate checks the whole document.
func (p *Picture) Validate() error {
	if len(p.Parts) > MaxParts {
		return &Error{"document", fmt.Sprintf("it has %d parts; at most %d are taken", len(p.Parts), MaxParts)}
	}
	ids := map[string]bool{}
	for i := range p.Parts {
		q := &p.Parts[i]
		where := fmt.Sprintf("part %d", i+1)
		if q.Name != "" {
			where = fmt.Sprintf("part %q", q.Name)
		}
		switch {
		case q.ID == "" || len(q.ID) > 64:
			return &Error{where, "its id is missing or too long"}
		case ids[q.ID]:
			return &Error{where, "its id is used twice"}
		case strings.TrimSpace(q.Name) == "":
			return &Error{where, "it has no name; give it one"}
		case len(q.Name) > MaxName:
			return &Error{fmt.Sprintf("part %d", i+1), fmt.Sprintf("its name is longer than %d characters", MaxName)}
		}
		ids[q.ID] = true
		for _, k := range q.Picks {
			if k.Kind == "mask" {
				return &Error{where, "mask files are not kept in a document yet; use the command line"}
			}
		}
		if err := isolate.Validate(q.Picks); err != nil {
			return &Error{where, err.Error()}
		}
		if err := q.Settings.Validate(); err != nil {
			return &Error{where, err.Error()}
		}
		for _, css := range []string{q.Target.CSS, q.Own} {
			if css == "" {
				continue
			}
			if _, err := colour.ParseCSS(css); err != nil {
				return &Error{where, err.Error()}
			}
		}
		if !(q.Target.Tolerance >= 0 && q.Target.Tolerance <= 100) {
			return &Error{where, "the tolerance runs from 0 to 100"}
		}
	}
	return nil
}

// ValidatePalette checks a job's palette.
func ValidatePalette(s []Swatch) error {
	ids := map[string]bool{}
	if len(s) > 1000 {
		return &Error{"palette", "it has over 1000 colours"}
	}
	for i, c := range s {
		where := fmt.Sprintf("colour %d", i+1)
		switch {
		case c.ID == "" || ids[c.ID]:
			return &Error{where, "its id is missing or used twice"}
		case strings.TrimSpace(c.Name) == "" || len(c.Name) > MaxName:
			return &Error{where, "its name is empty or too long"}
		case !(c.Tolerance >= 0 && c.Tolerance <= 100):
			return &Error{where, "its tolerance runs from 0 to 100"}
		}
		if _, err := colour.ParseCSS(c.CSS); err != nil {
			return &Error{where, err.Error()}
		}
		ids[c.ID] = true
	}
	return nil
}
