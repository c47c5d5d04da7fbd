package artwork

import (
	"math"
	"sort"

	"episema/core/colour"
	"episema/core/raster"
)

// Flat is a drawing of pixels: a few exact colours, and rims where two of them were mixed. Pixels are 8 bit sRGB RGBA with
// straight alpha, rows one after the other.
type Flat struct {
	W, H    int
	Colours []Colour // the most frequent first; Count and Area are pixels

	pix   []byte
	index []int16 // of each pixel the colour it is exactly; rim where it is between
}

const (
	rim = -1 // between colours
	gap = -2 // wholly transparent
)

// MostFlat is how many pixels a picture has at most to be looked at as a flat drawing.
const MostFlat = 40_000_000

// What makes a picture flat.
const (
	mostColours = 64   // colours
	leastSolid  = 4    // pixels in the middle of their own colour that a colour has
	flatShare   = 0.75 // of the pixels that have one of the colours
)

func rgb(p []byte) uint32 { return uint32(p[0])<<16 | uint32(p[1])<<8 | uint32(p[2]) }

// NewFlat looks whether pixels are a flat drawing.
func NewFlat(pix []byte, w, h int) (*Flat, bool) {
	n := w * h
	if n == 0 || n > MostFlat || len(pix) != 4*n {
		return nil, false
	}
	t, ok := tallied(pix, w, h)
	if !ok || t.seen == 0 {
		return nil, false
	}
	f := &Flat{W: w, H: h, pix: pix, index: make([]int16, n)}
	list := t.colours()
	if !f.settle(list, t.count) {
		return nil, false
	}
	if more := f.unexplained(t.count); len(more) > 0 && !f.settle(append(list, more...), t.count) {
		return nil, false
	}
	exact := 0
	for k := range f.Colours {
		exact += f.Colours[k].Count
	}
	if float64(exact) < flatShare*float64(t.seen) {
		return nil, false
	}
	return f, true
}

// tally says how often pixels have each colour, and how often in the middle of others of it.
type tally struct {
	seen         int // pixels that are not clear
	count, solid map[uint32]int
}

// tallied counts the colours of pixels; ok is false for a photo, which has too many.
func tallied(pix []byte, w, h int) (t tally, ok bool) {
	t.count, t.solid = map[uint32]int{}, map[uint32]int{}
	for y := range h {
		for x := range w {
			i := y*w + x
			p := pix[4*i : 4*i+4]
			if p[3] == 0 {
				continue
			}
			t.seen++
			c := rgb(p)
			if len(t.count) > 1<<18 {
				return t, false
			}
			t.count[c]++
			if x > 0 && x < w-1 && y > 0 && y < h-1 && c == rgb(pix[4*i-4:]) && c == rgb(pix[4*i+4:]) && c == rgb(pix[4*(i-w):]) && c == rgb(pix[4*(i+w):]) {
				t.solid[c]++
			}
		}
	}
	return t, true
}

// colours lists those of a drawing: what is solid somewhere, or, where these are few of its pixels, all.
func (t *tally) colours() []uint32 {
	var list []uint32
	covered := 0
	for c, k := range t.solid {
		if k >= leastSolid {
			list = append(list, c)
			covered += t.count[c]
		}
	}
	if float64(covered) < flatShare*float64(t.seen) && len(t.count) <= mostColours { // lines and dots a pixel wide: all are colours
		list = list[:0]
		for c := range t.count {
			list = append(list, c)
		}
	}
	return list
}

// settle takes the colours and says of each pixel which it is.
func (f *Flat) settle(list []uint32, count map[uint32]int) bool {
	if len(list) == 0 || len(list) > mostColours {
		return false
	}
	list = append([]uint32(nil), list...)
	sort.Slice(list, func(a, b int) bool {
		if count[list[a]] != count[list[b]] {
			return count[list[a]] > count[list[b]]
		}
		return list[a] < list[b]
	})
	f.Colours = nil
	at := map[uint32]int16{}
	for k, c := range list {
		at[c] = int16(k)
		lab := colour.SRGB.Lab(colour.SRGB.LinearOf(colour.RGB{float64(c>>16) / 255, float64(c>>8&255) / 255, float64(c&255) / 255}))
		f.Colours = append(f.Colours, Colour{Key: colour.Hex(lab), paint: paint{kind: paintColour, lab: lab, key: colour.Hex(lab), alpha: 1}, Count: count[c], Area: float64(count[c])})
	}
	for i := range f.index {
		switch k, ok := at[rgb(f.pix[4*i:])]; {
		case f.pix[4*i+3] == 0:
			f.index[i] = gap
		case ok:
			f.index[i] = k
		default:
			f.index[i] = rim
		}
	}
	return true
}

// What no mixture of the colours near it explains, at least so often and by so many of 255 levels, is a colour itself.
const (
	leastThin  = 8
	mostWrong  = 16
	thinLooked = 8
)

// unexplained lists such colours: lines too thin to have a middle.
func (f *Flat) unexplained(count map[uint32]int) []uint32 {
	was := f.coded()
	wrong, looked := map[uint32]float64{}, map[uint32]float64{}
	for i, k := range f.index {
		c := rgb(f.pix[4*i:])
		if k != rim || count[c] < leastThin || looked[c] >= thinLooked || f.pix[4*i+3] < 255 {
			continue
		}
		looked[c]++
		_, _, _, e := f.fit(i, was)
		wrong[c] += math.Min(e, 255)
	}
	var out []uint32
	for c, e := range wrong {
		if e/looked[c] > mostWrong {
			out = append(out, c)
		}
	}
	return out
}

func (f *Flat) coded() [][3]float64 {
	out := make([][3]float64, len(f.Colours))
	for k := range out {
		out[k] = coded(f.Colours[k].paint.lab)
	}
	return out
}

// Drawing gives the colours as a drawing has them, one item each, so that families, documents and proofs know them.
func (f *Flat) Drawing() *Drawing {
	d := &Drawing{Colours: f.Colours, Size: [4]float64{0, 0, float64(f.W), float64(f.H)}, Elements: make([]Element, len(f.Colours)), measured: make([]shape, len(f.Colours))}
	for i := range f.Colours {
		d.Items = append(d.Items, Item{Element: i, Prop: "fill", Colour: i, Area: f.Colours[i].Area, site: -1})
	}
	d.boards = d.findBoards()
	return d
}

// Recolour gives the pixels with each colour that has a new one in it: exact pixels get it, rims are unmixed between the
// two colours near them that explain them best and mixed again from the new ones. Transparency stays; pixels whose colours
// stay are the very same.
func (f *Flat) Recolour(to []*colour.Lab) []byte {
	out := append([]byte(nil), f.pix...)
	was, is := make([][3]float64, len(f.Colours)), make([][3]float64, len(f.Colours))
	changed := false
	for k := range f.Colours {
		was[k] = coded(f.Colours[k].paint.lab)
		is[k] = was[k]
		if to[k] != nil {
			is[k] = coded(*to[k])
			changed = changed || is[k] != was[k]
		}
	}
	if !changed {
		return out
	}
	for i, k := range f.index {
		switch {
		case k >= 0:
			if to[k] != nil {
				put(out[4*i:], is[k])
			}
		case k == rim:
			f.mix(i, was, is, out[4*i:])
		}
	}
	return out
}

func coded(l colour.Lab) (o [3]float64) {
	c := colour.SRGB.Coded(colour.SRGB.MapToGamut(colour.SRGB.Linear(l)))
	for i := range o {
		o[i] = math.Round(255 * math.Max(0, math.Min(1, c[i])))
	}
	return o
}

func put(p []byte, c [3]float64) {
	for i, v := range c {
		p[i] = byte(math.Max(0, math.Min(255, math.Round(v))))
	}
}

// rimLook is how far from a rim pixel its two colours are looked for.
const rimLook = 3

// fit finds the two colours near a rim pixel whose mixture explains it best, the second one's share, and how far off it
// still is, in levels.
func (f *Flat) fit(i int, was [][3]float64) (a, b int16, share, off float64) {
	x, y := i%f.W, i/f.W
	var near [24]int16
	n := 0
	for r := 1; r <= rimLook && n < 2; r++ { // the nearest ring that has two colours
		n = 0
		for yy := max(0, y-r); yy <= min(f.H-1, y+r); yy++ {
		row:
			for xx := max(0, x-r); xx <= min(f.W-1, x+r); xx++ {
				k := f.index[yy*f.W+xx]
				if k < 0 || n == len(near) {
					continue
				}
				for _, o := range near[:n] {
					if o == k {
						continue row
					}
				}
				near[n] = k
				n++
			}
		}
	}
	if n == 0 {
		return -1, -1, 0, math.Inf(1)
	}
	p := [3]float64{float64(f.pix[4*i]), float64(f.pix[4*i+1]), float64(f.pix[4*i+2])}
	best := math.Inf(1)
	for j := range n {
		for k := j; k < n; k++ {
			ca, cb := was[near[j]], was[near[k]]
			t, _ := raster.Unmix(&p, &ca, &cb)
			t = math.Max(0, math.Min(1, t))
			e := raster.Unexplained(&p, &ca, &cb, t)
			if e < best {
				best, a, b, share = e, near[j], near[k], t
			}
		}
	}
	return a, b, share, math.Sqrt(best / 3)
}

// mix recolours a rim pixel.
func (f *Flat) mix(i int, was, is [][3]float64, out []byte) {
	a, b, t, _ := f.fit(i, was)
	if a < 0 || is[a] == was[a] && is[b] == was[b] {
		return
	}
	var p [3]float64
	for c := range p {
		p[c] = float64(f.pix[4*i+c]) + (1-t)*(is[a][c]-was[a][c]) + t*(is[b][c]-was[b][c])
	}
	put(out, p)
}
