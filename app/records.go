package app

import (
	"context"
	"io"
	"strings"

	"github.com/google/uuid"

	"episema/internal/problem"
	"episema/store"
)

// What is stored, as those above see it. They ask the studio, never the database: what holds for every caller is held here.
type (
	Job      = store.Job
	Picture  = store.Picture
	Delivery = store.Delivery
)

// What a call can come to, beside what somebody can mend.
var (
	ErrNotFound = store.ErrNotFound // there is no such thing (any more)
	ErrStale    = store.ErrStale    // somebody else changed it first
	ErrNothing  = store.ErrNothing  // nothing to undo, redo or do again
)

// IsAway reports whether an error says that the database cannot be reached now.
func IsAway(err error) bool { return store.IsAway(err) }

// IsBadText reports whether a text was refused because the database cannot keep a character of it.
func IsBadText(err error) bool { return store.IsBadText(err) }

// Ping asks the database whether it is there.
func (s *Studio) Ping(ctx context.Context) error { return s.Store.Pool.Ping(ctx) }

// NewJob makes an empty job.
func (s *Studio) NewJob(ctx context.Context, name string) (uuid.UUID, error) {
	return s.Store.CreateJob(ctx, name, []byte(`{"palette":[],"colourways":[]}`))
}

// Jobs lists the jobs, or those that were removed and can be brought back.
func (s *Studio) Jobs(ctx context.Context, removed bool) ([]Job, error) {
	return s.Store.Jobs(ctx, removed)
}

// Job returns a job with its content.
func (s *Studio) Job(ctx context.Context, id uuid.UUID) (Job, error) { return s.Store.Job(ctx, id) }

// JobChange is what is changed of a job itself; nil leaves it.
type JobChange struct {
	Name              *string
	Archived, Removed *bool
}

// ChangeJob renames a job, archives it, removes it or brings it back.
func (s *Studio) ChangeJob(ctx context.Context, id uuid.UUID, c JobChange) error {
	if c.Name != nil {
		if err := s.Store.RenameJob(ctx, id, *c.Name); err != nil {
			return err
		}
	}
	if c.Archived != nil {
		if err := s.Store.SetArchived(ctx, id, *c.Archived); err != nil {
			return err
		}
	}
	if c.Removed != nil {
		return s.Store.SetRemoved(ctx, id, *c.Removed)
	}
	return nil
}

// DuplicateJob copies a job with its pictures as they stand. One with a picture that is licensed for one job is a *problem.Input.
func (s *Studio) DuplicateJob(ctx context.Context, id uuid.UUID, name string) (uuid.UUID, error) {
	list, err := s.Store.Sources(ctx, id)
	if err != nil {
		return uuid.Nil, err
	}
	for _, p := range list {
		o, err := OriginOf(p)
		if err != nil {
			return uuid.Nil, err
		}
		if o != nil && o.Licence.OneJob {
			return uuid.Nil, problem.New(p.Name + " is licensed for one job; take it out before you copy this one")
		}
	}
	return s.Store.DuplicateJob(ctx, id, name)
}

// MoveJob undoes (by -1) or redoes (by 1) a step of a job's content.
func (s *Studio) MoveJob(ctx context.Context, id uuid.UUID, by int64) (Job, error) {
	j, err := s.Store.MoveJob(ctx, id, by)
	if err == nil {
		s.Revisions.Changed(id)
	}
	return j, err
}

// Contents are a job's pictures, those that can be brought back, and the rows of its colourways.
type Contents struct {
	Pictures, Removed []Picture
	Rows              []store.PartRow
}

// Contents lists what is in a job.
func (s *Studio) Contents(ctx context.Context, job uuid.UUID) (c Contents, err error) {
	if c.Pictures, err = s.Store.Pictures(ctx, job); err != nil {
		return c, err
	}
	if c.Removed, err = s.Store.RemovedPictures(ctx, job); err != nil {
		return c, err
	}
	c.Rows, err = s.Store.PartRows(ctx, job)
	return c, err
}

// Picture returns a picture with its document as it is stored.
func (s *Studio) Picture(ctx context.Context, id uuid.UUID) (Picture, error) {
	return s.Store.Picture(ctx, id)
}

// RemovePicture removes a picture; it can be brought back for a while.
func (s *Studio) RemovePicture(ctx context.Context, id uuid.UUID) error {
	return s.Store.RemovePicture(ctx, id)
}

// BringBackPicture puts a picture that was removed back where it was.
func (s *Studio) BringBackPicture(ctx context.Context, id uuid.UUID) error {
	return s.Store.BringBackPicture(ctx, id)
}

// RenamePicture renames a picture; a name of blanks is a *problem.Input.
func (s *Studio) RenamePicture(ctx context.Context, id uuid.UUID, name string) error {
	if name = strings.TrimSpace(name); name == "" {
		return problem.New("a picture has a name; give it one")
	}
	return s.Store.RenamePicture(ctx, id, name)
}

// PlacePicture puts a picture before another one of its job, or last.
func (s *Studio) PlacePicture(ctx context.Context, id uuid.UUID, before *uuid.UUID) error {
	return s.Store.PlacePicture(ctx, id, before)
}

// Deliveries lists a job's deliveries, the newest first.
func (s *Studio) Deliveries(ctx context.Context, job uuid.UUID) ([]Delivery, error) {
	return s.Store.Deliveries(ctx, job)
}

// Delivery returns a delivery.
func (s *Studio) Delivery(ctx context.Context, id uuid.UUID) (Delivery, error) {
	return s.Store.Delivery(ctx, id)
}

// CancelDelivery ends a delivery that is not over yet, and returns it as it is then.
func (s *Studio) CancelDelivery(ctx context.Context, id uuid.UUID) (Delivery, error) {
	if err := s.Store.Cancel(ctx, id); err != nil {
		return Delivery{}, err
	}
	return s.Store.Delivery(ctx, id)
}

// DeliveredFile streams the file of a delivery that is done; of another one it is a *problem.Input.
func (s *Studio) DeliveredFile(ctx context.Context, id uuid.UUID) (Delivery, io.Reader, error) {
	d, err := s.Store.Delivery(ctx, id)
	if err != nil {
		return d, nil, err
	}
	if d.State != "done" {
		return d, nil, problem.New("the delivery is " + d.State + "; its file is there once it is done")
	}
	body, err := s.Store.Blob(ctx, d.SHA)
	return d, body, err
}

// BatchFiles lists the finished files of an order.
func (s *Studio) BatchFiles(ctx context.Context, batch uuid.UUID) ([]Delivery, error) {
	return s.Store.BatchFiles(ctx, batch)
}
