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

// finished is the photo that comes with its parts selected and painted, and colourways for them.
const finished = "tram-at-the-depot"

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
	ways := []document.Colourway{}
	if err := read(filepath.Join(dir, "finished", "colourways.json"), &ways); err != nil {
		return uuid.Nil, err
	}
	content, err := json.Marshal(document.Content{Palette: Palette, Colourways: ways})
	if err != nil {
		return uuid.Nil, err
	}
	job, err := s.Store.CreateJob(ctx, JobName, content)
	if err != nil {
		return uuid.Nil, err
	}
	add := func(path, name string) (uuid.UUID, error) {
		f, err := os.Open(path)
		if err != nil {
			return uuid.Nil, err
		}
		defer f.Close()
		return s.AddPicture(ctx, job, name, f)
	}
	for _, p := range pictures {
		id, err := add(filepath.Join(dir, "pictures", p.file+".png"), p.name+".png")
		if err != nil {
			return uuid.Nil, err
		}
		if p.file == finished {
			if err := finish(ctx, s, id, filepath.Join(dir, "finished", p.file+".json")); err != nil {
				return uuid.Nil, err
			}
		}
	}
	for _, p := range drawings {
		file, err := filepath.Glob(filepath.Join(dir, "artwork", p.file+".*"))
		if err != nil || len(file) != 1 {
			return uuid.Nil, fmt.Errorf("the demo's drawing %s is not there", p.file)
		}
		if _, err := add(file[0], p.name+filepath.Ext(file[0])); err != nil {
			return uuid.Nil, err
		}
	}
	return job, nil
}

// finish gives a picture the document that lies in a file.
func finish(ctx context.Context, s *app.Studio, picture uuid.UUID, path string) error {
	var doc document.Picture
	if err := read(path, &doc); err != nil {
		return err
	}
	pic, err := s.Store.Picture(ctx, picture)
	if err != nil {
		return err
	}
	_, err = s.Edit(ctx, picture, pic.Revision, "select and paint the tram", doc)
	return err
}

// read reads a file of the demo, every field of which must be known.
func read(path string, to any) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	defer f.Close()
	d := json.NewDecoder(f)
	d.DisallowUnknownFields()
	if err := d.Decode(to); err != nil {
		return fmt.Errorf("the demo's %s: %w", path, err)
	}
	return nil
}
