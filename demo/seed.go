// Package demo brings the made-up job of the Lisk Street Tramway shop into a database.
package demo

import (
	"context"
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"

	"github.com/google/uuid"

	"episema/app"
	"episema/core/document"
)

// JobName is how the demo job is called, and how a second start finds it.
const JobName = "Lisk Street Tramway shop"

// Palette is the tram line's.
var Palette = []document.Swatch{
	{ID: "harbour", Name: "Harbour teal", CSS: "#1d6a72", Tolerance: 2},
	{ID: "lamp", Name: "Lamp amber", CSS: "#d9a441", Tolerance: 2},
	{ID: "enamel", Name: "Enamel cream", CSS: "#f1ead8", Tolerance: 1.5},
	{ID: "night", Name: "Rail night", CSS: "#20242b", Tolerance: 2},
	{ID: "depot", Name: "Depot red", CSS: "#9c2a1e", Tolerance: 2},
	{ID: "slate", Name: "Slate blue", CSS: "lab(36 -4 -27)", Tolerance: 3},
}

var pictures = []struct{ file, name string }{
	{"depot-mug", "Depot mug"}, {"tram-at-the-depot", "Tram at the depot"}, {"conductors-scarf", "Conductor’s scarf"},
	{"canvas-tote", "Canvas tote"}, {"conductors-cap", "Conductor’s cap"},
}

var drawings = []struct{ file, name string }{{"poster", "Poster"}, {"route-map", "Route map"}, {"icon-sheet", "Icon sheet"}, {"sticker", "Sticker"}}

// Seed makes the demo job where it is not there yet and gives its id. dir is the demo folder.
func Seed(ctx context.Context, s *app.Studio, dir string) (uuid.UUID, error) {
	jobs, err := s.Store.Jobs(ctx, false)
	if err != nil {
		return uuid.Nil, err
	}
	for _, j := range jobs {
		if j.Name == JobName {
			return j.ID, nil
		}
	}
	content, err := json.Marshal(document.Content{Palette: Palette, Colourways: []document.Colourway{}})
	if err != nil {
		return uuid.Nil, err
	}
	job, err := s.Store.CreateJob(ctx, JobName, content)
	if err != nil {
		return uuid.Nil, err
	}
	add := func(path, name string) error {
		f, err := os.Open(path)
		if err != nil {
			return err
		}
		defer f.Close()
		_, err = s.AddPicture(ctx, job, name, f)
		return err
	}
	for _, p := range pictures {
		if err := add(filepath.Join(dir, "pictures", p.file+".png"), p.name+".png"); err != nil {
			return uuid.Nil, err
		}
	}
	for _, p := range drawings {
		file, err := filepath.Glob(filepath.Join(dir, "artwork", p.file+".*"))
		if err != nil || len(file) != 1 {
			return uuid.Nil, fmt.Errorf("the demo's drawing %s is not there", p.file)
		}
		if err := add(file[0], p.name+filepath.Ext(file[0])); err != nil {
			return uuid.Nil, err
		}
	}
	return job, nil
}
