package main

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// TestWhatEachChangeBreaksStandsOnce: a change of the code that moves what a breaking change takes the place of is noticed by the
// tests, before anybody breaks anything.
func TestWhatEachChangeBreaksStandsOnce(t *testing.T) {
	all, err := mutants()
	require.NoError(t, err)
	names := map[string]bool{}
	for _, m := range all {
		text, err := os.ReadFile(filepath.Join("../..", m.File))
		if assert.NoError(t, err, m.Name) {
			assert.Equal(t, 1, strings.Count(string(text), m.Old), "%s: how often what it breaks stands in %s", m.Name, m.File)
		}
		assert.NotEqual(t, m.Old, m.New, m.Name)
		assert.NotEmpty(t, m.Tests, m.Name)
		assert.False(t, names[m.Name], "%s stands in the list twice", m.Name)
		names[m.Name] = true
	}
}
