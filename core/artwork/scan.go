// Package artwork reads vector drawings (SVG 1.1 and 2), gathers their colours into families and gives them new ones.
// Nothing but colours changes: every edit is a span of the file's own bytes, all others stay as they are.
package artwork

import (
	"bytes"
	"fmt"
	"strconv"
	"strings"
	"unicode/utf8"
)

// Element is one element of a drawing, in document order. Offsets are bytes of the file.
type Element struct {
	Name    string // local name
	Space   string // the namespace
	SVG     bool   // in the SVG namespace, or in none where the file declares none
	Parent  int    // -1 for the root
	Start   int    // of the start tag
	Open    int    // behind the start tag
	Close   int    // of the end tag; equal to Open where there is none
	End     int    // behind the end tag
	Attrs   []Attr
	HasText bool // there is text in it that is not white space, its children's aside
}

// Attr is an attribute as it is written.
type Attr struct {
	Name       string // with its prefix
	Start, End int    // name, = and quoted value
	From, To   int    // the value between its quotes
	Value      string // with references resolved
}

// plain says whether the value's bytes are the value.
func (a *Attr) plain() bool { return len(a.Value) == a.To-a.From }

// Attr gives an attribute's value.
func (e *Element) Attr(name string) (string, bool) {
	for i := range e.Attrs {
		if e.Attrs[i].Name == name {
			return e.Attrs[i].Value, true
		}
	}
	return "", false
}

// Error says what is wrong with a drawing, and where.
type Error struct {
	Line    int // from 1; 0 where it is about the whole file
	Problem string
}

func (e *Error) Error() string {
	if e.Line > 0 {
		return fmt.Sprintf("line %d: %s", e.Line, e.Problem)
	}
	return e.Problem
}

// Mendable marks it as an error that whoever asked can mend.
func (*Error) Mendable() {}

// What a drawing may cost.
const (
	MaxBytes    = 64 << 20
	maxElements = 1_000_000
	maxDepth    = 1000
	maxEntities = 200
	maxEntity   = 4096
)

const svgNamespace = "http://www.w3.org/2000/svg"

type span struct{ from, to int }

// document is a scanned file.
type document struct {
	src      []byte
	elements []Element
	text     map[int][]span // text of style elements, CDATA without its marks
	pis      []span         // processing instructions
	defaults []span         // declarations of a document type that would give elements attributes
	entities map[string]string
}

type scanner struct {
	document
	pos    int
	stack  []int
	spaces []map[string]string // namespaces in scope, one for each open element
	names  map[string]string   // interned
	all    string              // the file as a string, of which values are pieces
	grown  int                 // bytes that entities became
}

func (s *scanner) fail(at int, f string, a ...any) error {
	return &Error{1 + bytes.Count(s.src[:min(at, len(s.src))], []byte{'\n'}), fmt.Sprintf(f, a...)}
}

// mostAhead is for how many elements room is taken before they are read: a file may be nothing but the beginnings of some.
const mostAhead = 1 << 17

// scan reads a file into elements. It takes what an XML parser takes, and no references to other files.
func scan(src []byte) (*document, error) {
	s := &scanner{document: document{src: src, text: map[int][]span{}}, names: map[string]string{}}
	if len(src) > MaxBytes {
		return nil, &Error{0, fmt.Sprintf("the drawing has more than %d MB", MaxBytes>>20)}
	}
	if bytes.HasPrefix(src, []byte{0xfe, 0xff}) || bytes.HasPrefix(src, []byte{0xff, 0xfe}) {
		return nil, &Error{0, "the drawing is in UTF-16; save it in UTF-8"}
	}
	s.all = string(src)
	s.elements = make([]Element, 0, min(bytes.Count(src, []byte{'<'})-bytes.Count(src, []byte("</")), mostAhead))
	for s.pos < len(src) {
		lt := bytes.IndexByte(src[s.pos:], '<')
		if lt < 0 {
			lt = len(src) - s.pos
		}
		if err := s.chars(s.pos, s.pos+lt); err != nil {
			return nil, err
		}
		if s.pos += lt; s.pos >= len(src) {
			break
		}
		if err := s.markup(); err != nil {
			return nil, err
		}
	}
	if len(s.stack) > 0 {
		e := s.elements[s.stack[len(s.stack)-1]]
		return nil, s.fail(e.Start, "the element %s is never closed; the file is cut off or damaged", e.Name)
	}
	if len(s.elements) == 0 {
		return nil, &Error{0, "there is no element in it"}
	}
	if root := &s.elements[0]; root.Name != "svg" || !root.SVG {
		return nil, &Error{0, fmt.Sprintf("its root is %s, not svg", root.Name)}
	}
	return &s.document, nil
}

// markup reads what begins with a <.
func (s *scanner) markup() (err error) {
	rest := s.src[s.pos:]
	switch {
	case bytes.HasPrefix(rest, []byte("<!--")):
		_, err = s.until("-->", "comment")
	case bytes.HasPrefix(rest, []byte("<![CDATA[")):
		from := s.pos + len("<![CDATA[")
		if _, err = s.until("]]>", "CDATA section"); err == nil && len(s.stack) > 0 {
			s.run(span{from, s.pos - 3})
		}
	case bytes.HasPrefix(rest, []byte("<?")):
		var p span
		if p, err = s.until("?>", "processing instruction"); err == nil {
			s.pis = append(s.pis, p)
		}
	case bytes.HasPrefix(rest, []byte("<!")):
		err = s.doctype()
	case bytes.HasPrefix(rest, []byte("</")):
		err = s.endTag()
	default:
		err = s.startTag()
	}
	return err
}

func (s *scanner) until(mark, what string) (span, error) {
	n := bytes.Index(s.src[s.pos:], []byte(mark))
	if n < 0 {
		return span{}, s.fail(s.pos, "the %s is never closed", what)
	}
	p := span{s.pos, s.pos + n + len(mark)}
	s.pos = p.to
	return p, nil
}

// chars notes character data of the open element.
func (s *scanner) chars(from, to int) error {
	blank := true
	for _, c := range s.src[from:to] {
		if c != ' ' && c != '\t' && c != '\n' && c != '\r' {
			blank = false
			break
		}
	}
	if blank {
		return nil
	}
	if len(s.stack) == 0 {
		if from == 0 && bytes.Equal(bytes.TrimSpace(s.src[from:to]), []byte("\xef\xbb\xbf")) {
			return nil
		}
		return s.fail(from, "there is text outside the root element")
	}
	s.run(span{from, to})
	return nil
}

func (s *scanner) run(p span) {
	at := s.stack[len(s.stack)-1]
	e := &s.elements[at]
	e.HasText = true
	if e.Name == "style" && e.SVG {
		s.text[at] = append(s.text[at], p)
	}
}

func isName(c byte) bool {
	return c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9' || c == '_' || c == ':' || c == '-' || c == '.' || c >= 0x80
}

func isSpace(c byte) bool { return c == ' ' || c == '\t' || c == '\n' || c == '\r' }

func (s *scanner) name() string {
	from := s.pos
	for s.pos < len(s.src) && isName(s.src[s.pos]) {
		s.pos++
	}
	b := s.src[from:s.pos]
	if n, ok := s.names[string(b)]; ok {
		return n
	}
	n := string(b)
	s.names[n] = n
	return n
}

func (s *scanner) space() {
	for s.pos < len(s.src) && isSpace(s.src[s.pos]) {
		s.pos++
	}
}

func (s *scanner) startTag() error {
	e := Element{Parent: -1, Start: s.pos}
	s.pos++
	full := s.name()
	if full == "" {
		return s.fail(e.Start, "a < stands alone; written as text it is &lt;")
	}
	if err := s.place(&e); err != nil {
		return err
	}
	spaces, err := s.attrs(&e, full)
	if err != nil {
		return err
	}
	prefix, local, ok := strings.Cut(full, ":")
	if !ok {
		prefix, local = "", full
	}
	ns, declared := spaces[prefix]
	e.Name, e.Space, e.SVG = local, ns, ns == svgNamespace || !declared && prefix == ""
	empty := s.src[s.pos] == '/'
	if empty {
		s.pos++
	}
	if s.pos >= len(s.src) || s.src[s.pos] != '>' {
		return s.fail(e.Start, "the tag of %s is damaged", full)
	}
	s.pos++
	e.Open, e.Close, e.End = s.pos, s.pos, s.pos
	s.elements = append(s.elements, e)
	if !empty {
		s.stack = append(s.stack, len(s.elements)-1)
		s.spaces = append(s.spaces, spaces)
	}
	return nil
}

// place finds the parent of an element.
func (s *scanner) place(e *Element) error {
	if len(s.stack) > 0 {
		e.Parent = s.stack[len(s.stack)-1]
	} else if len(s.elements) > 0 {
		return s.fail(e.Start, "there is a second root element")
	}
	if len(s.elements) >= maxElements {
		return s.fail(e.Start, "the drawing has over %d elements", maxElements)
	}
	if len(s.stack) >= maxDepth {
		return s.fail(e.Start, "elements are nested over %d deep", maxDepth)
	}
	return nil
}

// attrs reads the attributes of an element up to the end of its tag, and returns the namespaces that hold in it by their prefixes.
func (s *scanner) attrs(e *Element, full string) (spaces map[string]string, err error) {
	if n := len(s.spaces); n > 0 {
		spaces = s.spaces[n-1]
	}
	own := false // spaces are not the parent's any more
	for {
		s.space()
		if s.pos >= len(s.src) {
			return nil, s.fail(e.Start, "the tag of %s is never closed; the file is cut off or damaged", full)
		}
		if c := s.src[s.pos]; c == '>' || c == '/' {
			return spaces, nil
		}
		a, err := s.attr()
		if err != nil {
			return nil, err
		}
		if prefix, ok := strings.CutPrefix(a.Name, "xmlns"); ok && (prefix == "" || prefix[0] == ':') {
			if !own {
				c := map[string]string{}
				for k, v := range spaces {
					c[k] = v
				}
				spaces, own = c, true
			}
			spaces[strings.TrimPrefix(prefix, ":")] = a.Value
		}
		if e.Attrs == nil {
			e.Attrs = make([]Attr, 0, 6)
		}
		e.Attrs = append(e.Attrs, a)
	}
}

func (s *scanner) attr() (Attr, error) {
	a := Attr{Start: s.pos}
	a.Name = s.name()
	if a.Name == "" {
		return a, s.fail(s.pos, "an attribute is damaged")
	}
	s.space()
	if s.pos >= len(s.src) || s.src[s.pos] != '=' {
		return a, s.fail(a.Start, "the attribute %s has no value", a.Name)
	}
	s.pos++
	s.space()
	if s.pos >= len(s.src) || s.src[s.pos] != '"' && s.src[s.pos] != '\'' {
		return a, s.fail(a.Start, "the value of %s is not in quotes", a.Name)
	}
	quote := s.src[s.pos]
	a.From = s.pos + 1
	n := bytes.IndexByte(s.src[a.From:], quote)
	if n < 0 {
		return a, s.fail(a.Start, "the value of %s is never closed", a.Name)
	}
	a.To = a.From + n
	raw := s.src[a.From:a.To]
	if bytes.IndexByte(raw, '<') >= 0 {
		return a, s.fail(a.Start, "the value of %s holds a <; written as text it is &lt;", a.Name)
	}
	s.pos = a.To + 1
	a.End = s.pos
	v, err := s.resolve(raw, a.From)
	a.Value = v
	return a, err
}

// resolve replaces character and entity references.
func (s *scanner) resolve(raw []byte, at int) (string, error) {
	if bytes.IndexByte(raw, '&') < 0 {
		return s.all[at : at+len(raw)], nil
	}
	var b strings.Builder
	for len(raw) > 0 {
		i := bytes.IndexByte(raw, '&')
		if i < 0 {
			b.Write(raw)
			break
		}
		b.Write(raw[:i])
		raw = raw[i+1:]
		j := bytes.IndexByte(raw, ';')
		if j < 1 || j > 64 {
			return "", s.fail(at, "an & stands alone; written as text it is &amp;")
		}
		ref := string(raw[:j])
		raw = raw[j+1:]
		switch {
		case ref[0] == '#':
			digits, base := ref[1:], 10
			if strings.HasPrefix(digits, "x") {
				digits, base = digits[1:], 16
			}
			n, err := strconv.ParseUint(digits, base, 32)
			if err != nil || n == 0 || n > utf8.MaxRune {
				return "", s.fail(at, "&%s; is no character", ref)
			}
			b.WriteRune(rune(n))
		case named[ref] != "":
			b.WriteString(named[ref])
		default:
			v, ok := s.entities[ref]
			if !ok {
				return "", s.fail(at, "&%s; is not defined", ref)
			}
			if s.grown += len(v); s.grown > MaxBytes {
				return "", s.fail(at, "its entities become more than %d MB; save the drawing without them", MaxBytes>>20)
			}
			b.WriteString(v)
		}
	}
	return b.String(), nil
}

var named = map[string]string{"lt": "<", "gt": ">", "amp": "&", "quot": `"`, "apos": "'"}

func (s *scanner) endTag() error {
	at := s.pos
	s.pos += 2
	full := s.name()
	s.space()
	if s.pos >= len(s.src) || s.src[s.pos] != '>' {
		return s.fail(at, "the end tag of %s is damaged", full)
	}
	s.pos++
	if len(s.stack) == 0 {
		return s.fail(at, "</%s> closes nothing", full)
	}
	e := &s.elements[s.stack[len(s.stack)-1]]
	if open := s.src[e.Start+1:]; !bytes.HasPrefix(open, []byte(full)) || isName(open[len(full)]) {
		return s.fail(at, "</%s> stands where %s should be closed", full, e.Name)
	}
	e.Close, e.End = at, s.pos
	s.stack = s.stack[:len(s.stack)-1]
	s.spaces = s.spaces[:len(s.spaces)-1]
	return nil
}

// doctype reads a document type; its entities may be short plain texts only, so that none can grow or fetch anything.
func (s *scanner) doctype() error {
	at := s.pos
	depth := 0
	for i := s.pos; i < len(s.src); i++ {
		switch c := s.src[i]; c {
		case '"', '\'':
			n := bytes.IndexByte(s.src[i+1:], c)
			if n < 0 {
				return s.fail(at, "the document type is never closed")
			}
			i += n + 1
		case '[':
			depth++
		case ']':
			depth--
		case '-':
			if bytes.HasPrefix(s.src[i-min(i, 2):], []byte("<!--")) {
				n := bytes.Index(s.src[i:], []byte("-->"))
				if n < 0 {
					return s.fail(at, "a comment is never closed")
				}
				i += n + 2
			}
		case '<':
			if depth > 0 && bytes.HasPrefix(s.src[i:], []byte("<!ENTITY")) {
				if err := s.entity(i); err != nil {
					return err
				}
			} else if depth > 0 && bytes.HasPrefix(s.src[i:], []byte("<!")) && !bytes.HasPrefix(s.src[i:], []byte("<!--")) {
				s.defaults = append(s.defaults, span{i, i + declared(s.src[i:])})
			}
		case '>':
			if depth == 0 {
				s.pos = i + 1
				return nil
			}
		}
	}
	return s.fail(at, "the document type is never closed")
}

// declared gives the length of one that begins b, quoted text in it passed over.
func declared(b []byte) int {
	for i := 0; i < len(b); i++ {
		switch b[i] {
		case '>':
			return i + 1
		case '"', '\'':
			n := bytes.IndexByte(b[i+1:], b[i])
			if n < 0 {
				return len(b)
			}
			i += n + 1
		}
	}
	return len(b)
}

func (s *scanner) entity(at int) error {
	keep := s.pos
	defer func() { s.pos = keep }()
	s.pos = at + len("<!ENTITY")
	s.space()
	name := s.name()
	s.space()
	if name == "" || s.pos >= len(s.src) || s.src[s.pos] != '"' && s.src[s.pos] != '\'' {
		return s.fail(at, "it refers to another file by an entity, which is not taken; save the drawing without it")
	}
	from := s.pos + 1
	n := bytes.IndexByte(s.src[from:], s.src[s.pos])
	if n < 0 {
		return s.fail(at, "the entity %s is never closed", name)
	}
	v := s.src[from : from+n]
	if n > maxEntity || bytes.ContainsAny(v, "&%<") || len(s.entities) >= maxEntities {
		return s.fail(at, "the entity %s is built of others, of markup, or is too long: such entities can grow without end and are not taken", name)
	}
	if s.entities == nil {
		s.entities = map[string]string{}
	}
	if _, ok := s.entities[name]; !ok {
		s.entities[name] = string(v)
	}
	return nil
}
