// Package shelf is a stand-in for a service that lends pictures: a catalogue of our own photos and drawings with made-up licences, over
// HTTP, as openapi.yaml describes.
package shelf

import (
	"context"
	_ "embed" // the description
	"encoding/json"
	"fmt"
	"net"
	"net/http"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"time"

	"episema/core/document"
)

//go:embed openapi.yaml
var description []byte

// Name is how the shelf calls itself.
const Name = "Roundhouse picture shelf"

// Item is a picture on the shelf.
type Item struct {
	ID     string `json:"id"`
	Title  string `json:"title"`
	Author string `json:"author"`
	Kind   string `json:"kind"` // photo or drawing
	Width  int    `json:"width"`
	Height int    `json:"height"`
	Words  string `json:"words"` // that it is found by, beside its title and author
}

// catalogue is catalogue.json.
type catalogue struct {
	Licences map[string]document.Licence `json:"licences"`
	Items    []listed                    `json:"items"`
}

type listed struct {
	Item
	Licence string `json:"licence"` // its key
	File    string `json:"file"`    // beside the catalogue, by a path with slashes
}

// Shelf is a shelf that is open.
type Shelf struct {
	dir   string
	items []listed
	terms map[string]document.Licence // their credits name {author}
}

// Open reads the catalogue of the demo's shelf. dir is the demo folder.
func Open(dir string) (*Shelf, error) {
	b, err := os.ReadFile(filepath.Join(dir, "shelf", "catalogue.json"))
	if err != nil {
		return nil, err
	}
	var c catalogue
	if err := json.Unmarshal(b, &c); err != nil {
		return nil, fmt.Errorf("the shelf's catalogue: %w", err)
	}
	for _, i := range c.Items {
		if _, ok := c.Licences[i.Licence]; !ok {
			return nil, fmt.Errorf("the shelf's catalogue: %s has a licence that is not there", i.ID)
		}
		if _, err := os.Stat(filepath.Join(dir, filepath.FromSlash(i.File))); err != nil {
			return nil, fmt.Errorf("the shelf's catalogue: %w", err)
		}
	}
	return &Shelf{dir, c.Items, c.Licences}, nil
}

// found is an item as the list gives it.
type found struct {
	Item
	Licence document.Licence `json:"licence"`
}

// Handler answers as openapi.yaml describes.
func (s *Shelf) Handler() http.Handler {
	mux := http.NewServeMux()
	mux.HandleFunc("GET /openapi.yaml", func(w http.ResponseWriter, _ *http.Request) {
		w.Header().Set("Content-Type", "application/yaml")
		_, _ = w.Write(description) // whoever asked may have left
	})
	mux.HandleFunc("GET /items", func(w http.ResponseWriter, r *http.Request) {
		list := []found{}
		for _, i := range s.items {
			if matches(i, r.URL.Query().Get("q")) {
				terms := s.terms[i.Licence]
				terms.Credit = strings.ReplaceAll(terms.Credit, "{author}", i.Author)
				list = append(list, found{i.Item, terms})
			}
		}
		w.Header().Set("Content-Type", "application/json")
		_ = json.NewEncoder(w).Encode(map[string]any{"shelf": Name, "items": list})
	})
	mux.HandleFunc("GET /items/{id}/file", s.file(func(i listed) string { return i.File }))
	mux.HandleFunc("GET /items/{id}/preview", s.file(func(i listed) string { return "shelf/previews/" + i.ID + ".jpg" }))
	return mux
}

func (s *Shelf) file(path func(listed) string) http.HandlerFunc {
	return func(w http.ResponseWriter, r *http.Request) {
		at := slices.IndexFunc(s.items, func(i listed) bool { return i.ID == r.PathValue("id") })
		if at < 0 {
			http.Error(w, "there is no such picture on the shelf", http.StatusNotFound)
			return
		}
		http.ServeFile(w, r, filepath.Join(s.dir, filepath.FromSlash(path(s.items[at]))))
	}
}

// matches reports whether every word of a question is in what is said of a picture.
func matches(i listed, question string) bool {
	text := strings.ToLower(i.Title + " " + i.Author + " " + i.Words + " " + i.Kind)
	for _, w := range strings.Fields(strings.ToLower(question)) {
		if !strings.Contains(text, w) {
			return false
		}
	}
	return true
}

// Serve answers until ctx ends.
func (s *Shelf) Serve(ctx context.Context, l net.Listener) error {
	server := &http.Server{Handler: s.Handler(), ReadHeaderTimeout: 5 * time.Second}
	stop := context.AfterFunc(ctx, func() { server.Close() })
	defer stop()
	if err := server.Serve(l); err != nil && ctx.Err() == nil {
		return err
	}
	return nil
}
