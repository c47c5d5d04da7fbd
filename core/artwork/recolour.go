package artwork

import (
	"fmt"
	"html"
	"math"
	"slices"
	"sort"
	"strings"

	"episema/core/colour"
)

// Result is a recoloured drawing.
type Result struct {
	Source  []byte
	Changed int // items that have another colour now
}

func oklab(l colour.Lab) colour.Oklab { return colour.SRGB.Oklab(colour.SRGB.Linear(l)) }

func fromOklab(o colour.Oklab) colour.Lab {
	return colour.SRGB.Lab(colour.SRGB.MapToGamut(colour.SRGB.FromOklab(o)))
}

// Changes gives the new colour of each member that is not held, by its key.
func (p *Plan) Changes() (map[string]colour.Lab, error) {
	if err := p.Validate(); err != nil {
		return nil, err
	}
	out := map[string]colour.Lab{}
	for i := range p.Families {
		f := &p.Families[i]
		if f.Held || f.Target == "" && f.Hue == 0 && f.Saturation == 0 && f.Lightness == 0 {
			continue
		}
		var members []colour.Lab
		for _, m := range f.Members {
			if m.Held {
				continue
			}
			l, err := colour.ParseCSS(m.Colour)
			if err != nil {
				return nil, err
			}
			members = append(members, l)
		}
		if len(members) == 0 {
			continue
		}
		for k, l := range f.follow(members) {
			out[Key(members[k])] = l
		}
	}
	return out, nil
}

// origin is the colour that a target starts from which is said in terms of the family's own.
func (f *Family) origin() colour.Lab {
	main, err := colour.ParseCSS(f.Main)
	if err != nil && len(f.Members) > 0 {
		main, _ = colour.ParseCSS(f.Members[0].Colour) // validated with the members
	}
	return main
}

// follow gives the new colours of members.
func (f *Family) follow(members []colour.Lab) []colour.Lab {
	out := slices.Clone(members)
	if f.Target != "" {
		target, err := colour.ParseFrom(f.Target, f.origin())
		if err != nil {
			return out // validated before
		}
		if f.How == Tints {
			main, err := colour.ParseCSS(f.Main)
			if err != nil {
				main = members[0]
			}
			out = tints(members, main, target)
		} else {
			for i := range out {
				out[i] = target
			}
		}
	}
	if f.Hue == 0 && f.Saturation == 0 && f.Lightness == 0 {
		return out
	}
	for i := range out {
		o := oklab(out[i])
		c, h := math.Hypot(o[1], o[2])*math.Max(0, 1+f.Saturation/100), math.Atan2(o[2], o[1])+f.Hue*math.Pi/180
		out[i] = fromOklab(colour.Oklab{math.Max(0, math.Min(1, o[0]+f.Lightness/100)), c * math.Cos(h), c * math.Sin(h)})
	}
	return out
}

// tints carries the members' relations to their main colour over to a target, in Oklch: lightness by its difference,
// chroma by its ratio, hue by its angle. Both sides of the lightness are drawn together alike where they would leave the
// gamut's, so that what was lighter stays lighter; then chroma is taken back to what is reachable, in order.
func tints(members []colour.Lab, main, target colour.Lab) []colour.Lab {
	m, t := oklab(main), oklab(target)
	cm, ct := math.Hypot(m[1], m[2]), math.Hypot(t[1], t[2])
	hm, ht := math.Atan2(m[2], m[1]), math.Atan2(t[2], t[1])
	const black, white = 0.06, 0.985
	up, down := 1.0, 1.0
	for _, l := range members {
		d := oklab(l)[0] - m[0]
		if d > 0 && t[0]+d > white {
			up = math.Min(up, math.Max(0, (math.Max(white, t[0])-t[0])/d))
		} else if d < 0 && t[0]+d < black {
			down = math.Min(down, math.Max(0, (t[0]-math.Min(black, t[0]))/-d))
		}
	}
	type lch struct{ l, c, h, want float64 }
	list := make([]lch, len(members))
	for i, l := range members {
		o := oklab(l)
		c := math.Hypot(o[1], o[2])
		d := o[0] - m[0]
		if d > 0 {
			d *= up
		} else {
			d *= down
		}
		v := lch{l: t[0] + d, h: ht}
		switch {
		case cm > 0.02:
			v.c = ct * c / cm
			if c > 0.01 {
				v.h += math.Atan2(o[2], o[1]) - hm
			}
		default: // a grey's tints differ by what they have
			v.c = ct + c - cm
		}
		v.c = math.Max(0, v.c)
		v.want = v.c
		v.c = math.Min(v.c, reach(v.l, v.h, v.c))
		list[i] = v
	}
	// Where two of alike hue had an order of chroma and the gamut turned it round, the stronger sets the bound.
	order := make([]int, len(list))
	for i := range order {
		order[i] = i
	}
	sort.SliceStable(order, func(a, b int) bool { return list[order[a]].want < list[order[b]].want })
	least := math.Inf(1)
	for k := len(order) - 1; k >= 0; k-- {
		v := &list[order[k]]
		if v.want-ct > 1e-9 { // stronger than the target: order among them
			v.c = math.Min(v.c, least)
			least = math.Min(least, math.Max(v.c, math.Min(ct, v.c)))
		}
	}
	out := make([]colour.Lab, len(list))
	for i, v := range list {
		if members[i] == main {
			out[i] = target
			continue
		}
		out[i] = fromOklab(colour.Oklab{v.l, v.c * math.Cos(v.h), v.c * math.Sin(v.h)})
	}
	return out
}

// reach gives the largest chroma up to c that sRGB has at a lightness and hue.
func reach(l, h, c float64) float64 {
	in := func(c float64) bool {
		return colour.InGamut(colour.SRGB.FromOklab(colour.Oklab{l, c * math.Cos(h), c * math.Sin(h)}))
	}
	if in(c) {
		return c
	}
	lo, hi := 0.0, c
	for range 24 {
		if mid := (lo + hi) / 2; in(mid) {
			lo = mid
		} else {
			hi = mid
		}
	}
	return lo
}

// Recolour gives the colours their changes, by key. Where only is not nil, just the items for which it says so change.
// Without changes the result is the very bytes of the drawing.
func (d *Drawing) Recolour(changes map[string]colour.Lab, only func(Item) bool) Result {
	to := make([]*colour.Lab, len(d.Colours))
	for i := range d.Colours {
		if l, ok := changes[d.Colours[i].Key]; ok {
			v := l
			to[i] = &v
		}
	}
	return d.Apply(func(i int) *colour.Lab {
		if l := to[d.Items[i].Colour]; l != nil && (only == nil || only(d.Items[i])) {
			return l
		}
		return nil
	})
}

// Apply gives each item the colour that want says for its index, and leaves those for which it gives nil.
func (d *Drawing) Apply(want func(item int) *colour.Lab) Result {
	to := d.wanted(want)
	w := &writer{d: d, coded: map[[2]int][]edit{}}
	wished := d.wishes(to)
	var r Result
	done := make([]bool, len(wished))
	var over []int // items whose colour is added at their element
	for i := range d.Items {
		it := &d.Items[i]
		l := to[i]
		if l == nil {
			continue
		}
		r.Changed++
		if at := d.places[i]; at >= 0 && wished[at] == changes {
			if !done[at] {
				done[at] = true
				w.replace(it.site, *l, d.Colours[it.Colour].paint)
			}
			continue
		}
		over = append(over, i)
	}
	if len(over) > 0 {
		w.override(over, to)
	}
	r.Source = w.apply()
	return r
}

func (d *Drawing) paintOf(it *Item) paint { return d.used(it.Element, propIndex(it.Prop)).paint }

// wanted gives each item's wish, where it is another colour than it has.
func (d *Drawing) wanted(want func(item int) *colour.Lab) []*colour.Lab {
	to := make([]*colour.Lab, len(d.Items))
	keys := map[*colour.Lab]string{} // wishes are few
	for i := range d.Items {
		l := want(i)
		if l == nil {
			continue
		}
		k, ok := keys[l]
		if !ok {
			k = Key(*l)
			keys[l] = k
		}
		if k != d.Colours[d.Items[i].Colour].Key {
			to[i] = l
		}
	}
	return to
}

// edit replaces a span of the file by a text.
type edit struct {
	at   span
	text string
}

type writer struct {
	d     *Drawing
	edits []edit
	coded map[[2]int][]edit // by element and attribute: spans of the value as it reads
	added map[int][]string  // declarations and attributes to add, by element
}

// replace writes a colour where the old one stands.
func (w *writer) replace(n int, l colour.Lab, old paint) {
	s := &w.d.sites[n]
	if s.coded {
		at := s.at
		if !s.inStyle {
			at = span{0, len(s.value)}
		}
		key := [2]int{s.element, s.attr}
		w.coded[key] = append(w.coded[key], edit{at, write(l, old, "")})
		return
	}
	was := string(w.d.Source[s.at.from:s.at.to])
	t := strings.TrimSpace(was)
	lead := strings.Index(was, t)
	w.edits = append(w.edits, edit{span{s.at.from + lead, s.at.from + lead + len(t)}, write(l, old, t)})
}

// override adds colours at elements whose colour stands where it serves others too, and gives back to what lies inside
// them what it had from there.
func (w *writer) override(items []int, to []*colour.Lab) {
	d := w.d
	w.added = map[int][]string{}
	put := func(it *Item, css string) {
		p := propIndex(it.Prop)
		c := d.style[it.Element][p]
		important, inStyle := false, false
		if c.site >= 0 {
			important, inStyle = d.sites[c.site].important, d.sites[c.site].inStyle
		}
		if important {
			css += " !important"
		}
		if inStyle {
			w.added[it.Element] = append(w.added[it.Element], it.Prop+":"+css)
		} else if a := attrOf(&d.Elements[it.Element], it.Prop); a != nil { // it has currentColor or inherit there
			w.edits = append(w.edits, edit{span{a.From, a.To}, css})
		} else {
			w.added[it.Element] = append(w.added[it.Element], "="+it.Prop+`="`+css+`"`)
		}
	}
	for _, i := range items {
		it := &d.Items[i]
		put(it, write(*to[i], d.paintOf(it), ""))
	}
	for _, i := range d.inside(items, to) {
		it := &d.Items[i]
		put(it, write(d.Colours[it.Colour].paint.lab, d.paintOf(it), ""))
	}
}

func attrOf(e *Element, name string) *Attr {
	for k := range e.Attrs {
		if e.Attrs[k].Name == name {
			return &e.Attrs[k]
		}
	}
	return nil
}

// apply writes all edits.
func (w *writer) apply() []byte {
	d := w.d
	for key, list := range w.coded {
		a := &d.Elements[key[0]].Attrs[key[1]]
		v := a.Value
		sort.Slice(list, func(i, j int) bool { return list[i].at.from > list[j].at.from })
		for _, e := range list {
			v = v[:e.at.from] + e.text + v[e.at.to:]
		}
		w.edits = append(w.edits, edit{span{a.From, a.To}, html.EscapeString(v)})
	}
	for i, list := range w.added {
		e := &d.Elements[i]
		at := e.Start + 1
		for at < e.Open && isName(d.Source[at]) {
			at++
		}
		if n := len(e.Attrs); n > 0 {
			at = e.Attrs[n-1].End
		}
		var decls []string
		text := ""
		for _, a := range list {
			if attr, ok := strings.CutPrefix(a, "="); ok {
				text += " " + attr
			} else {
				decls = append(decls, a)
			}
		}
		if len(decls) > 0 {
			text += w.styled(e, decls)
		}
		if text != "" {
			w.edits = append(w.edits, edit{span{at, at}, text})
		}
	}
	if len(w.edits) == 0 {
		return d.Source
	}
	sort.SliceStable(w.edits, func(a, b int) bool { return w.edits[a].at.from < w.edits[b].at.from })
	out := make([]byte, 0, len(d.Source)+16*len(w.edits))
	at := 0
	for _, e := range w.edits {
		if e.at.from < at {
			continue // the same place twice
		}
		out = append(out, d.Source[at:e.at.from]...)
		out = append(out, e.text...)
		at = e.at.to
	}
	return append(out, d.Source[at:]...)
}

// styled adds declarations to an element's style attribute, or gives the text of a new one.
func (w *writer) styled(e *Element, decls []string) string {
	for k := range e.Attrs {
		a := &e.Attrs[k]
		if a.Name != "style" {
			continue
		}
		text := strings.Join(decls, ";")
		if t := strings.TrimSpace(a.Value); t != "" && !strings.HasSuffix(t, ";") {
			text = ";" + text
		}
		w.edits = append(w.edits, edit{span{a.To, a.To}, text})
		return ""
	}
	return fmt.Sprintf(` style="%s"`, strings.Join(decls, ";"))
}
