package colour

import "fmt"

// InkTable says for every sRGB colour what it looks like printed in some inks, and how far the inks miss it. It holds a grid over the
// coded cube; between its points it is linear in the tetrahedron around a colour (Sakamoto's interpolation, as ICC engines do it).
type InkTable struct {
	n    int
	at   []float32 // n*n*n entries of inkEntry values; red runs slowest
	step [3]int
}

// What an entry of a table holds: the colour on the screen's white, the colour on the paper's, and what is missed.
const inkEntry = 7

// InkMissed is the CIEDE2000 from which on a colour counts as one that the inks cannot reach: what brands take for the same
// (common practice lies between 2 and 3).
const InkMissed = 2

// NewInkTable makes a table of n points a side. seen and onPaper have coded sRGB (0..1) for each point, red slowest and blue
// fastest; missed has CIEDE2000.
func NewInkTable(n int, seen, onPaper [][3]float32, missed []float32) (*InkTable, error) {
	all := n * n * n
	if n < 2 || n > 65 || len(seen) != all || len(onPaper) != all || len(missed) != all {
		return nil, fmt.Errorf("an ink table of %d points a side needs %d entries; here are %d, %d and %d", n, all, len(seen), len(onPaper), len(missed))
	}
	t := &InkTable{n: n, at: make([]float32, inkEntry*all), step: [3]int{inkEntry * n * n, inkEntry * n, inkEntry}}
	for i := range all {
		e := t.at[inkEntry*i:]
		copy(e, seen[i][:])
		copy(e[3:], onPaper[i][:])
		e[6] = missed[i]
	}
	return t, nil
}

// Bytes returns what the table takes in memory.
func (t *InkTable) Bytes() int { return 4 * len(t.at) }

// find returns the place of the cell's lower corner, the steps to its other corners in the order of the fractions, and the weights
// of the four corners.
func (t *InkTable) find(r, g, b float32) (at, first, second int, w [4]float32) {
	var f [3]float32
	for k, v := range [3]float32{r, g, b} {
		v = max(0, min(1, v)) * float32(t.n-1)
		i := min(t.n-2, int(v))
		f[k] = v - float32(i)
		at += i * t.step[k]
	}
	a, m, z := 0, 1, 2 // the axes, the largest fraction first
	if f[a] < f[m] {
		a, m = m, a
	}
	if f[m] < f[z] {
		m, z = z, m
	}
	if f[a] < f[m] {
		a, m = m, a
	}
	return at, t.step[a], t.step[a] + t.step[m], [4]float32{1 - f[a], f[a] - f[m], f[m] - f[z], f[z]}
}

func (t *InkTable) mix(at, first, second, value int, w [4]float32) float32 {
	last := at + t.step[0] + t.step[1] + t.step[2] + value
	return w[0]*t.at[at+value] + w[1]*t.at[at+first+value] + w[2]*t.at[at+second+value] + w[3]*t.at[last]
}

// See returns what a coded sRGB colour looks like in ink: with the paper's white as the screen's, or as the paper has it.
func (t *InkTable) See(c RGB, onPaper bool) RGB {
	at, first, second, w := t.find(float32(c[0]), float32(c[1]), float32(c[2]))
	from := 0
	if onPaper {
		from = 3
	}
	var o RGB
	for k := range o {
		o[k] = float64(t.mix(at, first, second, from+k, w))
	}
	return o
}

// Missed returns how far the nearest that the inks reach is from a coded sRGB colour, in CIEDE2000; the inks' black is taken for
// black.
func (t *InkTable) Missed(c RGB) float64 {
	at, first, second, w := t.find(float32(c[0]), float32(c[1]), float32(c[2]))
	return float64(t.mix(at, first, second, 6, w))
}

// Show turns rows of 8 bit sRGB RGBA, width pixels each, to what they look like in ink. With mark, what the inks cannot reach is
// dotted in black and white, on a grid that starts at row y of the view.
func (t *InkTable) Show(rgba []byte, width, y int, onPaper, mark bool) {
	from := 0
	if onPaper {
		from = 3
	}
	for i := 0; i < len(rgba)/4; i++ {
		px := rgba[4*i : 4*i+4 : 4*i+4]
		at, first, second, w := t.find(float32(px[0])/255, float32(px[1])/255, float32(px[2])/255)
		if mark {
			if dx, dy := (i%width)%6, (y+i/width)%6; dx < 2 && dy < 2 && t.mix(at, first, second, 6, w) > InkMissed {
				v := byte(255 * (dx ^ dy&1))
				px[0], px[1], px[2] = v, v, v
				continue
			}
		}
		for k := range 3 {
			px[k] = byte(255*max(0, min(1, t.mix(at, first, second, from+k, w))) + 0.5)
		}
	}
}
