package isolate

import (
	"math"

	"episema/core/raster"
)

// brush paints strokes as they are. With a limit, paint does not run over edges of the picture.
type brush struct {
	strokes                  []Stroke
	softness, strength, flow float64
	limit                    bool
}

func (c *compiler) brush(pick *Pick) coverage {
	b := &brush{strokes: pick.Strokes, softness: pick.Softness, strength: 1, flow: 1, limit: pick.Limit}
	if pick.Strength != nil {
		b.strength = *pick.Strength
	}
	if pick.Flow != nil {
		b.flow = *pick.Flow
	}
	return b
}

func (b *brush) render(p Pyramid, level int, r raster.Rect) ([]float32, error) {
	out := make([]float32, r.W()*r.H())
	k := 1 / float64(int(1)<<level)
	for _, st := range b.strokes {
		box := st.Box(raster.Place{Step: 1 / k}, 3).And(r)
		if box.Empty() {
			continue
		}
		one := make([]float32, box.W()*box.H())
		b.stroke(st, k, box, one, doneOf(p))
		if b.limit {
			if err := b.hold(p, level, st, k, box, one); err != nil {
				return nil, err
			}
		}
		for y := range box.H() {
			to := out[(y+box.Y0-r.Y0)*r.W()+box.X0-r.X0:]
			for x, v := range one[y*box.W() : (y+1)*box.W()] {
				v *= float32(b.strength)
				if b.flow < 1 {
					to[x] = min(max(to[x], float32(b.strength)), to[x]+(float32(b.strength)-min(to[x], float32(b.strength)))*v)
				} else {
					to[x] = max(to[x], v)
				}
			}
		}
	}
	return out, nil
}

// stroke paints one stroke into a plane over r: the most any of its dabs gives, or with flow what they add up to.
func (b *brush) stroke(st Stroke, k float64, r raster.Rect, out []float32, done raster.Done) {
	points := st.At(raster.Place{Step: 1 / k})
	radius := func(end int) float64 {
		if len(st.Pressure) > 0 {
			return st.Radius * k * st.Pressure[end]
		}
		return st.Radius * k
	}
	gain := make([]float64, len(points))
	for n, to := range points {
		// Flow is per dab of a quarter of the radius; a segment is as many dabs as it is long.
		dabs := 1.0
		if b.flow < 1 && n > 0 {
			from := points[n-1]
			dabs = math.Max(0.05, math.Hypot(to[0]-from[0], to[1]-from[1])/math.Max(0.5, radius(n)/2))
		}
		gain[n] = 1 - math.Pow(1-b.flow, dabs)
	}
	raster.Along(points, func(end int) float64 { return radius(end) + 0.5 }, r, done, func(end, x, y int, d float64) {
		radius := radius(end)
		// The ramp is at least a pixel wide, so that a hard brush has an antialiased rim.
		v := math.Min(1, (radius+0.5-d)/math.Max(1, radius*b.softness))
		if b.softness > 0 {
			v = v * v * (3 - 2*v)
		}
		i := (y-r.Y0)*r.W() + x - r.X0
		if b.flow < 1 {
			out[i] += (1 - out[i]) * float32(v*gain[end])
		} else {
			out[i] = max(out[i], float32(v))
		}
	})
}

// hold keeps of a stroke what its middle line reaches without crossing an edge of the picture.
func (b *brush) hold(p Pyramid, level int, st Stroke, k float64, r raster.Rect, one []float32) error {
	w, h := p.Size(level)
	reach := int(math.Ceil(st.Radius*k)) + 2
	outer := r.Grow(reach).And(raster.Rect{X1: w, Y1: h})
	pic, err := p.Linear(level, outer)
	if err != nil {
		return err
	}
	f := features(pic, doneOf(p))
	start := make([]bool, f.w*f.h)
	any := false
	raster.Along(st.At(raster.Place{X: float64(outer.X0) / k, Y: float64(outer.Y0) / k, Step: 1 / k}), func(int) float64 { return math.Max(0.7, st.Radius*k*0.12) }, raster.Rect{X1: f.w, Y1: f.h}, nil, func(_, x, y int, _ float64) { start[y*f.w+x], any = true, true })
	if !any {
		clear(one)
		return nil
	}
	// An edge is a step of colour that stands out from grain: the scale is fixed, so that squares of the
	// same picture agree.
	d := geodesic(f, f.steps(func(i, j, _ int) float32 { return crossing(float32(math.Exp(-limitBeta * f.diff2(i, j)))) }), start, 3)
	for y := range r.H() {
		for x := range r.W() {
			v := d[(y+r.Y0-outer.Y0)*f.w+x+r.X0-outer.X0]
			one[y*r.W()+x] *= max(0, min(1, (1.1-v)/0.5))
		}
	}
	return nil
}

// limitBeta makes a step of 0.06 in Oklab cost about 0.6 of an edge.
const limitBeta = 500
