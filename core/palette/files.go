// Package palette reads and writes palettes as open files, and takes the colours out of a picture.
package palette

import (
	"bytes"
	"encoding/csv"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"regexp"
	"sort"
	"strconv"
	"strings"

	"episema/core/colour"
)

// Entry is a colour of a palette file.
type Entry struct {
	Name      string
	CSS       string  // any CSS Color 4 notation
	Tolerance float64 // CIEDE2000; 0 where the file says none
}

// Error says where in a palette file something is wrong.
type Error struct {
	Line    int // from 1; 0 where the file has no lines to speak of
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

// Formats are the kinds of palette file: Design Tokens of the W3C community group, CSS custom properties, CSV with a heading line,
// and measurements in CGATS.17 (ISO 28178).
var Formats = []string{"tokens", "css", "csv", "cgats"}

const most = 1000 // colours of a file

// Read reads a palette file; nothing of a wrong one is taken. With an empty format the text itself tells.
func Read(format string, text []byte) ([]Entry, error) {
	if len(text) > 4<<20 {
		return nil, &Error{0, "the file has over 4 MB; palettes are far smaller"}
	}
	t := strings.TrimSpace(strings.TrimPrefix(string(text), "\ufeff"))
	if format == "" {
		switch {
		case isCGATS(t):
			format = "cgats"
		case strings.HasPrefix(t, "{"):
			format = "tokens"
		case strings.Contains(t, "--"):
			format = "css"
		default:
			format = "csv"
		}
	}
	var list []Entry
	var err error
	switch format {
	case "tokens":
		list, err = readTokens(t)
	case "css":
		list, err = readCSS(t)
	case "csv":
		list, err = readCSV(t)
	case "cgats":
		list, err = readCGATS(t)
	default:
		return nil, &Error{0, fmt.Sprintf("the format %q is not known; use one of %s", format, strings.Join(Formats, ", "))}
	}
	if err != nil {
		return nil, err
	}
	if len(list) == 0 {
		return nil, &Error{0, "there is no colour in it"}
	}
	if len(list) > most {
		return nil, &Error{0, fmt.Sprintf("it has over %d colours", most)}
	}
	return list, nil
}

// Write writes a palette file.
func Write(format string, list []Entry) ([]byte, error) {
	switch format {
	case "tokens":
		return writeTokens(list)
	case "css":
		return writeCSS(list)
	case "csv":
		return writeCSV(list)
	case "cgats":
		return writeCGATS(list)
	}
	return nil, &Error{0, fmt.Sprintf("the format %q is not known; use one of %s", format, strings.Join(Formats, ", "))}
}

// tokens are the design tokens of a file by their dotted names (Design Tokens Format Module of the W3C Design Tokens Community Group).
type tokens struct {
	text   string
	places map[string]int64 // where each string stands first
	at     map[string]map[string]any
	kinds  map[string]string // the token's own type, or that of a group around it
	order  []string          // as the file has them
}

func readTokens(text string) ([]Entry, error) {
	var root map[string]any
	d := json.NewDecoder(strings.NewReader(text))
	if err := d.Decode(&root); err != nil {
		var syntax *json.SyntaxError
		line := 1
		if errors.As(err, &syntax) {
			line += strings.Count(text[:min(len(text), int(syntax.Offset))], "\n")
		} else if errors.Is(err, io.ErrUnexpectedEOF) {
			line += strings.Count(text, "\n")
		}
		return nil, &Error{line, "it is not JSON: " + err.Error()}
	}
	t := &tokens{text: text, places: placesOf(text), at: map[string]map[string]any{}, kinds: map[string]string{}}
	if err := t.walk(root, nil, ""); err != nil {
		return nil, err
	}
	var out []Entry
	for _, name := range t.order {
		e, ok, err := t.entry(name)
		if err != nil {
			return nil, err
		}
		if ok {
			out = append(out, e)
		}
	}
	return out, nil
}

// walk gathers the tokens of a group.
func (t *tokens) walk(group map[string]any, path []string, kind string) error {
	if len(path) > 32 {
		return &Error{0, "its groups are nested over 32 deep"}
	}
	if own, ok := group["$type"].(string); ok {
		kind = own
	}
	if _, ok := group["$value"]; ok {
		name := strings.Join(path, ".")
		t.at[name], t.kinds[name] = group, kind
		t.order = append(t.order, name)
		return nil
	}
	keys := make([]string, 0, len(group))
	for k := range group {
		if !strings.HasPrefix(k, "$") {
			keys = append(keys, k)
		}
	}
	// As the file has them: JSON objects lose it, their places in the text tell.
	sort.Slice(keys, func(a, b int) bool { return t.places[keys[a]] < t.places[keys[b]] })
	for _, k := range keys {
		if g, ok := group[k].(map[string]any); ok {
			if err := t.walk(g, append(path[:len(path):len(path)], k), kind); err != nil {
				return err
			}
		}
	}
	return nil
}

// value returns what a token is, and its type, where it names others from there.
func (t *tokens) value(name string) (value any, kind string, err error) {
	value, kind = t.at[name]["$value"], t.kinds[name]
	for n := 0; ; n++ {
		s, ok := value.(string)
		if !ok || !strings.HasPrefix(s, "{") || !strings.HasSuffix(s, "}") {
			return value, kind, nil
		}
		to := s[1 : len(s)-1]
		if t.at[to] == nil || n > 32 {
			return nil, "", &Error{lineOf(t.text, s), fmt.Sprintf("the token %q points to %s, which is not there", name, s)}
		}
		if kind == "" {
			kind = t.kinds[to]
		}
		value = t.at[to]["$value"]
	}
}

// entry makes a colour of a token; ok is false for sizes, fonts and the like.
func (t *tokens) entry(name string) (e Entry, ok bool, err error) {
	value, kind, err := t.value(name)
	if err != nil || kind != "color" {
		return e, false, err
	}
	css, err := tokenColour(value)
	if err != nil {
		return e, false, &Error{lineOf(t.text, strconv.Quote(name[strings.LastIndex(name, ".")+1:])), fmt.Sprintf("the token %q: %v", name, err)}
	}
	e = Entry{Name: strings.ReplaceAll(name, ".", " "), CSS: css}
	if ext, ok := t.at[name]["$extensions"].(map[string]any); ok {
		if own, ok := ext["episema"].(map[string]any); ok {
			e.Tolerance, _ = own["tolerance"].(float64)
			if n, ok := own["name"].(string); ok {
				e.Name = n
			}
		}
	}
	return e, true, nil
}

// placesOf gives where each string of a JSON text stands first.
func placesOf(text string) map[string]int64 {
	places := map[string]int64{}
	d := json.NewDecoder(strings.NewReader(text))
	for {
		t, err := d.Token()
		if err != nil {
			return places
		}
		if s, ok := t.(string); ok {
			if _, seen := places[s]; !seen {
				places[s] = d.InputOffset()
			}
		}
	}
}

func lineOf(text, part string) int {
	i := strings.Index(text, part)
	if i < 0 {
		return 0
	}
	return 1 + strings.Count(text[:i], "\n")
}

// tokenColour reads a colour value: an object with colour space and components, or a string as older files have it.
func tokenColour(v any) (string, error) {
	switch c := v.(type) {
	case string:
		if _, err := colour.ParseCSS(c); err != nil {
			return "", err
		}
		return c, nil
	case map[string]any:
		space, _ := c["colorSpace"].(string)
		parts, _ := c["components"].([]any)
		if len(parts) != 3 {
			return "", fmt.Errorf("a colour has a colorSpace and three components")
		}
		var w [3]string
		for i, p := range parts {
			switch n := p.(type) {
			case float64:
				w[i] = strconv.FormatFloat(n, 'f', -1, 64)
			case string:
				if n != "none" {
					return "", fmt.Errorf("a component is a number or none")
				}
				w[i] = n
			default:
				return "", fmt.Errorf("a component is a number or none")
			}
		}
		css := ""
		switch space {
		case "srgb", "srgb-linear", "display-p3", "a98-rgb", "prophoto-rgb", "rec2020", "xyz-d65", "xyz-d50":
			css = fmt.Sprintf("color(%s %s %s %s)", space, w[0], w[1], w[2])
		case "hsl", "hwb":
			css = fmt.Sprintf("%s(%s %s%% %s%%)", space, w[0], w[1], w[2])
		case "lab", "lch", "oklab", "oklch":
			css = fmt.Sprintf("%s(%s %s %s)", space, w[0], w[1], w[2])
		default:
			return "", fmt.Errorf("the colour space %q is not one of the specification's", space)
		}
		if _, err := colour.ParseCSS(css); err != nil {
			return "", err
		}
		return css, nil
	}
	return "", fmt.Errorf("its value is neither a colour object nor a string")
}

func writeTokens(list []Entry) ([]byte, error) {
	// Written by hand, so that the order stays.
	var b bytes.Buffer
	b.WriteString("{\n  \"$type\": \"color\"")
	seen := map[string]bool{}
	for _, e := range list {
		l, err := colour.ParseCSS(e.CSS)
		if err != nil {
			return nil, err
		}
		name := unique(tokenName(e.Name), seen)
		value := map[string]any{"colorSpace": "lab", "components": []float64{round(l[0]), round(l[1]), round(l[2])}, "hex": colour.Hex(l)}
		own := map[string]any{"name": e.Name}
		if e.Tolerance > 0 {
			own["tolerance"] = e.Tolerance
		}
		token, err := json.MarshalIndent(map[string]any{"$value": value, "$extensions": map[string]any{"episema": own}}, "  ", "  ")
		if err != nil {
			return nil, err
		}
		fmt.Fprintf(&b, ",\n  %s: %s", strconv.Quote(name), token)
	}
	b.WriteString("\n}\n")
	return b.Bytes(), nil
}

func round(v float64) float64 { return math.Round(v*10000) / 10000 }

// tokenName keeps out what token names may not hold: a leading $, and dots and braces.
func tokenName(s string) string {
	s = strings.TrimLeft(strings.Map(func(r rune) rune {
		if strings.ContainsRune(".{}\"\\", r) || r < ' ' {
			return '-'
		}
		return r
	}, s), "$")
	if s == "" {
		return "colour"
	}
	return s
}

func unique(name string, seen map[string]bool) string {
	n := name
	for k := 2; seen[n]; k++ {
		n = fmt.Sprintf("%s-%d", name, k)
	}
	seen[n] = true
	return n
}

var (
	comment  = regexp.MustCompile(`(?s)/\*.*?\*/`)
	property = regexp.MustCompile(`(--[^\s:;{}]+)\s*:\s*([^;{}]*)`)
	tolerant = regexp.MustCompile(`^\s*tolerance\s+([0-9.]+)\s*$`)
)

// readCSS takes the custom properties of a style sheet whose values are colours or other properties that are.
func readCSS(text string) ([]Entry, error) {
	// Comments are blanked, their line breaks kept; one right behind a value may hold its tolerance.
	tolerance := map[int]float64{}
	bare := comment.ReplaceAllStringFunc(text, func(c string) string {
		return strings.Map(func(r rune) rune {
			if r == '\n' {
				return r
			}
			return ' '
		}, c)
	})
	for _, at := range comment.FindAllStringIndex(text, -1) {
		if m := tolerant.FindStringSubmatch(strings.TrimSuffix(strings.TrimPrefix(text[at[0]:at[1]], "/*"), "*/")); m != nil {
			if v, err := strconv.ParseFloat(m[1], 64); err == nil {
				tolerance[strings.Count(text[:at[0]], "\n")] = v
			}
		}
	}
	values := map[string]string{}
	type found struct {
		name, value string
		line        int
	}
	var all []found
	for _, m := range property.FindAllStringSubmatchIndex(bare, -1) {
		f := found{bare[m[2]:m[3]], strings.TrimSpace(bare[m[4]:m[5]]), strings.Count(bare[:m[2]], "\n")}
		values[f.name] = f.value
		all = append(all, f)
	}
	if len(all) == 0 {
		return nil, &Error{0, "there is no custom property in it, such as --harbour-teal: #1d6a72;"}
	}
	var out []Entry
	for _, f := range all {
		v := f.value
		for n := 0; n < 32 && strings.HasPrefix(v, "var(") && strings.HasSuffix(v, ")"); n++ {
			v = values[strings.TrimSpace(v[4:len(v)-1])]
		}
		if _, err := colour.ParseCSS(v); err != nil {
			if looksLikeColour(v) {
				return nil, &Error{f.line + 1, err.Error()}
			}
			continue // a size, a font
		}
		out = append(out, Entry{Name: strings.ReplaceAll(strings.TrimLeft(f.name, "-"), "-", " "), CSS: v, Tolerance: tolerance[f.line]})
	}
	return out, nil
}

func looksLikeColour(v string) bool {
	l := strings.ToLower(v)
	if strings.HasPrefix(l, "#") {
		return true
	}
	for _, f := range []string{"rgb", "hsl", "hwb", "lab(", "lch(", "oklab(", "oklch(", "color("} {
		if strings.HasPrefix(l, f) {
			return true
		}
	}
	return false
}

var notName = regexp.MustCompile(`[^\p{L}\p{N}_]+`)

func writeCSS(list []Entry) ([]byte, error) {
	var b bytes.Buffer
	b.WriteString(":root {\n")
	seen := map[string]bool{}
	for _, e := range list {
		name := strings.Trim(notName.ReplaceAllString(strings.ToLower(e.Name), "-"), "-")
		if name == "" {
			name = "colour"
		}
		fmt.Fprintf(&b, "  --%s: %s;", unique(name, seen), e.CSS)
		if e.Tolerance > 0 {
			fmt.Fprintf(&b, " /* tolerance %g */", e.Tolerance)
		}
		b.WriteByte('\n')
	}
	b.WriteString("}\n")
	return b.Bytes(), nil
}

// readCSV reads lines of name, colour and (maybe) tolerance below a heading line that names the columns.
func readCSV(text string) ([]Entry, error) {
	r := csv.NewReader(strings.NewReader(text))
	r.FieldsPerRecord = -1
	r.TrimLeadingSpace = true
	if first, _, _ := strings.Cut(text, "\n"); strings.Count(first, ";") > strings.Count(first, ",") {
		r.Comma = ';'
	}
	head, err := r.Read()
	if err != nil {
		return nil, &Error{1, "a heading line is missing: name,colour,tolerance"}
	}
	col := columnsOf(head)
	if col.name < 0 || col.colour < 0 {
		return nil, &Error{1, "the heading line names no columns name and colour; begin with name,colour,tolerance"}
	}
	var out []Entry
	for {
		rec, err := r.Read()
		if errors.Is(err, io.EOF) {
			return out, nil
		}
		if err != nil {
			var p *csv.ParseError
			if errors.As(err, &p) {
				return nil, &Error{p.Line, p.Err.Error()}
			}
			return nil, &Error{0, err.Error()}
		}
		e, err := col.entry(rec)
		if err != nil {
			line, _ := r.FieldPos(0)
			return nil, &Error{line, err.Error()}
		}
		out = append(out, e)
	}
}

// columns are the indices of a table's columns; -1 for one that is not there.
type columns struct{ name, colour, tolerance int }

func columnsOf(head []string) columns {
	c := columns{-1, -1, -1}
	for i, h := range head {
		switch strings.ToLower(strings.TrimSpace(h)) {
		case "name":
			c.name = i
		case "colour", "color", "css", "value", "hex":
			c.colour = i
		case "tolerance":
			c.tolerance = i
		}
	}
	return c
}

// entry makes a colour of a line.
func (c columns) entry(rec []string) (e Entry, err error) {
	if len(rec) <= max(c.name, c.colour) {
		return e, errors.New("it has too few columns")
	}
	e = Entry{Name: strings.TrimSpace(rec[c.name]), CSS: strings.TrimSpace(rec[c.colour])}
	if e.Name == "" {
		return e, errors.New("the name is missing")
	}
	if _, err := colour.ParseCSS(e.CSS); err != nil {
		return e, err
	}
	if i := c.tolerance; i >= 0 && i < len(rec) && strings.TrimSpace(rec[i]) != "" {
		if e.Tolerance, err = strconv.ParseFloat(strings.TrimSpace(rec[i]), 64); err != nil || !(e.Tolerance >= 0 && e.Tolerance <= 100) {
			return e, fmt.Errorf("the tolerance %q is no number from 0 to 100", rec[i])
		}
	}
	return e, nil
}

func writeCSV(list []Entry) ([]byte, error) {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	if err := w.Write([]string{"name", "colour", "tolerance"}); err != nil {
		return nil, err
	}
	for _, e := range list {
		tol := ""
		if e.Tolerance > 0 {
			tol = strconv.FormatFloat(e.Tolerance, 'g', -1, 64)
		}
		if err := w.Write([]string{e.Name, e.CSS, tol}); err != nil {
			return nil, err
		}
	}
	w.Flush()
	return b.Bytes(), w.Error()
}
