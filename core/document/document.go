// Package document holds what a retoucher makes: parts, picks, targets and settings. It is the truth;
// masks and results are computed from it.
package document

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"regexp"
	"slices"
	"strings"

	"episema/core/colour"
	"episema/core/copies"
	"episema/core/isolate"
	"episema/core/mend"
	"episema/core/recolour"
)

// Picture is the document of one picture.
type Picture struct {
	Parts []Part `json:"parts"`
	Mends []Mend `json:"mends,omitempty"`
	// Grey is where a grey card, or something else that is grey, lies in the picture; nil where its light is estimated.
	Grey *Grey `json:"grey,omitempty"`
}

// Grey is a neutral thing in a picture, by which its light is known: targets that were measured under neutral light look alike in all
// pictures that have one.
type Grey struct {
	At [2]float64 `json:"at"` // a pixel of the full-size picture
	// Lightness is the thing's CIELAB L*, 1..100, so that how bright the light is counts too; 0 where only its tint shall.
	Lightness float64 `json:"lightness,omitempty"`
}

func (g *Grey) validate() error {
	switch {
	case g == nil:
		return nil
	case !(g.At[0] >= 0 && g.At[0] <= 1e6 && g.At[1] >= 0 && g.At[1] <= 1e6):
		return &Error{"grey card", "it lies outside of the picture"}
	case g.Lightness != 0 && !(g.Lightness >= 1 && g.Lightness <= 100):
		return &Error{"grey card", "its lightness runs from 1 to 100"}
	}
	return nil
}

// Part is a named thing in a picture.
type Part struct {
	ID   string `json:"id"`
	Name string `json:"name"`
	// Unnamed says that nobody gave the part its name, so that one of the same name elsewhere is another thing; see Row.
	Unnamed bool           `json:"unnamed,omitempty"`
	Hidden  bool           `json:"hidden,omitempty"` // left as it is for now
	Picks   []isolate.Pick `json:"picks"`
	Edge    *isolate.Edge  `json:"edge,omitempty"`
	// Within is the part this one was made inside of; it is bounded by it.
	Within string `json:"within,omitempty"`
	// Overlap lets the part have pixels that another has too.
	Overlap bool `json:"overlap,omitempty"`
	// Target is what the part shall become; empty leaves it as it is.
	Target Target `json:"target"`
	// Own is the thing's own colour where it is known, as a CSS colour; empty to estimate it.
	Own string `json:"own,omitempty"`
	// Match is the pixel of the full-size picture whose tone shall equal the target.
	Match    *[2]float64       `json:"match,omitempty"`
	Settings recolour.Settings `json:"settings"`
	// Pattern lies on the part, painted or as it is; nil for none.
	Pattern *Pattern `json:"pattern,omitempty"`
	// Copy makes it a copy of another part, which its picks add to and take from; nil for a part of what is in the picture. Of the parts
	// after it in the list it stands behind.
	Copy *copies.Copy `json:"copy,omitempty"`
	// Family makes it a part of a drawing; its picks are none.
	Family *Family `json:"family,omitempty"`
	// Cast is what becomes of the part's tint on its neighbours; nil leaves it.
	Cast *mend.Cast `json:"cast,omitempty"`
}

// Row is the key of the part's cells in the colourways. Parts of one name in several pictures are one row, once somebody
// named them; before, each is a row of its own.
func (q *Part) Row() string {
	if q.Unnamed {
		return "#" + q.ID
	}
	return strings.TrimSpace(q.Name)
}

// Target is a colour with the palette entry it came from, if any.
type Target struct {
	// CSS is a colour, or one that starts from the thing's own; see colour.Relative.
	CSS       string  `json:"css,omitempty"`
	PaletteID string  `json:"palette_id,omitempty"`
	Tolerance float64 `json:"tolerance,omitempty"` // CIEDE2000; 0 where none was said
	// Neutral says that the colour was measured under neutral light, so that this picture's light is added to it;
	// otherwise it is the colour as it shall look here.
	Neutral bool `json:"neutral,omitempty"`
}

// anyGrey stands for a thing's own colour where a target that starts from it is only read to be checked.
var anyGrey = colour.Lab{50, 0, 0}

func (t Target) validate() error {
	if t.CSS != "" {
		if _, err := colour.ParseFrom(t.CSS, anyGrey); err != nil {
			return err
		}
	}
	if !(t.Tolerance >= 0 && t.Tolerance <= 100) {
		return errors.New("the tolerance runs from 0 to 100")
	}
	return nil
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

// Mendable marks it as an error that whoever asked can mend.
func (*Error) Mendable() {}

// Bounds no work meets, only broken or hostile input.
const (
	MaxParts  = 500
	MaxCopies = 50
	// MaxCutPixels is how many pixels all that was cut out of other pictures has together.
	MaxCutPixels = 16 << 20
	MaxName      = 200
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
		if err := q.validate(p); err != nil {
			return &Error{where, err.Error()}
		}
	}
	if err := p.validateMends(); err != nil {
		return err
	}
	if err := p.Grey.validate(); err != nil {
		return err
	}
	_, err := p.Order()
	return err
}

// validate says what is wrong with a part of a picture, beside its id and name.
func (q *Part) validate(p *Picture) error {
	for _, k := range q.Picks {
		if k.Kind == "mask" && !storedFile.MatchString(k.File) {
			return errors.New("a mask pick names a mask that was brought into the picture; bring it in first")
		}
	}
	for _, check := range []func() error{
		q.Edge.Validate,
		func() error { return isolate.Validate(q.Picks) },
		func() error { return q.Family.validate(q) },
		q.Cast.Validate,
		q.Pattern.validate,
		func() error { return q.validateCopy(p) },
		q.Settings.Validate,
		q.Target.validate,
	} {
		if err := check(); err != nil {
			return err
		}
	}
	if q.Own == "" {
		return nil
	}
	_, err := colour.ParseCSS(q.Own)
	return err
}

// validateCopy says what is wrong with the part as a copy of another.
func (q *Part) validateCopy(p *Picture) error {
	if q.Copy == nil {
		return nil
	}
	n, cut := 0, 0
	for i := range p.Parts {
		o := &p.Parts[i]
		if o.Copy != nil {
			n++
			if c := o.Copy.Cut; c != nil {
				cut += max(0, min(copies.MostCut, c.Size[0])) * max(0, min(copies.MostCut, c.Size[1]))
			}
		}
		if q.Copy.Of != "" && o.ID == q.Copy.Of && o.Copy != nil {
			return errors.New("it is a copy of a copy; make it one of the part that is in the picture")
		}
	}
	switch {
	case n > MaxCopies:
		return fmt.Errorf("the picture has over %d copies", MaxCopies)
	case cut > MaxCutPixels:
		return fmt.Errorf("all that was cut out of other pictures has over %d megapixels; take some of it out", MaxCutPixels>>20)
	case q.Family != nil:
		return errors.New("a family of a drawing is no copy")
	}
	return q.Copy.Validate()
}

// storedFile is the name of a file in a document: the SHA-256 of its bytes.
var storedFile = regexp.MustCompile(`^[0-9a-f]{64}$`)

// Order lists the parts, as indices, so that each comes after those it reuses and the one it lies in. A part that reuses
// itself, by whatever way, is an *Error.
func (p *Picture) Order() ([]int, error) {
	at := map[string]int{}
	for i := range p.Parts {
		at[p.Parts[i].ID] = i
	}
	var out []int
	state := make([]int, len(p.Parts)) // 1: on the way, 2: done
	var visit func(i int) error
	visit = func(i int) error {
		q := &p.Parts[i]
		where := fmt.Sprintf("part %q", q.Name)
		switch state[i] {
		case 1:
			return &Error{where, "it reuses itself through other parts; take one of those picks out"}
		case 2:
			return nil
		}
		state[i] = 1
		needs := []string{}
		if q.Within != "" {
			needs = append(needs, q.Within)
		}
		if q.Copy != nil && q.Copy.Of != "" {
			needs = append(needs, q.Copy.Of)
		}
		for _, k := range q.Picks {
			if k.Kind == "part" {
				needs = append(needs, k.Part)
			}
		}
		for _, id := range needs {
			j, ok := at[id]
			if !ok {
				return &Error{where, "it reuses or lies in a part that is not in this picture; take that pick out"}
			}
			if err := visit(j); err != nil {
				return err
			}
		}
		state[i] = 2
		out = append(out, i)
		return nil
	}
	for i := range p.Parts {
		if err := visit(i); err != nil {
			return nil, err
		}
	}
	return out, nil
}

// MaskFiles lists the masks that picks, patterns and copies name, each once.
func (p *Picture) MaskFiles() []string {
	var out []string
	add := func(file string) {
		if file != "" && !slices.Contains(out, file) {
			out = append(out, file)
		}
	}
	for _, q := range p.Parts {
		for _, k := range q.Picks {
			if k.Kind == "mask" {
				add(k.File)
			}
		}
		if q.Pattern != nil {
			add(q.Pattern.Lay.File)
		}
		if q.Copy != nil && q.Copy.Cut != nil {
			add(q.Copy.Cut.File)
		}
	}
	return out
}

// Credits lists the lines that go with what is delivered, of things and tiles that were taken from other pictures; each once.
func (p *Picture) Credits() []string {
	var out []string
	add := func(line string) {
		if line != "" && !slices.Contains(out, line) {
			out = append(out, line)
		}
	}
	for _, q := range p.Parts {
		if q.Pattern != nil {
			add(q.Pattern.Lay.Credit)
		}
		if q.Copy != nil && q.Copy.Cut != nil {
			add(q.Copy.Cut.Credit)
		}
	}
	return out
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
