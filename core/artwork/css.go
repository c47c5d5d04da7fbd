package artwork

import (
	"strings"

	"github.com/andybalholm/cascadia"
	"github.com/tdewolff/parse/v2"
	"github.com/tdewolff/parse/v2/css"
)

// declaration is one property of a rule or a style attribute.
type declaration struct {
	prop      string
	value     string
	at        span // of the value in the text it stands in, white space and comments around it left out
	important bool
}

// weight is 1 for what is important, which beats all that is not.
func (d *declaration) weight() int {
	if d.important {
		return 1
	}
	return 0
}

// rule is a style rule of a sheet with one of its selectors.
type rule struct {
	selector    selector
	specificity [3]int
	order       int
	decls       []declaration // at: bytes of the file
}

// selector is matched fast where it is one id, class or type, and by the library otherwise.
type selector struct {
	kind byte // '#', '.', 't'ype, '*' or 0
	name string
	sel  cascadia.Sel
}

type token struct {
	kind css.TokenType
	text string
	at   int
}

func tokens(text []byte) []token {
	l := css.NewLexer(parse.NewInputBytes(append(make([]byte, 0, len(text)+1), text...)))
	var out []token
	at := 0
	for {
		kind, b := l.Next()
		if kind == css.ErrorToken {
			return out
		}
		out = append(out, token{kind, string(b), at})
		at += len(b)
	}
}

func blank(k css.TokenType) bool { return k == css.WhitespaceToken || k == css.CommentToken }

// declarations reads the inside of a block or a style attribute (CSS Syntax Module Level 3, 5.4.4).
func declarations(ts []token) []declaration {
	var out []declaration
	for i := 0; i < len(ts); {
		for i < len(ts) && (blank(ts[i].kind) || ts[i].kind == css.SemicolonToken) {
			i++
		}
		from := i
		i = statement(ts, i)
		if d, ok := newDeclaration(ts[from:i]); ok {
			out = append(out, d)
		}
	}
	return out
}

// newDeclaration reads one declaration; ok is false for what is none.
func newDeclaration(ts []token) (d declaration, ok bool) {
	colon := colonOf(ts)
	if colon < 0 {
		return d, false
	}
	v := trim(ts[colon+1:])
	if n := len(v); n >= 2 && v[n-1].kind == css.IdentToken && strings.EqualFold(v[n-1].text, "important") {
		rest := trim(v[:n-1])
		if m := len(rest); m > 0 && rest[m-1].kind == css.DelimToken && rest[m-1].text == "!" {
			d.important, v = true, trim(rest[:m-1])
		}
	}
	if len(v) == 0 {
		return d, false
	}
	var text strings.Builder
	for _, t := range v {
		if t.kind != css.CommentToken {
			text.WriteString(t.text)
		}
	}
	last := v[len(v)-1]
	d.value, d.at = text.String(), span{v[0].at, last.at + len(last.text)}
	if d.prop = ts[0].text; !strings.HasPrefix(d.prop, "--") {
		d.prop = strings.ToLower(d.prop)
	}
	return d, true
}

// colonOf returns where the colon of a declaration stands that begins with its property's name; -1 for what is no declaration.
func colonOf(ts []token) int {
	if len(ts) == 0 || ts[0].kind != css.IdentToken && ts[0].kind != css.CustomPropertyNameToken {
		return -1
	}
	k := 1
	for k < len(ts) && blank(ts[k].kind) {
		k++
	}
	if k == len(ts) || ts[k].kind != css.ColonToken {
		return -1
	}
	return k
}

func trim(ts []token) []token {
	for len(ts) > 0 && blank(ts[0].kind) {
		ts = ts[1:]
	}
	for len(ts) > 0 && blank(ts[len(ts)-1].kind) {
		ts = ts[:len(ts)-1]
	}
	return ts
}

// statement gives where a declaration ends: at its semicolon, brackets within it closed.
func statement(ts []token, i int) int {
	depth := 0
	for ; i < len(ts); i++ {
		switch ts[i].kind {
		case css.LeftBraceToken, css.LeftBracketToken, css.LeftParenthesisToken, css.FunctionToken:
			depth++
		case css.RightBraceToken, css.RightBracketToken, css.RightParenthesisToken:
			depth = max(0, depth-1)
		case css.SemicolonToken:
			if depth == 0 {
				return i
			}
		}
	}
	return i
}

// sheet reads the rules of a style sheet. text lies at base in the file.
func sheet(text []byte, base int, order *int) []rule {
	ts := tokens(text)
	for i := range ts {
		ts[i].at += base
	}
	return rules(ts, order, 0)
}

func rules(ts []token, order *int, depth int) []rule {
	var out []rule
	for i := 0; i < len(ts); {
		if between(ts[i].kind) {
			i++
			continue
		}
		from := i
		for i < len(ts) && ts[i].kind != css.LeftBraceToken && !(ts[i].kind == css.SemicolonToken && ts[from].kind == css.AtKeywordToken) {
			i++
		}
		prelude := trim(ts[from:i])
		if i == len(ts) || ts[i].kind == css.SemicolonToken {
			i++
			continue
		}
		open := i + 1
		i = blockEnd(ts, open)
		block := ts[open:i]
		i++
		if len(prelude) == 0 {
			continue
		}
		if prelude[0].kind == css.AtKeywordToken {
			if depth < 16 && applies(prelude) {
				out = append(out, rules(block, order, depth+1)...)
			}
			continue
		}
		decls := declarations(block)
		if len(decls) == 0 {
			continue
		}
		for _, one := range group(prelude) {
			s, spec, ok := newSelector(one)
			if ok {
				out = append(out, rule{s, spec, *order, decls})
			}
			*order++
		}
	}
	return out
}

// between reports whether a token stands between rules and says nothing.
func between(k css.TokenType) bool {
	return blank(k) || k == css.SemicolonToken || k == css.CDOToken || k == css.CDCToken || k == css.RightBraceToken
}

// blockEnd returns where the block ends whose inside begins at i: at its brace, or at the end of the text.
func blockEnd(ts []token, i int) int {
	level := 0
	for ; i < len(ts); i++ {
		switch ts[i].kind {
		case css.LeftBraceToken:
			level++
		case css.RightBraceToken:
			if level == 0 {
				return i
			}
			level--
		}
	}
	return i
}

// applies says whether the rules of a conditional block count on a screen in plain light.
func applies(prelude []token) bool {
	var b strings.Builder
	for _, t := range prelude[1:] {
		if t.kind != css.CommentToken {
			b.WriteString(t.text)
		}
	}
	cond := strings.ToLower(strings.TrimSpace(b.String()))
	switch strings.ToLower(prelude[0].text) {
	case "@supports", "@layer":
		return true
	case "@media":
		for _, q := range strings.Split(cond, ",") {
			q = strings.TrimPrefix(strings.TrimSpace(q), "only ")
			switch strings.ReplaceAll(q, " ", "") {
			case "", "all", "screen", "notprint", "(prefers-color-scheme:light)", "screenand(prefers-color-scheme:light)":
				return true
			}
		}
	}
	return false
}

// group splits a selector list at its commas.
func group(ts []token) []string {
	var out []string
	var b strings.Builder
	depth := 0
	for _, t := range ts {
		switch t.kind {
		case css.CommentToken:
			continue
		case css.FunctionToken, css.LeftParenthesisToken, css.LeftBracketToken:
			depth++
		case css.RightParenthesisToken, css.RightBracketToken:
			depth--
		case css.CommaToken:
			if depth == 0 {
				out = append(out, strings.TrimSpace(b.String()))
				b.Reset()
				continue
			}
		}
		b.WriteString(t.text)
	}
	return append(out, strings.TrimSpace(b.String()))
}

func simple(s string) bool {
	for i := range len(s) {
		if c := s[i]; !(c >= 'a' && c <= 'z' || c >= 'A' && c <= 'Z' || c >= '0' && c <= '9' || c == '_' || c == '-' || c >= 0x80) {
			return false
		}
	}
	return s != ""
}

func newSelector(text string) (selector, [3]int, bool) {
	switch {
	case text == "*":
		return selector{kind: '*'}, [3]int{}, true
	case simple(text):
		return selector{kind: 't', name: text}, [3]int{0, 0, 1}, true
	case text != "" && (text[0] == '.' || text[0] == '#') && simple(text[1:]):
		if text[0] == '.' {
			return selector{kind: '.', name: text[1:]}, [3]int{0, 1, 0}, true
		}
		return selector{kind: '#', name: text[1:]}, [3]int{1, 0, 0}, true
	}
	if len(text) > 2000 {
		return selector{}, [3]int{}, false
	}
	sel, err := cascadia.Parse(text)
	if err != nil || sel.PseudoElement() != "" {
		return selector{}, [3]int{}, false // states such as :hover, and what has no element, match nothing at rest
	}
	sp := sel.Specificity()
	return selector{sel: sel}, [3]int{sp[0], sp[1], sp[2]}, true
}
