package pattern

import (
	"math"
	"slices"

	"episema/core/raster"
)

// Bend is how far a pattern is moved by the folds of a thing, everywhere on it, along the one direction that runs across them.
type Bend struct {
	w, h   int
	scale  float64
	across [2]float64 // of unit length
	// What is seen from the front moves a pattern because more cloth lies in what turns away; what is seen from a side, also because
	// what stands out is seen elsewhere than what lies behind.
	turned, out []float32
}

// Bytes returns what it takes in memory.
func (b *Bend) Bytes() int { return 8 * b.w * b.h }

// At returns how far a pattern is moved at a place of the full size, in repeats. lean is how far from the side of the light the cloth is
// seen, -100..100; 0 is from the front.
func (b *Bend) At(x, y, lean float64) (dx, dy float64) {
	u, v := x/b.scale-0.5, y/b.scale-0.5
	d := float64(raster.Sample(b.turned, b.w, b.h, u, v)) + lean/100*float64(raster.Sample(b.out, b.w, b.h, u, v))
	return d * b.across[0], d * b.across[1]
}

const (
	fineFolds  = 0.016 // of a thing's size: what shades over less is its weave
	broadFolds = 0.3   // and over more, its roundness and the light's fall
	mostMoved  = 0.25  // repeats, that nine tenths of the thing are moved less than by each of the two
)

// FindBend tells from the shading of a part how its surface goes to and fro. light is the picture's light on the part (any measure that
// rises with it), mask the part, both w x h, of pixels scale full-size ones wide. Light comes from a side: what faces it is bright,
// so that the logarithm of the light, without what changes slowly, is about the slope (linear shape from shading: Pentland, Linear
// Shape from Shading, 1990). Across the folds, which run at right angles to where the shading changes most, the cloth in a pixel
// grows with the slope's square, and the height is the slope's sum.
func FindBend(light []float32, mask *raster.Mask, scale float64) *Bend {
	w, h := mask.W, mask.H
	b := &Bend{w: w, h: h, scale: scale, across: [2]float64{1, 0}, turned: make([]float32, w*h), out: make([]float32, w*h)}
	inside := mask.Shares()
	n := 0.0
	for _, v := range inside {
		n += float64(v)
	}
	if n < 9 {
		return b
	}
	size := math.Sqrt(n)
	slope := make([]float32, w*h)
	for i, v := range light {
		slope[i] = float32(math.Log(max(1e-4, float64(v))))
	}
	broad := within(slope, inside, w, h, max(3, broadFolds*size))
	slope = within(slope, inside, w, h, max(1.2, fineFolds*size))
	for i := range slope {
		slope[i] -= broad[i]
	}
	b.across = mostChange(slope, inside, w, h)
	b.sum(slope, inside)
	smooth := max(1, 0.008*size)
	for _, p := range []*[]float32{&b.turned, &b.out} {
		*p = within(*p, inside, w, h, smooth)
		var moved []float32
		for i, v := range *p {
			if inside[i] >= 0.5 {
				moved = append(moved, float32(math.Abs(float64(v))))
			}
		}
		k := float32(0)
		if q := quantile(moved, 0.9); q > 1e-3 { // on what is evenly lit there are no folds
			k = mostMoved / q
		}
		for i, v := range *p {
			(*p)[i] = max(-2*mostMoved, min(2*mostMoved, k*v))
		}
	}
	return b
}

// mostChange returns the direction in which a plane changes most: the first eigenvector of its structure tensor.
func mostChange(p, inside []float32, w, h int) [2]float64 {
	var xx, xy, yy float64
	for y := 1; y < h-1; y++ {
		for x := 1; x < w-1; x++ {
			i := y*w + x
			if inside[i] < 0.5 {
				continue
			}
			gx, gy := float64(p[i+1]-p[i-1]), float64(p[i+w]-p[i-w])
			xx, xy, yy = xx+gx*gx, xy+gx*gy, yy+gy*gy
		}
	}
	sin, cos := math.Sincos(0.5 * math.Atan2(2*xy, xx-yy))
	if cos < 0 || cos == 0 && sin < 0 {
		sin, cos = -sin, -cos
	}
	return [2]float64{cos, sin}
}

// sum goes along lines across the folds and sums up the slope, and its square, each without what it grows by evenly.
func (b *Bend) sum(slope, inside []float32) {
	dx, dy := b.across[0], b.across[1]
	long := math.Hypot(float64(b.w), float64(b.h)) / 2
	n := int(math.Ceil(long))
	cx, cy := float64(b.w-1)/2, float64(b.h-1)/2
	lines := 2*n + 1
	type run struct {
		from        int
		turned, out []float64
	}
	all := make([][]run, lines)
	raster.Parallel(lines, func(t int) {
		off := float64(t - n)
		var r run
		end := func() {
			if len(r.out) >= 8 {
				summed(r.turned)
				summed(r.out)
				all[t] = append(all[t], r)
			}
			r = run{}
		}
		for s := -n; s <= n; s++ {
			x, y := cx+float64(s)*dx-off*dy, cy+float64(s)*dy+off*dx
			if x < 0 || y < 0 || x > float64(b.w-1) || y > float64(b.h-1) || raster.Sample(inside, b.w, b.h, x, y) < 0.5 {
				end()
				continue
			}
			if len(r.out) == 0 {
				r.from = s
			}
			v := float64(raster.Sample(slope, b.w, b.h, x, y))
			r.out, r.turned = append(r.out, v), append(r.turned, v*v)
		}
		end()
	})
	raster.Parallel(b.h, func(y int) {
		for x := range b.w {
			i := y*b.w + x
			if inside[i] == 0 {
				continue
			}
			px, py := float64(x)-cx, float64(y)-cy
			s, t := px*dx+py*dy, int(math.Round(py*dx-px*dy))+n
			if t < 0 || t >= lines {
				continue
			}
			for _, r := range all[t] {
				if k := int(math.Round(s)) - r.from; k >= 0 && k < len(r.out) {
					b.turned[i], b.out[i] = float32(r.turned[k]), float32(r.out[k])
				}
			}
		}
	})
}

// summed replaces values by their sums from the first on, less the straight line that fits those best.
func summed(v []float64) {
	mean := 0.0
	for _, x := range v {
		mean += x / float64(len(v))
	}
	sum := 0.0
	for i, x := range v {
		sum += x - mean
		v[i] = sum
	}
	var sx, sy, sxx, sxy float64
	n := float64(len(v))
	for i, y := range v {
		x := float64(i)
		sx, sy, sxx, sxy = sx+x, sy+y, sxx+x*x, sxy+x*y
	}
	k := (n*sxy - sx*sy) / (n*sxx - sx*sx)
	c := (sy - k*sx) / n
	for i := range v {
		v[i] -= c + k*float64(i)
	}
}

// within blurs a plane by what lies inside alone; outside it goes on as it ends.
func within(p, inside []float32, w, h int, sigma float64) []float32 {
	sum, share := make([]float32, w*h), append([]float32(nil), inside...)
	for i, v := range p {
		sum[i] = v * inside[i]
	}
	raster.Gauss(sum, w, h, sigma)
	raster.Gauss(share, w, h, sigma)
	for i := range sum {
		if share[i] > 1e-3 {
			sum[i] /= share[i]
		} else {
			sum[i] = 0
		}
	}
	return sum
}

func quantile(list []float32, q float64) float32 {
	if len(list) == 0 {
		return 0
	}
	slices.Sort(list)
	return list[int(q*float64(len(list)-1))]
}
