package pattern

import (
	"fmt"
	"math"

	"episema/core/raster"
)

// Drawn is a tile that somebody drew: how much of each pixel each of its figures covers, at halved sizes.
type Drawn struct {
	levels []drawnLevel
	aspect float64 // width over height
}

type drawnLevel struct {
	w, h int
	pix  [][MostColours]float32
}

// Bytes returns what it takes in memory.
func (d *Drawn) Bytes() int {
	n := 0
	for _, l := range d.levels {
		n += 4 * MostColours * len(l.pix)
	}
	return n
}

// mostDrawn is how many pixels a tile has at most.
const mostDrawn = 2048 * 2048

// NewDrawn makes a tile of a mask that has its figures one below the other.
func NewDrawn(m *raster.Mask, figures int) (*Drawn, error) {
	if figures < 1 || figures > MostColours || m == nil || m.W < 1 || m.H < figures || m.H%figures != 0 {
		return nil, fmt.Errorf("the tile's picture does not hold %d figures one below the other; draw it anew", figures)
	}
	w, h := m.W, m.H/figures
	if w*h > mostDrawn {
		return nil, fmt.Errorf("the tile has %d x %d pixels; at most %d are taken", w, h, mostDrawn)
	}
	l := drawnLevel{w, h, make([][MostColours]float32, w*h)}
	for k := range figures {
		for i, v := range m.Pix[k*w*h : (k+1)*w*h] {
			l.pix[i][k] = float32(v) / raster.Whole
		}
	}
	d := &Drawn{aspect: float64(w) / float64(h), levels: []drawnLevel{l}}
	for l.w > 1 || l.h > 1 {
		l = l.half()
		d.levels = append(d.levels, l)
	}
	return d, nil
}

// half returns the level at half its size. A side that is odd goes on where the next tile begins.
func (l drawnLevel) half() drawnLevel {
	o := drawnLevel{w: max(1, l.w/2), h: max(1, l.h/2)}
	o.pix = make([][MostColours]float32, o.w*o.h)
	sx, sy := float64(l.w)/float64(o.w), float64(l.h)/float64(o.h)
	raster.Parallel(o.h, func(y int) {
		for x := range o.w {
			to := &o.pix[y*o.w+x]
			// The mean of two by two points that are spread over what the pixel covers.
			for j := range 2 {
				for i := range 2 {
					c := l.at((float64(x)+0.25+0.5*float64(i))*sx-0.5, (float64(y)+0.25+0.5*float64(j))*sy-0.5)
					for k := range to {
						to[k] += c[k] / 4
					}
				}
			}
		}
	})
	return o
}

// at returns the linear interpolation at x, y, in pixels from the middle of the first; tiles lie all around.
func (l drawnLevel) at(x, y float64) (c [MostColours]float32) {
	fx, fy := math.Floor(x), math.Floor(y)
	u, v := float32(x-fx), float32(y-fy)
	x0, y0 := wrap(fx, l.w), wrap(fy, l.h)
	x1, y1 := x0+1, y0+1
	if x1 == l.w {
		x1 = 0
	}
	if y1 == l.h {
		y1 = 0
	}
	p, q, r, s := &l.pix[y0*l.w+x0], &l.pix[y0*l.w+x1], &l.pix[y1*l.w+x0], &l.pix[y1*l.w+x1]
	for k := range c {
		a, b := p[k]+u*(q[k]-p[k]), r[k]+u*(s[k]-r[k])
		c[k] = a + v*(b-a)
	}
	return c
}

func wrap(x float64, n int) int {
	m := math.Mod(x, float64(n))
	if m < 0 {
		m += float64(n)
	}
	return min(n-1, int(m))
}

// mostAlong is how many points are taken along the longer side of a slanting pixel.
const mostAlong = 8

// cover returns how much the figures cover of a pixel in the middle of which lies (u, v), in tiles, and whose sides are a and b. Seen at
// a slant it is longer than wide: points along it are taken from a level that shows what is as wide as it is (as texture units
// do; Heckbert, Fundamentals of Texture Mapping, 1989, 3).
func (d *Drawn) cover(u, v float64, a, b [2]float64) (c [MostColours]float32) {
	base := d.levels[0]
	w, h := float64(base.w), float64(base.h)
	la, lb := math.Hypot(a[0]*w, a[1]*h), math.Hypot(b[0]*w, b[1]*h)
	long, short, along := la, lb, a
	if lb > la {
		long, short, along = lb, la, b
	}
	n := int(max(1, min(mostAlong, math.Ceil(long/max(short, 1e-9)-0.01))))
	wide := max(short, long/float64(n))
	level := max(0, min(float64(len(d.levels)-1), math.Log2(max(1, wide))))
	lo := int(level)
	hi := min(lo+1, len(d.levels)-1)
	t := float32(level - float64(lo))
	for i := range n {
		s := (float64(i)+0.5)/float64(n) - 0.5
		pu, pv := u+s*along[0], v+s*along[1]
		p := d.levels[lo].at(pu*float64(d.levels[lo].w)-0.5, pv*float64(d.levels[lo].h)-0.5)
		q := p
		if hi != lo && t > 0 {
			q = d.levels[hi].at(pu*float64(d.levels[hi].w)-0.5, pv*float64(d.levels[hi].h)-0.5)
		}
		for k := range c {
			c[k] += (p[k] + t*(q[k]-p[k])) / float32(n)
		}
	}
	return c
}
