package document

import (
	"fmt"

	"episema/core/pattern"
)

// Pattern is a pattern on a part, with colours of its own.
type Pattern struct {
	Lay pattern.Pattern `json:"lay"` // how it lies on the part
	// Colours are what its figures become, each as a part's target is; at most pattern.MostColours.
	Colours []Target `json:"colours"`
}

func (p *Pattern) validate() error {
	if p == nil {
		return nil
	}
	if err := p.Lay.Validate(); err != nil {
		return err
	}
	return validatePatternColours(p.Colours, 1)
}

func validatePatternColours(list []Target, least int) error {
	if len(list) < least || len(list) > pattern.MostColours {
		return fmt.Errorf("a pattern has %d to %d colours", least, pattern.MostColours)
	}
	for _, t := range list {
		if err := t.validate(); err != nil {
			return err
		}
		if t.CSS == "" {
			return fmt.Errorf("a colour of the pattern is missing")
		}
	}
	return nil
}

// with returns the pattern in other colours, as far as there are some.
func (p *Pattern) with(colours []Target) *Pattern {
	if p == nil || len(colours) == 0 {
		return p
	}
	q := *p
	q.Colours = append([]Target(nil), p.Colours...)
	copy(q.Colours, colours)
	return &q
}

// changed returns the pattern with each colour as f makes it.
func (p *Pattern) changed(f func(t Target) Target) *Pattern {
	if p == nil {
		return nil
	}
	q := *p
	q.Colours = make([]Target, len(p.Colours))
	for i, t := range p.Colours {
		q.Colours[i] = f(t)
	}
	return &q
}
