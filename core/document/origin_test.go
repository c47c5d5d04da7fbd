package document

import (
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

func TestOrigins(t *testing.T) {
	good := func() *Origin {
		return &Origin{Source: "S", Item: "i", Title: "T", Author: "A", Licence: Licence{Name: "L", Says: []string{"x"}, Web: "https://licences.example/a", Credit: "C"}}
	}
	require.NoError(t, good().Validate())
	require.NoError(t, (*Origin)(nil).Validate())
	for name, change := range map[string]func(o *Origin){
		"no author":       func(o *Origin) { o.Author = " " },
		"a long title":    func(o *Origin) { o.Title = strings.Repeat("x", 301) },
		"a tab":           func(o *Origin) { o.Licence.Says = []string{"a\tb"} },
		"many lines":      func(o *Origin) { o.Licence.Says = []string{"1", "2", "3", "4", "5"} },
		"quotes":          func(o *Origin) { o.Licence.Web = `https://a.example/"onclick="` },
		"another address": func(o *Origin) { o.Licence.Web = "file:///etc/passwd" },
	} {
		o := good()
		change(o)
		var wrong *Error
		assert.ErrorAs(t, o.Validate(), &wrong, name)
	}
}
