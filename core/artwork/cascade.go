package artwork

import (
	"fmt"
	"strings"

	"golang.org/x/net/html"
)

// Properties that hold colours, and whether children take them over.
var properties = []struct {
	name      string
	inherited bool
	initial   string
}{
	{"fill", true, "#000000"}, {"stroke", true, "none"}, {"color", true, "#000000"},
	{"stop-color", false, "#000000"}, {"flood-color", false, "#000000"}, {"lighting-color", false, "#ffffff"},
}

const (
	fill = iota
	stroke
	plainColour
	stopColour
	floodColour
	lightingColour
	props
)

// computed is a property's value on an element, after the cascade and inheritance.
type computed struct {
	paint paint
	site  int
	from  int // element whose declaration it is; -1 by default
}

type variable struct {
	value string
	site  int
}

// winner is the declaration that has won so far.
type winner struct {
	rank  [5]int // important, style attribute, specificity
	order int
	value string
	site  int
	set   bool
}

func (w *winner) beats(rank [5]int, order int) bool {
	if !w.set {
		return true
	}
	for i := range rank {
		if rank[i] != w.rank[i] {
			return rank[i] > w.rank[i]
		}
	}
	return order >= w.order
}

func propIndex(name string) int {
	switch { // most attributes are none of these
	case len(name) < 4, name[0] != 'f' && name[0] != 's' && name[0] != 'c' && name[0] != 'l':
		return -1
	}
	for i := range properties {
		if properties[i].name == name {
			return i
		}
	}
	return -1
}

// cascade works out every element's colours (CSS Cascading and Inheritance Level 4; presentation attributes count as
// author rules of no specificity ahead of all others: SVG 2, 6.6).
func (d *Drawing) cascade(doc *document) error {
	m := newMatcher(doc.elements, sheets(doc))
	if err := m.affordable(); err != nil {
		return err
	}
	d.style = make([][props]computed, len(doc.elements))
	c := &cascading{d: d, siteOf: map[int]int{}}
	vars := make([]map[string]variable, len(doc.elements))
	for i := range doc.elements {
		e := &doc.elements[i]
		c.won, c.custom = [props]winner{}, nil
		c.attributes(i, e)
		m.each(i, c.rule)
		c.styles(i, e)
		if e.Parent >= 0 {
			vars[i] = vars[e.Parent]
		}
		if len(c.custom) > 0 {
			vars[i] = c.variables(vars[i])
		}
		for p := range props {
			d.style[i][p] = d.compute(i, p, &c.won[p], vars[i])
		}
	}
	return nil
}

// sheets reads the rules of all style elements that are for the screen.
func sheets(doc *document) (all []rule) {
	order := 1
	for i := range doc.elements {
		e := &doc.elements[i]
		if e.Name != "style" || !e.SVG {
			continue
		}
		if t, ok := e.Attr("type"); ok && t != "" && !strings.EqualFold(strings.TrimSpace(t), "text/css") {
			continue
		}
		if m, ok := e.Attr("media"); ok && !applies([]token{{text: "@media"}, {text: m}}) {
			continue
		}
		var text []byte
		at := -1
		for _, p := range doc.text[i] {
			if at < 0 {
				at = p.from
			}
			for len(text) < p.from-at {
				text = append(text, ' ') // marks between the pieces
			}
			text = append(text, doc.src[p.from:p.to]...)
		}
		all = append(all, sheet(text, max(at, 0), &order)...)
	}
	return all
}

// cascading is the contest of the declarations for one element.
type cascading struct {
	d      *Drawing
	siteOf map[int]int // of declarations in sheets, by their place
	won    [props]winner
	custom map[string]*winner
}

// take lets a declaration win over those before it that it beats; where says at which site it stands.
func (c *cascading) take(prop string, rank [5]int, order int, value string, where func() int) {
	if strings.HasPrefix(prop, "--") {
		w := c.custom[prop]
		if w == nil {
			if c.custom == nil {
				c.custom = map[string]*winner{}
			}
			w = &winner{}
			c.custom[prop] = w
		}
		if w.beats(rank, order) {
			*w = winner{rank, order, value, where(), true}
		}
		return
	}
	p := propIndex(prop)
	if p < 0 || !c.won[p].beats(rank, order) {
		return
	}
	if c.d.paintOfValue(value).kind == paintInvalid && !strings.Contains(value, "var(") {
		return // as if it were not there
	}
	c.won[p] = winner{rank, order, value, where(), true}
}

// attributes takes the presentation attributes of an element.
func (c *cascading) attributes(i int, e *Element) {
	for k := range e.Attrs {
		a := &e.Attrs[k]
		if propIndex(a.Name) >= 0 && e.SVG {
			c.take(a.Name, [5]int{}, 0, a.Value, func() int {
				return c.d.addSite(site{span{a.From, a.To}, a.Value, a.Name, false, i, k, !a.plain(), false})
			})
		}
	}
}

// rule takes the declarations of a rule that matches the element.
func (c *cascading) rule(r *rule) {
	for _, v := range r.decls {
		c.take(v.prop, [5]int{v.weight(), 0, r.specificity[0], r.specificity[1], r.specificity[2]}, r.order, v.value, func() int {
			n, ok := c.siteOf[v.at.from]
			if !ok {
				n = c.d.addSite(site{v.at, v.value, v.prop, v.important, -1, -1, false, true})
				c.siteOf[v.at.from] = n
			}
			return n
		})
	}
}

// styles takes the declarations of an element's style attribute.
func (c *cascading) styles(i int, e *Element) {
	for k := range e.Attrs {
		a := &e.Attrs[k]
		if a.Name != "style" {
			continue
		}
		for _, v := range declarations(tokens([]byte(a.Value))) {
			at := span{a.From + v.at.from, a.From + v.at.to}
			if !a.plain() {
				at = v.at // of the value as it reads
			}
			c.take(v.prop, [5]int{v.weight(), 1}, 0, v.value, func() int {
				return c.d.addSite(site{at, v.value, v.prop, v.important, i, k, !a.plain(), true})
			})
		}
	}
}

// variables returns the custom properties that an element has: those it inherits, and its own. What one refers to is put in where it is
// declared, not where it is used.
func (c *cascading) variables(inherited map[string]variable) map[string]variable {
	own := map[string]variable{}
	for k, v := range inherited {
		own[k] = v
	}
	for k, w := range c.custom {
		own[k] = variable{w.value, w.site}
	}
	for k := range c.custom {
		v := own[k]
		for n := 0; n < 16; n++ {
			inner, ok := strings.CutPrefix(strings.TrimSpace(v.value), "var(")
			if !ok {
				break
			}
			name, _, _ := strings.Cut(strings.TrimSuffix(inner, ")"), ",")
			if v, ok = own[strings.TrimSpace(name)]; !ok {
				v = own[k]
				break
			}
		}
		own[k] = v
	}
	return own
}

func (d *Drawing) addSite(s site) int {
	d.sites = append(d.sites, s)
	return len(d.sites) - 1
}

// compute gives a property's value from its declaration, or by inheritance.
func (d *Drawing) compute(i, p int, w *winner, vars map[string]variable) computed {
	parent := d.Elements[i].Parent
	inherited := func() computed {
		if parent < 0 {
			return initial(p)
		}
		return d.style[parent][p]
	}
	if !w.set {
		if properties[p].inherited {
			return inherited()
		}
		return initial(p)
	}
	value, at := w.value, w.site
	for n := 0; n < 16 && strings.HasPrefix(strings.TrimSpace(value), "var("); n++ {
		inner := strings.TrimSuffix(strings.TrimPrefix(strings.TrimSpace(value), "var("), ")")
		name, fallback, _ := strings.Cut(inner, ",")
		v, ok := vars[strings.TrimSpace(name)]
		if !ok {
			value = strings.TrimSpace(fallback)
			if value != "" { // the fallback is a colour within the declaration
				s := d.sites[at]
				if k := strings.LastIndex(s.value, value); k >= 0 && !s.coded && string(d.Source[s.at.from:s.at.to]) == s.value {
					at = d.addSite(site{span{s.at.from + k, s.at.from + k + len(value)}, value, s.prop, s.important, s.element, s.attr, false, s.inStyle})
				} else {
					return computed{paint{kind: paintOther}, at, i}
				}
			}
			continue
		}
		value, at = v.value, v.site
	}
	if strings.Contains(value, "var(") {
		return computed{paint{kind: paintOther}, at, i}
	}
	switch c := d.paintOfValue(value); c.kind {
	case paintInherit:
		return inherited()
	case paintUnset:
		if properties[p].inherited {
			return inherited()
		}
		return initial(p)
	case paintInitial, paintInvalid: // an invalid value behind var() is invalid at computed-value time
		if c.kind == paintInvalid && properties[p].inherited {
			return inherited()
		}
		return initial(p)
	case paintCurrent:
		if p == plainColour {
			return inherited()
		}
		return computed{c, at, i}
	default:
		return computed{c, at, i}
	}
}

var initials = func() (out [props]computed) {
	for p := range out {
		out[p] = computed{readPaint(properties[p].initial), -1, -1}
	}
	return out
}()

func initial(p int) computed { return initials[p] }

// paintOfValue reads a value, each once.
func (d *Drawing) paintOfValue(value string) paint {
	if c, ok := d.read[value]; ok {
		return c
	}
	c := readPaint(value)
	d.read[value] = c
	return c
}

// used gives what an element is painted with: currentColor is its color.
func (d *Drawing) used(i, p int) computed {
	c := d.style[i][p]
	if c.paint.kind == paintCurrent {
		return d.style[i][plainColour]
	}
	return c
}

// matcher finds the rules of an element.
type matcher struct {
	elements            []Element
	ids, classes, types map[string][]*rule
	any, slow           []*rule
	nodes               []*html.Node
}

func newMatcher(elements []Element, all []rule) *matcher {
	m := &matcher{elements: elements, ids: map[string][]*rule{}, classes: map[string][]*rule{}, types: map[string][]*rule{}}
	for i := range all {
		r := &all[i]
		switch r.selector.kind {
		case '#':
			m.ids[r.selector.name] = append(m.ids[r.selector.name], r)
		case '.':
			m.classes[r.selector.name] = append(m.classes[r.selector.name], r)
		case 't':
			m.types[r.selector.name] = append(m.types[r.selector.name], r)
		case '*':
			m.any = append(m.any, r)
		default:
			m.slow = append(m.slow, r)
		}
	}
	if len(m.slow) > 0 {
		m.tree()
	}
	return m
}

// tree gives the library what it matches on: its type selectors are in lower case.
func (m *matcher) tree() {
	root := &html.Node{Type: html.DocumentNode}
	m.nodes = make([]*html.Node, len(m.elements))
	for i := range m.elements {
		e := &m.elements[i]
		n := &html.Node{Type: html.ElementNode, Data: strings.ToLower(e.Name)}
		for _, a := range e.Attrs {
			n.Attr = append(n.Attr, html.Attribute{Key: a.Name, Val: a.Value})
		}
		m.nodes[i] = n
		if e.Parent < 0 {
			root.AppendChild(n)
		} else {
			m.nodes[e.Parent].AppendChild(n)
		}
	}
}

// mostMatching is how much matching a drawing may cost, in rules tried on elements; one that asks where an element stands counts
// slowRule times.
const (
	mostMatching = 400_000_000
	slowRule     = 100
)

// affordable says where a drawing has more rules for more elements than can be tried in a few seconds.
func (m *matcher) affordable() error {
	most := len(m.any) + slowRule*len(m.slow)
	for _, of := range []map[string][]*rule{m.ids, m.classes, m.types} {
		long := 0
		for _, l := range of {
			long = max(long, len(l))
		}
		most += long
	}
	if most*len(m.elements) > mostMatching {
		return &Error{0, fmt.Sprintf("the drawing's style sheets have too many rules for its %d elements; save it with plain attributes instead of style rules", len(m.elements))}
	}
	return nil
}

func (m *matcher) each(i int, f func(*rule)) {
	e := &m.elements[i]
	for _, r := range m.any {
		f(r)
	}
	for _, r := range m.types[e.Name] {
		f(r)
	}
	for k := range e.Attrs {
		switch a := &e.Attrs[k]; a.Name {
		case "id":
			for _, r := range m.ids[a.Value] {
				f(r)
			}
		case "class":
			if len(m.classes) > 0 {
				for _, c := range strings.Fields(a.Value) {
					for _, r := range m.classes[c] {
						f(r)
					}
				}
			}
		}
	}
	for _, r := range m.slow {
		if r.selector.sel.Match(m.nodes[i]) {
			f(r)
		}
	}
}
