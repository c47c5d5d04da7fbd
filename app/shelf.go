package app

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"net/http"
	"net/url"
	"regexp"
	"strings"
	"time"

	"github.com/google/uuid"

	"episema/core/document"
	"episema/imagefile"
)

// The talk with a picture shelf, over HTTP, as standin/shelf/openapi.yaml describes.
const (
	mostShelfList = 4 << 20 // bytes of a list
	mostShelved   = 500     // pictures that are shown of it
	mostPreview   = 1 << 20 // bytes
)

// shelfPatience is how long is waited until an answer begins, for all of a short one, and for more of a long one. Tests have less.
var shelfPatience = 10 * time.Second

// Shelved is a picture on the shelf.
type Shelved struct {
	Origin        document.Origin
	Kind          string // photo or drawing
	Width, Height int
}

var errNoShelf = &InputError{"no picture shelf is set up; start the server with --shelf and its address"}

// shelfAway says that a shelf did not answer as it should.
func shelfAway(why string) error {
	return &InputError{"the picture shelf " + why + "; try it again later. Nothing was changed"}
}

// shelfItem is how items are named, so that none becomes another path.
var shelfItem = regexp.MustCompile(`^[a-z0-9-]{1,64}$`)

// shelf asks the shelf, which is the only place it may send us to. The body must be closed.
func (s *Studio) shelf(ctx context.Context, path string, query url.Values) (*http.Response, error) {
	if s.ShelfAt == "" {
		return nil, errNoShelf
	}
	u, err := url.Parse(s.ShelfAt)
	if err != nil || u.Scheme != "http" && u.Scheme != "https" || u.Host == "" {
		return nil, &InputError{"the address of the picture shelf is none of the web; --shelf takes one such as http://127.0.0.1:8430"}
	}
	u = u.JoinPath(path)
	u.RawQuery = query.Encode()
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, u.String(), nil)
	if err != nil {
		return nil, err
	}
	client := &http.Client{
		Transport:     &http.Transport{ResponseHeaderTimeout: shelfPatience, DisableKeepAlives: true},
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
	}
	res, err := client.Do(req)
	if err != nil {
		if ctx.Err() != nil && errors.Is(err, context.Canceled) {
			return nil, ctx.Err()
		}
		return nil, shelfAway("does not answer")
	}
	if res.StatusCode == http.StatusOK {
		return res, nil
	}
	res.Body.Close()
	if res.StatusCode == http.StatusNotFound {
		return nil, shelfAway("has no such picture (any more)")
	}
	return nil, shelfAway(fmt.Sprintf("answers with %d", res.StatusCode))
}

// short reads an answer of at most n bytes.
func (s *Studio) short(ctx context.Context, path string, query url.Values, n int64) ([]byte, error) {
	ctx, cancel := context.WithTimeout(ctx, shelfPatience)
	defer cancel()
	res, err := s.shelf(ctx, path, query)
	if err != nil {
		return nil, err
	}
	defer res.Body.Close()
	b, err := io.ReadAll(io.LimitReader(res.Body, n+1))
	switch {
	case err != nil:
		return nil, shelfAway("hung up in the middle of an answer")
	case int64(len(b)) > n:
		return nil, shelfAway("does not come to an end")
	}
	return b, nil
}

// Shelf lists what is on the shelf, of which every word of a question says something; an empty one is all of it.
func (s *Studio) Shelf(ctx context.Context, question string) (name string, list []Shelved, err error) {
	b, err := s.short(ctx, "items", url.Values{"q": {question}}, mostShelfList)
	if err != nil {
		return "", nil, err
	}
	var answer struct {
		Shelf string `json:"shelf"`
		Items []struct {
			ID      string           `json:"id"`
			Title   string           `json:"title"`
			Author  string           `json:"author"`
			Kind    string           `json:"kind"`
			Width   int              `json:"width"`
			Height  int              `json:"height"`
			Licence document.Licence `json:"licence"`
		} `json:"items"`
	}
	if err := json.Unmarshal(b, &answer); err != nil {
		return "", nil, shelfAway("sent a list that cannot be read")
	}
	for _, i := range answer.Items {
		q := Shelved{document.Origin{Source: answer.Shelf, Item: i.ID, Title: i.Title, Author: i.Author, Licence: i.Licence}, i.Kind, i.Width, i.Height}
		if !shelfItem.MatchString(i.ID) || i.Kind != "photo" && i.Kind != "drawing" || i.Width < 1 || i.Height < 1 || q.Origin.Validate() != nil {
			return "", nil, shelfAway("sent a list with something in it that is no picture")
		}
		if list = append(list, q); len(list) == mostShelved {
			break
		}
	}
	return answer.Shelf, list, nil
}

// ShelfPreview returns a small JPEG of a picture on the shelf.
func (s *Studio) ShelfPreview(ctx context.Context, item string) ([]byte, error) {
	if !shelfItem.MatchString(item) {
		return nil, ErrNotFound
	}
	b, err := s.short(ctx, "items/"+item+"/preview", nil, mostPreview)
	if err == nil && !bytes.HasPrefix(b, []byte("\xff\xd8\xff")) {
		err = shelfAway("sent a preview that is no JPEG")
	}
	return b, err
}

// TakeFromShelf brings a picture from the shelf into a job, with where it is from and its licence. One that is licensed for one job
// and is in another one already is an *InputError.
func (s *Studio) TakeFromShelf(ctx context.Context, job uuid.UUID, item string) (uuid.UUID, error) {
	if _, err := s.Store.Job(ctx, job); err != nil {
		return uuid.Nil, err
	}
	_, list, err := s.Shelf(ctx, "")
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
		fetching, cancel := context.WithCancel(ctx)
		defer cancel()
		res, err := s.shelf(fetching, "items/"+item+"/file", nil)
		if err != nil {
			return uuid.Nil, err
		}
		defer res.Body.Close()
		body := &patient{res.Body, time.AfterFunc(shelfPatience, cancel)}
		defer body.late.Stop()
		p, err := s.take(ctx, q.Origin.Title, body)
		if err != nil && fetching.Err() != nil && ctx.Err() == nil {
			return uuid.Nil, shelfAway("stopped in the middle of the picture")
		}
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
	return uuid.Nil, shelfAway("has no such picture (any more)")
}

// patient is a body that is given up once nothing has come for a while.
type patient struct {
	io.Reader
	late *time.Timer
}

func (p *patient) Read(b []byte) (int, error) {
	n, err := p.Reader.Read(b)
	if err != nil {
		p.late.Stop()
	} else if n > 0 {
		p.late.Reset(shelfPatience)
	}
	return n, err
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
	return &InputError{fmt.Sprintf("%s is licensed for one job, and %s has it already", o.Title, where)}
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
		return &InputError{fmt.Sprintf("%s is from the %s with the licence %q: nothing made of it may be delivered. Leave it out of the order", name, strings.TrimSpace(o.Source), o.Licence.Name)}
	}
	return nil
}

// usedElsewhere returns the line that goes with what is made of a picture inside of another one. Where nothing made of it may be delivered
// it is an *InputError: the other picture would be what carries it out.
func usedElsewhere(p Picture) (string, error) {
	o, err := OriginOf(p)
	if err != nil || o == nil {
		return "", err
	}
	if o.Licence.Practice {
		return "", &InputError{fmt.Sprintf("%s is from the %s with the licence %q: it is worked on in its own picture alone", p.Name, strings.TrimSpace(o.Source), o.Licence.Name)}
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
