package document

import (
	"errors"
	"fmt"

	"episema/core/mend"
)

// Mend is something mended on the result: a stroke of the mending brush, the old colour taken out around a part's edge, or a patch.
// Mends apply in order, after all parts; what a patch is covered by is taken from before all mends.
type Mend struct {
	Kind    string        `json:"kind"` // brush, edge or patch
	Off     bool          `json:"off,omitempty"`
	Part    string        `json:"part,omitempty"` // of edge: whose old colour
	Box     *[4]float64   `json:"box,omitempty"`  // of edge: x0, y0, x1, y1 of the full size; nil: the whole edge
	Strokes []mend.Stroke `json:"strokes,omitempty"`
	Patch   *mend.Patch   `json:"patch,omitempty"`
}

// Bounds of the mends of a picture, and of the patches among them: each reads pixels from elsewhere.
const (
	MaxMends   = 2000
	MaxPatches = 200
)

func (p *Picture) validateMends() error {
	if len(p.Mends) > MaxMends {
		return &Error{"document", fmt.Sprintf("it has over %d mends", MaxMends)}
	}
	ids := map[string]bool{}
	for i := range p.Parts {
		ids[p.Parts[i].ID] = true
	}
	patches := 0
	for i := range p.Mends {
		where := fmt.Sprintf("mend %d", i+1)
		if p.Mends[i].Kind == "patch" {
			if patches++; patches > MaxPatches {
				return &Error{where, fmt.Sprintf("the picture has over %d patches", MaxPatches)}
			}
		}
		if err := p.Mends[i].validate(ids); err != nil {
			return &Error{where, err.Error()}
		}
	}
	return nil
}

// validate says what is wrong with a mend of a picture whose parts have these ids.
func (m *Mend) validate(parts map[string]bool) error {
	if m.Patch != nil && m.Kind != "patch" {
		return errors.New("it has a patch and is of another kind; make a mend of the kind patch for it")
	}
	switch m.Kind {
	case "brush":
		for _, s := range m.Strokes {
			if err := s.Validate(); err != nil {
				return err
			}
		}
		return nil
	case "edge":
		switch {
		case !parts[m.Part]:
			return errors.New("it mends a part that is not in this picture; take it out")
		case len(m.Strokes) > 0:
			return errors.New("it mends an edge and has strokes; make a mend of the kind brush for these")
		}
		if m.Box != nil {
			for _, v := range m.Box {
				if !(v >= -1e6 && v <= 1e6) {
					return errors.New("its box is not made of numbers within a million")
				}
			}
		}
		return nil
	case "patch":
		switch {
		case m.Patch == nil:
			return errors.New("it is of the kind patch and has none; give its outline and its shift")
		case len(m.Strokes) > 0:
			return errors.New("it is a patch and has strokes; make a mend of the kind brush for these")
		}
		return m.Patch.Validate()
	}
	return fmt.Errorf("the kind %q is not known; use brush, edge or patch", m.Kind)
}
