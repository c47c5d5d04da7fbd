package pattern

import (
	"math"

	"episema/core/raster"
)

// Lay is a pattern made ready.
type Lay struct {
	Pattern
	colours  int
	sin, cos float64
	flat     *[9]float64  // from the picture to the square of cloth; nil: it is seen from the front
	bent     *Grid        // nil: nobody pulled at its grid
	bend     *Bend        // nil: it does not bend
	drawn    *Drawn       // of a tile that somebody drew
	pushed   *Pushed      // nil: nobody pushed it
	bulge    float64      // sine of the half angle that the cloth lies round
	with     *raster.Move // the pattern goes with what was moved; nil: nothing was
	dots     struct {
		radius float64 // in cells
		even   float64 // what one colour's take, from so far away that they are not seen
	}
}

// Found is what a pattern needs that is worked out beforehand; each is nil for a pattern without it.
type Found struct {
	Bend   *Bend   // of Folds
	Drawn  *Drawn  // of TileDrawn
	Pushed *Pushed // of Pushes
	Grid   *Grid   // of Grid
}

// NewLay makes a valid pattern of so many colours ready.
func NewLay(p Pattern, colours int, f Found) *Lay {
	l := &Lay{Pattern: p, colours: max(1, min(MostColours, colours)), drawn: f.Drawn, pushed: f.Pushed, bent: f.Grid}
	l.sin, l.cos = math.Sincos(p.Angle * math.Pi / 180)
	if p.Corners != nil {
		if m, ok := unproject(*p.Corners); ok {
			l.flat = &m
		}
	}
	l.bulge = math.Sin(p.Round / 100 * mostRound * math.Pi / 180)
	if p.Folds > 0 {
		l.bend = f.Bend
	}
	l.dots.radius = min(0.5, math.Sqrt(p.Share/100/math.Pi)) // a cell is filled to its share, as long as dots do not touch
	l.dots.even = math.Pi * l.dots.radius * l.dots.radius / float64(l.colours)
	return l
}

// Moved returns the same pattern on what was moved in the picture: its places, folds and pushes are those before the move.
func (l *Lay) Moved(m raster.Move) *Lay {
	o := *l
	o.with = &m
	return &o
}

// At returns the place of a pixel of the full size in the pattern, in repeats. ok is false for what lies past the horizon.
func (l *Lay) At(x, y float64) (u, v float64, ok bool) {
	if l.with != nil {
		x, y = l.with.Back(x, y)
	}
	atX, atY := x, y
	if l.bend != nil {
		dx, dy := l.bend.At(atX, atY, l.Lean)
		k := l.Folds / 100 * l.stride()
		x, y = x+k*dx, y+k*dy
	}
	if l.pushed != nil {
		dx, dy := l.pushed.At(atX, atY)
		x, y = x+dx, y+dy
	}
	if m := l.flat; m != nil {
		if x, y, ok = toSquare(m, x, y); !ok {
			return 0, 0, false
		}
		if l.bent != nil {
			x, y = l.bent.At(x, y)
		}
		if x, y, ok = l.round(x, y); !ok {
			return 0, 0, false
		}
		x, y = 1000*x, 1000*y
	}
	x, y = x-l.Offset[0], y-l.Offset[1]
	u, v = (l.cos*x+l.sin*y)/l.Size, (l.cos*y-l.sin*x)/l.Size
	if l.drawn != nil {
		v *= l.drawn.aspect // a repeat is as wide as its size, and as high as the tile is then
	}
	return u, v, true
}

// stride is about how wide a repeat is in the picture, in pixels of the full size.
func (l *Lay) stride() float64 {
	if l.Corners == nil {
		return l.Size
	}
	c := *l.Corners
	return l.Size / 1000 * math.Hypot(c[2][0]-c[0][0], c[2][1]-c[0][1]) / math.Sqrt2
}

// Spot is where a pixel's middle lies in the pattern, in repeats; nowhere where that is past the horizon or beyond what is round.
type Spot struct {
	u, v float64
	seen bool
}

// Line returns the spots of the pixels x0 to x1 of a row, the last one included.
func (l *Lay) Line(place raster.Place, x0, x1, y int) []Spot {
	line := make([]Spot, x1-x0+1)
	for i := range line {
		s := &line[i]
		x, y := place.Full(x0+i, y)
		s.u, s.v, s.seen = l.At(x, y)
	}
	return line
}

// Cover returns how much each of the pattern's colours covers of a pixel in the middle of which lies (x, y) of the full size and
// which is step full-size pixels wide; their sum is at most 1. For many pixels, Line and CoverOf are quicker.
func (l *Lay) Cover(x, y, step float64) (c [MostColours]float32) {
	var s [3]Spot
	for i, d := range [3][2]float64{{0, 0}, {step, 0}, {0, step}} {
		s[i].u, s[i].v, s[i].seen = l.At(x+d[0], y+d[1])
	}
	return l.CoverOf(s[0], s[1], s[2])
}

// CoverOf is Cover of a pixel by its spot and those of the pixels to the right of it and below it.
func (l *Lay) CoverOf(at, right, below Spot) (c [MostColours]float32) {
	if !at.seen || !right.seen || !below.seen {
		return c
	}
	u, v, ux, vx, uy, vy := at.u, at.v, right.u, right.v, below.u, below.v
	fu, fv := math.Abs(ux-u)+math.Abs(uy-u), math.Abs(vx-v)+math.Abs(vy-v)
	k := float32(l.Strength / 100)
	if l.onSeam(u, v, fu, fv) {
		// Tiles that meet here do not go on in each other: the pixel is what its parts are.
		const n = 4
		for i := range n * n {
			a, b := (float64(i%n)+0.5)/n-0.5, (float64(i/n)+0.5)/n-0.5
			pu, pv := l.repeated(u+a*(ux-u)+b*(uy-u), v+a*(vx-v)+b*(vy-v))
			if l.drawn != nil {
				d := l.drawn.cover(pu, pv, [2]float64{(ux - u) / n, (vx - v) / n}, [2]float64{(uy - u) / n, (vy - v) / n})
				for i := range l.colours {
					c[i] += k / (n * n) * d[i]
				}
				continue
			}
			for i := range l.colours {
				c[i] += k / (n * n) * float32(l.tile(pu, pv, max(fu/n, 1e-9), max(fv/n, 1e-9), i))
			}
		}
		return c
	}
	if l.drawn != nil {
		pu, pv := l.repeated(u, v)
		d := l.drawn.cover(pu, pv, [2]float64{ux - u, vx - v}, [2]float64{uy - u, vy - v})
		for i := range l.colours {
			c[i] = k * d[i]
		}
		return c
	}
	u, v = l.repeated(u, v)
	for i := range l.colours {
		c[i] = k * float32(l.tile(u, v, max(fu, 1e-9), max(fv, 1e-9), i))
	}
	return c
}

// onSeam reports whether a box around a place lies on a line where tiles are moved or mirrored against each other.
func (l *Lay) onSeam(u, v, fu, fv float64) bool {
	off := func(x float64) float64 { return math.Abs(x - math.Round(x)) }
	switch l.Repeat {
	case "half-drop":
		return off(u) < fu/2
	case "brick":
		return off(v) < fv/2
	case "mirrored":
		return off(u) < fu/2 || off(v) < fv/2
	}
	return false
}

// repeated moves a place to where it is in tiles that lie straight.
func (l *Lay) repeated(u, v float64) (float64, float64) {
	switch l.Repeat {
	case "half-drop":
		v += 0.5 * math.Mod(math.Abs(math.Floor(u)), 2)
	case "brick":
		u += 0.5 * math.Mod(math.Abs(math.Floor(v)), 2)
	case "mirrored":
		u, v = mirrored(u), mirrored(v)
	}
	return u, v
}

func mirrored(u float64) float64 {
	n := math.Floor(u)
	if math.Mod(math.Abs(n), 2) == 1 {
		return 2*n + 1 - u
	}
	return u
}

// tile returns how much of a box of fu x fv repeats around a place the figures of the i-th colour take.
func (l *Lay) tile(u, v, fu, fv float64, i int) float64 {
	n, share := float64(l.colours), l.Share/100
	switch l.Tile {
	case "stripes":
		return pulse(u-float64(i)/n, share/n, fu)
	case "zigzag":
		return pulse(v-float64(i)/n+0.25*triangle(u), share/n, fv+0.5*fu)
	case "checks":
		a, b := pulse(u, 0.5, fu), pulse(v, 0.5, fv)
		switch {
		case l.colours == 1:
			return a*b + (1-a)*(1-b)
		case i == 0:
			return a * b
		case i == 1:
			return (1 - a) * (1 - b)
		}
		return 0 // a board has two kinds of squares beside its ground
	default: // dots
		return l.dot(u*n, v*n, fu*n, fv*n, i)
	}
}

// pulse returns how much of a width f around x lies in [0, w) of each unit.
func pulse(x, w, f float64) float64 {
	sum := func(x float64) float64 {
		n := math.Floor(x)
		return n*w + math.Min(x-n, w)
	}
	return max(0, min(1, (sum(x+f/2)-sum(x-f/2))/f))
}

// triangle goes evenly from 0 to 1 and back in each unit.
func triangle(x float64) float64 { return 1 - math.Abs(2*(x-math.Floor(x))-1) }

// dot returns how much of a box is in the dots of the i-th colour; places and sizes are in cells, whose colours go on from one to the
// next across and down.
func (l *Lay) dot(u, v, fu, fv float64, i int) float64 {
	f := (fu + fv) / 2
	if f > 0.9 {
		return l.dots.even
	}
	across, down := math.Floor(u), math.Floor(v)
	if k := int(across+down) % l.colours; k != i && k+l.colours != i {
		return l.dots.even * faded(f)
	}
	du, dv := u-across-0.5, v-down-0.5
	c := max(0, min(1, (l.dots.radius-math.Sqrt(du*du+dv*dv))/f+0.5))
	return c + (l.dots.even-c)*faded(f)
}

// faded goes from 0 to 1 where a pixel comes to be as wide as half a cell, and a whole one.
func faded(f float64) float64 { return max(0, min(1, (f-0.45)/0.45)) }
