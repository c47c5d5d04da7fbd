package artwork

import (
	"fmt"
	"sort"
	"strings"

	"github.com/tdewolff/parse/v2/css"
)

// disarm leaves everything out that is not known to do no more than draw: what is not on the lists of elements, attributes,
// properties and namespaces, and references to other files. What stays, stays as it is written. It says what it left out,
// each kind once with its count.
func disarm(doc *document) ([]byte, []string) {
	c := &disarming{doc: doc, count: map[string]int{}}
	for _, p := range doc.pis {
		if strings.HasPrefix(strings.ToLower(string(doc.src[p.from:p.to])), "<?xml-stylesheet") {
			c.cut("a style sheet in another file", p)
		}
	}
	for _, d := range doc.defaults {
		c.cut("a declaration in the document type", d)
	}
	gone := 0
	for i := range doc.elements {
		e := &doc.elements[i]
		if e.Start < gone {
			continue
		}
		if what := harmful(e); what != "" {
			c.cut(what, span{e.Start, e.End})
			gone = e.End
			continue
		}
		for k := range e.Attrs {
			c.attribute(e, &e.Attrs[k])
		}
		for _, p := range doc.text[i] {
			c.text(e, p)
		}
	}
	return c.without(), c.said()
}

// disarming gathers what is cut out of a document.
type disarming struct {
	doc   *document
	cuts  []span
	count map[string]int // of each kind
}

func (c *disarming) cut(what string, at span) {
	c.cuts = append(c.cuts, at)
	c.count[what]++
}

// harmful says as what an element is left out with all that it holds; empty if it stays.
func harmful(e *Element) string {
	if e.SVG && !allowedElements[e.Name] || !e.SVG && !inertSpace(e.Space) || !e.SVG && e.Space == "" && !allowedElements[e.Name] {
		return "the element " + e.Name
	}
	if e.Name == "animate" || e.Name == "set" || e.Name == "animateTransform" {
		if target, _ := e.Attr("attributeName"); strings.HasSuffix(target, "href") || strings.HasPrefix(strings.ToLower(target), "on") {
			return "an animation of a reference"
		}
	}
	return ""
}

// attribute cuts an attribute, or those of its declarations that do more than draw.
func (c *disarming) attribute(e *Element, a *Attr) {
	name := strings.ToLower(a.Name)
	if _, local, ok := strings.Cut(name, ":"); ok && local != "" {
		name = local
	}
	whole := span{a.Start, a.End}
	if a.Start > 0 && isSpace(c.doc.src[a.Start-1]) {
		whole.from--
	}
	switch {
	case strings.HasPrefix(name, "xmlns") || strings.HasPrefix(strings.ToLower(a.Name), "xmlns"):
	case strings.HasPrefix(name, "on"):
		c.cut("the event handler "+a.Name, whole)
	case e.SVG && !inertAttribute(a.Name):
		c.cut("the attribute "+a.Name, whole)
	case name == "href" || name == "src" || name == "data":
		if !within(e.Name, a.Value) {
			c.cut("a reference to another file", whole)
		}
	case a.Name == "style" || strings.Contains(a.Value, "(") && strings.Contains(strings.ToLower(a.Value), "url("): // a path's data are long
		if fetches(a.Value) {
			c.cut("a style that refers to another file", whole)
		} else if a.Name == "style" {
			c.declarations(a, whole)
		}
	}
}

// declarations cuts the declarations of a style attribute that do more than draw; where it is not written plainly, all of it.
func (c *disarming) declarations(a *Attr, whole span) {
	for _, p := range acts(a.Value) {
		if !a.plain() {
			c.cut("the property "+p.name, whole)
			return
		}
		c.cut("the property "+p.name, span{a.From + p.from, a.From + p.to})
	}
}

// text cuts what refers to other files, and of style sheets what does more than draw.
func (c *disarming) text(e *Element, p span) {
	for _, r := range foreignRules(c.doc.src[p.from:p.to]) {
		c.cut("a style that refers to another file", span{p.from + r.from, p.from + r.to})
	}
	if e.SVG && e.Name == "style" {
		for _, r := range acts(string(c.doc.src[p.from:p.to])) {
			c.cut("the property "+r.name, span{p.from + r.from, p.from + r.to})
		}
	}
}

// without returns the document without what is cut.
func (c *disarming) without() []byte {
	src := c.doc.src
	if len(c.cuts) == 0 {
		return src
	}
	sort.Slice(c.cuts, func(a, b int) bool { return c.cuts[a].from < c.cuts[b].from })
	out := make([]byte, 0, len(src))
	at := 0
	for _, s := range c.cuts {
		if s.from < at {
			continue
		}
		out = append(out, src[at:s.from]...)
		at = s.to
	}
	return append(out, src[at:]...)
}

// said lists what is cut, each kind once with its count.
func (c *disarming) said() []string {
	var said []string
	for what, n := range c.count {
		if n > 1 {
			what = fmt.Sprintf("%s (%d times)", what, n)
		}
		said = append(said, what)
	}
	sort.Strings(said)
	return said
}

// within says whether a reference stays in the file: to a part of it, to a pixel image it holds, or, in a link, to a page
// that is only gone to when somebody presses it.
func within(element, ref string) bool {
	r := strings.ToLower(strings.Map(func(c rune) rune {
		if c <= ' ' {
			return -1
		}
		return c
	}, ref))
	switch {
	case r == "" || r[0] == '#':
		return true
	case strings.HasPrefix(r, "data:image/") && !strings.HasPrefix(r, "data:image/svg"):
		return element == "image" || element == "feImage"
	case element == "a":
		return strings.HasPrefix(r, "https:") || strings.HasPrefix(r, "http:") || strings.HasPrefix(r, "mailto:")
	}
	return false
}

// fetches says whether declarations refer to anything but parts of the file and images and fonts it holds.
func fetches(text string) bool {
	for _, t := range tokens([]byte(text)) {
		if foreign(t) {
			return true
		}
	}
	return false
}

func foreign(t token) bool {
	s := strings.ToLower(t.text)
	switch t.kind {
	case css.URLToken, css.BadURLToken:
		r := strings.TrimLeft(strings.TrimPrefix(s, "url("), " \t\r\n\"'")
		return !(strings.HasPrefix(r, "#") || strings.HasPrefix(r, "data:image/") && !strings.HasPrefix(r, "data:image/svg") || strings.HasPrefix(r, "data:font/") || strings.HasPrefix(r, "data:application/") && strings.Contains(r, "font"))
	case css.FunctionToken:
		return s == "expression(" || s == "image-set(" || s == "src(" || s == "url(" || s == "-webkit-image-set("
	case css.IdentToken:
		return s == "-moz-binding" || s == "behavior"
	case css.AtKeywordToken:
		return s == "@import"
	case css.CustomPropertyNameToken:
		return false
	}
	return strings.Contains(t.text, `\`) && strings.Contains(strings.ToLower(t.text), "url")
}

// foreignRules gives the declarations and statements of a sheet that refer to other files. A url of a string is the
// function url( and the string.
func foreignRules(text []byte) []span {
	var out []span
	ts := tokens(text)
	for i := range ts {
		bad := foreign(ts[i])
		if ts[i].kind == css.FunctionToken && strings.EqualFold(ts[i].text, "url(") {
			bad = true
			for _, n := range ts[i+1:] {
				if blank(n.kind) {
					continue
				}
				bad = n.kind != css.StringToken || foreign(token{css.URLToken, "url(" + n.text, 0})
				break
			}
		}
		if !bad {
			continue
		}
		from, to := i, i
		for from > 0 && ts[from-1].kind != css.SemicolonToken && ts[from-1].kind != css.LeftBraceToken && ts[from-1].kind != css.RightBraceToken {
			from--
		}
		for to < len(ts)-1 && ts[to].kind != css.SemicolonToken && ts[to].kind != css.RightBraceToken {
			to++
		}
		end := ts[to].at + len(ts[to].text)
		if ts[to].kind == css.RightBraceToken {
			end = ts[to].at
		}
		out = append(out, span{ts[from].at, end})
	}
	return out
}

// property is a declaration as it stands in a text.
type property struct {
	name string
	span
}

// acts gives the declarations of a sheet, or of a style attribute, whose properties may do more than draw.
func acts(text string) []property {
	var out []property
	ts := tokens([]byte(text))
	for i := 0; i < len(ts); {
		for i < len(ts) && (blank(ts[i].kind) || ends(ts[i].kind)) {
			i++
		}
		from := i
		i = pieceEnd(ts, i)
		if from >= len(ts) || i < len(ts) && ts[i].kind == css.LeftBraceToken {
			continue // a selector
		}
		if colonOf(ts[from:i]) < 0 {
			continue
		}
		if name := unescaped(ts[from].text); !inertProperty(name) {
			end := len(text)
			if i < len(ts) {
				end = ts[i].at
				if ts[i].kind == css.SemicolonToken {
					end++
				}
			}
			out = append(out, property{name, span{ts[from].at, end}})
		}
	}
	return out
}

// ends reports whether a token ends a declaration or a selector.
func ends(k css.TokenType) bool {
	return k == css.SemicolonToken || k == css.LeftBraceToken || k == css.RightBraceToken
}

// pieceEnd returns where the declaration or selector ends that begins at i, brackets within it closed.
func pieceEnd(ts []token, i int) int {
	for deep := 0; i < len(ts) && (deep > 0 || !ends(ts[i].kind)); i++ {
		switch ts[i].kind {
		case css.LeftParenthesisToken, css.FunctionToken, css.LeftBracketToken:
			deep++
		case css.RightParenthesisToken, css.RightBracketToken:
			deep--
		}
	}
	return i
}

// unescaped gives a name without CSS escapes; one that holds any is a name that is on no list.
func unescaped(name string) string {
	if strings.Contains(name, `\`) {
		return "with an escape"
	}
	return name
}
