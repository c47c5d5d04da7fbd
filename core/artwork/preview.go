package artwork

import "episema/core/colour"

// What is wished of the places where colours are written.
const (
	changes = 1 // all it serves get one colour
	stays   = 2 // some of what it serves stays, or gets another
)

// place numbers the places where the items' colours are written; -1 for those that are black by default.
func (d *Drawing) place() {
	type key struct{ from, element, attr int }
	index := map[key]int{}
	number := func(n int) int {
		if n < 0 {
			return -1
		}
		k := key{d.sites[n].at.from, -1, -1}
		if s := &d.sites[n]; s.coded {
			k = key{s.at.from, s.element, s.attr}
		}
		at, ok := index[k]
		if !ok {
			at = len(index)
			index[k] = at
		}
		return at
	}
	d.places = make([]int, len(d.Items))
	for i := range d.Items {
		d.places[i] = number(d.Items[i].site)
	}
	guarded := make([]int, len(d.guards))
	for i, n := range d.guards {
		guarded[i] = number(n)
	}
	d.guarded, d.placeCount = guarded, len(index)
}

// wishes says of every place whether it changes for all it serves. to has each item's wish; nil to stay.
func (d *Drawing) wishes(to []*colour.Lab) []uint8 {
	out := make([]uint8, d.placeCount)
	first := make([]*colour.Lab, d.placeCount)
	for i, l := range to {
		at := d.places[i]
		switch {
		case at < 0:
		case l == nil:
			out[at] |= stays
		case first[at] == nil:
			first[at] = l
			out[at] |= changes
		case first[at] != l && *first[at] != *l:
			out[at] |= stays
		}
	}
	for _, at := range d.guarded {
		out[at] |= stays
	}
	return out
}

// inside lists the items that stay, but take their colour from above an element which gets one of its own now.
func (d *Drawing) inside(over []int, to []*colour.Lab) []int {
	type key struct{ element, p int }
	placed := map[key]bool{}
	for _, i := range over {
		placed[key{d.Items[i].Element, propIndex(d.Items[i].Prop)}] = true
	}
	var out []int
	for i := range d.Items {
		it := &d.Items[i]
		p := propIndex(it.Prop)
		if to[i] != nil || !properties[p].inherited {
			continue
		}
		from := d.declared(it.Element, p)
		for at := d.Elements[it.Element].Parent; at > from; at = d.Elements[at].Parent {
			if placed[key{at, p}] {
				out = append(out, i)
				break
			}
		}
	}
	return out
}

// Group is how a page shows a change without writing the file: a property set on elements.
type Group struct {
	Part     int // as the caller numbers them
	Colour   int // the items' colour before
	Prop     string
	CSS      string
	Elements []int
}

// Preview gives what a page sets to show each item in the colour that want says, with the part it belongs to. Items of one
// part and colour come as one group, in an order that only depends on which items change.
func (d *Drawing) Preview(want func(item int) (part int, to *colour.Lab)) []Group {
	if d.style == nil {
		return nil // pixels have no properties
	}
	part := make([]int, len(d.Items))
	to := d.wanted(func(i int) (l *colour.Lab) {
		part[i], l = want(i)
		return l
	})
	wished := d.wishes(to)
	type id struct {
		part, colour int
		prop         string
		alpha        float64
	}
	index := map[id]int{}
	var out []Group
	seen := make([]bool, len(d.Elements)*props)
	add := func(part, c, element int, prop string, l colour.Lab, p paint) {
		if at := element*props + propIndex(prop); seen[at] {
			return
		} else {
			seen[at] = true
		}
		k := id{part, c, prop, p.alpha}
		n, ok := index[k]
		if !ok {
			n = len(out)
			index[k] = n
			out = append(out, Group{Part: part, Colour: c, Prop: prop, CSS: write(l, p, "")})
		}
		out[n].Elements = append(out[n].Elements, element)
	}
	var over []int
	for i := range d.Items {
		if to[i] == nil {
			continue
		}
		it := &d.Items[i]
		p := propIndex(it.Prop)
		if at := d.places[i]; at < 0 || wished[at] != changes {
			over = append(over, i)
			add(part[i], it.Colour, it.Element, it.Prop, *to[i], d.paintOf(it))
			continue
		}
		c, prop := d.style[it.Element][p], it.Prop
		if c.paint.kind == paintCurrent {
			c, prop = d.style[it.Element][plainColour], "color"
		}
		e := c.from
		if e < 0 {
			e = it.Element
		}
		add(part[i], it.Colour, e, prop, *to[i], d.paintOf(it))
	}
	if len(over) > 0 {
		for _, i := range d.inside(over, to) {
			it := &d.Items[i]
			add(-1, it.Colour, it.Element, it.Prop, d.Colours[it.Colour].paint.lab, d.paintOf(it))
		}
	}
	return out
}
