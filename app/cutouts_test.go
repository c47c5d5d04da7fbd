package app

import (
	"bytes"
	"context"
	"encoding/json"
	"os"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/document"
	"episema/internal/problem"
)

// The mug is cut out of its picture and stands in another one, where it is a part with its target; it goes with the job into an archive,
// and stays as it is when its own picture changes.
func TestAThingIsSetIntoAnotherPicture(t *testing.T) {
	s, ctx := studio(t), context.Background()
	from := mug(t, s)
	p, err := s.Picture(ctx, from)
	require.NoError(t, err)
	f, err := os.Open("../demo/pictures/canvas-tote.png")
	require.NoError(t, err)
	defer f.Close()
	to, err := s.AddPicture(ctx, p.Job, "tote.png", f)
	require.NoError(t, err)
	var src document.Picture
	require.NoError(t, json.Unmarshal(p.Document, &src))
	part, err := s.CutOut(ctx, to, from, src.Parts[0].ID)
	require.NoError(t, err)
	assert.Equal(t, src.Parts[0].Target, part.Target)
	require.NotNil(t, part.Copy.Cut)
	assert.NotEqual(t, src.Parts[0].ID, part.ID)
	doc := document.Picture{Parts: []document.Part{part}}
	bare := view(t, s, to, document.Picture{})
	set := view(t, s, to, doc)
	assert.NotEqual(t, bare, set)
	m, err := s.Prove(ctx, to, &doc)
	require.NoError(t, err)
	assert.Zero(t, m.ChangedOutside)
	assert.Equal(t, "within", m.Parts[0].State)
	_, err = s.Edit(ctx, to, 1, "set", doc)
	require.NoError(t, err)
	_, err = s.Edit(ctx, from, p.Revision, "gone", document.Picture{})
	require.NoError(t, err)
	assert.Equal(t, set, view(t, s, to, doc))

	var b bytes.Buffer
	require.NoError(t, s.WriteArchive(ctx, p.Job, &b))
	there, err := s.ReadArchive(ctx, &b)
	require.NoError(t, err)
	in, err := s.Contents(ctx, there)
	require.NoError(t, err)
	again, err := s.Picture(ctx, in.Pictures[1].ID)
	require.NoError(t, err)
	var stored document.Picture
	require.NoError(t, json.Unmarshal(again.Document, &stored))
	assert.Equal(t, set, view(t, s, again.ID, stored))

	// What cannot be cut out says why.
	var bad *problem.Input
	_, err = s.CutOut(ctx, from, to, part.ID)
	require.ErrorAs(t, err, &bad)
	assert.Contains(t, bad.Problem, "copy itself")
	_, err = s.CutOut(ctx, from, to, uuid.NewString())
	require.ErrorAs(t, err, &bad)
	other, err := s.NewJob(ctx, "Other")
	require.NoError(t, err)
	_, err = f.Seek(0, 0)
	require.NoError(t, err)
	far, err := s.AddPicture(ctx, other, "far.png", f)
	require.NoError(t, err)
	_, err = s.CutOut(ctx, far, to, part.ID)
	require.ErrorAs(t, err, &bad)
	assert.Contains(t, bad.Problem, "another job")
}
