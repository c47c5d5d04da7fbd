package document

import (
	"fmt"

	"episema/core/artwork"
	"episema/core/colour"
)

// Family makes a part of a drawing: the colours that are handled as one, and how they follow the part's target.
type Family struct {
	Main       string           `json:"main"`
	Held       bool             `json:"held,omitempty"` // not one byte of it changes
	Members    []artwork.Member `json:"members"`
	How        string           `json:"how,omitempty"`        // alike or tints; empty is tints
	Hue        float64          `json:"hue,omitempty"`        // degrees, added in Oklch
	Saturation float64          `json:"saturation,omitempty"` // percent of chroma
	Lightness  float64          `json:"lightness,omitempty"`  // 0..100, added
	Boards     []string         `json:"boards,omitempty"`     // only on these; empty: on all
	Prop       string           `json:"prop,omitempty"`       // only fill or only stroke; empty: both
}

// plan gives the family as the part's target has it.
func (p *Part) plan() artwork.Family {
	f := p.Family
	how := f.How
	if how == "" {
		how = artwork.Tints
	}
	return artwork.Family{Name: p.Name, Main: f.Main, Held: f.Held || p.Hidden, Members: f.Members, Target: p.Target.CSS, How: how, Hue: f.Hue, Saturation: f.Saturation, Lightness: f.Lightness}
}

func (f *Family) validate(p *Part) error {
	if f == nil {
		return nil
	}
	if f.Prop != "" && f.Prop != "fill" && f.Prop != "stroke" {
		return fmt.Errorf("it is limited to %q; fill and stroke are what there is", f.Prop)
	}
	if len(f.Members) > 20000 || len(f.Boards) > 1000 {
		return fmt.Errorf("it has more members or boards than a drawing can have")
	}
	plan := artwork.Plan{Families: []artwork.Family{p.plan()}}
	return plan.Validate()
}

// Becomes says what the family's colours become, by their keys; those that stay are not in it.
func (p *Part) Becomes() (map[string]colour.Lab, error) {
	if p.Family == nil {
		return nil, nil
	}
	plan := artwork.Plan{Families: []artwork.Family{p.plan()}}
	changes, err := plan.Changes()
	if err != nil {
		return nil, &Error{fmt.Sprintf("part %q", p.Name), err.Error()}
	}
	return changes, nil
}

// Want is what a drawing's items shall become.
type Want struct {
	At []int         // for each item the part that has it; -1 for none
	To []*colour.Lab // nil where it stays
}

// Drawn says what becomes of a drawing's items. A part that is limited to boards or to fills has its items before one that
// is not.
func (p *Picture) Drawn(d *artwork.Drawing) (Want, error) {
	w := Want{At: make([]int, len(d.Items)), To: make([]*colour.Lab, len(d.Items))}
	for i := range w.At {
		w.At[i] = -1
	}
	boards := map[string]artwork.Board{}
	for _, b := range d.Boards() {
		boards[b.ID] = b
	}
	for pass := range 2 {
		for k := range p.Parts {
			f := p.Parts[k].Family
			if f == nil || (len(f.Boards) > 0 || f.Prop != "") != (pass == 0) {
				continue
			}
			changes, err := p.Parts[k].Becomes()
			if err != nil {
				return w, err
			}
			member := map[string]bool{}
			for _, m := range f.Members {
				l, err := colour.ParseCSS(m.Colour)
				if err != nil {
					return w, err
				}
				member[artwork.Key(l)] = true
			}
			to := make([]*colour.Lab, len(d.Colours))
			in := make([]bool, len(d.Colours))
			for i := range d.Colours {
				in[i] = member[d.Colours[i].Key]
				if l, ok := changes[d.Colours[i].Key]; ok {
					v := l
					to[i] = &v
				}
			}
			for i := range d.Items {
				it := &d.Items[i]
				if w.At[i] >= 0 || !in[it.Colour] || f.Prop != "" && it.Prop != f.Prop || !onBoards(d, it, f.Boards, boards) {
					continue
				}
				w.At[i], w.To[i] = k, to[it.Colour]
			}
		}
	}
	return w, nil
}

func onBoards(d *artwork.Drawing, it *artwork.Item, ids []string, all map[string]artwork.Board) bool {
	if len(ids) == 0 {
		return true
	}
	for _, id := range ids {
		if b, ok := all[id]; ok && b.Holds(d, it) {
			return true
		}
	}
	return false
}

// Recoloured gives a drawing as the document has it.
func (p *Picture) Recoloured(d *artwork.Drawing) (artwork.Result, error) {
	w, err := p.Drawn(d)
	if err != nil {
		return artwork.Result{}, err
	}
	return d.Apply(func(i int) *colour.Lab { return w.To[i] }), nil
}
