package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"

	"github.com/google/uuid"

	"episema/core/document"
	"episema/internal/memo"
	"episema/store"
)

// A document that was read once is kept under its revision: what hands change is sent as changes against that, and
// a view of a large document does not read it again. Nobody writes into one that is kept.

func documentKey(id uuid.UUID, revision int64) string {
	return fmt.Sprintf("document|%s|%d", id, revision)
}

// remember keeps a document under its revision; size is the length of its JSON.
func (s *Studio) remember(id uuid.UUID, revision int64, doc document.Picture, size int) {
	s.memory.Put(documentKey(id, revision), doc, int64(2*size))
}

// document gives the document that a picture had at a revision: from memory, or else from the database where it
// is the newest. store.ErrStale says that it can be had no more.
func (s *Studio) document(ctx context.Context, id uuid.UUID, revision int64) (document.Picture, error) {
	if d, ok := memo.Look[document.Picture](s.memory, documentKey(id, revision)); ok {
		return d, nil
	}
	p, err := s.Store.Picture(ctx, id)
	if err != nil {
		return document.Picture{}, err
	}
	var doc document.Picture
	if err := json.Unmarshal(p.Document, &doc); err != nil {
		return doc, err
	}
	s.remember(id, p.Revision, doc, len(p.Document))
	if p.Revision != revision {
		return document.Picture{}, store.ErrStale
	}
	return doc, nil
}

// Draft gives a picture's document as it was at a revision with changes made to it. store.ErrStale says that the
// document of that revision can be had no more; then it comes whole.
func (s *Studio) Draft(ctx context.Context, id uuid.UUID, base int64, changes []document.Change) (*document.Picture, error) {
	doc, err := s.document(ctx, id, base)
	if err != nil {
		return nil, err
	}
	doc, err = doc.Apply(changes)
	return &doc, err
}

// EditBy stores changes of the document of a revision as the next step, as Edit stores a document.
func (s *Studio) EditBy(ctx context.Context, id uuid.UUID, base int64, label string, changes []document.Change) (store.Picture, error) {
	head, err := s.Store.Head(ctx, id)
	if err != nil {
		return head, err
	}
	var doc *document.Picture
	if head.Revision == base {
		doc, err = s.Draft(ctx, id, base, changes)
	}
	if head.Revision != base || errors.Is(err, store.ErrStale) {
		p, err := s.Store.Picture(ctx, id)
		if err == nil {
			err = store.ErrStale
		}
		return p, err
	}
	if err != nil {
		return head, err
	}
	return s.Edit(ctx, id, base, label, *doc)
}
