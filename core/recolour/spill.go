package recolour

import (
	"sync/atomic"

	"episema/core/raster"
)

const (
	spillNear  = 3    // so near to what is not the part's, a pixel may be mixed with it
	spillFew   = 4    // so many sure pixels of a side say which colour that has
	spillLeast = 0.02 // of linear light: colours that are no further apart cannot be told in a mixture
	spillTold  = 0.8  // a share that the mask gives itself is believed, but for one that is so much less
	spillOff   = 0.25 // so far beside the line between both colours, over its length, a pixel is no mixture of them

	surelyOwn     = 230 // of 255 that are the part's
	surelyForeign = 26
)

// held is a part's mask and how much of each pixel has the part's colours, for a rectangle.
type held struct {
	mask  *raster.Mask
	whole *raster.Mask // as it came
	r     raster.Rect  // of own and left
	own   []uint8      // of 255; 0 outside of the mask
	left  []uint8      // own, but where that is in the mask's share
	lit   float32      // linear light of the part's lit places
}

// of gives how much of a pixel's colour is the part's: 1 all, 0 none.
func (h *held) of(x, y int) float32 {
	return float32(h.left[(y-h.r.Y0)*h.r.W()+x-h.r.X0]) * (1.0 / 255)
}

// row gives what of has of a row of pixels, of 255, and where the row begins.
func (h *held) row(y int) (left []uint8, x0 int) {
	w := h.r.W()
	return h.left[(y-h.r.Y0)*w : (y-h.r.Y0+1)*w], h.r.X0
}

// heldIn returns what of a picture is looked at for a rectangle of it.
func heldIn(inner raster.Rect, mask *raster.Mask) raster.Rect {
	return inner.Grow(Margin).And(raster.Rect{X1: mask.W, Y1: mask.H})
}

// hold looks at what has the part's colours, as far as that is needed for a rectangle. Where the mask spilled over, its share goes
// down to nothing. The pixels between the part and what the mask spilled over on are mixtures of both, as at any edge, though beside a dark part
// a bright thing's look like the part well lit; how much of them is the part's follows from the colours on both sides. odds are those of the
// pixels of heldIn, where somebody knows them; nil where nobody does. It ends early once done is closed.
func (m *member) hold(src *raster.RGB, mask *raster.Mask, inner raster.Rect, odds []float32, done <-chan struct{}) *held {
	r := heldIn(inner, mask)
	w, h := r.W(), r.H()
	t := &held{mask: mask, whole: mask, r: r, own: make([]uint8, w*h), lit: m.lit}
	cols, rows := (w+block-1)/block, (h+block-1)/block
	foreign := make([]raster.Rect, cols*rows) // where a block's mask has foreign pixels, or what may be a glint
	var any atomic.Bool
	raster.Parallel(rows, func(by int) {
		if closed(done) {
			return
		}
		for y := by * block; y < min(h, (by+1)*block); y++ {
			from := (y+r.Y0)*mask.W + r.X0
			shares, own, px := mask.Pix[from:from+w], t.own[y*w:(y+1)*w], src.Pix[3*from:3*(from+w)]
			for x, share := range shares {
				if share <= sureOut {
					continue
				}
				c := px[3*x : 3*x+3 : 3*x+3]
				var k uint8
				if odds != nil {
					k = uint8(255 * m.share(odds[y*w+x]))
				} else {
					k = uint8(255 * m.of(c[0], c[1], c[2]))
				}
				if own[x] = k; k < surelyForeign || k < 255 && luma(c[0], c[1], c[2]) > t.lit {
					f := &foreign[by*cols+x/block]
					*f = f.Or(raster.Rect{X0: x, Y0: y, X1: x + 1, Y1: y + 1})
				}
			}
		}
		for _, f := range foreign[by*cols : (by+1)*cols] {
			if !f.Empty() {
				any.Store(true)
			}
		}
	})
	t.left = t.own
	if !any.Load() {
		return t
	}
	t.left = append([]uint8(nil), t.own...)
	t.mask = &raster.Mask{W: mask.W, H: mask.H, Pix: append([]uint16(nil), mask.Pix...)}
	raster.Parallel(rows, func(by int) {
		if closed(done) {
			return
		}
		var s spill
		for bx := range cols {
			here := raster.Rect{X0: bx * block, Y0: by * block, X1: min(w, (bx+1)*block), Y1: min(h, (by+1)*block)}
			var near raster.Rect
			for y := max(0, by-1); y <= min(rows-1, by+1); y++ {
				for x := max(0, bx-1); x <= min(cols-1, bx+1); x++ {
					if f := foreign[y*cols+x]; !f.Empty() {
						near = near.Or(f.Grow(spillNear).And(here))
					}
				}
			}
			if !near.Empty() {
				s.part(t, src, near)
			}
		}
	})
	return t
}

// spill parts a block's pixels between the part and what its mask spilled over on.
type spill struct {
	kind [(block + 2*spillNear) * (block + 2*spillNear)]uint8
	row  [(block + 2*spillNear) * (block + 2*spillNear)]uint8 // which kinds there are beside
}

// part sets the share of some of a block's pixels, a rectangle of held.own.
func (s *spill) part(t *held, src *raster.RGB, r raster.Rect) {
	g := r.Grow(spillNear).And(raster.Rect{X1: t.r.W(), Y1: t.r.H()})
	s.look(t, g)
	for y := r.Y0; y < r.Y1; y++ {
		for x := r.X0; x < r.X1; x++ {
			if t.mask.Pix[(y+t.r.Y0)*t.mask.W+x+t.r.X0] > sureOut {
				s.decide(t, src, g, x, y)
			}
		}
	}
}

// look tells the kinds of pixels.
func (s *spill) look(t *held, g raster.Rect) {
	w := g.W()
	for y := g.Y0; y < g.Y1; y++ {
		for x := g.X0; x < g.X1; x++ {
			s.kind[(y-g.Y0)*w+x-g.X0] = t.kind(x, y)
		}
	}
	for y := range g.H() {
		line := s.kind[y*w : (y+1)*w]
		for x := range line {
			var k uint8
			for _, v := range line[max(0, x-spillNear):min(w, x+spillNear+1)] {
				k |= v
			}
			s.row[y*w+x] = k
		}
	}
}

// decide sets a pixel's share.
func (s *spill) decide(t *held, src *raster.RGB, g raster.Rect, x, y int) {
	i := (y+t.r.Y0)*t.mask.W + x + t.r.X0
	j := y*t.r.W() + x
	var around uint8
	for yy := max(g.Y0, y-spillNear); yy < min(g.Y1, y+spillNear+1); yy++ {
		around |= s.row[(yy-g.Y0)*g.W()+x-g.X0]
	}
	kind := s.kind[(y-g.Y0)*g.W()+x-g.X0]
	switch {
	case around&thick == 0 && luma(src.Pix[3*i], src.Pix[3*i+1], src.Pix[3*i+2]) > t.lit:
		t.left[j] = 255 // a glint
		return
	case kind&sureForeign != 0 && around&deepInMask != 0:
		t.mask.Pix[i] = 0
		return
	case around&spilledOn == 0:
		return
	}
	if _, any := t.wholly(x, y); !any && t.mask.Pix[i] < sureIn {
		return // what is soft over some pixels was given its shares on purpose
	}
	a, told := s.share(t, src, g, x, y)
	if !told {
		if kind&sureForeign != 0 && t.mask.Pix[i] < sureIn {
			t.mask.Pix[i] = 0 // the mask's edge, but no edge of the part
		}
		return
	}
	t.left[j] = 255
	if a, m := uint16(a*raster.Whole), t.mask.Pix[i]; m >= sureIn || float32(a) < spillTold*float32(m) {
		t.mask.Pix[i] = min(m, a)
	}
}

// Kinds of pixels.
const (
	sureOwn     = 1 << iota // the part's, and so are all around it
	sureForeign             // not the part's, and so are all around it
	thick                   // neither it nor what is two pixels away is surely the part's
	spilledOn               // the mask's, but not the part's
	deepInMask              // that and sureForeign, and further from the mask's edge than what is mixed there or than a thing's rim mirrors
)

func (t *held) kind(x, y int) (kind uint8) {
	k := t.own[y*t.r.W()+x]
	if k > surelyOwn {
		if t.allAround(x, y, 1, surelyOwn+1, 255) {
			return sureOwn
		}
		return 0
	}
	if t.allAround(x, y, 2, 0, surelyOwn) {
		kind = thick
	}
	if k >= surelyForeign {
		return kind
	}
	if t.whole.Pix[(y+t.r.Y0)*t.whole.W+x+t.r.X0] > sureOut {
		kind |= spilledOn
	}
	if !t.allAround(x, y, 1, 0, surelyForeign-1) {
		return kind
	}
	if all, _ := t.wholly(x, y); all && kind&spilledOn != 0 {
		kind |= deepInMask
	}
	return kind | sureForeign
}

// allAround reports whether of all pixels so near, between least and most is the part's.
func (t *held) allAround(x, y, near int, least, most uint8) bool {
	w, h := t.r.W(), t.r.H()
	for yy := max(0, y-near); yy <= min(h-1, y+near); yy++ {
		for _, k := range t.own[yy*w+max(0, x-near) : yy*w+min(w, x+near+1)] {
			if k < least || k > most {
				return false
			}
		}
	}
	return true
}

// wholly reports whether all pixels around one lie wholly in the mask, and whether any does.
func (t *held) wholly(x, y int) (all, any bool) {
	m := t.whole
	x, y = x+t.r.X0, y+t.r.Y0
	all = true
	for yy := max(0, y-1); yy <= min(m.H-1, y+1); yy++ {
		for _, v := range m.Pix[yy*m.W+max(0, x-1) : yy*m.W+min(m.W, x+2)] {
			all, any = all && v >= sureIn, any || v >= sureIn
		}
	}
	return all, any
}

// share tells how much of a pixel is the part's, from the colours of what surely is and surely is not around it.
func (s *spill) share(t *held, src *raster.RGB, g raster.Rect, x, y int) (float32, bool) {
	var sum [sureForeign + 1][4]float32
	for yy := y - spillNear; yy <= y+spillNear; yy++ {
		for xx := x - spillNear; xx <= x+spillNear; xx++ {
			if yy < g.Y0 || yy >= g.Y1 || xx < g.X0 || xx >= g.X1 {
				continue
			}
			kind := s.kind[(yy-g.Y0)*g.W()+xx-g.X0]
			if kind&(spilledOn|deepInMask) == spilledOn {
				continue // it may be a mixture itself
			}
			to := &sum[kind&(sureOwn|sureForeign)]
			i := 3 * ((yy+t.r.Y0)*src.W + xx + t.r.X0)
			to[0], to[1], to[2], to[3] = to[0]+src.Pix[i], to[1]+src.Pix[i+1], to[2]+src.Pix[i+2], to[3]+1
		}
	}
	f, b := sum[sureOwn], sum[sureForeign]
	if f[3] < spillFew || b[3] < spillFew {
		return 0, false
	}
	i := 3 * ((y+t.r.Y0)*src.W + x + t.r.X0)
	var dot, line, all float32
	for c := range 3 {
		l, p := f[c]/f[3]-b[c]/b[3], src.Pix[i+c]-b[c]/b[3]
		dot, line, all = dot+p*l, line+l*l, all+p*p
	}
	if line < spillLeast*spillLeast {
		return 0, false
	}
	a := dot / line
	if all-a*dot > spillOff*spillOff*line {
		return 0, false
	}
	return unit(1.08*a - 0.04), true // what is nearly all or nothing is so: noise is no share
}
