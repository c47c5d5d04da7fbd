package app

import (
	"context"
	"encoding/json"
	"strings"

	"github.com/google/uuid"

	"episema/core/colour"
	"episema/core/document"
	"episema/core/palette"
	"episema/internal/problem"
	"episema/store"
)

// EditJob stores an edit of a job's palette and colourways; see store.Edit for stale ones.
func (s *Studio) EditJob(ctx context.Context, id uuid.UUID, base int64, label string, c document.Content) (store.Job, error) {
	if err := c.Validate(); err != nil {
		return store.Job{}, err
	}
	if c.Palette == nil {
		c.Palette = []document.Swatch{}
	}
	if c.Colourways == nil {
		c.Colourways = []document.Colourway{}
	}
	b, err := json.Marshal(c)
	if err != nil {
		return store.Job{}, err
	}
	if strings.TrimSpace(label) == "" {
		label = "edit"
	}
	j, err := s.Store.EditJob(ctx, id, base, label, b)
	if err == nil {
		s.Revisions.Changed(id)
	}
	return j, err
}

// inColourway gives a document as a colourway has it, with the palette's colours as they stand. An empty id is the
// picture as it is set. CMYK is read through the job's profile.
func (s *Studio) inColourway(ctx context.Context, content []byte, doc document.Picture, colourway string) (document.Picture, string, error) {
	var c document.Content
	if err := json.Unmarshal(content, &c); err != nil {
		return doc, "", err
	}
	name := ""
	if colourway != "" {
		w, ok := c.Find(colourway)
		if !ok {
			return doc, "", problem.New("the job has no such colourway (any more)")
		}
		doc, name = w.In(doc), w.Name
	}
	c.Resolve(&doc)
	read, failed := s.reader(ctx, &c)
	doc.Read(read)
	return doc, name, failed()
}

// PaletteFile writes a job's palette as a file.
func (s *Studio) PaletteFile(ctx context.Context, id uuid.UUID, format string) ([]byte, error) {
	j, err := s.Store.Job(ctx, id)
	if err != nil {
		return nil, err
	}
	var c document.Content
	if err := json.Unmarshal(j.Content, &c); err != nil {
		return nil, err
	}
	var list []palette.Entry
	for _, w := range c.Palette { // as it was typed: inks stay inks
		list = append(list, palette.Entry{Name: w.Name, CSS: w.CSS, Tolerance: w.Tolerance})
	}
	return palette.Write(format, list)
}

// RecipeFile writes a job's own recipes as a file.
func (s *Studio) RecipeFile(ctx context.Context, id uuid.UUID) ([]byte, error) {
	j, err := s.Store.Job(ctx, id)
	if err != nil {
		return nil, err
	}
	var c document.Content
	if err := json.Unmarshal(j.Content, &c); err != nil {
		return nil, err
	}
	return document.WriteRecipes(c.Recipes)
}

// ColoursOf takes k representative colours out of a picture as it came in.
func (s *Studio) ColoursOf(ctx context.Context, id uuid.UUID, k int) ([]palette.Taken, error) {
	m, _, _, err := s.medium(ctx, id, nil)
	if err != nil {
		return nil, err
	}
	return m.colours(ctx, k)
}

// Nearest gives the colour of a palette that is nearest to one, and its CIEDE2000; nil for an empty palette.
func Nearest(list []document.Swatch, to colour.Lab, except string) (*document.Swatch, float64) {
	var best *document.Swatch
	least := 1e9
	for i, s := range list {
		if s.ID == except {
			continue
		}
		l, err := colour.ParseCSS(s.CSS)
		if err != nil {
			continue // validated where it came in
		}
		if d := colour.DeltaE00(l, to); d < least {
			best, least = &list[i], d
		}
	}
	return best, least
}
