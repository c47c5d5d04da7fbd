package artwork

import (
	"sort"
	"strings"

	"episema/core/raster"
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
	guards     []int             // sites that serve what is in masks: they stay
	style      [][props]computed // of each element
	boards     []Board
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
	paint paint
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

// Parse reads a drawing. What could run or fetch anything is left out of it, see LeftOut.
func Parse(src []byte) (*Drawing, error) {
	doc, err := scan(src)
	if err != nil {
		return nil, err
	}
	// Of a drawing that does no more than draw, as nearly all do, the cascade is what it was before it was looked through.
	d := drawingOf(doc)
	var safe []byte
	var cascaded error
	raster.Parallel(2, func(n int) {
		if n == 0 {
			safe, d.LeftOut = disarm(doc)
		} else {
			cascaded = d.cascade(doc)
		}
	})
	if out := d.LeftOut; len(out) > 0 {
		if doc, err = scan(safe); err != nil {
			return nil, err
		}
		d = drawingOf(doc)
		d.LeftOut = out
		cascaded = d.cascade(doc)
	}
	if cascaded != nil {
		return nil, cascaded
	}
	d.measure()
	d.collect()
	d.place()
	d.boards = d.findBoards()
	return d, nil
}

func drawingOf(doc *document) *Drawing {
	return &Drawing{Source: doc.src, Elements: doc.elements, read: map[string]paint{}}
}

// shapes are the elements that fill and stroke paint.
var shapes = map[string]bool{"path": true, "rect": true, "circle": true, "ellipse": true, "line": true, "polyline": true,
	"polygon": true, "text": true, "tspan": true, "textPath": true, "tref": true}

// collect lists what is painted, with its colours. What a use takes in counts at the use where the colour comes from
// there, and where it stands otherwise.
func (d *Drawing) collect() {
	d.measured = make([]shape, len(d.Elements))
	c := &collecting{d: d, byID: d.nest(), taken: map[int][2]bool{}, index: map[string]int{}, hidden: make([]bool, len(d.Elements)), store: make([]int, len(d.Elements))}
	for i := range d.Elements {
		e := &d.Elements[i]
		c.store[i] = c.keptIn(i, e)
		if e.Parent >= 0 && c.hidden[e.Parent] || e.Name == "mask" || e.Name == "clipPath" { // what clips has no colour, what masks keeps its own
			c.hidden[i] = true
			for _, p := range d.shades(i, e) {
				if c := d.used(i, p); c.site >= 0 {
					d.guards = append(d.guards, c.site)
				}
			}
			continue
		}
	}
	d.trace(c.hidden)
	for i := range d.Elements {
		if e := &d.Elements[i]; e.SVG && !c.hidden[i] {
			c.element(i, e)
		}
	}
	d.byFrequency()
}

// trace measures what is painted, on all cores: a large drawing is mostly long paths.
func (d *Drawing) trace(hidden []bool) {
	d.ctm(0) // those of all elements, before the cores ask for them
	const piece = 500
	raster.Parallel((len(d.Elements)+piece-1)/piece, func(n int) {
		for i := n * piece; i < min((n+1)*piece, len(d.Elements)); i++ {
			if d.Elements[i].SVG && !hidden[i] && d.paints(i) {
				d.measured[i] = d.geometry(i)
			}
		}
	})
}

// nest notes where each element ends, and returns the elements by their names.
func (d *Drawing) nest() (byID map[string]int) {
	d.after = make([]int, len(d.Elements))
	byID = map[string]int{}
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
	return byID
}

// collecting is the way through a drawing on which its colours are listed.
type collecting struct {
	d      *Drawing
	byID   map[string]int
	taken  map[int][2]bool // see takesIn
	index  map[string]int  // of colours, by their keys
	hidden []bool          // within masks and clip paths colours are no colours
	store  []int           // the defs or symbol an element is kept in; -1 for one that is shown where it stands
}

func (c *collecting) keptIn(i int, e *Element) int {
	switch {
	case e.Name == "defs" || e.Name == "symbol":
		return i
	case e.Parent < 0 || e.Name == "pattern" || e.Name == "marker":
		return -1 // the last two are painted with what they inherit where they stand
	}
	return c.store[e.Parent]
}

// add counts a property of an element among what its colour paints.
func (c *collecting) add(i, p int, area float64) {
	d := c.d
	u := d.used(i, p)
	if u.paint.kind != paintColour || u.paint.alpha == 0 {
		return
	}
	at, ok := c.index[u.paint.key]
	if !ok {
		at = len(d.Colours)
		c.index[u.paint.key] = at
		d.Colours = append(d.Colours, Colour{Key: u.paint.key, paint: u.paint})
	}
	d.Colours[at].Count++
	d.Colours[at].Area += area
	d.Items = append(d.Items, Item{i, properties[p].name, at, area, u.site})
}

// element adds what an element paints.
func (c *collecting) element(i int, e *Element) {
	d := c.d
	switch e.Name {
	case "image":
		if e.link() != "" {
			d.Images = append(d.Images, i)
		}
	case "use":
		filled, stroked := d.takesIn(i, c.byID, c.taken, 0)
		if filled {
			c.add(i, fill, 0)
		}
		if stroked {
			c.add(i, stroke, 0)
		}
	case "stop":
		c.add(i, stopColour, 0)
	case "feFlood", "feDropShadow":
		c.add(i, floodColour, 0)
	case "feDiffuseLighting", "feSpecularLighting":
		c.add(i, lightingColour, 0)
	default:
		if d.paints(i) {
			c.shape(i, e)
		}
	}
}

// shape adds the fill and the stroke of a shape.
func (c *collecting) shape(i int, e *Element) {
	g := &c.d.measured[i]
	shown := func(p int) bool { return c.store[i] < 0 || c.d.declared(i, p) >= c.store[i] }
	if e.Name != "line" && shown(fill) {
		c.add(i, fill, g.area)
	}
	if shown(stroke) {
		c.add(i, stroke, g.length)
	}
}

// byFrequency orders the colours: the most frequent first; where they are even, as they come.
func (d *Drawing) byFrequency() {
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

// link is what an element refers to; empty where it does not.
func (e *Element) link() string {
	if href, ok := e.Attr("href"); ok {
		return href
	}
	href, _ := e.Attr("xlink:href")
	return href
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
	c := d.style[i][p]
	if c.paint.kind == paintCurrent {
		if at := d.style[i][plainColour].from; at < c.from || at < 0 {
			return at
		}
	}
	return c.from
}

// takesIn says whether what a use shows takes its fill or its stroke from the use.
// taken keeps what is known of each target: uses of uses are many.
func (d *Drawing) takesIn(i int, byID map[string]int, taken map[int][2]bool, depth int) (filled, stroked bool) {
	e := &d.Elements[i]
	at, ok := byID[strings.TrimPrefix(strings.TrimSpace(e.link()), "#")]
	if !ok || depth > 8 || at <= i && i < d.after[at] {
		return false, false
	}
	if t, ok := taken[at]; ok {
		return t[0], t[1]
	}
	taken[at] = [2]bool{} // one that comes back to itself takes nothing
	for k := at; k < d.after[at]; k++ {
		c := &d.Elements[k]
		f, s := false, false
		if c.Name == "use" {
			f, s = d.takesIn(k, byID, taken, depth+1)
		} else if d.paints(k) {
			f, s = c.Name != "line", true
		}
		filled = filled || f && d.declared(k, fill) < at
		stroked = stroked || s && d.declared(k, stroke) < at
	}
	taken[at] = [2]bool{filled, stroked}
	return filled, stroked
}
