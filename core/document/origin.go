package document

import (
	"fmt"
	"regexp"
	"strings"
	"unicode"
)

// Origin says where a picture was taken from, whose it is, and what may be done with it.
type Origin struct {
	Source  string  `json:"source"` // the shelf's name
	Item    string  `json:"item"`   // the picture's id there
	Title   string  `json:"title"`
	Author  string  `json:"author"`
	Licence Licence `json:"licence"`
}

// Licence is what whoever made a picture allows.
type Licence struct {
	Name   string   `json:"name"`
	Says   []string `json:"says"`          // in a line or two
	Web    string   `json:"web,omitempty"` // where all of it can be read
	Credit string   `json:"credit"`        // the line that goes with what is delivered
	// Practice says that nothing made of the picture may be delivered.
	Practice bool `json:"practice,omitempty"`
	// OneJob says that it may be used in one job.
	OneJob bool `json:"one_job,omitempty"`
}

// webAddress keeps what a page would run from what it would open.
var webAddress = regexp.MustCompile(`^https?://[A-Za-z0-9.:-]+(/[^\s"<>]*)?$`)

// Bounds of what is said of a picture's origin, in characters.
const (
	maxOriginText = 300
	maxSays       = 4
)

// Validate says what is wrong with an origin. nil is a picture that somebody brought in from their own files.
func (o *Origin) Validate() error {
	if o == nil {
		return nil
	}
	for _, t := range []struct {
		what, text string
		needed     bool
	}{{"the source", o.Source, true}, {"the item", o.Item, true}, {"the title", o.Title, true}, {"the author", o.Author, true},
		{"the licence's name", o.Licence.Name, true}, {"the credit", o.Licence.Credit, true}, {"the licence's address", o.Licence.Web, false}} {
		if err := line(t.what, t.text, t.needed); err != nil {
			return err
		}
	}
	if len(o.Licence.Says) > maxSays {
		return &Error{"origin", fmt.Sprintf("its licence says more than %d lines", maxSays)}
	}
	for _, l := range o.Licence.Says {
		if err := line("what the licence says", l, true); err != nil {
			return err
		}
	}
	if w := o.Licence.Web; w != "" && !webAddress.MatchString(w) {
		return &Error{"origin", "the licence's address is none of the web"}
	}
	return nil
}

// line checks a text of one line.
func line(what, text string, needed bool) error {
	switch {
	case needed && strings.TrimSpace(text) == "":
		return &Error{"origin", what + " is missing"}
	case len([]rune(text)) > maxOriginText:
		return &Error{"origin", fmt.Sprintf("%s is longer than %d characters", what, maxOriginText)}
	case strings.ContainsFunc(text, unicode.IsControl):
		return &Error{"origin", what + " has a character that is none of a line"}
	}
	return nil
}
