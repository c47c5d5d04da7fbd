package artwork

import (
	"math"
	"strconv"
)

// path draws path data (SVG 2, 9.3), up to where it is in error.
func (p *pen) path(d string) {
	r, t := pathReader{d: d}, pathPen{pen: p}
	var cmd byte
	for {
		c, ok := r.command(cmd)
		if !ok {
			break
		}
		var v [7]float64
		if !r.arguments(c, &v) {
			break
		}
		t.do(c, v)
		if cmd = c; c == 'M' || c == 'm' {
			cmd = 'L' | c&0x20 // further pairs are lines
		}
	}
	p.close()
}

// pathReader reads path data.
type pathReader struct {
	d string
	i int
}

func (r *pathReader) skip() {
	for r.i < len(r.d) && (isSpace(r.d[r.i]) || r.d[r.i] == ',') {
		r.i++
	}
}

// command returns the next command: the letter that stands there, or that which goes on where numbers follow.
func (r *pathReader) command(before byte) (c byte, ok bool) {
	r.skip()
	if r.i >= len(r.d) {
		return 0, false
	}
	if c = r.d[r.i]; c >= 'A' && c <= 'Z' || c >= 'a' && c <= 'z' {
		r.i++
		return c, arity[c&^0x20] > 0 || c&^0x20 == 'Z'
	}
	return before, before != 0 && before&^0x20 != 'Z'
}

// arity is how many numbers a path command takes.
var arity = [256]int{'M': 2, 'L': 2, 'H': 1, 'V': 1, 'C': 6, 'S': 4, 'Q': 4, 'T': 2, 'A': 7}

func (r *pathReader) arguments(c byte, v *[7]float64) bool {
	c &^= 0x20
	for k := range arity[c] {
		var ok bool
		if v[k], ok = r.number(c == 'A' && (k == 3 || k == 4)); !ok {
			return false
		}
	}
	return true
}

// number reads a number; flags may stand without anything between them.
func (r *pathReader) number(flag bool) (float64, bool) {
	r.skip()
	if r.i >= len(r.d) {
		return 0, false
	}
	if c := r.d[r.i]; flag && (c == '0' || c == '1') {
		r.i++
		return float64(c - '0'), true
	}
	n := numberEnd(r.d, r.i)
	if n == r.i {
		return 0, false
	}
	v, err := strconv.ParseFloat(r.d[r.i:n], 64)
	r.i = n
	return bounded(v), err == nil
}

// pathPen follows path data: where it is, where the subpath began, and what a smooth curve goes on from.
type pathPen struct {
	*pen
	at, start, ctrl [2]float64
	last            byte
}

// do follows one command.
func (p *pathPen) do(c byte, v [7]float64) {
	upper := c &^ 0x20
	if c != upper {
		p.absolute(upper, &v)
	}
	from := p.at
	switch upper {
	case 'M':
		p.move(v[0], v[1])
		p.at = [2]float64{v[0], v[1]}
		p.start = p.at
	case 'L':
		p.lineTo(v[0], v[1])
	case 'H':
		p.lineTo(v[0], from[1])
	case 'V':
		p.lineTo(from[0], v[0])
	case 'C':
		p.curveTo([2]float64{v[0], v[1]}, [2]float64{v[2], v[3]}, [2]float64{v[4], v[5]})
	case 'S':
		p.curveTo(p.mirrored('C', 'S'), [2]float64{v[0], v[1]}, [2]float64{v[2], v[3]})
	case 'Q':
		p.curveTo([2]float64{v[0], v[1]}, [2]float64{v[2], v[3]})
	case 'T':
		p.curveTo(p.mirrored('Q', 'T'), [2]float64{v[0], v[1]})
	case 'A':
		p.at = [2]float64{v[5], v[6]}
		p.arc(from, p.at, v[0], v[1], v[2], v[3] != 0, v[4] != 0)
	case 'Z':
		p.close()
		p.at = p.start
	}
	p.last = upper
}

// absolute makes the numbers of a relative command absolute.
func (p *pathPen) absolute(upper byte, v *[7]float64) {
	switch upper {
	case 'H':
		v[0] += p.at[0]
	case 'V':
		v[0] += p.at[1]
	case 'A':
		v[5], v[6] = v[5]+p.at[0], v[6]+p.at[1]
	default:
		for k := range arity[upper] {
			v[k] += p.at[k%2]
		}
	}
}

func (p *pathPen) lineTo(x, y float64) {
	p.line(x, y)
	p.at = [2]float64{x, y}
}

// curveTo draws a curve by its control points and its end.
func (p *pathPen) curveTo(c ...[2]float64) {
	p.curve(p.at, c...)
	p.ctrl, p.at = c[len(c)-2], c[len(c)-1]
}

// mirrored returns the control point of a smooth curve: that of the one before it mirrored, where it was of the same kind.
func (p *pathPen) mirrored(kinds ...byte) [2]float64 {
	for _, k := range kinds {
		if p.last == k {
			return [2]float64{2*p.at[0] - p.ctrl[0], 2*p.at[1] - p.ctrl[1]}
		}
	}
	return p.at
}

// arc draws an elliptical arc from one point to another; turn is that of the ellipse, in degrees. (SVG 2, B.2.4 and B.2.5: from end
// points to a middle, and radii that are too small.)
func (p *pen) arc(from, to [2]float64, rx, ry, turn float64, large, sweep bool) {
	rx, ry = math.Abs(rx), math.Abs(ry)
	if from == to {
		return
	}
	if rx == 0 || ry == 0 {
		p.line(to[0], to[1])
		return
	}
	sin, cos := math.Sincos(turn * math.Pi / 180)
	dx, dy := (from[0]-to[0])/2, (from[1]-to[1])/2
	x, y := cos*dx+sin*dy, cos*dy-sin*dx
	if l := math.Hypot(x/rx, y/ry); l > 1 {
		rx, ry = l*rx, l*ry
	}
	k := (rx*rx*ry*ry - rx*rx*y*y - ry*ry*x*x) / (rx*rx*y*y + ry*ry*x*x)
	k = math.Sqrt(max(0, k))
	if large == sweep {
		k = -k
	}
	mx, my := k*rx*y/ry, -k*ry*x/rx
	cx, cy := cos*mx-sin*my+(from[0]+to[0])/2, sin*mx+cos*my+(from[1]+to[1])/2
	begin := math.Atan2((y-my)/ry, (x-mx)/rx)
	by := math.Atan2((-y-my)/ry, (-x-mx)/rx) - begin
	if sweep && by < 0 {
		by += 2 * math.Pi
	} else if !sweep && by > 0 {
		by -= 2 * math.Pi
	}
	n := math.Ceil(math.Abs(by) * 32 / math.Pi) // within half a percent of a circle's area
	for i := 1.0; i < n; i++ {
		s, c := math.Sincos(begin + by*i/n)
		p.line(cx+rx*c*cos-ry*s*sin, cy+rx*c*sin+ry*s*cos)
	}
	p.line(to[0], to[1])
}
