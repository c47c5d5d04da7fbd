package recolour

import (
	"bytes"
	"sync/atomic"

	"episema/core/colour"
	"episema/core/raster"
)

// Margin is how many pixels around a place decide about it: whoever renders a rectangle reads that much
// more on each side, so that rectangles meet without a seam.
const Margin = 5 * window

// Until gives a plan that stops being applied once done is closed, some rows early.
func (p *Plan) Until(done <-chan struct{}) *Plan {
	q := *p
	q.done = done
	return &q
}

// Adding gives a plan that leaves what is in dst and adds to each pixel a share of what it makes of src, 0..1; where the share is nought it
// does nothing. share is as large as what the plan is applied to.
func (p *Plan) Adding(share []float32) *Plan {
	q := *p
	q.share = share
	return &q
}

// Sparing gives a plan that leaves alone the pixels that are hidden, of which something else will hide whatever it makes. hidden is as
// large as what the plan is applied to; nil hides none.
func (p *Plan) Sparing(hidden []bool) *Plan {
	q := *p
	q.hidden = hidden
	return &q
}

const (
	window = 2  // half size of the neighbourhood that tells inside and outside colours, applied twice
	block  = 32 // pixels are visited in squares of this size; mixed ones alone cost extra
)

// Stats counts what Apply met.
type Stats struct {
	Inside, OutOfGamut, Clipped int64
}

// Apply adds the part's change to dst: src is the picture as it came in, mask the part's share, all of
// one size, which lie in the picture at place; inner is the rectangle to work on. Pixels with no share are not touched. Mixed pixels keep
// their share of the background: only the part's share of them changes, so that no fringe of the old
// colour is left. Parts may be applied to one dst in any order.
func (p *Plan) Apply(src, dst *raster.RGB, mask *raster.Mask, place raster.Place, inner raster.Rect) Stats {
	at := p.look(src, mask, place, inner)
	whole := false
	defer func() { at.leave(whole) }()
	if at.held != nil {
		mask = at.held.mask
	}
	var inside, gamut, clipped atomic.Int64
	rows := (inner.H() + block - 1) / block
	raster.Parallel(rows, func(n int) {
		if closed(p.done) {
			return // nobody waits for it any more
		}
		y0 := inner.Y0 + n*block
		var st Stats
		b := &blockPainter{Plan: p, src: src, dst: dst, mask: mask, known: at, place: place, st: &st}
		for x0 := inner.X0; x0 < inner.X1; x0 += block {
			b.begin(n*((inner.W()+block-1)/block) + (x0-inner.X0)/block)
			b.applyTo(raster.Rect{X0: x0, Y0: y0, X1: min(x0+block, inner.X1), Y1: min(y0+block, inner.Y1)})
		}
		inside.Add(st.Inside)
		gamut.Add(st.OutOfGamut)
		clipped.Add(st.Clipped)
	})
	whole = !closed(p.done)
	return Stats{inside.Load(), gamut.Load(), clipped.Load()}
}

// closed reports whether a channel is; nil is not.
func closed(done <-chan struct{}) bool {
	select {
	case <-done:
		return true
	default:
		return false
	}
}

// applyTo applies the plan to a block.
func (b *blockPainter) applyTo(r raster.Rect) {
	any, mixed := b.shares(r)
	if !any && b.share != nil && b.held != nil {
		any, _ = shares(b.held.whole, r)
	}
	if !any || !b.wanted(b.src.W, r) {
		return
	}
	b.edge, b.near = mixed > 0, nil
	if b.told = b.knownOf(r, mixed); b.told != nil {
		mixed = 0 // few are looked around
	}
	if b.edge && b.kept == nil {
		b.near = newNeighbours(b.src, b.mask, r, mixed)
	}
	for y := r.Y0; y < r.Y1; y++ {
		b.gather(r.X0, r.X1, y)
		if b.run.n == 0 {
			continue
		}
		b.st.Inside += int64(b.run.n)
		b.paint(y)
		if !b.edge && b.share == nil {
			b.putSure(y)
			continue
		}
		for k := range b.run.n {
			b.put(k, y)
		}
	}
}

// shares reports whether a block has any share, and how many pixels of it are mixed.
func (b *blockPainter) shares(r raster.Rect) (any bool, mixed int) {
	if b.kept != nil && b.share == nil {
		return b.kept.shares(b.n)
	}
	return shares(b.mask, r)
}

// blockPainter applies a plan to blocks, one row of pixels after the other.
type blockPainter struct {
	*Plan
	src, dst *raster.RGB
	mask     *raster.Mask
	known
	told  *sighted    // what is known of the block; nil: nothing
	near  *neighbours // nil where no pixel is mixed, or what it would tell is known
	edge  bool        // the block has mixed pixels
	place raster.Place
	st    *Stats

	run run
	xs  [block]int     // of the run's pixels
	fx  [block]float64 // and where that is in the full size
	own lanes          // of mixed ones: what is the part's own in them

	belong [block]float32 // and how much of that has the part's colours
}

// gather makes the run of a piece of a row: of mixed pixels it takes what is the part's own in them.
func (b *blockPainter) gather(x0, x1, y int) {
	b.run.n = 0
	if i := y*b.src.W + x0; !b.edge && b.share == nil && b.hidden == nil && surely(b.mask.Pix[i:i+x1-x0]) {
		b.run.addAll(b.src.Pix[3*i : 3*(i+x1-x0)])
		for k := range b.xs[:b.run.n] {
			b.xs[k] = x0 + k
		}
		return
	}
	for x := x0; x < x1; x++ {
		i := y*b.src.W + x
		m := b.mask.Pix[i]
		if m == 0 && !b.spilled(i) || b.spares(i) {
			continue
		}
		c := b.src.Pix[3*i : 3*i+3 : 3*i+3]
		if m == 0 {
			for k, v := range c {
				b.dst.Pix[3*i+k] += b.share[i] * v // it stays as it is
			}
			continue
		}
		k := b.run.n
		b.xs[k] = x
		if m >= sureIn {
			b.run.add(c[0], c[1], c[2])
			continue
		}
		q := b.rim(x, y, c, m)
		b.belong[k] = q.belongs
		b.own.set(k, q.own[0], q.own[1], q.own[2])
		b.run.add(q.own[0], q.own[1], q.own[2])
	}
}

// surely reports whether all pixels lie wholly in the part.
func surely(shares []uint16) bool {
	for _, v := range shares {
		if v < sureIn {
			return false
		}
	}
	return true
}

// rim tells what is the part's in a mixed pixel.
func (b *blockPainter) rim(x, y int, c []float32, m uint16) (q rim) {
	if b.kept != nil {
		return b.kept.rims[b.nextRim()]
	}
	q.belongs = 1
	if b.told != nil { // of another strictness
		if q.own = b.told.rims[b.nextRim()].own; b.member != nil && !b.codedRims {
			q.belongs = b.belongs(q.own, x, y)
		}
		return q
	}
	if b.codedRims {
		q.own = b.near.solid(x, y, c)
	} else if q.own = b.near.inside(x, y, c, float32(m)/raster.Whole); b.member != nil {
		q.belongs = b.belongs(q.own, x, y)
	}
	if b.making != nil {
		b.making.rims[b.nextRim()] = q
	}
	return q
}

// spares reports whether nothing is done to a pixel.
func (p *Plan) spares(i int) bool {
	return p.share != nil && p.share[i] == 0 || p.hidden != nil && p.hidden[i]
}

// spilled reports whether a share is to be added of a pixel that the mask spilled over on.
func (b *blockPainter) spilled(i int) bool {
	return b.share != nil && b.held != nil && b.held.whole.Pix[i] > 0
}

// paint works out what the run's colours become.
func (b *blockPainter) paint(y int) {
	if b.placed() && !b.codedRims {
		fx := b.fx[:b.run.n]
		for k, x := range b.xs[:b.run.n] {
			fx[k], _ = b.place.Full(x, y)
		}
		if _, fy := b.place.Full(0, y); b.told != nil {
			b.run.steadied(b.Plan, fx, fy)
		} else {
			b.run.place(b.Plan, fx, fy, b.place.Scale())
		}
	}
	b.see()
	b.run.become(b.Plan)
}

// putSure adds the part's change to pixels that lie wholly in it.
func (b *blockPainter) putSure(y int) {
	n := b.run.n
	from, to := 3*y*b.src.W, 3*(y+1)*b.src.W
	src, dst := b.src.Pix[from:to], b.dst.Pix[from:to]
	var left []uint8
	x0 := 0
	if b.held != nil {
		left, x0 = b.held.row(y)
	}
	r, g, bl := b.run.o.of(n)
	first := b.xs[0]
	whole := b.xs[n-1]-first == n-1 && (left == nil || bytes.Equal(left[first-x0:][:n], all255[:n]))
	for k := 0; k < n; {
		if whole {
			at, end := 3*(first+k), 3*(first+n)
			k += put(dst[at:end], src[at:end], r[k:], g[k:], bl[k:])
		}
		for end := min(n, k+8); k < end; k++ {
			x := b.xs[k]
			in, out := src[3*x:3*x+3:3*x+3], dst[3*x:3*x+3:3*x+3]
			cr, cg, cb := r[k]-in[0], g[k]-in[1], bl[k]-in[2]
			if left != nil {
				if v := left[x-x0]; v < 255 {
					k := float32(v) * (1.0 / 255)
					cr, cg, cb = k*cr, k*cg, k*cb
				}
			}
			b.add(out, cr, cg, cb)
		}
	}
}

// all255 is left of a run whose pixels are wholly the part's.
var all255 = [block]uint8(bytes.Repeat([]byte{255}, block))

// add adds to a pixel, which stays in the space.
func (b *blockPainter) add(out []float32, r, g, bl float32) {
	r, g, bl = out[0]+r, out[1]+g, out[2]+bl
	if r < 0 || g < 0 || bl < 0 || r > 1 || g > 1 || bl > 1 {
		r, g, bl = b.mapped(r, g, bl, b.st)
	}
	out[0], out[1], out[2] = r, g, bl
}

// put adds the part's change to a pixel.
func (b *blockPainter) put(k, y int) {
	x := b.xs[k]
	i := y*b.src.W + x
	in, out := b.src.Pix[3*i:3*i+3:3*i+3], b.dst.Pix[3*i:3*i+3:3*i+3]
	if b.share == nil {
		b.change(k, in, out, b.mask.Pix[i], x, y)
		return
	}
	made := [3]float32(in)
	b.change(k, in, made[:], b.mask.Pix[i], x, y)
	for c, v := range made {
		out[c] += b.share[i] * v
	}
}

// change adds the part's change to a pixel, out: in is the pixel as it came in, m the part's share in it.
func (b *blockPainter) change(k int, in, out []float32, m uint16, x, y int) {
	p := b.Plan
	r, g, bl := b.run.o.at(k)
	var cr, cg, cb float32 // the change
	switch {
	case m >= sureIn:
		cr, cg, cb = r-in[0], g-in[1], bl-in[2]
		if b.held != nil {
			k := b.held.of(x, y)
			cr, cg, cb = k*cr, k*cg, k*cb
		}
	case p.codedRims:
		p.putRim(b.own.pixel(k), [3]float32{r, g, bl}, float32(m)/raster.Whole, out)
		return
	default:
		f := b.own.pixel(k)
		share := float32(m) / raster.Whole * b.belong[k]
		share = canHave(share, f, out)
		cr, cg, cb = share*(r-f[0]), share*(g-f[1]), share*(bl-f[2])
		if max(in[0], in[1], in[2]) > clipFrom {
			lost := lostBeside(share, f, in)
			cr, cg, cb = cr+lost[0], cg+lost[1], cb+lost[2]
		}
		// What is left of the background cannot be darker than nothing.
		cr, cg, cb = max(cr, -out[0]), max(cg, -out[1]), max(cb, -out[2])
	}
	b.add(out, cr, cg, cb)
}

// canHave returns the share that a pixel can have of a part's own light there, own, of at most share: what has less of a colour than its mask
// says has less of the part in it, or a darker place of it. Channels in which the part has little say nothing.
func canHave(share float32, own [3]float32, pixel []float32) float32 {
	little := 0.3 * max(own[0], own[1], own[2])
	for c, o := range own {
		if o > little && share*o > pixel[c] {
			share = max(pixel[c]/o, 0)
		}
	}
	return share
}

// lostBeside returns what the camera lost of a light that lies beside a part, or on it, in a mixed pixel, in: a channel that it clipped is
// given as much of that light as the channel with least has. Else a glint over the rim of red paint would be cyan once the red is gone.
func lostBeside(share float32, own [3]float32, in []float32) (lost [3]float32) {
	var beside [3]float32
	for c, o := range own {
		beside[c] = in[c] - share*o
	}
	for c, v := range in {
		if clipped := min((v-clipFrom)/(clipTo-clipFrom), 1); clipped > 0 {
			lost[c] = max(clipped*(min(beside[(c+1)%3], beside[(c+2)%3])-beside[c]), 0)
		}
	}
	return lost
}

// shares reports whether a rectangle of a mask has any share, and how many pixels of it are mixed.
func shares(mask *raster.Mask, r raster.Rect) (any bool, mixed int) {
	for y := r.Y0; y < r.Y1; y++ {
		for _, v := range mask.Pix[y*mask.W+r.X0 : y*mask.W+r.X1] {
			any = any || v != 0
			if v-1 < sureIn-1 { // 0 is no share
				mixed++
			}
		}
	}
	return any, mixed
}

// belongs returns how much of a mixed pixel's own colour is the part's, 0..1. What is the part's own in it is worked out from few pixels and
// looks foreign as soon as that is not quite so: where the part is beside it, that tells.
func (b *blockPainter) belongs(own [3]float32, x, y int) float32 {
	m := b.member
	k := m.of(own[0], own[1], own[2])
	if k < 1 {
		if in, out := b.near.around(x, y); in[3] >= 0.5 && out[3] >= 0.5 {
			k = max(k, m.of(in[0]/in[3], in[1]/in[3], in[2]/in[3]))
		}
	}
	return k
}

// mapped brings a colour back into the space, and counts it.
func (p *Plan) mapped(r, g, b float32, st *Stats) (float32, float32, float32) {
	const e = 0.001
	if r > 1 && g > 1 && b > 1 {
		st.Clipped++
	} else if r < -e || g < -e || b < -e || r > 1+e || g > 1+e || b > 1+e {
		st.OutOfGamut++
	}
	c := p.space.MapToGamut(colour.RGB{float64(r), float64(g), float64(b)})
	return float32(c[0]), float32(c[1]), float32(c[2])
}

// wanted tells whether anything is to be added to any pixel of a block.
func (p *Plan) wanted(w int, r raster.Rect) bool {
	if p.share == nil && p.hidden == nil {
		return true
	}
	for y := r.Y0; y < r.Y1; y++ {
		for i := y*w + r.X0; i < y*w+r.X1; i++ {
			if !p.spares(i) {
				return true
			}
		}
	}
	return false
}

const (
	sureIn  = raster.Whole * 98 / 100
	sureOut = raster.Whole * 2 / 100
)

// neighbours tells the mean colours surely inside and surely outside around a pixel. Near pixels count more: a tent, which is a box twice.
// Light is summed in whole numbers, so that a pixel becomes the same in whatever rectangle it is painted.
type neighbours struct {
	pic     *raster.RGB
	mask    *raster.Mask
	r       raster.Rect // of the planes
	in, out [4][]int32  // nothing until it is quicker to sum up than to look around once more
	looks   int         // how often that was done
}

// sumUnit is how many parts light is summed in; a tent weighs 625 times.
const sumUnit = 1 << 20

func summed(v float32) int32 { return int32(max(-3, min(3, v)) * sumUnit) }

// fewLooks is up to how many pixels of a block it is quicker to look around each of them than to sum up all of the block.
const fewLooks = 300

// newNeighbours returns those of a block, of which so many pixels are mixed.
func newNeighbours(pic *raster.RGB, mask *raster.Mask, r raster.Rect, mixed int) *neighbours {
	n := &neighbours{pic: pic, mask: mask, r: r.Grow(Margin).And(raster.Rect{X1: pic.W, Y1: pic.H})}
	if mixed > fewLooks {
		n.sumUp()
	}
	return n
}

func (n *neighbours) sumUp() {
	pic, mask, r := n.pic, n.mask, n.r
	w, h := r.W(), r.H()
	all := make([]int32, 8*w*h)
	for c := range n.in {
		n.in[c], n.out[c] = all[2*c*w*h:(2*c+1)*w*h], all[(2*c+1)*w*h:(2*c+2)*w*h]
	}
	for y := range h {
		for x := range w {
			i := (y+r.Y0)*pic.W + x + r.X0
			m := mask.Pix[i]
			to := &n.in
			if m <= sureOut {
				to = &n.out
			} else if m < sureIn {
				continue
			}
			j := y*w + x
			for c := range 3 {
				to[c][j] = summed(pic.Pix[3*i+c])
			}
			to[3][j] = 1
		}
	}
	for range 2 {
		for c := range n.in {
			raster.BoxSum(n.in[c], w, h, window)
			raster.BoxSum(n.out[c], w, h, window)
		}
	}
}

// around returns the sums of the colours surely inside and surely outside near a pixel, and of what they count for.
func (n *neighbours) around(x, y int) (in, out [4]float32) {
	if n.looks++; n.looks > fewLooks && n.in[0] == nil {
		n.sumUp()
	}
	if n.in[0] != nil {
		i := (y-n.r.Y0)*n.r.W() + x - n.r.X0
		for c := range in {
			in[c], out[c] = float32(n.in[c][i]), float32(n.out[c][i])
		}
		return unsummed(in), unsummed(out)
	}
	// How often a box around a pixel of the picture holds both.
	both := func(a, b, n int) int32 { return int32(min(a+window, b+window, n-1) - max(a-window, b-window, 0) + 1) }
	var si, so [4]int32
	x0, x1 := max(0, x-reach), min(n.pic.W-1, x+reach)
	for yy := max(0, y-reach); yy <= min(n.pic.H-1, y+reach); yy++ {
		k := both(y, yy, n.pic.H)
		row := yy * n.pic.W
		for xx := x0; xx <= x1; xx++ {
			m := n.mask.Pix[row+xx]
			if m > sureOut && m < sureIn {
				continue
			}
			k := k * both(x, xx, n.pic.W)
			px := n.pic.Pix[3*(row+xx) : 3*(row+xx)+3 : 3*(row+xx)+3]
			to := &si
			if m <= sureOut {
				to = &so
			}
			to[0], to[1], to[2], to[3] = to[0]+k*summed(px[0]), to[1]+k*summed(px[1]), to[2]+k*summed(px[2]), to[3]+k
		}
	}
	for c := range in {
		in[c], out[c] = float32(si[c]), float32(so[c])
	}
	return unsummed(in), unsummed(out)
}

// unsummed returns sums of light with what they count for.
func unsummed(s [4]float32) [4]float32 {
	return [4]float32{s[0] * (1.0 / sumUnit), s[1] * (1.0 / sumUnit), s[2] * (1.0 / sumUnit), s[3]}
}

// reach is how far what is around a pixel goes.
const reach = 2 * window

// putRim changes a mixed pixel of a drawing: the part's share of its coded values. solid is the part's colour, and made what that becomes.
func (p *Plan) putRim(solid, made [3]float32, a float32, out []float32) {
	c := p.space.MapToGamut(colour.RGB{float64(made[0]), float64(made[1]), float64(made[2])})
	for k := range 3 {
		v := colour.Coded32(out[k]) + a*(colour.Coded32(float32(c[k]))-colour.Coded32(solid[k]))
		out[k] = colour.Light32(max(0, min(1, v)))
	}
}

// solid gives the colour of the part next to a pixel: of a drawing's it is even.
func (n *neighbours) solid(x, y int, px []float32) [3]float32 {
	if in, _ := n.around(x, y); in[3] >= 0.5 {
		return [3]float32{in[0] / in[3], in[1] / in[3], in[2] / in[3]}
	}
	return [3]float32(px[:3])
}

// inside gives the part's own light in a pixel of which it has the share a.
func (n *neighbours) inside(x, y int, px []float32, a float32) [3]float32 {
	in, out := n.around(x, y)
	var f [3]float32
	nf, nb := in[3], out[3]
	if nf < 0.5 {
		// A thin thing: no pixel near lies wholly in it.
		for c := range f {
			f[c] = px[c]
			if nb >= 0.5 {
				f[c] = max(0, (px[c]-(1-a)*out[c]/nb)/a)
			}
		}
		return f
	}
	for c := range f {
		f[c] = in[c] / nf
	}
	if nb >= 0.5 {
		k := a * a
		for c := range f {
			own := max(0, (px[c]-(1-a)*out[c]/nb)/a)
			own = min(own, 2*f[c]+0.02)
			f[c] += k * (own - f[c])
		}
	}
	return f
}
