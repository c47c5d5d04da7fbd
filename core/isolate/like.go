package isolate

import (
	"math"
	"slices"

	"episema/core/cluster"
	"episema/core/colour"
	"episema/core/raster"
)

// like picks the colours that differ from samples by no more than a tolerance. The share is whole up to the
// tolerance and falls to nothing over a ramp above it; what lies on the rim of a picked area is unmixed
// between the colours on both sides, so that no halo is left.
type like struct {
	*likeness
	tolerance, soft float64
	gate            *Labels // where it is connected to the samples; nil for everywhere
	flat            bool
}

const (
	likeRamp = 0.25 // width of the ramp as a share of the tolerance
	rimReach = 2    // how far from a picked area pixels are unmixed
	rimLook  = 4    // how far around a rim pixel the colours of both sides are looked for
)

func (c *compiler) like(pick *Pick) (coverage, error) {
	type colours struct {
		Samples, Not     [][2]float64
		Boxes            [][4]float64
		Colours, NotLike [][3]float64
		Light            float64
	}
	what := colours{pick.Samples, pick.Not, pick.Boxes, pick.Colours, pick.NotLike, pick.Light}
	t, err := once(c, "likeness", what, func(t *likeness) int { return 8 * len(t.near) }, func() (*likeness, error) {
		in, err := c.sampled(pick.Samples)
		if err != nil {
			return nil, err
		}
		for _, b := range pick.Boxes {
			more, err := c.boxed(b)
			if err != nil {
				return nil, err
			}
			in = append(in, more...)
		}
		in = append(in, c.given(pick.Colours)...)
		if len(in) == 0 {
			return nil, problem("none of its samples lies in the picture")
		}
		not, err := c.sampled(pick.Not)
		if err != nil {
			return nil, err
		}
		return newLikeness(c.in.space(), in, append(not, c.given(pick.NotLike)...), pick.Light), nil
	})
	if err != nil {
		return nil, err
	}
	l := &like{likeness: t, tolerance: pick.Tolerance, soft: likeRamp * pick.Tolerance}
	if l.flat, err = c.isFlat(); err != nil {
		return nil, err
	}
	if !pick.Connected || len(pick.Samples)+len(pick.Boxes) == 0 { // colours from elsewhere hang together with nothing here
		return l, nil
	}
	l.gate, err = c.labels("like gate", struct {
		colours
		Tolerance float64
	}{what, pick.Tolerance}, func() (*Labels, error) { return c.connected(l, pick) })
	return l, err
}

// given turns colours that were taken elsewhere into the picture's light.
func (c *compiler) given(list [][3]float64) []colour.RGB {
	var out []colour.RGB
	for _, l := range list {
		out = append(out, c.in.space().Linear(colour.Lab(l)))
	}
	return out
}

// connected labels what hangs together with the samples.
func (c *compiler) connected(l *like, pick *Pick) (*Labels, error) {
	level := c.levelBelow(finest)
	w, h := c.p.Size(level)
	share, err := l.render(c.p, level, raster.Rect{X1: w, Y1: h})
	if err != nil {
		return nil, err
	}
	labels, seeds := make([]uint8, w*h), make([]uint8, w*h)
	for i, v := range share {
		if v > 0.35 {
			labels[i] = 1
		}
	}
	k := 1 / float64(int(1)<<level)
	for _, q := range pick.Samples {
		// The pixel under a sample may be grain that is not picked itself: what is near it counts.
		at := [][2]float64{{q[0] * k, q[1] * k}}
		raster.Along(at, func(int) float64 { return 1.5 }, raster.Rect{X1: w, Y1: h}, nil, func(_, x, y int, _ float64) { seeds[y*w+x] = seedIn })
	}
	for _, b := range pick.Boxes {
		for y := max(0, int(math.Min(b[1], b[3])*k)); y <= min(h-1, int(math.Max(b[1], b[3])*k)); y++ {
			for x := max(0, int(math.Min(b[0], b[2])*k)); x <= min(w-1, int(math.Max(b[0], b[2])*k)); x++ {
				seeds[y*w+x] = seedIn
			}
		}
	}
	return &Labels{level, w, h, keepReached(labels, seeds, w, h)}, nil
}

// open says whether the gate lets a pixel of a level pass: it or a neighbour is connected.
func (l *Labels) open(level, x, y int) bool {
	var x0, y0, x1, y1 int
	if d := l.Level - level; d >= 0 {
		x0, y0 = x>>d-1, y>>d-1
		x1, y1 = x0+2, y0+2
	} else {
		x0, y0 = x<<-d-1, y<<-d-1
		x1, y1 = (x+1)<<-d, (y+1)<<-d
	}
	for yy := max(0, y0); yy <= min(l.H-1, y1); yy++ {
		for xx := max(0, x0); xx <= min(l.W-1, x1); xx++ {
			if l.In[yy*l.W+xx] == 1 {
				return true
			}
		}
	}
	return false
}

// sampled reads the colour at each point: exactly where it is flat, else the mean of what is alike around it.
func (c *compiler) sampled(points [][2]float64) ([]colour.RGB, error) {
	w, h := c.p.Size(0)
	space := c.in.space()
	var out []colour.RGB
	for _, q := range points {
		x, y := int(math.Floor(q[0])), int(math.Floor(q[1]))
		if x < 0 || y < 0 || x >= w || y >= h {
			continue
		}
		r := raster.Rect{X0: x - 1, Y0: y - 1, X1: x + 2, Y1: y + 2}.And(raster.Rect{X1: w, Y1: h})
		pic, err := c.p.Linear(0, r)
		if err != nil {
			return nil, err
		}
		at := func(i int) colour.RGB {
			return colour.RGB{float64(pic.Pix[3*i]), float64(pic.Pix[3*i+1]), float64(pic.Pix[3*i+2])}
		}
		mid := at((y-r.Y0)*pic.W + x - r.X0)
		lab := space.Lab(mid)
		equal, sum, n := 0, colour.RGB{}, 0.0
		for i := range pic.W * pic.H {
			v := at(i)
			if v == mid {
				equal++
			}
			if colour.DeltaE00(space.Lab(v), lab) < 3 {
				for k := range 3 {
					sum[k] += v[k]
				}
				n++
			}
		}
		if equal >= 4 {
			out = append(out, mid)
			continue
		}
		out = append(out, colour.RGB{sum[0] / n, sum[1] / n, sum[2] / n})
	}
	return out, nil
}

// boxed gives the colours that stand for an area: a few means in CIELAB, those of next to no weight left out.
func (c *compiler) boxed(b [4]float64) ([]colour.RGB, error) {
	level := 0
	for level < c.p.Levels()-1 && math.Abs((b[2]-b[0])*(b[3]-b[1]))/math.Pow(4, float64(level)) > 40000 {
		level++
	}
	k := 1 / float64(int(1)<<level)
	w, h := c.p.Size(level)
	r := raster.Rect{X0: int(math.Min(b[0], b[2]) * k), Y0: int(math.Min(b[1], b[3]) * k),
		X1: int(math.Ceil(math.Max(b[0], b[2]) * k)), Y1: int(math.Ceil(math.Max(b[1], b[3]) * k))}.And(raster.Rect{X1: w, Y1: h})
	if r.Empty() {
		return nil, nil
	}
	pic, err := c.p.Linear(level, r)
	if err != nil {
		return nil, err
	}
	space := c.in.space()
	step := max(1, len(pic.Pix)/3/4000)
	var points [][3]float64
	for i := 0; i < len(pic.Pix)/3; i += step {
		points = append(points, [3]float64(space.Lab(colour.RGB{float64(pic.Pix[3*i]), float64(pic.Pix[3*i+1]), float64(pic.Pix[3*i+2])})))
	}
	p := cluster.Plain(points)
	means := p.Spread(len(points)/2, 8, 3)
	_, weight := p.Means(means, 6)
	var out []colour.RGB
	for k, at := range means {
		if weight[k] >= 0.02*float64(len(points)) {
			out = append(out, space.Linear(colour.Lab(at)))
		}
	}
	return out, nil
}

func (c *compiler) isFlat() (bool, error) {
	return once(c, "flat", nil, func(bool) int { return 1 }, func() (bool, error) { return IsFlat(c.p) })
}

// IsFlat says whether a picture is a drawing of even areas rather than a photo: whether most pixels at full size
// equal their neighbour. Renderers of drawings mix the pixels of a rim in coded values, lenses in light.
func IsFlat(p Pyramid) (bool, error) {
	w, h := p.Size(0)
	same, all := 0, 0
	for n := range 25 {
		x, y := w*(2*(n%5)+1)/10, h*(2*(n/5)+1)/10
		pic, err := p.Linear(0, raster.Rect{X0: x - 16, Y0: y - 16, X1: x + 16, Y1: y + 16}.And(raster.Rect{X1: w, Y1: h}))
		if err != nil {
			return false, err
		}
		for i := 0; i+1 < pic.W*pic.H; i++ {
			if (i+1)%pic.W == 0 {
				continue
			}
			all++
			if [3]float32(pic.Pix[3*i:3*i+3]) == [3]float32(pic.Pix[3*i+3:3*i+6]) {
				same++
			}
		}
	}
	return same*10 > all*6, nil
}

func (l *like) share(d, side float64) float32 {
	s := 1.0
	if d > l.tolerance {
		if l.soft == 0 || d >= l.tolerance+l.soft {
			return 0
		}
		s = 1 - (d-l.tolerance)/l.soft
	}
	return float32(s * math.Max(0, math.Min(1, (side-0.45)*10)))
}

func (l *like) render(p Pyramid, level int, r raster.Rect) ([]float32, error) {
	w, h := p.Size(level)
	outer := r.Grow(rimReach + rimLook + 1).And(raster.Rect{X1: w, Y1: h})
	pic, err := p.Linear(level, outer)
	if err != nil {
		return nil, err
	}
	full := make([]float32, outer.W()*outer.H())
	const rows = 16
	done := doneOf(p)
	done.Parallel((outer.H()+rows-1)/rows, func(n int) {
		memo := newMemo()
		for i := n * rows * outer.W(); i < min(len(full), (n+1)*rows*outer.W()); i++ {
			d, side := l.look(pic.Pix[3*i:3*i+3:3*i+3], l.tolerance, memo)
			if d < l.tolerance+l.soft || d == 0 {
				full[i] = l.share(d, side)
			}
		}
	})
	if l.gate != nil {
		raster.Parallel(outer.H(), func(y int) {
			for x := range outer.W() {
				if i := y*outer.W() + x; full[i] > 0 && !l.gate.open(level, x+outer.X0, y+outer.Y0) {
					full[i] = 0
				}
			}
		})
	}
	done.Check()
	out := unmixRim(pic, full, l.flat, done)
	return raster.Crop(out, 1, outer, r), nil
}

// wholly is the share from which a pixel counts as wholly picked.
const wholly = 0.999

// rimOf tells which pixels lie within reach of one that is wholly picked, and are not so themselves; any is false where there is none.
func rimOf(share []float32, w, h int) (rim []bool, any bool) {
	rim = make([]bool, w*h)
	for y := range h {
		for x := range w {
			if share[y*w+x] < wholly {
				continue
			}
			if x > 0 && share[y*w+x-1] >= wholly && x+1 < w && share[y*w+x+1] >= wholly &&
				y > 0 && share[(y-1)*w+x] >= wholly && y+1 < h && share[(y+1)*w+x] >= wholly {
				continue // inside
			}
			for yy := max(0, y-rimReach); yy <= min(h-1, y+rimReach); yy++ {
				for xx := max(0, x-rimReach); xx <= min(w-1, x+rimReach); xx++ {
					if i := yy*w + xx; share[i] < wholly {
						rim[i], any = true, true
					}
				}
			}
		}
	}
	return rim, any
}

// unmixRim gives pixels next to a wholly picked area the share that the mixture of the colours on both sides
// says. Pixels that are no mixture of the two keep theirs.
func unmixRim(pic *raster.RGB, share []float32, coded bool, done raster.Done) []float32 {
	w, h := pic.W, pic.H
	rim, any := rimOf(share, w, h)
	if !any {
		return share
	}
	at := pic.Pix
	if coded {
		at = codedAround(pic, rim, done)
	}
	// sides gives the mean colours of what is wholly picked and of what is not picked at all around a pixel.
	sides := func(x, y int) (f, b [3]float32, ok bool) {
		var nf, nb float32
		x0, x1 := max(0, x-rimLook), min(w-1, x+rimLook)
		for yy := max(0, y-rimLook); yy <= min(h-1, y+rimLook); yy++ {
			near := rimWeights[yy-y+rimLook][x0-x+rimLook:]
			for xx := x0; xx <= x1; xx++ {
				j := yy*w + xx
				k := near[xx-x0]
				switch {
				case share[j] >= wholly:
					nf += k
					f[0], f[1], f[2] = f[0]+k*at[3*j], f[1]+k*at[3*j+1], f[2]+k*at[3*j+2]
				case share[j] == 0 && !rim[j]:
					nb += k
					b[0], b[1], b[2] = b[0]+k*at[3*j], b[1]+k*at[3*j+1], b[2]+k*at[3*j+2]
				}
			}
		}
		for c := range 3 {
			f[c] /= nf
			b[c] /= nb
		}
		return f, b, nf > 0 && nb > 0
	}
	out := append([]float32(nil), share...)
	done.Parallel(h, func(y int) {
		for x := range w {
			i := y*w + x
			if !rim[i] {
				continue
			}
			f, b, ok := sides(x, y)
			if !ok {
				continue
			}
			px := [3]float32(at[3*i : 3*i+3])
			var size float32
			for c := range 3 {
				size += f[c] + b[c]
			}
			a, len2 := raster.Unmix(&px, &b, &f)
			if len2 < 1e-6 {
				continue
			}
			a = max(0, min(1, a))
			far := raster.Unexplained(&px, &b, &f, a)
			// A mixture lies on the line between the two; grain and the spread of both sides are let pass.
			loose := 0.12*0.12*len2 + (0.01*size)*(0.01*size)
			trust := loose / (loose + far)
			out[i] = max(out[i]*(1-trust), a*trust+out[i]*(1-trust))
		}
	})
	return out
}

// rimWeights are what colours around a pixel count, by how far they are from it.
var rimWeights = func() (t [2*rimLook + 1][2*rimLook + 1]float32) {
	for y := range t {
		for x := range t[y] {
			d := float32((x-rimLook)*(x-rimLook)+(y-rimLook)*(y-rimLook)) + 1
			t[y][x] = 1 / (d * d)
		}
	}
	return t
}()

// codedAround gives a picture's light, coded for sRGB, in the rows that are looked at around a rim; the others are left empty.
func codedAround(pic *raster.RGB, rim []bool, done raster.Done) []float32 {
	w, h := pic.W, pic.H
	rows := make([]bool, h)
	for y := range h {
		if slices.Contains(rim[y*w:(y+1)*w], true) {
			for yy := max(0, y-rimLook); yy <= min(h-1, y+rimLook); yy++ {
				rows[yy] = true
			}
		}
	}
	out := make([]float32, len(pic.Pix))
	done.Parallel(h, func(y int) {
		if !rows[y] {
			return
		}
		o := out[3*y*w : 3*(y+1)*w]
		for i, v := range pic.Pix[3*y*w : 3*(y+1)*w] {
			o[i] = codeOf(v)
		}
	})
	return out
}

var codeTable = func() [4097]float32 {
	var t [4097]float32
	for i := range t {
		t[i] = float32(colour.SRGBEncode(float64(i) / 4096))
	}
	return t
}()

// codeOf codes light for sRGB, between table entries linearly.
func codeOf(v float32) float32 {
	v = max(0, min(1, v)) * 4096
	i := min(4095, int(v))
	return codeTable[i] + (v-float32(i))*(codeTable[i+1]-codeTable[i])
}
