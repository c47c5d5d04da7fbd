// Package pictureshelf talks with a service that lends pictures.
package pictureshelf

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
	"time"

	"episema/core/document"
	"episema/internal/problem"
)

// The talk with a picture shelf, over HTTP, as standin/shelf/openapi.yaml describes.
const (
	mostList    = 4 << 20 // bytes of a list
	mostItems   = 500     // pictures that are shown of it
	mostPreview = 1 << 20 // bytes
)

// patience is how long is waited until an answer begins, for all of a short one, and for more of a long one. Tests have less.
var patience = 10 * time.Second

// Shelf is a picture shelf at a web address; empty where there is none.
type Shelf string

// Item is a picture on a shelf.
type Item struct {
	Origin        document.Origin
	Kind          string // photo or drawing
	Width, Height int
}

var errNone = problem.New("no picture shelf is set up; start the server with --shelf and its address")

// away says that a shelf did not answer as it should.
func away(why string) error {
	return problem.New("the picture shelf " + why + "; try it again later. Nothing was changed")
}

// named is how items are named, so that none becomes another path.
var named = regexp.MustCompile(`^[a-z0-9-]{1,64}$`)

// ask asks the shelf, which is the only place it may send us to. The body must be closed.
func (s Shelf) ask(ctx context.Context, path string, query url.Values) (*http.Response, error) {
	if s == "" {
		return nil, errNone
	}
	u, err := url.Parse(string(s))
	if err != nil || u.Scheme != "http" && u.Scheme != "https" || u.Host == "" {
		return nil, problem.New("the address of the picture shelf is none of the web; --shelf takes one such as http://127.0.0.1:8430")
	}
	u = u.JoinPath(path)
	u.RawQuery = query.Encode()
	req, err := http.NewRequestWithContext(ctx, http.MethodGet, u.String(), nil)
	if err != nil {
		return nil, err
	}
	client := &http.Client{
		Transport:     &http.Transport{ResponseHeaderTimeout: patience, DisableKeepAlives: true},
		CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse },
	}
	res, err := client.Do(req)
	if err != nil {
		if ctx.Err() != nil && errors.Is(err, context.Canceled) {
			return nil, ctx.Err()
		}
		return nil, away("does not answer")
	}
	if res.StatusCode == http.StatusOK {
		return res, nil
	}
	res.Body.Close()
	if res.StatusCode == http.StatusNotFound {
		return nil, Gone()
	}
	return nil, away(fmt.Sprintf("answers with %d", res.StatusCode))
}

// short reads an answer of at most n bytes.
func (s Shelf) short(ctx context.Context, path string, query url.Values, n int64) ([]byte, error) {
	ctx, cancel := context.WithTimeout(ctx, patience)
	defer cancel()
	res, err := s.ask(ctx, path, query)
	if err != nil {
		return nil, err
	}
	defer res.Body.Close()
	b, err := io.ReadAll(io.LimitReader(res.Body, n+1))
	switch {
	case err != nil:
		return nil, away("hung up in the middle of an answer")
	case int64(len(b)) > n:
		return nil, away("does not come to an end")
	}
	return b, nil
}

// List lists what is on the shelf, of which every word of a question says something; an empty one is all of it.
func (s Shelf) List(ctx context.Context, question string) (name string, list []Item, err error) {
	b, err := s.short(ctx, "items", url.Values{"q": {question}}, mostList)
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
		return "", nil, away("sent a list that cannot be read")
	}
	for _, i := range answer.Items {
		q := Item{document.Origin{Source: answer.Shelf, Item: i.ID, Title: i.Title, Author: i.Author, Licence: i.Licence}, i.Kind, i.Width, i.Height}
		if !named.MatchString(i.ID) || i.Kind != "photo" && i.Kind != "drawing" || i.Width < 1 || i.Height < 1 || q.Origin.Validate() != nil {
			return "", nil, away("sent a list with something in it that is no picture")
		}
		if list = append(list, q); len(list) == mostItems {
			break
		}
	}
	return answer.Shelf, list, nil
}

// Preview returns a small JPEG of a picture on the shelf.
func (s Shelf) Preview(ctx context.Context, item string) ([]byte, error) {
	if !named.MatchString(item) {
		return nil, Gone()
	}
	b, err := s.short(ctx, "items/"+item+"/preview", nil, mostPreview)
	if err == nil && !bytes.HasPrefix(b, []byte("\xff\xd8\xff")) {
		err = away("sent a preview that is no JPEG")
	}
	return b, err
}

// Fetch hands the file of a picture to take, and gives it up once nothing has come for a while.
func (s Shelf) Fetch(ctx context.Context, item string, take func(body io.Reader) error) error {
	if !named.MatchString(item) {
		return Gone()
	}
	fetching, cancel := context.WithCancel(ctx)
	defer cancel()
	res, err := s.ask(fetching, "items/"+item+"/file", nil)
	if err != nil {
		return err
	}
	defer res.Body.Close()
	body := &patient{res.Body, time.AfterFunc(patience, cancel)}
	defer body.late.Stop()
	err = take(body)
	if err != nil && fetching.Err() != nil && ctx.Err() == nil {
		return away("stopped in the middle of the picture")
	}
	return err
}

// Gone says that a picture is not on the shelf, or not any more.
func Gone() error { return away("has no such picture (any more)") }

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
		p.late.Reset(patience)
	}
	return n, err
}
