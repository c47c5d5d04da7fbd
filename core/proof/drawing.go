package proof

import (
	"math"

	"episema/core/artwork"
	"episema/core/colour"
	"episema/core/document"
)

// Alike is a pair of colours that lie on each other in the drawing, could be told apart and hardly can any more.
type Alike struct {
	A, B    string // as they are now
	Was, Is float64
	At      int // an element that shows it
}

// Contrast is that of a text with its ground.
type Contrast struct {
	Element int
	Was, Is float64 // WCAG 2.2, 1 to 21
	Large   bool
	Text    string
}

// Drawing is the proof of a drawing.
type Drawing struct {
	Parts []Part
	Alike []Alike
	Texts []Contrast
}

// apart is the CIEDE2000 below which two fills beside each other are hard to tell; common practice has 2 to 3.
const apart = 2.3

// MeasureDrawing proves a drawing as a document has it.
func MeasureDrawing(doc *document.Picture, d *artwork.Drawing, w document.Want) Drawing {
	var o Drawing
	area := make([]float64, len(doc.Parts))
	total := 0.0
	now := func(i int) colour.Lab {
		if w.To[i] != nil {
			return written(*w.To[i])
		}
		return d.Colours[d.Items[i].Colour].Lab()
	}
	for i := range d.Items {
		total += d.Items[i].Area
		if k := w.At[i]; k >= 0 {
			area[k] += d.Items[i].Area
		}
	}
	for k := range doc.Parts {
		p := &doc.Parts[k]
		q := Part{ID: p.ID, Name: p.Name, State: "as it is", Tolerance: p.Target.Tolerance}
		if q.Tolerance == 0 {
			q.Tolerance = DefaultTolerance
		}
		if total > 0 {
			q.Share = 100 * area[k] / total
		}
		if p.Family != nil {
			if own, err := colour.ParseCSS(p.Family.Main); err == nil {
				q.Own = own
			}
			o.family(d, w, k, p, &q)
		}
		o.Parts = append(o.Parts, q)
	}
	o.neighbours(d, w, now)
	o.texts(d, now)
	return o
}

// written is the colour that the file then has: 8 bit sRGB.
func written(l colour.Lab) colour.Lab {
	c, err := colour.ParseCSS(colour.Hex(l))
	if err != nil {
		return l
	}
	return c
}

func (o *Drawing) family(d *artwork.Drawing, w document.Want, k int, p *document.Part, q *Part) {
	if p.Target.CSS == "" || p.Family.Held || p.Hidden {
		return
	}
	want, err := colour.ParseFrom(p.Target.CSS, q.Own)
	if err != nil {
		return
	}
	q.Painted, q.Want, q.Aim = true, want, want
	q.Got = q.Own
	for i := range d.Items {
		if w.At[i] == k && w.To[i] != nil && d.Colours[d.Items[i].Colour].Key == artwork.Key(q.Own) {
			q.Got = written(*w.To[i])
			break
		}
	}
	q.DeltaE = colour.DeltaE00(want, q.Got)
	q.Whole.Median, q.Whole.Most, q.LitTone = q.DeltaE, q.DeltaE, q.Got
	lin := colour.SRGB.Linear(want)
	q.Nearest = want
	if !colour.InGamut(lin) {
		q.Nearest = colour.SRGB.Lab(colour.SRGB.MapToGamut(lin))
		q.OutOfGamut = 100
	}
	q.Beyond = colour.DeltaE00(want, q.Nearest)
	switch {
	case q.DeltaE <= q.Tolerance:
		q.State = "within"
	case q.OutOfGamut > 0:
		q.State = "unreachable"
	default:
		q.State = "outside"
	}
}

// box is what an item covers.
type box struct{ x0, y0, x1, y1 float64 }

func (a box) meets(b box) bool { return a.x0 < b.x1 && b.x0 < a.x1 && a.y0 < b.y1 && b.y0 < a.y1 }

const (
	mostPairs = 400 // items looked at for neighbours and texts
	mostSaid  = 50
)

// neighbours finds pairs that changed, lie on each other and became alike.
func (o *Drawing) neighbours(d *artwork.Drawing, w document.Want, now func(int) colour.Lab) {
	type pair struct{ a, b int }
	seen := map[pair]bool{}
	var fills []int
	for i := range d.Items {
		if d.Items[i].Area > 0 {
			fills = append(fills, i)
		}
	}
	step := max(1, len(fills)/mostPairs)
	var look []int
	for k := 0; k < len(fills); k += step {
		look = append(look, fills[k])
	}
	boxes := make([]box, len(look))
	for n, i := range look {
		boxes[n].x0, boxes[n].y0, boxes[n].x1, boxes[n].y1 = d.Box(d.Items[i].Element)
	}
	for n, i := range look {
		for m := range n {
			j := look[m]
			a, b := &d.Items[i], &d.Items[j]
			if a.Colour == b.Colour || w.To[i] == nil && w.To[j] == nil || seen[pair{a.Colour, b.Colour}] || !boxes[n].meets(boxes[m]) {
				continue
			}
			was := colour.DeltaE00(d.Colours[a.Colour].Lab(), d.Colours[b.Colour].Lab())
			is := colour.DeltaE00(now(i), now(j))
			if was < apart || is >= apart || len(o.Alike) >= mostSaid {
				continue
			}
			seen[pair{a.Colour, b.Colour}], seen[pair{b.Colour, a.Colour}] = true, true
			o.Alike = append(o.Alike, Alike{colour.Hex(now(j)), colour.Hex(now(i)), was, is, a.Element})
		}
	}
}

// texts measures each text against the uppermost fill below it.
func (o *Drawing) texts(d *artwork.Drawing, now func(int) colour.Lab) {
	var below []int
	for i := range d.Items {
		it := &d.Items[i]
		name := d.Elements[it.Element].Name
		if it.Prop != "fill" {
			continue
		}
		if name != "text" && name != "tspan" {
			if it.Area > 0 && len(below) < 20000 {
				below = append(below, i)
			}
			continue
		}
		if len(o.Texts) >= mostPairs {
			return
		}
		x0, y0, x1, y1 := d.Box(it.Element)
		x, y := x0+math.Min((x1-x0)/2, (y1-y0)), (y0+y1)/2
		was, is := colour.Lab{100, 0, 0}, colour.Lab{100, 0, 0} // on nothing: white paper
		for k := len(below) - 1; k >= 0; k-- {
			bx0, by0, bx1, by1 := d.Box(d.Items[below[k]].Element)
			if x >= bx0 && x < bx1 && y >= by0 && y < by1 {
				was, is = d.Colours[d.Items[below[k]].Colour].Lab(), now(below[k])
				break
			}
		}
		o.Texts = append(o.Texts, Contrast{it.Element, Ratio(d.Colours[it.Colour].Lab(), was), Ratio(now(i), is), y1-y0 >= 24, d.Text(it.Element)})
	}
}

// Ratio is the contrast ratio of two colours (WCAG 2.2, "contrast ratio" and "relative luminance").
func Ratio(a, b colour.Lab) float64 {
	y := func(l colour.Lab) float64 {
		c := colour.SRGB.MapToGamut(colour.SRGB.Linear(l))
		return 0.2126*c[0] + 0.7152*c[1] + 0.0722*c[2]
	}
	ya, yb := y(a), y(b)
	if ya < yb {
		ya, yb = yb, ya
	}
	return (ya + 0.05) / (yb + 0.05)
}
