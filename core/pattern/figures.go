package pattern

import (
	"errors"
	"slices"

	"episema/core/colour"
	"episema/core/raster"
)

// Figures are what a picture is taken apart into to be a tile: a ground, and the colours on it.
type Figures struct {
	Mask    *raster.Mask // how much each figure covers, one below the other; half as wide and high as the picture
	Colours []colour.Lab // of the figures, the one with the largest share first
	Ground  *colour.Lab  // nil: the picture is transparent there
}

const (
	apartLeast  = 0.07 // in Oklab, that two colours of a tile are different by
	sureWithin  = 0.05 // of its colour, that a pixel surely has it
	solidWithin = 6    // coded steps from its neighbours, that a pixel is none of a rim
	leastShare  = 0.002
	fillRounds  = 12
)

// errNoFigures is returned for a picture of one colour.
var errNoFigures = errors.New("the picture has one colour alone; a tile has figures on a ground")

// TakeApart finds the figures of a picture: its ground is what covers most of it, or what is transparent, and the most common other
// colours are its figures. pix is 8 bit sRGB RGBA with straight alpha, w x h. Rims, where two colours are mixed, belong to both by share.
// Once done is closed it ends by a panic that raster.Recover takes.
func TakeApart(pix []byte, w, h int, done raster.Done) (*Figures, error) {
	if w < 2 || h < 2 || len(pix) != 4*w*h {
		return nil, errors.New("a tile has at least 2 x 2 pixels")
	}
	centres, clear := tileColours(pix, w, h, done)
	label := labelled(pix, w, h, centres, done)
	count := make([]int, len(centres)+1) // the last is what is transparent
	for _, l := range label {
		count[l]++
	}
	ground := 0
	for i, n := range count {
		if n > count[ground] {
			ground = i
		}
	}
	if clear {
		ground = len(centres)
	}
	var order []int
	for i := range centres {
		if i != ground && float64(count[i]) >= leastShare*float64(w*h) {
			order = append(order, i)
		}
	}
	slices.SortFunc(order, func(a, b int) int { return count[b] - count[a] })
	order = order[:min(len(order), MostColours)]
	if len(order) == 0 {
		return nil, errNoFigures
	}
	hw, hh := w/2, h/2
	f := &Figures{Mask: raster.NewMask(hw, hh*len(order))}
	lab := func(o colour.Oklab) colour.Lab {
		return colour.SRGB.Lab(colour.SRGB.MapToGamut(colour.SRGB.FromOklab(o)))
	}
	for k, l := range order {
		f.Colours = append(f.Colours, lab(centres[l]))
		for y := range hh {
			for x := range hw {
				n := 0
				for _, i := range [4]int{2*y*w + 2*x, 2*y*w + 2*x + 1, (2*y+1)*w + 2*x, (2*y+1)*w + 2*x + 1} {
					if int(label[i]) == l {
						n++
					}
				}
				f.Mask.Pix[(k*hh+y)*hw+x] = uint16(n * raster.Whole / 4)
			}
		}
	}
	if ground < len(centres) {
		g := lab(centres[ground])
		f.Ground = &g
	}
	return f, nil
}

// tileColours returns the most common colours that are apart from each other, one more than a pattern has, and whether a good part
// of the picture is transparent.
func tileColours(pix []byte, w, h int, done raster.Done) (centres []colour.Oklab, clear bool) {
	type bin struct {
		sum [3]float64
		n   float64
	}
	gather := func(solid bool) (map[uint16]*bin, int) {
		bins, n := map[uint16]*bin{}, 0
		for y := range h {
			done.Check()
			for x := range w {
				p := pix[4*(y*w+x):]
				if p[3] < 128 || solid && (rimmed(pix, w, h, x, y, 1, 0) || rimmed(pix, w, h, x, y, 0, 1)) {
					continue
				}
				k := uint16(p[0]>>3)<<10 | uint16(p[1]>>3)<<5 | uint16(p[2]>>3)
				b := bins[k]
				if b == nil {
					b = &bin{}
					bins[k] = b
				}
				for c := range 3 {
					b.sum[c] += float64(colour.Light8[p[c]])
				}
				b.n++
				n++
			}
		}
		return bins, n
	}
	bins, n := gather(true)
	if 20*n < w*h {
		bins, n = gather(false) // a photo, or a drawing of hairlines
	}
	gone := 0
	for i := 3; i < len(pix); i += 4 {
		if pix[i] < 128 {
			gone++
		}
	}
	clear = gone > w*h/5
	list := make([]*bin, 0, len(bins))
	for _, b := range bins {
		list = append(list, b)
	}
	slices.SortFunc(list, func(a, b *bin) int {
		if a.n != b.n {
			return int(b.n - a.n)
		}
		return slices.Compare(a.sum[:], b.sum[:])
	})
	ok := func(b *bin) colour.Oklab {
		return colour.SRGB.Oklab(colour.RGB{b.sum[0] / b.n, b.sum[1] / b.n, b.sum[2] / b.n})
	}
	for _, b := range list {
		// The first two count however little they are: of noise no colour is much.
		if len(centres) > MostColours || len(centres) > 1 && b.n < leastShare*float64(n) {
			break
		}
		c := ok(b)
		if !slices.ContainsFunc(centres, func(o colour.Oklab) bool { return far(c, o) < apartLeast*apartLeast }) {
			centres = append(centres, c)
		}
	}
	return centres, clear
}

// rimmed reports whether a pixel differs from its neighbour.
func rimmed(pix []byte, w, h, x, y, dx, dy int) bool {
	if x+dx >= w || y+dy >= h {
		return false
	}
	a, b := pix[4*(y*w+x):], pix[4*((y+dy)*w+x+dx):]
	for c := range 4 {
		if d := int(a[c]) - int(b[c]); d > solidWithin || d < -solidWithin {
			return true
		}
	}
	return false
}

// labelled gives each pixel the number of its colour; what is transparent has the one after the last. A pixel that surely has none is
// of a rim, and goes to that of its neighbours' colours that is nearest to its own.
func labelled(pix []byte, w, h int, list []colour.Oklab, done raster.Done) []uint8 {
	const open = 255
	label := make([]uint8, w*h)
	centres := make([][3]float32, len(list))
	for i, c := range list {
		centres[i] = [3]float32{float32(c[0]), float32(c[1]), float32(c[2])}
	}
	near := func(o [3]float32, among func(l uint8) bool) (uint8, float32) {
		best, at := float32(1e9), uint8(open)
		for i, c := range centres {
			if d := far(o, c); d < best && among(uint8(i)) {
				best, at = d, uint8(i)
			}
		}
		return at, best
	}
	any := func(uint8) bool { return true }
	of := oklabs(pix, done)
	left := 0
	for i := range label {
		if i%w == 0 {
			done.Check()
		}
		if pix[4*i+3] < 128 {
			label[i] = uint8(len(centres))
			continue
		}
		l, d := near(of[i], any)
		if label[i] = l; d > sureWithin*sureWithin || mixed(pix, w, h, i, of) {
			label[i] = open
			left++
		}
	}
	for round := 0; left > 0 && round < fillRounds; round++ {
		next := slices.Clone(label)
		left = 0
		for y := range h {
			done.Check()
			for x := range w {
				i := y*w + x
				if label[i] != open {
					continue
				}
				var has [256]bool
				for j := max(0, y-1); j <= min(h-1, y+1); j++ {
					for k := max(0, x-1); k <= min(w-1, x+1); k++ {
						has[label[j*w+k]] = true
					}
				}
				if l, _ := near(of[i], func(l uint8) bool { return has[l] }); l != open {
					next[i] = l
				} else {
					left++
				}
			}
		}
		label = next
	}
	for i, l := range label {
		if l == open {
			label[i], _ = near(of[i], any)
		}
	}
	return label
}

// mixed reports whether a pixel lies between two others, of other colours, as their mix: then it is of their rim, whatever third colour
// it may look like. of has each pixel's colour in Oklab.
func mixed(pix []byte, w, h, i int, of [][3]float32) bool {
	const apart, aside = 2 * apartLeast, 0.03
	x, y := i%w, i/w
	for _, d := range [4][2]int{{2, 0}, {0, 2}, {2, 2}, {2, -2}} {
		ax, ay, bx, by := x-d[0], y-d[1], x+d[0], y+d[1]
		if min(ax, ay, bx, by) < 0 || max(ax, bx) >= w || max(ay, by) >= h {
			continue
		}
		j, k := ay*w+ax, by*w+bx
		if pix[4*j+3] < 128 || pix[4*k+3] < 128 || [3]byte(pix[4*j:4*j+3]) == [3]byte(pix[4*k:4*k+3]) {
			continue
		}
		a, b, c := of[j], of[k], of[i]
		wide := far(a, b)
		if wide < apart*apart {
			continue
		}
		t := float32(0)
		for q := range a {
			t += (c[q] - a[q]) * (b[q] - a[q]) / wide
		}
		if t < 0.1 || t > 0.9 {
			continue
		}
		off := float32(0)
		for q := range a {
			e := c[q] - a[q] - t*(b[q]-a[q])
			off += e * e
		}
		if off < aside*aside {
			return true
		}
	}
	return false
}

// oklabs returns the colour of each pixel in Oklab.
func oklabs(pix []byte, done raster.Done) [][3]float32 {
	fast := colour.NewFast(colour.SRGB)
	out := make([][3]float32, len(pix)/4)
	const strip = 1 << 14
	done.Parallel((len(out)+strip-1)/strip, func(n int) {
		for i := n * strip; i < min(len(out), (n+1)*strip); i++ {
			p := pix[4*i:]
			out[i][0], out[i][1], out[i][2] = fast.Oklab(colour.Light8[p[0]], colour.Light8[p[1]], colour.Light8[p[2]])
		}
	})
	return out
}

func far[T float32 | float64](a, b [3]T) T {
	var d T
	for k := range a {
		d += (a[k] - b[k]) * (a[k] - b[k])
	}
	return d
}
