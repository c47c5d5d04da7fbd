package isolate

import (
	"math"

	"episema/core/colour"
	"episema/core/raster"
)

// band picks hues or tones between two ends, with a linear ramp outside each.
type band struct {
	hue            bool
	from, to, soft float64
	lab            *labOf
}

func (c *compiler) band(pick *Pick) coverage {
	b := &band{pick.Kind == "hues", pick.From, pick.To, pick.Soft, newLabOf(c.in.space())}
	if b.hue {
		// From the one end upwards to the other, over 360 where they wrap.
		for b.to < b.from {
			b.to += 360
		}
		b.to = min(b.to, b.from+360)
	}
	return b
}

// A colour of less chroma than this (CIE C*) has no hue to speak of; its share fades out below.
const greyChroma, hueChroma = 2, 6

func (b *band) render(p Pyramid, level int, r raster.Rect) ([]float32, error) {
	pic, err := p.Linear(level, r)
	if err != nil {
		return nil, err
	}
	out := make([]float32, len(pic.Pix)/3)
	raster.Parallel(r.H(), func(y int) {
		for i := y * r.W(); i < (y+1)*r.W(); i++ {
			l, a, bb := b.lab.of(pic.Pix[3*i], pic.Pix[3*i+1], pic.Pix[3*i+2])
			if b.hue {
				c := math.Hypot(float64(a), float64(bb))
				if c <= greyChroma {
					continue
				}
				out[i] = float32(b.hueShare(math.Atan2(float64(bb), float64(a))*180/math.Pi) * math.Min(1, (c-greyChroma)/(hueChroma-greyChroma)))
			} else {
				out[i] = float32(ramp(float64(l), b.from, b.to, b.soft))
			}
		}
	})
	return out, nil
}

// hueShare is the ramp on the circle: the nearest turn of the hue counts.
func (b *band) hueShare(h float64) float64 {
	best := 0.0
	for _, turn := range [4]float64{-360, 0, 360, 720} {
		best = math.Max(best, ramp(h+turn, b.from, b.to, b.soft))
	}
	return best
}

// ramp is 1 from one end to the other and falls to 0 over soft outside each.
func ramp(v, from, to, soft float64) float64 {
	d := math.Max(from-v, v-to)
	switch {
	case d <= 0:
		return 1
	case d >= soft:
		return 0
	}
	return 1 - d/soft
}

// labOf turns linear light into CIELAB (D50) in single precision: within 0.01 of colour.Space.Lab.
type labOf struct{ m [9]float32 }

func newLabOf(s *colour.Space) *labOf {
	var o labOf
	for i := range 3 {
		for j := range 3 {
			o.m[3*i+j] = float32(s.ToD50[i][j] / colour.D50[i])
		}
	}
	return &o
}

func (o *labOf) of(r, g, b float32) (l, aa, bb float32) {
	x := labF(o.m[0]*r + o.m[1]*g + o.m[2]*b)
	y := labF(o.m[3]*r + o.m[4]*g + o.m[5]*b)
	z := labF(o.m[6]*r + o.m[7]*g + o.m[8]*b)
	return 116*y - 16, 500 * (x - y), 200 * (y - z)
}

func labF(t float32) float32 {
	if t > 216./24389 {
		return colour.Cbrt(t)
	}
	return (24389./27*t + 16) / 116
}
