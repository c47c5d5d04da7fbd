package artwork

import (
	"fmt"
	"math"
	"strings"

	"episema/core/colour"
)

// Board is a page of a drawing: a nested svg, a view, or a group at the top.
type Board struct {
	ID         string
	Name       string
	X, Y, W, H float64 // in the drawing's units
	from, to   int     // its elements; none where it is a view onto all of them
}

// Boards lists the drawing's boards.
func (d *Drawing) Boards() []Board { return d.boards }

// viewBoard is what a view element shows.
func (d *Drawing) viewBoard(i int) (b Board, ok bool) {
	v, ok := d.Elements[i].Attr("viewBox")
	if !ok {
		return b, false
	}
	n := numbers(v)
	if len(n) != 4 || !(n[2] > 0 && n[3] > 0) {
		return b, false
	}
	return Board{X: n[0], Y: n[1], W: n[2], H: n[3], Name: d.title(i), from: -1}, true
}

// nestedBoard is the place of a drawing in the drawing.
func (d *Drawing) nestedBoard(i int) Board {
	e := &d.Elements[i]
	m := d.ctm(e.Parent)
	get := func(name string, whole, or float64) float64 {
		v, ok := e.Attr(name)
		if !ok {
			return or
		}
		return length(v, whole, or)
	}
	return Board{X: get("x", d.Size[2], 0) + m.e, Y: get("y", d.Size[3], 0) + m.f, W: get("width", d.Size[2], d.Size[2]), H: get("height", d.Size[3], d.Size[3]),
		Name: d.title(i), from: i, to: d.after[i]}
}

// findBoards gives views, else nested drawings, else the groups at the top where there are several; a
// drawing without any is one board.
func (d *Drawing) findBoards() []Board {
	var views, nested, groups []Board
	for i := range d.Elements {
		e := &d.Elements[i]
		if !e.SVG || i == 0 {
			continue
		}
		switch {
		case e.Name == "view":
			if b, ok := d.viewBoard(i); ok {
				views = append(views, b)
			}
		case e.Name == "svg" && e.Parent == 0:
			nested = append(nested, d.nestedBoard(i))
		case e.Name == "g" && e.Parent == 0:
			b := Board{Name: d.title(i), from: i, to: d.after[i]}
			if b.box(d) {
				groups = append(groups, b)
			}
		}
	}
	list := []Board{{X: d.Size[0], Y: d.Size[1], W: d.Size[2], H: d.Size[3], Name: "Drawing", to: len(d.Elements)}}
	switch {
	case len(views) > 1:
		list = views
	case len(nested) > 1:
		list = nested
	case len(groups) > 1 && len(groups) <= 40 && d.mostly(groups):
		list = groups
	}
	used := map[string]bool{}
	for i := range list {
		list[i].ID = fmt.Sprintf("board-%d", i+1)
		if strings.TrimSpace(list[i].Name) == "" {
			list[i].Name = fmt.Sprintf("Board %d", i+1)
		}
		list[i].Name = unused(list[i].Name, used)
	}
	return list
}

// mostly says whether groups hold nearly all that is painted, so that they are what the drawing is made of.
func (d *Drawing) mostly(groups []Board) bool {
	in := 0
	for i := range d.Items {
		for k := range groups {
			if groups[k].Holds(d, &d.Items[i]) {
				in++
			}
		}
	}
	return 10*in >= 9*len(d.Items)
}

// title is how an element is called: its title, label or id.
func (d *Drawing) title(i int) string {
	for k := i + 1; k < d.after[i]; k++ {
		if e := &d.Elements[k]; e.Name == "title" && e.Parent == i {
			return strings.TrimSpace(string(d.Source[e.Open:e.Close]))
		}
	}
	for _, a := range []string{"aria-label", "id"} {
		if v, ok := d.Elements[i].Attr(a); ok {
			return v
		}
	}
	return ""
}

// box works out what a group covers; false where it is nothing.
func (b *Board) box(d *Drawing) bool {
	x0, y0, x1, y1 := math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)
	for k := b.from; k < b.to; k++ {
		if !d.paints(k) {
			continue
		}
		g := d.measured[k]
		x0, y0, x1, y1 = math.Min(x0, g.x0), math.Min(y0, g.y0), math.Max(x1, g.x1), math.Max(y1, g.y1)
	}
	if !(x1 > x0 && y1 > y0) {
		return false
	}
	b.X, b.Y, b.W, b.H = x0, y0, x1-x0, y1-y0
	return true
}

// Holds says whether an item is on the board.
func (b *Board) Holds(d *Drawing, it *Item) bool {
	if b.from >= 0 {
		return it.Element >= b.from && it.Element < b.to
	}
	g := d.measured[it.Element]
	x, y := (g.x0+g.x1)/2, (g.y0+g.y1)/2
	return x >= b.X && x < b.X+b.W && y >= b.Y && y < b.Y+b.H
}

// Box gives what an element covers, about, in the drawing's units.
func (d *Drawing) Box(i int) (x0, y0, x1, y1 float64) {
	g := d.measured[i]
	return g.x0, g.y0, g.x1, g.y1
}

// Text gives the words of an element, at most 80 letters of them.
func (d *Drawing) Text(i int) string {
	e := &d.Elements[i]
	var b strings.Builder
	in := false
	for _, c := range string(d.Source[e.Open:e.Close]) {
		switch {
		case c == '<':
			in = true
		case c == '>':
			in = false
		case !in && b.Len() < 80:
			b.WriteRune(c)
		}
	}
	return strings.Join(strings.Fields(b.String()), " ")
}

// Lab gives the colour without its transparency.
func (c *Colour) Lab() colour.Lab { return c.paint.lab }

// unused gives a name that no other has yet.
func unused(name string, used map[string]bool) string {
	n := name
	for k := 2; used[n]; k++ {
		n = fmt.Sprintf("%s %d", name, k)
	}
	used[n] = true
	return n
}
