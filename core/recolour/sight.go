package recolour

import (
	"slices"
	"sync"

	"episema/core/raster"
)

// Sight keeps what plans find out about the pixels of one rectangle of a part, whatever colour these shall become: what is the part's in each,
// and the body's light and the sheen there. While a hand moves a colour, that stays. It may be given to plans of the same part of the same picture
// one after the other and at once, as long as the picture's pixels and the mask are the same; whatever else matters it looks at itself.
type Sight struct {
	room *Room
	mu   sync.Mutex
	was  sightKey // of who looked last
	kept *sighted // nil: nothing is kept
	used bool     // by anybody but who made it
	busy bool     // somebody finds out about another
}

// NewSight returns a sight that keeps nothing yet. What it keeps takes of the room.
func NewSight(room *Room) *Sight { return &Sight{room: room} }

// Room is how many bytes several sights may keep together.
type Room struct {
	mu   sync.Mutex
	left int
}

// NewRoom returns room for so many bytes.
func NewRoom(bytes int) *Room { return &Room{left: bytes} }

func (r *Room) take(bytes int) bool {
	r.mu.Lock()
	defer r.mu.Unlock()
	if bytes > r.left {
		return false
	}
	r.left -= bytes
	return true
}

// Seeing gives a plan that finds in a sight what others found out about the same pixels, or leaves there what it finds out itself. It makes the
// same of every pixel.
func (p *Plan) Seeing(s *Sight) *Plan {
	q := *p
	q.sight = s
	return &q
}

// sightKey is all that a sight depends on, but for the picture and the mask.
type sightKey struct {
	own, veil     [3]float32
	white, mirror basis
	glare         float32
	film          *film
	member        *member
	large         *lightField
	body          *float32 // its light
	weight        float32  // and how much that counts
	coded         bool
	share         *float32 // of Adding; its values stay
	hidden        *bool    // of Sparing
	place         raster.Place
	inner         raster.Rect
	w, h          int
}

// sightKey returns what others must have in common with a plan to see the same; not ok where the plan sees in a way of its own.
func (p *Plan) sightKey(src *raster.RGB, place raster.Place, inner raster.Rect) (k sightKey, ok bool) {
	if p.first != nil || p.other != nil || p.rebuilt != nil {
		return k, false
	}
	k = sightKey{own: p.own, veil: p.veil, white: p.white, mirror: p.mirror, glare: p.glare, film: p.film, member: p.member, coded: p.codedRims,
		place: place, inner: inner, w: src.W, h: src.H}
	if p.looksAround() {
		k.large = p.large
	}
	if p.body != nil {
		k.body, k.weight = &p.body.light[0], p.body.weight
	}
	if len(p.share) > 0 {
		k.share = &p.share[0]
	}
	if len(p.hidden) > 0 {
		k.hidden = &p.hidden[0]
	}
	return k, true
}

// sighted is what was found out about a rectangle's pixels. They are kept in the order in which Apply comes to them, a run after the other.
type sighted struct {
	key   sightKey
	held  *held // nil: the whole mask is the part's
	bytes int

	finding sync.Mutex
	odds    []float32 // of all pixels that hold looks at, found out by who asks for another strictness first; nil: nobody did, or there is no room

	tinted bool // sheen has a colour of its own
	all    []float32
	at     []int // in all, where each block begins, and the end
	rims   []rim
	rimsAt []int // in rims
}

// rim is what is the part's own in a mixed pixel, and how much of that has the part's colours.
type rim struct {
	own     [3]float32
	belongs float32
}

// alike reports whether two differ in nothing but how strictly what does not have the part's colours is held back.
func (k sightKey) alike(o sightKey) bool {
	k.member, o.member = nil, nil
	return k == o
}

// find returns what is kept of the key's pixels; like, where it is of a key that is alike. Where nothing is, keep says whether what is found out now
// shall be kept, and left by leave: not where what was kept last was of no use to anybody and this is asked for the first time, and not while
// somebody tries how strict to be.
func (s *Sight) find(key sightKey) (kept, like *sighted, keep bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	last := s.was
	s.was = key
	if s.kept != nil && s.kept.key == key {
		s.used = true
		return s.kept, nil, false
	}
	if s.kept != nil && s.kept.key.alike(key) && key != last {
		return nil, s.kept, false
	}
	if s.busy || s.kept != nil && !s.used && key != last {
		return nil, nil, false
	}
	s.busy = true
	return nil, nil, true
}

// begin returns where to put what is found out, in place of what is kept; nil where there is no room for it. mask is that of the rectangle, without
// what is held back.
func (s *Sight) begin(p *Plan, key sightKey, h *held, mask *raster.Mask) *sighted {
	v := &sighted{key: key, tinted: key.body != nil || key.mirror.most > 0}
	pixels, rims := 0, 0
	for y := key.inner.Y0; y < key.inner.Y1; y += block {
		for x := key.inner.X0; x < key.inner.X1; x += block {
			v.at, v.rimsAt = append(v.at, pixels*v.lanes()), append(v.rimsAt, rims)
			r := raster.Rect{X0: x, Y0: y, X1: x + block, Y1: y + block}.And(key.inner)
			for ; r.Y0 < r.Y1; r.Y0++ {
				for i := r.Y0*mask.W + r.X0; i < r.Y0*mask.W+r.X1; i++ {
					m := mask.Pix[i]
					if m == 0 || p.spares(i) {
						continue
					}
					if pixels++; m < sureIn {
						rims++
					}
				}
			}
		}
	}
	v.at, v.rimsAt = append(v.at, pixels*v.lanes()), append(v.rimsAt, rims)
	v.bytes = 4*pixels*v.lanes() + 16*rims + 16*len(v.at)
	if h != nil {
		v.held = &held{mask: h.mask, whole: h.whole, r: h.r, left: h.left}
		v.bytes += 2*len(h.mask.Pix) + 2*len(h.whole.Pix) + len(h.left)
	}
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.kept != nil {
		s.room.take(-s.kept.bytes)
		s.kept, s.used = nil, false
	}
	if !s.room.take(v.bytes) {
		return nil
	}
	v.all, v.rims = make([]float32, pixels*v.lanes()), make([]rim, rims)
	return v
}

// odds returns how far the colours of the pixels around are the part's, whatever the strictness; nil where there is no room to keep that, or done is closed.
func (s *Sight) odds(v *sighted, m *member, src *raster.RGB, mask *raster.Mask, done <-chan struct{}) []float32 {
	v.finding.Lock()
	defer v.finding.Unlock()
	r := heldIn(v.key.inner, mask)
	w := r.W()
	if v.odds != nil || !s.grows(v, 4*w*r.H()) {
		return v.odds
	}
	odds := make([]float32, w*r.H())
	raster.Parallel(r.H(), func(y int) {
		if closed(done) {
			return
		}
		from := (y+r.Y0)*mask.W + r.X0
		for x, share := range mask.Pix[from : from+w] {
			if share > sureOut {
				c := src.Pix[3*(from+x) : 3*(from+x)+3]
				odds[y*w+x] = m.oddsOf(c[0], c[1], c[2])
			}
		}
	})
	if closed(done) {
		s.grows(v, -4*w*r.H())
		return nil
	}
	v.odds = odds
	return odds
}

// grows reports whether there is room for more of what is kept, and takes it. Less than nothing is given back.
func (s *Sight) grows(v *sighted, bytes int) bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.kept != v || !s.room.take(bytes) {
		return false
	}
	v.bytes += bytes
	return true
}

// Bytes returns what is kept now.
func (s *Sight) Bytes() int {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.kept == nil {
		return 0
	}
	return s.kept.bytes
}

// leave ends what find began: v is kept if it is whole.
func (s *Sight) leave(v *sighted, whole bool) {
	s.mu.Lock()
	defer s.mu.Unlock()
	s.busy = false
	switch {
	case v == nil:
	case whole:
		s.kept, s.used = v, false
	default:
		s.room.take(-v.bytes)
	}
}

// shares reports whether a block has pixels, and how many of them are mixed.
func (v *sighted) shares(n int) (any bool, mixed int) {
	return v.at[n+1] > v.at[n], v.rimsAt[n+1] - v.rimsAt[n]
}

// lanes returns how many values a pixel has.
func (v *sighted) lanes() int {
	n := 4 // the body's light and one of sheen
	if v.tinted {
		n = 6
	}
	if v.key.film != nil {
		n += 3
	}
	if v.key.large != nil {
		n += 2
	}
	return n
}

// each calls f with every lane of a run that is kept, in order.
func (v *sighted) each(s *run, f func(lane []float32)) {
	n := s.n
	for c := range s.e {
		f(s.e[c][:n])
	}
	f(s.h[0][:n])
	if v.tinted {
		f(s.h[1][:n])
		f(s.h[2][:n])
	}
	if v.key.film != nil {
		for c := range s.in {
			f(s.in[c][:n])
		}
	}
	if v.key.large != nil {
		f(s.light[:n])
		f(s.over[:n])
	}
}

// put keeps what was found out about a run, from there on, and returns where the next one's begins.
func (v *sighted) put(s *run, at int) int {
	v.each(s, func(lane []float32) { at += copy(v.all[at:], lane) })
	return at
}

// get is the way back: the run sees what is kept where it is. What the run's pixels are is there already.
func (v *sighted) get(s *run, at int) int {
	next := func() []float32 {
		at += s.n
		return v.all[at-s.n : at : at]
	}
	for c := range s.seen.e {
		s.seen.e[c] = next()
	}
	s.seen.h[0] = next()
	s.seen.h[1], s.seen.h[2] = s.seen.h[0], s.seen.h[0]
	if v.tinted {
		s.seen.h[1], s.seen.h[2] = next(), next()
	}
	for c := range s.seen.in {
		if s.seen.in[c] = s.was[c][:s.n]; v.key.film != nil {
			s.seen.in[c] = next()
		}
	}
	if v.key.large != nil {
		copy(s.light[:], next())
		copy(s.over[:], next())
	}
	return at
}

// known is what is known of a rectangle before it is painted, and where a painter is in it.
type known struct {
	held         *held        // nil: the whole mask is the part's
	kept         *sighted     // nil: nothing is
	like         *sighted     // of another strictness; nil: nothing is
	making       *sighted     // where it is kept; nil: nowhere
	sight        *Sight       // whose that is
	wasSure      *raster.Mask // of like, where a pixel lay wholly in the part
	n            int          // its block
	pixel, rimAt int
}

// look finds out what a plan needs to know of a whole rectangle, or finds it in the plan's sight.
func (p *Plan) look(src *raster.RGB, mask *raster.Mask, place raster.Place, inner raster.Rect) (l known) {
	key, ok := p.sightKey(src, place, inner)
	keep := false
	if p.sight != nil && ok {
		if l.kept, l.like, keep = p.sight.find(key); l.kept != nil {
			l.held = l.kept.held
			return l
		}
		if l.like != nil {
			l.wasSure = mask
			if l.like.held != nil {
				l.wasSure = l.like.held.mask
			}
		}
	}
	if p.member != nil {
		var odds []float32
		if l.like != nil {
			odds = p.sight.odds(l.like, p.member, src, mask, p.done)
		}
		l.held = p.member.hold(src, mask, inner, odds, p.done)
		mask = l.held.mask
	}
	if keep {
		l.sight, l.making = p.sight, p.sight.begin(p, key, l.held, mask)
	}
	return l
}

// leave keeps what was found out, if it is whole.
func (l *known) leave(whole bool) {
	if l.sight != nil {
		l.sight.leave(l.making, whole)
	}
}

// begin goes to a block.
func (l *known) begin(n int) {
	l.n = n
	for _, v := range []*sighted{l.kept, l.making} {
		if v != nil {
			l.pixel, l.rimAt = v.at[n], v.rimsAt[n]
		}
	}
}

func (l *known) nextRim() int {
	l.rimAt++
	return l.rimAt - 1
}

// knownOf returns what is known of a block's pixels, of which some are mixed; nil where they are to be looked at. What is known at another strictness
// holds where a pixel lies wholly in the part at both, and of mixed ones where as much of them and of all around is the part's.
func (b *blockPainter) knownOf(r raster.Rect, mixed int) *sighted {
	if b.kept != nil || b.like == nil {
		return b.kept
	}
	if mixed > 0 {
		r = r.Grow(Margin).And(raster.Rect{X1: b.mask.W, Y1: b.mask.H})
	}
	for y := r.Y0; y < r.Y1 && b.mask != b.wasSure; y++ {
		from, to := y*b.mask.W+r.X0, y*b.mask.W+r.X1
		was, is := b.wasSure.Pix[from:to], b.mask.Pix[from:to]
		if slices.Equal(was, is) {
			continue
		}
		if mixed > 0 {
			return nil
		}
		for i, v := range is {
			if v != was[i] && (v == 0 || was[i] < sureIn) {
				return nil
			}
		}
	}
	b.pixel, b.rimAt = b.like.at[b.n], b.like.rimsAt[b.n]
	return b.like
}

// see finds out what the run's pixels are made of, or finds it known.
func (b *blockPainter) see() {
	if b.told != nil {
		b.pixel = b.told.get(&b.run, b.pixel)
		return
	}
	b.run.see(b.Plan)
	if b.making != nil {
		b.pixel = b.making.put(&b.run, b.pixel)
	}
}
