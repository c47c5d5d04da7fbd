package artwork

import (
	"math"
	"strconv"
	"strings"
)

// matrix is an affine transform: x' = a x + c y + e, y' = b x + d y + f.
type matrix struct{ a, b, c, d, e, f float64 }

var identity = matrix{a: 1, d: 1}

func (m matrix) times(n matrix) matrix {
	return matrix{m.a*n.a + m.c*n.b, m.b*n.a + m.d*n.b, m.a*n.c + m.c*n.d, m.b*n.c + m.d*n.d, m.a*n.e + m.c*n.f + m.e, m.b*n.e + m.d*n.f + m.f}
}

// numbers reads the numbers of a list as SVG writes them: separators may be missing where a sign or point begins the next.
func numbers(s string) []float64 {
	var out []float64
	for i := 0; i < len(s); {
		c := s[i]
		if !(c >= '0' && c <= '9' || c == '-' || c == '+' || c == '.') {
			i++
			continue
		}
		n := numberEnd(s, i)
		if n == i {
			i++
			continue
		}
		if v, err := strconv.ParseFloat(s[i:n], 64); err == nil {
			out = append(out, bounded(v))
		}
		i = n
	}
	return out
}

// bounded keeps enormous numbers from becoming infinite ones.
func bounded(v float64) float64 {
	if math.IsNaN(v) {
		return 0
	}
	return math.Max(-1e9, math.Min(1e9, v))
}

// numberEnd returns where a number that begins at i ends (SVG 1.1, 4.2: as in CSS, with an exponent); i where there is none.
func numberEnd(s string, i int) int {
	whole := digitsEnd(s, signEnd(s, i))
	j, digits := whole, whole > signEnd(s, i)
	if j < len(s) && s[j] == '.' {
		fraction := digitsEnd(s, j+1)
		j, digits = fraction, digits || fraction > j+1
	}
	if !digits {
		return i
	}
	if j < len(s) && (s[j] == 'e' || s[j] == 'E') {
		if k := signEnd(s, j+1); digitsEnd(s, k) > k {
			return digitsEnd(s, k)
		}
	}
	return j
}

func signEnd(s string, i int) int {
	if i < len(s) && (s[i] == '-' || s[i] == '+') {
		i++
	}
	return i
}

func digitsEnd(s string, i int) int {
	for i < len(s) && s[i] >= '0' && s[i] <= '9' {
		i++
	}
	return i
}

func transform(s string) matrix {
	m := identity
	for s != "" {
		name, rest, ok := strings.Cut(s, "(")
		if !ok {
			break
		}
		args, after, ok := strings.Cut(rest, ")")
		if !ok {
			break
		}
		s = after
		v := numbers(args)
		at := func(i int, or float64) float64 {
			if i < len(v) {
				return v[i]
			}
			return or
		}
		switch strings.TrimLeft(name, " ,\t\r\n") {
		case "matrix":
			if len(v) == 6 {
				m = m.times(matrix{v[0], v[1], v[2], v[3], v[4], v[5]})
			}
		case "translate":
			m = m.times(matrix{1, 0, 0, 1, at(0, 0), at(1, 0)})
		case "scale":
			m = m.times(matrix{at(0, 1), 0, 0, at(1, at(0, 1)), 0, 0})
		case "rotate":
			sin, cos := math.Sincos(at(0, 0) * math.Pi / 180)
			x, y := at(1, 0), at(2, 0)
			m = m.times(matrix{1, 0, 0, 1, x, y}).times(matrix{cos, sin, -sin, cos, 0, 0}).times(matrix{1, 0, 0, 1, -x, -y})
		case "skewX":
			m = m.times(matrix{1, 0, math.Tan(at(0, 0) * math.Pi / 180), 1, 0, 0})
		case "skewY":
			m = m.times(matrix{1, math.Tan(at(0, 0) * math.Pi / 180), 0, 1, 0, 0})
		}
	}
	return m
}

// length reads a length in user units; percentages are of whole.
func length(s string, whole, or float64) float64 {
	s = strings.TrimSpace(s)
	n := numberEnd(s, 0)
	if n == 0 {
		return or
	}
	v, err := strconv.ParseFloat(s[:n], 64)
	if err != nil {
		return or
	}
	unit := map[string]float64{"": 1, "px": 1, "pt": 4. / 3, "pc": 16, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96, "em": 16, "ex": 8, "%": whole / 100, "Q": 96 / 101.6}
	k, ok := unit[strings.TrimSpace(s[n:])]
	if !ok {
		return or
	}
	return bounded(v * k)
}

// shape is about what an element covers, in the root's units.
type shape struct {
	area, length   float64 // length: the stroke's, times its width
	x0, y0, x1, y1 float64
}

// pen measures a path as it is drawn.
type pen struct {
	shape
	m      matrix
	sx, sy float64 // start of the subpath
	x, y   float64
	area2  float64
	any    bool
}

func (p *pen) see(x, y float64) {
	if !p.any {
		p.x0, p.y0, p.x1, p.y1, p.any = x, y, x, y, true
		return
	}
	p.x0, p.y0, p.x1, p.y1 = math.Min(p.x0, x), math.Min(p.y0, y), math.Max(p.x1, x), math.Max(p.y1, y)
}

func (p *pen) at(x, y float64) (float64, float64) {
	return p.m.a*x + p.m.c*y + p.m.e, p.m.b*x + p.m.d*y + p.m.f
}

func (p *pen) move(x, y float64) {
	p.close()
	x, y = p.at(x, y)
	p.sx, p.sy, p.x, p.y = x, y, x, y
	p.see(x, y)
}

func (p *pen) line(x, y float64) {
	x, y = p.at(x, y)
	p.area2 += p.x*y - x*p.y
	p.length += math.Hypot(x-p.x, y-p.y)
	p.x, p.y = x, y
	p.see(x, y)
}

// close adds the subpath's area; the area of a path is that of its subpaths, holes taken off where they run the other way.
func (p *pen) close() {
	p.area2 += p.x*p.sy - p.sx*p.y
	p.x, p.y = p.sx, p.sy
}

func (p *pen) curve(from [2]float64, c ...[2]float64) {
	const steps = 6
	for i := 1; i <= steps; i++ {
		t := float64(i) / steps
		u := 1 - t
		var x, y float64
		if len(c) == 3 {
			x = u*u*u*from[0] + 3*u*u*t*c[0][0] + 3*u*t*t*c[1][0] + t*t*t*c[2][0]
			y = u*u*u*from[1] + 3*u*u*t*c[0][1] + 3*u*t*t*c[1][1] + t*t*t*c[2][1]
		} else {
			x = u*u*from[0] + 2*u*t*c[0][0] + t*t*c[1][0]
			y = u*u*from[1] + 2*u*t*c[0][1] + t*t*c[1][1]
		}
		p.line(x, y)
	}
}

// measure works out the drawing's size: its viewBox, else width and height.
func (d *Drawing) measure() {
	root := &d.Elements[0]
	w, _ := root.Attr("width")
	h, _ := root.Attr("height")
	d.Size = [4]float64{0, 0, length(w, 300, 300), length(h, 150, 150)}
	if v, ok := root.Attr("viewBox"); ok {
		if n := numbers(v); len(n) == 4 && n[2] > 0 && n[3] > 0 {
			d.Size = [4]float64{n[0], n[1], n[2], n[3]}
		}
	}
	for k := 2; k < 4; k++ {
		if !(d.Size[k] > 0) {
			d.Size[k] = 100
		}
	}
}

// Pixels gives the size at which the drawing is shown where nothing else is said: width and height as it says them, in
// CSS pixels, brought to a long side of at least 16 and at most 8192.
func (d *Drawing) Pixels() (w, h int) {
	root := &d.Elements[0]
	fw, fh := d.Size[2], d.Size[3]
	if v, ok := root.Attr("width"); ok && !strings.Contains(v, "%") {
		if l := length(v, fw, 0); l > 0 {
			fw = l
			fh = l * d.Size[3] / d.Size[2]
		}
	}
	k := 1.0
	if m := math.Max(fw, fh); m > 8192 {
		k = 8192 / m
	} else if m < 16 {
		k = 16 / m
	}
	return max(1, int(math.Round(fw*k))), max(1, int(math.Round(fh*k)))
}

// ctm gives the transform from an element to the root's units.
func (d *Drawing) ctm(i int) matrix {
	if d.matrices == nil {
		d.matrices = make([]matrix, len(d.Elements))
		for k := range d.Elements {
			e := &d.Elements[k]
			m := identity
			if e.Parent >= 0 {
				m = d.matrices[e.Parent]
			}
			if e.Name == "svg" && e.Parent >= 0 {
				x, _ := e.Attr("x")
				y, _ := e.Attr("y")
				m = m.times(matrix{1, 0, 0, 1, length(x, d.Size[2], 0), length(y, d.Size[3], 0)})
				if v, ok := e.Attr("viewBox"); ok {
					if n := numbers(v); len(n) == 4 && n[2] > 0 && n[3] > 0 {
						w, _ := e.Attr("width")
						h, _ := e.Attr("height")
						wide, high := length(w, d.Size[2], d.Size[2]), length(h, d.Size[3], d.Size[3])
						s := math.Min(wide/n[2], high/n[3])
						// In the middle, as preserveAspectRatio has it where nothing else is said (SVG 2, 8.7).
						m = m.times(matrix{s, 0, 0, s, (wide-n[2]*s)/2 - n[0]*s, (high-n[3]*s)/2 - n[1]*s})
					}
				}
			}
			if t, ok := e.Attr("transform"); ok {
				m = m.times(transform(t))
			}
			d.matrices[k] = m
		}
	}
	return d.matrices[i]
}

// geometry measures an element.
func (d *Drawing) geometry(i int) shape {
	e := &d.Elements[i]
	p := pen{m: d.ctm(i)}
	w, h := d.Size[2], d.Size[3]
	get := func(name string, whole float64) float64 {
		v, ok := e.Attr(name)
		if !ok {
			return 0
		}
		return length(v, whole, 0)
	}
	switch e.Name {
	case "path":
		v, _ := e.Attr("d")
		p.path(v)
	case "rect":
		x, y, rw, rh := get("x", w), get("y", h), get("width", w), get("height", h)
		p.move(x, y)
		p.line(x+rw, y)
		p.line(x+rw, y+rh)
		p.line(x, y+rh)
		p.line(x, y)
	case "circle", "ellipse":
		rx, ry := get("rx", w), get("ry", h)
		if e.Name == "circle" {
			rx = get("r", math.Sqrt(w*h))
			ry = rx
		}
		cx, cy := get("cx", w), get("cy", h)
		p.move(cx+rx, cy)
		const n = 24
		for k := 1; k <= n; k++ {
			sin, cos := math.Sincos(2 * math.Pi * float64(k) / n)
			p.line(cx+rx*cos, cy+ry*sin)
		}
	case "line":
		p.move(get("x1", w), get("y1", h))
		p.line(get("x2", w), get("y2", h))
	case "polyline", "polygon":
		v, _ := e.Attr("points")
		n := numbers(v)
		for k := 0; k+1 < len(n); k += 2 {
			if k == 0 {
				p.move(n[0], n[1])
			} else {
				p.line(n[k], n[k+1])
			}
		}
		p.close()
	case "text", "tspan", "textPath", "tref": // about: half an em a letter
		size := 16.0
		for at := i; at >= 0; at = d.Elements[at].Parent {
			if v, ok := d.Elements[at].Attr("font-size"); ok {
				size = length(v, 16, 16)
				break
			}
		}
		x, y := get("x", w), get("y", h)
		n := float64(e.Close-e.Open) * size * 0.5
		p.move(x, y-size*0.75)
		p.line(x+n, y-size*0.75)
		p.line(x+n, y)
		p.line(x, y)
		p.close()
		p.area2 *= 0.3 // ink
	}
	p.area = math.Abs(p.area2) / 2
	width := 1.0
	for at := i; at >= 0; at = d.Elements[at].Parent {
		if v, ok := d.Elements[at].Attr("stroke-width"); ok {
			width = length(v, math.Sqrt(w*h), 1)
			break
		}
	}
	p.length *= width * math.Sqrt(math.Abs(p.m.a*p.m.d-p.m.b*p.m.c))
	return p.shape
}
