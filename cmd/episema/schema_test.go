package main

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/santhosh-tekuri/jsonschema/v6"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/app/archive"
	"episema/core/document"
	"episema/internal/everyfield"
)

// What an archive holds is what its schema says: with every field of the model, one after the other.
func TestArchivesAreAsTheirSchemaSays(t *testing.T) {
	const file = "5e1f0000000000000000000000000000000000000000000000000000000000aa"
	parsed, err := jsonschema.UnmarshalJSON(strings.NewReader(jobSchema))
	require.NoError(t, err)
	c := jsonschema.NewCompiler()
	require.NoError(t, c.AddResource("job.json", parsed))
	schema, err := c.Compile("job.json")
	require.NoError(t, err)
	a := archive.Job{Format: archive.Format, Version: archive.Version, Name: "A job", Content: everyfield.Content(file)}
	add := func(name string, doc document.Picture) {
		a.Pictures = []archive.Picture{{Name: name, File: file, Depth: file, Masks: []archive.Mask{{File: file, Name: "m"}}, Document: doc,
			Origin: &document.Origin{Source: "S", Item: "i", Title: "T", Author: "A", Licence: document.Licence{Name: "L", Says: []string{"x"}, Web: "https://a.example/", Credit: "C", Practice: true, OneJob: true}}}}
		b, err := json.Marshal(a)
		require.NoError(t, err)
		v, err := jsonschema.UnmarshalJSON(strings.NewReader(string(b)))
		require.NoError(t, err)
		assert.NoError(t, schema.Validate(v), name)
	}
	for _, m := range everyfield.Moves(file) {
		doc := m.After()
		if doc.Parts == nil {
			doc.Parts = []document.Part{} // a list is never null in an archive
		}
		add(m.Field, doc)
	}
}
