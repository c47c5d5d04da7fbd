package artwork

import (
	"sort"
	"strings"

	"golang.org/x/net/html"
)

// Drawing is a scanned SVG with the colours of all it shows.
type Drawing struct {
	Source   []byte // as it is shown and written: what is dangerous left out
	LeftOut  []string
	Elements []Element
	Items    []Item
	Colours  []Colour   // of the items, each once
	Images   []int      // elements that are embedded pixel images
	Size     [4]float64 // x, y, width, height of what it shows, in its own units

	sites      []site
	places     []int // of the items, see place
	guarded    []int
	placeCount int
	guards     []int // sites that serve what is in masks: they stay
	style      *styles
	read       map[string]paint // values that were read, each once
	matrices   []matrix
	measured   []shape // of what paints
	after      []int   // behind the last descendant of each element
}

// Item is one thing painted: an element's fill, stroke or stop.
type Item struct {
	Element int
	Prop    string // fill, stroke, stop-color, flood-color or lighting-color
	Colour  int
	Area    float64 // about, in the drawing's square units
	site    int     // where its colour is written; -1 where it is nowhere: black by default
}

// Colour is a distinct colour with how much of it there is.
type Colour struct {
	Key   string
	Paint paint
	Count int     // items
	Area  float64 // of all items
}

// site is where a colour is written.
type site struct {
	at        span // of the colour in the file; for values with references the whole value
	value     string
	prop      string
	important bool
	element   int  // that has the attribute; -1 in a sheet
	attr      int  // of the element; -1 in a sheet
	coded     bool // the value's bytes are not the value: references stand in it
	inStyle   bool // it stands in a style attribute or sheet
}

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

type styles struct {
	of [][props]computed
}

type variable struct {
	value string
	site  int
}

// Parse reads a drawing. What could run or fetch anything is left out of it, see LeftOut.
func Parse(src []byte) (*Drawing, error) {
	doc, err := scan(src)
	if err != nil {
		return nil, err
	}
	safe, out, err := disarm(doc)
	if err != nil {
		return nil, err
	}
	if len(out) > 0 {
		if doc, err = scan(safe); err != nil {
			return nil, err
		}
	}
	d := &Drawing{Source: doc.src, LeftOut: out, Elements: doc.elements, read: map[string]paint{}}
	d.cascade(doc)
	d.measure()
	d.collect()
	d.place()
	return d, nil
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
func (d *Drawing) cascade(doc *document) {
	var all []rule
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
	m := newMatcher(doc.elements, all)
	d.style = &styles{of: make([][props]computed, len(doc.elements))}
	siteOf := map[int]int{} // of declarations in sheets, by their place
	vars := make([]map[string]variable, len(doc.elements))
	for i := range doc.elements {
		e := &doc.elements[i]
		var won [props]winner
		var custom map[string]*winner
		take := func(prop string, rank [5]int, order int, value string, where func() int) {
			if strings.HasPrefix(prop, "--") {
				w := custom[prop]
				if w == nil {
					if custom == nil {
						custom = map[string]*winner{}
					}
					w = &winner{}
					custom[prop] = w
				}
				if w.beats(rank, order) {
					*w = winner{rank, order, value, where(), true}
				}
				return
			}
			p := propIndex(prop)
			if p < 0 || !won[p].beats(rank, order) {
				return
			}
			if d.paintOfValue(value).kind == paintInvalid && !strings.Contains(value, "var(") {
				return // as if it were not there
			}
			won[p] = winner{rank, order, value, where(), true}
		}
		for k := range e.Attrs {
			a := &e.Attrs[k]
			if propIndex(a.Name) >= 0 && e.SVG {
				take(a.Name, [5]int{}, 0, a.Value, func() int {
					return d.addSite(site{span{a.From, a.To}, a.Value, a.Name, false, i, k, !a.plain(), false})
				})
			}
		}
		m.each(i, func(r *rule) {
			for _, c := range r.decls {
				imp := 0
				if c.important {
					imp = 1
				}
				take(c.prop, [5]int{imp, 0, r.specificity[0], r.specificity[1], r.specificity[2]}, r.order, c.value, func() int {
					n, ok := siteOf[c.at.from]
					if !ok {
						n = d.addSite(site{c.at, c.value, c.prop, c.important, -1, -1, false, true})
						siteOf[c.at.from] = n
					}
					return n
				})
			}
		})
		for k := range e.Attrs {
			a := &e.Attrs[k]
			if a.Name != "style" {
				continue
			}
			for _, c := range declarations(tokens([]byte(a.Value))) {
				imp := 0
				if c.important {
					imp = 1
				}
				at := span{a.From + c.at.from, a.From + c.at.to}
				if !a.plain() {
					at = c.at // of the value as it reads
				}
				take(c.prop, [5]int{imp, 1}, 0, c.value, func() int {
					return d.addSite(site{at, c.value, c.prop, c.important, i, k, !a.plain(), true})
				})
			}
		}
		if e.Parent >= 0 {
			vars[i] = vars[e.Parent]
		}
		if len(custom) > 0 {
			own := map[string]variable{}
			for k, v := range vars[i] {
				own[k] = v
			}
			for k, w := range custom {
				own[k] = variable{w.value, w.site}
			}
			for k := range custom { // what a custom property refers to is put in where it is declared, not where it is used
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
			vars[i] = own
		}
		for p := range props {
			d.style.of[i][p] = d.compute(i, p, &won[p], vars[i])
		}
	}
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
		return d.style.of[parent][p]
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
	c := d.style.of[i][p]
	if c.paint.kind == paintCurrent {
		return d.style.of[i][plainColour]
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

// shapes are the elements that fill and stroke paint.
var shapes = map[string]bool{"path": true, "rect": true, "circle": true, "ellipse": true, "line": true, "polyline": true,
	"polygon": true, "text": true, "tspan": true, "textPath": true, "tref": true}

// collect lists what is painted, with its colours. What a use takes in counts at the use where the colour comes from
// there, and where it stands otherwise.
func (d *Drawing) collect() {
	d.after = make([]int, len(d.Elements))
	d.measured = make([]shape, len(d.Elements))
	byID := map[string]int{}
	for i := len(d.Elements) - 1; i >= 0; i-- {
		d.after[i] = max(d.after[i], i+1)
		e := &d.Elements[i]
		if e.Parent >= 0 {
			d.after[e.Parent] = max(d.after[e.Parent], d.after[i])
		}
		if id, ok := e.Attr("id"); ok {
			byID[id] = i
		}
	}
	index := map[string]int{}
	hidden := make([]bool, len(d.Elements)) // within masks and clip paths colours are no colours
	store := make([]int, len(d.Elements))   // the defs or symbol an element is kept in; -1 for one that is shown where it stands
	add := func(i, p int, area float64) {
		c := d.used(i, p)
		if c.paint.kind != paintColour || c.paint.alpha == 0 {
			return
		}
		at, ok := index[c.paint.key]
		if !ok {
			at = len(d.Colours)
			index[c.paint.key] = at
			d.Colours = append(d.Colours, Colour{Key: c.paint.key, Paint: c.paint})
		}
		d.Colours[at].Count++
		d.Colours[at].Area += area
		d.Items = append(d.Items, Item{i, properties[p].name, at, area, c.site})
	}
	for i := range d.Elements {
		e := &d.Elements[i]
		store[i] = -1
		if e.Parent >= 0 {
			store[i] = store[e.Parent]
		}
		if e.Name == "defs" || e.Name == "symbol" {
			store[i] = i
		} else if e.Name == "pattern" || e.Name == "marker" {
			store[i] = -1 // painted with what it inherits where it stands
		}
		if e.Parent >= 0 && hidden[e.Parent] || e.Name == "mask" || e.Name == "clipPath" { // what clips has no colour, what masks keeps its own
			hidden[i] = true
			for _, p := range d.shades(i, e) {
				if c := d.used(i, p); c.site >= 0 {
					d.guards = append(d.guards, c.site)
				}
			}
			continue
		}
		if !e.SVG {
			continue
		}
		switch {
		case e.Name == "image":
			href, ok := e.Attr("href")
			if !ok {
				href, _ = e.Attr("xlink:href")
			}
			if href != "" {
				d.Images = append(d.Images, i)
			}
		case e.Name == "use":
			filled, stroked := d.takesIn(i, byID, 0)
			if filled {
				add(i, fill, 0)
			}
			if stroked {
				add(i, stroke, 0)
			}
		case d.paints(i):
			g := d.geometry(i)
			d.measured[i] = g
			for _, p := range []int{fill, stroke} {
				if store[i] >= 0 && d.declared(i, p) < store[i] || p == fill && e.Name == "line" {
					continue
				}
				if p == fill {
					add(i, p, g.area)
				} else {
					add(i, p, g.length)
				}
			}
		case e.Name == "stop":
			add(i, stopColour, 0)
		case e.Name == "feFlood" || e.Name == "feDropShadow":
			add(i, floodColour, 0)
		case e.Name == "feDiffuseLighting" || e.Name == "feSpecularLighting":
			add(i, lightingColour, 0)
		}
	}
	// The most frequent first; where they are even, as they come.
	rank := make([]int, len(d.Colours))
	for i := range rank {
		rank[i] = i
	}
	sort.SliceStable(rank, func(a, b int) bool { return d.Colours[rank[a]].Count > d.Colours[rank[b]].Count })
	to := make([]int, len(rank))
	list := make([]Colour, len(rank))
	for n, i := range rank {
		to[i], list[n] = n, d.Colours[i]
	}
	d.Colours = list
	for i := range d.Items {
		d.Items[i].Colour = to[d.Items[i].Colour]
	}
}

// shades lists the properties that make up what a mask lets through.
func (d *Drawing) shades(i int, e *Element) []int {
	switch {
	case e.Name == "stop":
		return []int{stopColour}
	case d.paints(i):
		return []int{fill, stroke}
	}
	return nil
}

// paints says whether an element is a shape, or text with letters of its own.
func (d *Drawing) paints(i int) bool {
	e := &d.Elements[i]
	if e.Name == "text" || e.Name == "tspan" || e.Name == "textPath" || e.Name == "tref" {
		return e.HasText
	}
	return shapes[e.Name]
}

// declared gives the element from which an element's paint comes; -1 where it is the default.
func (d *Drawing) declared(i, p int) int {
	c := d.style.of[i][p]
	if c.paint.kind == paintCurrent {
		if at := d.style.of[i][plainColour].from; at < c.from || at < 0 {
			return at
		}
	}
	return c.from
}

// takesIn says whether what a use shows takes its fill or its stroke from the use.
func (d *Drawing) takesIn(i int, byID map[string]int, depth int) (filled, stroked bool) {
	e := &d.Elements[i]
	ref, ok := e.Attr("href")
	if !ok {
		ref, _ = e.Attr("xlink:href")
	}
	at, ok := byID[strings.TrimPrefix(strings.TrimSpace(ref), "#")]
	if !ok || depth > 8 || at <= i && i < d.after[at] {
		return false, false
	}
	for k := at; k < d.after[at]; k++ {
		c := &d.Elements[k]
		f, s := false, false
		if c.Name == "use" {
			f, s = d.takesIn(k, byID, depth+1)
		} else if d.paints(k) {
			f, s = c.Name != "line", true
		}
		filled = filled || f && d.declared(k, fill) < at
		stroked = stroked || s && d.declared(k, stroke) < at
	}
	return filled, stroked
}
