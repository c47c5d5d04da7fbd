package app

import (
	"context"

	"github.com/google/uuid"

	"episema/core/document"
	"episema/core/isolate"
)

// Carried is a part as it can be begun in another picture.
type Carried struct {
	Part document.Part
	Left int // picks that depend on the place and were left out
}

// Carry gives the parts of a picture as they can be begun in another one of the job: with the picks that do not depend on
// the place, and with their targets and settings. Parts of which nothing can be carried are not listed.
func (s *Studio) Carry(ctx context.Context, from uuid.UUID) ([]Carried, error) {
	pic, doc, err := s.picture(ctx, from, nil)
	if err != nil {
		return nil, err
	}
	p, release, err := s.derived.Pyramid(ctx, pic.SHA)
	if err != nil {
		return nil, err
	}
	defer release()
	var out []Carried
	for _, q := range doc.Parts {
		picks, err := isolate.Placeless(p, isolate.Inputs{Space: p.Space}, q.Picks)
		if err != nil {
			return nil, err
		}
		if len(picks) == 0 {
			continue
		}
		n := document.Part{ID: uuid.NewString(), Name: q.Name, Unnamed: q.Unnamed, Picks: picks, Target: q.Target, Own: q.Own, Settings: q.Settings}
		if q.Unnamed {
			n.ID = q.ID // copied on purpose: one row, as parts of one name are
		}
		if e := q.Edge; e != nil {
			c := *e
			c.DropAt, c.FillAt = nil, nil
			n.Edge = &c
		}
		out = append(out, Carried{n, len(q.Picks) - len(picks)})
	}
	return out, nil
}
