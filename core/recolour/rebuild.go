package recolour

import (
	"math"

	"episema/core/colour"
	"episema/core/raster"
)

// Rebuild is what is done where the photo clipped and nothing is left to recolour: the body's light is carried
// on from around, and its grain too. The zero value of a pointer does nothing.
type Rebuild struct {
	Amount float64         `json:"amount"`         // 0..100 percent
	Light  float64         `json:"light"`          // where the light comes from, degrees; 0 from the right, 90 from above
	Slope  float64         `json:"slope"`          // 0..100: how much lighter the side to the light is made
	Grain  float64         `json:"grain"`          // 0..200 percent of the part's own
	Away   []raster.Stroke `json:"away,omitempty"` // where it is not done
}

// NewRebuild gives what Rebuild begins with.
func NewRebuild() *Rebuild { return &Rebuild{Amount: 100, Light: 90, Grain: 100} }

// Validate says which setting is out of its range.
func (r *Rebuild) Validate() error {
	if r == nil {
		return nil
	}
	for _, s := range r.Away {
		if err := validateAway(s); err != nil {
			return err
		}
	}
	return inRange([]ranged{{"amount", r.Amount, 0, 100}, {"light", r.Light, -360, 360}, {"slope", r.Slope, 0, 100}, {"grain", r.Grain, 0, 200}})
}

// validateAway reports what is wrong with a stroke that takes rebuilding away.
func validateAway(s raster.Stroke) error {
	for _, p := range s.Points {
		if err := inRange([]ranged{{"x", p[0], -1e6, 1e6}, {"y", p[1], -1e6, 1e6}}); err != nil {
			return err
		}
	}
	return inRange([]ranged{{"radius", s.Radius, 0.5, 1e4}})
}

const (
	clipFrom = 0.93  // a channel above is not trusted any more
	clipTo   = 0.985 // and above this says nothing
	mostBody = 2.5   // light of a rebuilt body, in typical lit tones
)

// rebuilt is the light of a part's body where the photo clipped, on the learning level.
type rebuilt struct {
	w, h   int
	scale  float64   // full-size pixels a pixel of the level
	light  []float32 // of the body, 1 at the own colour
	amount []float32 // 0..1
	guess  []float32 // 1 where the light is not known from channels that did not clip: grain is missing there
	grain  *grain
	coarse float32 // of the grain
}

// newRebuilt carries the light on. own is the body's colour. It gives nil where nothing clipped.
func newRebuilt(pic *raster.RGB, mask *raster.Mask, own [3]float32, scale float64, r *Rebuild, fine Fine) (*rebuilt, error) {
	w, h := pic.W, pic.H
	o := &rebuilt{w: w, h: h, scale: scale, light: make([]float32, w*h), amount: make([]float32, w*h), coarse: float32(r.Grain / 100)}
	whole := own[0]*own[0] + own[1]*own[1] + own[2]*own[2]
	known := make([]bool, w*h)
	inside := make([]bool, w*h)
	any := false
	// Among grain that clips here and there only the darker grains are left: they say too little light. What is
	// known lies clear of what clipped.
	near, all := make([]float32, w*h), make([]float32, w*h)
	for i, m := range mask.Pix {
		if m < raster.Whole/2 {
			continue
		}
		inside[i], all[i] = true, 1
		near[i] = clipped(own, pic.Pix[3*i:3*i+3])
		any = any || near[i] > 0.5
	}
	if !any {
		return nil, nil
	}
	raster.BoxSum(near, w, h, 3)
	raster.BoxSum(all, w, h, 3)
	for i := range inside {
		if !inside[i] {
			continue
		}
		var num, den float32
		for c := range 3 {
			if v := pic.Pix[3*i+c]; v < clipFrom {
				num += own[c] * v
				den += own[c] * own[c]
			}
		}
		// Channels that did not clip tell the light, if the thing has enough of their colour.
		few := den < 0.9*whole
		if den > 0.02*whole && (few && den < 0.3*whole || near[i] < 0.1*all[i]) {
			o.light[i], known[i] = num/den, true
		}
	}
	o.carryOn(inside, known)
	o.guess = make([]float32, w*h)
	for i := range known {
		if !known[i] {
			o.guess[i] = 1
		}
	}
	o.slope(known, inside, r)
	for i := range o.light {
		o.light[i] = max(0, min(mostBody, o.light[i]))
		o.amount[i] = float32(r.Amount / 100)
	}
	for _, s := range r.Away {
		o.away(s)
	}
	if r.Grain > 0 && fine != nil {
		var err error
		if o.grain, err = grainOf(pic, mask, known, scale, fine); err != nil {
			return nil, err
		}
	}
	return o, nil
}

// carryOn fills what is not known from its border, and arches it as steeply as the light climbs towards it: what
// clipped is lighter than what did not.
func (o *rebuilt) carryOn(inside, known []bool) {
	w, h := o.w, o.h
	// Grain at the border would be taken for its light: what is known is smoothed for this.
	smooth, n := make([]float32, w*h), make([]float32, w*h)
	for i := range smooth {
		if known[i] {
			smooth[i], n[i] = o.light[i], 1
		}
	}
	raster.Gauss(smooth, w, h, 2.5)
	raster.Gauss(n, w, h, 2.5)
	for i := range smooth {
		smooth[i] /= max(n[i], 1e-6)
	}
	level := append([]float32(nil), smooth...)
	fill(level, nil, inside, known, w, h)
	arch, source := make([]float32, w*h), make([]float32, w*h)
	for i := range source {
		source[i] = 1
	}
	fill(arch, source, inside, known, w, h)
	k := climb(smooth, inside, known, w, h) / max(1e-6, climb(arch, inside, inside, w, h, known))
	for i := range o.light {
		if inside[i] && !known[i] {
			// Things turn their face to the light: the climb flattens.
			o.light[i] = level[i] + archMost*(1-float32(math.Exp(-float64(k*arch[i]/archMost))))
		}
	}
}

const (
	archMost = 0.5 // the arch rises no higher, in typical lit tones
	rimFrom  = 2   // how steeply the light climbs is seen between so many pixels from what clipped
	rimTo    = 14
)

// climb is the mean slope of a plane towards the border of what clipped: per pixel, upwards, never below nothing. It is
// seen on the known side; given border, on the other.
func climb(f []float32, inside, known []bool, w, h int, border ...[]bool) float32 {
	other := func(i int) bool { return inside[i] && !known[i] }
	sign := float64(1)
	if len(border) > 0 {
		other = func(i int) bool { return border[0][i] }
		sign = -1
	}
	d := raster.SignedDistance(func(i int) bool { return !other(i) }, w, h)
	var n, sd, sf, sdd, sdf float64
	for i, v := range d {
		if !inside[i] || v < rimFrom || v > rimTo {
			continue
		}
		x, y := float64(v), float64(f[i])
		n, sd, sf, sdd, sdf = n+1, sd+x, sf+y, sdd+x*x, sdf+x*y
	}
	if n < 30 {
		return 0
	}
	return float32(max(0, -sign*(sdf-sd*sf/n)/max(1e-9, sdd-sd*sd/n)))
}

// fill solves Laplace's equation (Poisson's with a source) for what is not known, with what is known given and nothing
// flowing over the part's outline. It begins on a halved plane, where the large forms are found quickly.
func fill(f, source []float32, inside, known []bool, w, h int) {
	var at []int
	var s, n float32
	for i := range f {
		if known[i] {
			s, n = s+f[i], n+1
		} else if inside[i] {
			at = append(at, i)
		}
	}
	if len(at) == 0 {
		return
	}
	if len(at) > 60 && w > 4 && h > 4 {
		fromHalf(f, source, inside, known, w, h)
	} else {
		for _, i := range at {
			f[i] = s / max(n, 1)
		}
	}
	for range 60 {
		for _, i := range at {
			x, y := i%w, i/w
			var sum, k float32
			add := func(j int) {
				if inside[j] {
					sum, k = sum+f[j], k+1
				}
			}
			if x > 0 {
				add(i - 1)
			}
			if x < w-1 {
				add(i + 1)
			}
			if y > 0 {
				add(i - w)
			}
			if y < h-1 {
				add(i + w)
			}
			if source != nil {
				sum += source[i]
			}
			if k > 0 {
				f[i] = sum / k
			}
		}
	}
}

// fromHalf fills what is not known from the halved plane.
func fromHalf(f, source []float32, inside, known []bool, w, h int) {
	hw, hh := (w+1)/2, (h+1)/2
	g, in, kn := make([]float32, hw*hh), make([]bool, hw*hh), make([]bool, hw*hh)
	var src []float32
	if source != nil {
		src = make([]float32, hw*hh)
	}
	for y := range hh {
		for x := range hw {
			var s, n float32
			for yy := 2 * y; yy < min(h, 2*y+2); yy++ {
				for xx := 2 * x; xx < min(w, 2*x+2); xx++ {
					i := yy*w + xx
					in[y*hw+x] = in[y*hw+x] || inside[i]
					if known[i] {
						s, n = s+f[i], n+1
					}
					if src != nil {
						src[y*hw+x] += source[i]
					}
				}
			}
			if n > 0 {
				g[y*hw+x], kn[y*hw+x] = s/n, true
			}
		}
	}
	fill(g, src, in, kn, hw, hh)
	for y := range h {
		for x := range w {
			i := y*w + x
			if !inside[i] || known[i] {
				continue
			}
			fx, fy := max(0, min(float64(hw-1), float64(x)/2-0.25)), max(0, min(float64(hh-1), float64(y)/2-0.25))
			x0, y0 := int(fx), int(fy)
			u, v := float32(fx-float64(x0)), float32(fy-float64(y0))
			var s, n float32
			for k, q := range [4][2]int{{x0, y0}, {x0 + 1, y0}, {x0, y0 + 1}, {x0 + 1, y0 + 1}} {
				if q[0] >= hw || q[1] >= hh || !in[q[1]*hw+q[0]] {
					continue
				}
				t := [4]float32{(1 - u) * (1 - v), u * (1 - v), (1 - u) * v, u * v}[k] + 1e-4
				s, n = s+t*g[q[1]*hw+q[0]], n+t
			}
			if n > 0 {
				f[i] = s / n
			}
		}
	}
}

// slope makes the side to the light lighter, growing from nothing at the border of what clipped.
func (o *rebuilt) slope(known, inside []bool, r *Rebuild) {
	if r.Slope == 0 {
		return
	}
	d := raster.SignedDistance(func(i int) bool { return inside[i] && !known[i] }, o.w, o.h)
	deep := float32(1)
	var sx, sy, n float64
	for i, v := range d {
		if v > 0 {
			deep = max(deep, v)
			sx, sy, n = sx+float64(i%o.w), sy+float64(i/o.w), n+1
		}
	}
	if n == 0 {
		return
	}
	cx, cy := sx/n, sy/n
	sin, cos := math.Sincos(r.Light * math.Pi / 180)
	for i, v := range d {
		if v <= 0 {
			continue
		}
		to := ((float64(i%o.w)-cx)*cos - (float64(i/o.w)-cy)*sin) / float64(2*deep)
		o.light[i] *= 1 + float32(r.Slope/100*0.6*max(-1, min(1, to)))*min(1, v/deep*2)
	}
}

// away takes the rebuilding back under a stroke.
func (o *rebuilt) away(s raster.Stroke) {
	radius := s.Radius / o.scale
	raster.Along(s.At(raster.Place{Step: o.scale}), func(int) float64 { return radius + 0.5 }, raster.Rect{X1: o.w, Y1: o.h}, nil, func(_, x, y int, d float64) {
		i := y*o.w + x
		o.amount[i] = min(o.amount[i], float32(max(0, min(1, (d-0.7*radius)/(0.3*radius+0.5)))))
	})
}

// at gives the body's light at a place of the full size, how much of it is wanted, and the grain there.
func (o *rebuilt) at(fx, fy, step float64) (light, amount, grain float32) {
	mix := func(p []float32) float32 { return raster.Sample(p, o.w, o.h, fx/o.scale-0.5, fy/o.scale-0.5) }
	grain = 1
	if o.grain != nil {
		grain += mix(o.guess) * o.coarse * o.grain.at(fx, fy, step)
	}
	return mix(o.light), mix(o.amount), grain
}

// clipped says how much of a pixel says nothing: 0 to 1. Channels in which the thing has next to no colour do
// not count.
func clipped(own [3]float32, px []float32) float32 {
	var lost, whole float32
	for c := range 3 {
		k := own[c] * own[c]
		lost += k * (1 - trust(px[c]))
		whole += k
	}
	return lost / max(whole, 1e-9)
}

// RebuiltShare is the part of the part's pixels that is rebuilt, for the proof; 0 where nothing is.
func (p *Plan) RebuiltShare(pic *raster.RGB, mask *raster.Mask) float64 {
	if p.rebuilt == nil {
		return 0
	}
	var n, all float64
	for i, m := range mask.Pix {
		a := float64(m) / raster.Whole
		all += a
		n += a * float64(clipped(p.own, pic.Pix[3*i:3*i+3]))
	}
	return n / math.Max(all, 1)
}

// placed says whether a pixel's place matters.
func (p *Plan) placed() bool {
	return p.rebuilt != nil || p.body != nil || p.large != nil || p.steady != nil
}

// rebuiltLight gives what the camera would have seen of a pixel that has lost so much, and how much more light the body may send back there.
func (p *Plan) rebuiltLight(px []float32, fx, fy, step float64, lost float32) (seen [3]float32, more float32) {
	light, amount, grain := p.rebuilt.at(fx, fy, step)
	light *= grain
	// Only the channels that clipped are made anew.
	for c := range seen {
		seen[c] = px[c]
		if t := trust(px[c]); t < 1 {
			seen[c] += amount * (1 - t) * max(0, p.own[c]*light-px[c])
		}
	}
	return seen, lost * amount * (mostBody - bodyTop)
}

// trust is how much a channel's value says: 1 below what clips, 0 where it clipped.
func trust(v float32) float32 {
	t := max(0, min(1, (v-clipFrom)/(clipTo-clipFrom)))
	return 1 - t*t*(3-2*t)
}

// Fine reads a rectangle of the picture at full size.
type Fine func(r raster.Rect) (*raster.RGB, error)

// ownOf gives the colour that a rebuilt part's body is taken to have.
func ownOf(seen colour.RGB) (o [3]float32) {
	for c, v := range seen {
		o[c] = float32(math.Max(v, least/4))
	}
	return o
}
