package mend

import (
	"errors"
	"math"

	"episema/core/colour"
	"episema/core/raster"
)

// Cast says what becomes of the tint that a coloured thing throws on its neighbours.
type Cast struct {
	Amount  float64 `json:"amount"`            // 0..100 percent
	Reach   float64 `json:"reach"`             // pixels of the full size, 5..2000
	Neutral bool    `json:"neutral,omitempty"` // taken away instead of turned to the new colour
}

// Validate says which setting is out of its range.
func (c *Cast) Validate() error {
	switch {
	case c == nil:
		return nil
	case !(c.Amount >= 0 && c.Amount <= 100):
		return errors.New("the amount of the cast runs from 0 to 100")
	case !(c.Reach >= 5 && c.Reach <= 2000):
		return errors.New("the reach of the cast runs from 5 to 2000 pixels")
	}
	return nil
}

// Field is where and how strongly a part tints its neighbours, on a small level of the picture.
type Field struct {
	W, H   int
	Scale  float64   // full-size pixels a pixel
	Weight []float32 // light from the part over the other light, 0..1
	old    [3]float64
}

const (
	castMost = 0.45 // light from a neighbour over all other light is no more
	castNear = 2.5  // so close to the part its own rim is mixed in, in pixels of the level
)

// FindCast looks for a part's tint on its neighbours: outside all parts, the colour's deviation towards the part's,
// as far as it fades with the distance to the part (a straight line fitted around each pixel). Light that the thing
// sends back adds its own colour times a weight to what falls on the neighbours anyway. own is the part's linear
// colour, parts the share of all parts together.
func FindCast(pic *raster.RGB, mask, parts *raster.Mask, own colour.RGB, scale, reach float64) *Field {
	w, h := pic.W, pic.H
	f := &Field{W: w, H: h, Scale: scale, Weight: make([]float32, w*h)}
	f.old = unit(own)
	var u [3]float64
	uu := 0.0
	for c := range u {
		u[c] = f.old[c] - 1
		uu += u[c] * u[c]
	}
	if uu < 0.02 {
		return f // a grey thing throws no tint
	}
	d := raster.SignedDistance(func(i int) bool { return mask.Pix[i] >= raster.Whole/2 }, w, h)
	r := max(4, reach/scale)
	fade := func(i int) float64 { return math.Exp(-float64(-d[i]) / (0.45 * r)) }
	sums := make([][]float32, 5) // of weights, nearness, deviation, nearness squared, nearness x deviation
	for k := range sums {
		sums[k] = make([]float32, w*h)
	}
	for i, m := range parts.Pix {
		if m > 0 || float64(-d[i]) > 2.5*r || d[i] > -castNear {
			continue
		}
		dev := 0.0
		px := unit(colour.RGB{float64(pic.Pix[3*i]), float64(pic.Pix[3*i+1]), float64(pic.Pix[3*i+2])})
		for c := range u {
			dev += (px[c] - 1) * u[c] / uu
		}
		if dev > castMost { // no tint: the thing itself, or another like it
			continue
		}
		p := fade(i)
		for k, v := range []float64{1, p, dev, p * p, p * dev} {
			sums[k][i] = float32(v)
		}
	}
	around := max(3, int(math.Round(0.9*r)))
	raster.Parallel(len(sums), func(k int) {
		raster.BoxSum(sums[k], w, h, around)
		raster.BoxSum(sums[k], w, h, max(2, around/3))
	})
	for i := range f.Weight {
		if d[i] > 2 || float64(-d[i]) > 2.5*r {
			continue
		}
		n := float64(sums[0][i])
		if n < 30 {
			continue
		}
		p, v := float64(sums[1][i])/n, float64(sums[2][i])/n
		spread := float64(sums[3][i])/n - p*p
		slope := (float64(sums[4][i])/n - p*v) / (spread + 0.002)
		f.Weight[i] = float32(max(0, min(castMost, slope*fade(i))))
	}
	raster.Gauss(f.Weight, w, h, r/12)
	return f
}

// unit gives a colour by its mean channel.
func unit(c colour.RGB) (o [3]float64) {
	m := (c[0]+c[1]+c[2])/3 + 1e-4
	for k := range o {
		o[k] = c[k] / m
	}
	return o
}

// Turn changes dst, which lies in the picture at place, from the old cast to that of goal, outside of the part and of
// others as far as they have their pixels.
func (f *Field) Turn(dst *raster.RGB, parts *raster.Mask, place raster.Place, inner raster.Rect, c *Cast, goal colour.RGB) {
	to := [3]float64{1, 1, 1}
	if !c.Neutral {
		to = unit(goal)
	}
	amount := float32(c.Amount / 100)
	raster.Parallel(inner.H(), func(n int) {
		y := inner.Y0 + n
		for x := inner.X0; x < inner.X1; x++ {
			i := y*dst.W + x
			free := float32(1)
			if parts != nil {
				free = 1 - float32(parts.Pix[i])/raster.Whole
			}
			if free == 0 {
				continue
			}
			fx, fy := place.Full(x, y)
			k := f.at(fx, fy)
			if k < 0.002 {
				continue
			}
			for ch := range 3 {
				gain := (1+k*float32(to[ch]))/(1+k*float32(f.old[ch])) - 1
				dst.Pix[3*i+ch] *= 1 + amount*free*gain
			}
		}
	})
}

func (f *Field) at(fx, fy float64) float32 {
	return raster.Sample(f.Weight, f.W, f.H, fx/f.Scale-0.5, fy/f.Scale-0.5)
}

// Mask shows where the cast is on a plane that lies at place: white for the strongest that is looked for.
func (f *Field) Mask(place raster.Place, w, h int) *raster.Mask {
	m := raster.NewMask(w, h)
	raster.Parallel(h, func(y int) {
		for x := range w {
			fx, fy := place.Full(x, y)
			m.Pix[y*w+x] = uint16(min(1, f.at(fx, fy)/castMost) * raster.Whole)
		}
	})
	return m
}

// Most gives the strongest cast and its place in pixels of the full size.
func (f *Field) Most() (weight float64, x, y float64) {
	at := 0
	for i, v := range f.Weight {
		if v > f.Weight[at] {
			at = i
		}
	}
	return float64(f.Weight[at]), (float64(at%f.W) + 0.5) * f.Scale, (float64(at/f.W) + 0.5) * f.Scale
}
