package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"strings"

	"github.com/google/uuid"

	"episema/app/pictureshelf"
	"episema/core/document"
	"episema/imagefile"
	"episema/internal/problem"
	"episema/store"
)

// TakeFromShelf brings a picture from the shelf into a job, with where it is from and its licence. One that is licensed for one job
// and is in another one already is a *problem.Input.
func (s *Studio) TakeFromShelf(ctx context.Context, job uuid.UUID, item string) (uuid.UUID, error) {
	if _, err := s.Store.Job(ctx, job); err != nil {
		return uuid.Nil, err
	}
	_, list, err := s.Shelf.List(ctx, "")
	if err != nil {
		return uuid.Nil, err
	}
	for _, q := range list {
		if q.Origin.Item != item {
			continue
		}
		if q.Origin.Licence.OneJob {
			if other, err := s.Store.TakenFrom(ctx, q.Origin.Source, item, job); err != nil || other != uuid.Nil {
				return uuid.Nil, s.inOneJob(ctx, q.Origin, other, err)
			}
		}
		var p store.Picture
		err := s.Shelf.Fetch(ctx, item, func(body io.Reader) (err error) {
			p, err = s.take(ctx, q.Origin.Title, body)
			return err
		})
		if err != nil {
			return uuid.Nil, err
		}
		p.Job = job
		if p.Origin, err = json.Marshal(q.Origin); err != nil {
			return uuid.Nil, err
		}
		if !q.Origin.Licence.OneJob {
			return s.Store.AddPicture(ctx, p)
		}
		id, other, err := s.Store.AddOnly(ctx, p, q.Origin.Source, item)
		if err != nil || other != uuid.Nil {
			return uuid.Nil, s.inOneJob(ctx, q.Origin, other, err)
		}
		return id, nil
	}
	return uuid.Nil, pictureshelf.Gone()
}

// inOneJob says that a picture which is licensed for one job is in another one already; err is why nobody knows.
func (s *Studio) inOneJob(ctx context.Context, o document.Origin, other uuid.UUID, err error) error {
	if err != nil {
		return err
	}
	j, err := s.Store.Job(ctx, other)
	if err != nil && !errors.Is(err, ErrNotFound) {
		return err
	}
	where := "another job"
	if j.Name != "" {
		where = "the job " + j.Name
	}
	return problem.Inputf("%s is licensed for one job, and %s has it already", o.Title, where)
}

// OriginOf returns where a picture is from; nil where nobody said.
func OriginOf(p Picture) (*document.Origin, error) {
	if p.Origin == nil {
		return nil, nil
	}
	var o document.Origin
	return &o, json.Unmarshal(p.Origin, &o)
}

// deliverableFrom returns an error where a picture's licence forbids to deliver anything made of it.
func deliverableFrom(name string, o *document.Origin) error {
	if o != nil && o.Licence.Practice {
		return problem.Inputf("%s is from the %s with the licence %q: nothing made of it may be delivered. Leave it out of the order", name, strings.TrimSpace(o.Source), o.Licence.Name)
	}
	return nil
}

// usedElsewhere returns the line that goes with what is made of a picture inside of another one. Where nothing made of it may be delivered
// it is a *problem.Input: the other picture would be what carries it out.
func usedElsewhere(p Picture) (string, error) {
	o, err := OriginOf(p)
	if err != nil || o == nil {
		return "", err
	}
	if o.Licence.Practice {
		return "", problem.Inputf("%s is from the %s with the licence %q: it is worked on in its own picture alone", p.Name, strings.TrimSpace(o.Source), o.Licence.Name)
	}
	return creditOf(o), nil
}

// creditOf says in a line whose a picture is and what may be done with it.
func creditOf(o *document.Origin) string {
	s := fmt.Sprintf("%s, by %s. %s. %s: %s", o.Title, o.Author, o.Licence.Credit, o.Licence.Name, strings.Join(o.Licence.Says, " "))
	if o.Licence.Web != "" {
		s += " " + o.Licence.Web
	}
	return s
}

// rightsOf is what the files made of a picture say of whose it is, and whose things and tiles are in it.
func rightsOf(o *document.Origin, others []string) imagefile.Rights {
	var r imagefile.Rights
	if o != nil {
		r = imagefile.Rights{Creator: o.Author, Notice: o.Licence.Credit, Terms: strings.Join(append([]string{o.Licence.Name + "."}, o.Licence.Says...), " "), Web: o.Licence.Web}
	}
	if len(others) > 0 {
		r.Notice = strings.TrimPrefix(r.Notice+"; with "+strings.Join(others, "; with "), "; ")
	}
	return r
}

// creditsFile is what names, in a zip of deliveries, those whose pictures are in it.
const creditsFile = "CREDITS.txt"

// credits writes for each file whose pictures are in it; nothing where none has an origin.
func credits(files []string, whose [][]string) string {
	var b strings.Builder
	for i, lines := range whose {
		if len(lines) > 0 {
			fmt.Fprintf(&b, "%s\n  %s\n\n", files[i], strings.Join(lines, "\n  "))
		}
	}
	return b.String()
}
