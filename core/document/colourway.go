package document

import (
	"bytes"
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	"episema/core/recolour"
)

// Content is what a job holds besides its pictures: its palette, its colourways and its recipes.
type Content struct {
	Palette    []Swatch    `json:"palette"`
	Colourways []Colourway `json:"colourways"`
	Inks       *Inks       `json:"inks,omitempty"`
	Recipes    []Recipe    `json:"recipes,omitempty"`
}

// Inks is the ICC profile through which the job's CMYK colours are read; without one they are guessed by the plain formula.
type Inks struct {
	Profile string `json:"profile"` // SHA-256 of its file
	Name    string `json:"name"`
}

// Colourway is one target for each part of the job. A part is known by its name: the same name in several pictures is
// one part of the job.
type Colourway struct {
	ID     string          `json:"id"`
	Name   string          `json:"name"`
	Cells  map[string]Cell `json:"cells"` // by Part.Row; a part without one is as its picture has it
	Mark   string          `json:"mark,omitempty"`
	Remark string          `json:"remark,omitempty"`
}

// Cell is what a part becomes in a colourway.
type Cell struct {
	Target   Target             `json:"target"` // without a colour the part is left as it is
	Settings *recolour.Settings `json:"settings,omitempty"`
	Pattern  []Target           `json:"pattern,omitempty"` // what the colours of its pattern become, in their order
}

// Marks of a colourway.
const (
	MarkChosen  = "chosen"
	MarkDropped = "dropped"
)

// MaxColourways bounds the colourways of a job.
const MaxColourways = 500

// ParseContent reads and validates a job's content. Unknown fields are errors, so that a misspelt one is not lost.
func ParseContent(b []byte) (Content, error) {
	var c Content
	d := json.NewDecoder(bytes.NewReader(b))
	d.DisallowUnknownFields()
	if err := d.Decode(&c); err != nil {
		return c, &Error{"job", "it is not the JSON this expects: " + err.Error()}
	}
	return c, c.Validate()
}

// Validate checks the palette and every colourway.
func (c *Content) Validate() error {
	if err := ValidatePalette(c.Palette); err != nil {
		return err
	}
	if err := validateRecipes(c.Recipes, true); err != nil {
		return err
	}
	if c.Inks != nil && (!storedFile.MatchString(c.Inks.Profile) || len(c.Inks.Name) > MaxName) {
		return &Error{"job", "its ink profile is not one that was brought in; bring it in again"}
	}
	if len(c.Colourways) > MaxColourways {
		return &Error{"job", fmt.Sprintf("it has over %d colourways", MaxColourways)}
	}
	ids := map[string]bool{}
	for i, w := range c.Colourways {
		where := fmt.Sprintf("colourway %d", i+1)
		if w.ID == "" || len(w.ID) > 64 || ids[w.ID] {
			return &Error{where, "its id is missing, too long or used twice"}
		}
		ids[w.ID] = true
		if err := w.validate(where); err != nil {
			return err
		}
	}
	return nil
}

// validate says what is wrong with a colourway beside its id.
func (w *Colourway) validate(where string) error {
	switch {
	case strings.TrimSpace(w.Name) == "" || len(w.Name) > MaxName:
		return &Error{where, "its name is empty or too long"}
	case w.Mark != "" && w.Mark != MarkChosen && w.Mark != MarkDropped:
		return &Error{where, "its mark is neither chosen nor dropped"}
	case len(w.Remark) > 2000:
		return &Error{where, "its remark is longer than 2000 characters"}
	case len(w.Cells) > MaxParts:
		return &Error{where, fmt.Sprintf("it has over %d cells", MaxParts)}
	}
	for part, cell := range w.Cells {
		where := fmt.Sprintf("colourway %q, part %q", w.Name, part)
		if strings.TrimSpace(part) == "" || len(part) > MaxName {
			return &Error{where, "a cell names a part of 1 to 200 characters"}
		}
		if err := cell.validate(); err != nil {
			return &Error{where, err.Error()}
		}
	}
	return nil
}

func (c *Cell) validate() error {
	if err := c.Target.validate(); err != nil {
		return err
	}
	if err := validatePatternColours(c.Pattern, 0); err != nil {
		return err
	}
	if c.Settings != nil {
		return c.Settings.Validate()
	}
	return nil
}

// Find gives a colourway by its id.
func (c *Content) Find(id string) (Colourway, bool) {
	for _, w := range c.Colourways {
		if w.ID == id {
			return w, true
		}
	}
	return Colourway{}, false
}

// In gives a picture's document in the colourway.
func (w Colourway) In(p Picture) Picture {
	parts := make([]Part, len(p.Parts))
	for i, q := range p.Parts {
		if cell, ok := w.Cells[q.Row()]; ok {
			q.Target = cell.Target
			if cell.Settings != nil {
				q.Settings = *cell.Settings
			}
			q.Pattern = q.Pattern.with(cell.Pattern)
		}
		parts[i] = q
	}
	p.Parts = parts
	return p
}

// Read turns every colour of a document to how it is read, CMYK through a profile say.
func (p *Picture) Read(read func(css string) string) {
	parts := make([]Part, len(p.Parts))
	for i, q := range p.Parts {
		q.Target.CSS, q.Own = read(q.Target.CSS), read(q.Own)
		q.Pattern = q.Pattern.changed(func(t Target) Target { t.CSS = read(t.CSS); return t })
		if t := q.Settings.TwoTone; t != nil {
			c := *t
			c.Dark = read(c.Dark)
			q.Settings.TwoTone = &c
		}
		parts[i] = q
	}
	p.Parts = parts
}

// Resolve gives every target that came from the palette the colour and tolerance that stand there now.
func (c *Content) Resolve(p *Picture) {
	byID := map[string]Swatch{}
	for _, s := range c.Palette {
		byID[s.ID] = s
	}
	parts := make([]Part, len(p.Parts))
	for i, q := range p.Parts {
		q.Target = resolved(q.Target, byID)
		q.Pattern = q.Pattern.changed(func(t Target) Target { return resolved(t, byID) })
		parts[i] = q
	}
	p.Parts = parts
}

// ResolveCells does the same for the colourways.
func (c *Content) ResolveCells() {
	byID := map[string]Swatch{}
	for _, s := range c.Palette {
		byID[s.ID] = s
	}
	for i, w := range c.Colourways {
		cells := map[string]Cell{}
		for part, cell := range w.Cells {
			cell.Target = resolved(cell.Target, byID)
			cell.Pattern = slices.Clone(cell.Pattern)
			for i, t := range cell.Pattern {
				cell.Pattern[i] = resolved(t, byID)
			}
			cells[part] = cell
		}
		c.Colourways[i].Cells = cells
	}
}

func resolved(t Target, byID map[string]Swatch) Target {
	if s, ok := byID[t.PaletteID]; ok && t.PaletteID != "" && t.CSS != "" {
		t.CSS, t.Tolerance = s.CSS, s.Tolerance
	}
	return t
}
