package recolour

import (
	"fmt"
	"math"
	"strings"

	"episema/core/colour"
)

// Finish is what is done to the part over any method. The zero value of a pointer does nothing; use NewFinish
// for one whose settings do nothing.
type Finish struct {
	Black      float64 `json:"black"`      // coded value that becomes the darkest, 0..254
	Middle     float64 `json:"middle"`     // 0.1..10; above 1 lightens the middle tones
	White      float64 `json:"white"`      // coded value that becomes the lightest, 1..255
	OutBlack   float64 `json:"out_black"`  // what the darkest becomes, 0..255
	OutWhite   float64 `json:"out_white"`  // what the lightest becomes
	Exposure   float64 `json:"exposure"`   // stops, -5..5
	Highlights float64 `json:"highlights"` // -100..100
	Shadows    float64 `json:"shadows"`    // -100..100
	Saturation float64 `json:"saturation"` // -100..100
	Vibrance   float64 `json:"vibrance"`   // -100..100; spares what is vivid already
	Blend      string  `json:"blend_mode"` // of W3C Compositing and Blending; empty is normal
}

// NewFinish gives a finish that changes nothing.
func NewFinish() *Finish { return &Finish{Middle: 1, White: 255, OutWhite: 255} }

// Validate says which setting is out of its range.
func (f *Finish) Validate() error {
	if f == nil {
		return nil
	}
	if !KnownBlend(f.Blend) {
		return fmt.Errorf("the blend mode %q is not known; use one of %s", f.Blend, strings.Join(BlendModes, ", "))
	}
	if f.White <= f.Black {
		return fmt.Errorf("white is %g and black %g; white lies above black", f.White, f.Black)
	}
	return inRange([]ranged{{"black", f.Black, 0, 254}, {"middle", f.Middle, 0.1, 10}, {"white", f.White, 1, 255}, {"out_black", f.OutBlack, 0, 255},
		{"out_white", f.OutWhite, 0, 255}, {"exposure", f.Exposure, -5, 5}, {"highlights", f.Highlights, -100, 100}, {"shadows", f.Shadows, -100, 100},
		{"saturation", f.Saturation, -100, 100}, {"vibrance", f.Vibrance, -100, 100}})
}

// finisher changes a painted pixel; it also gets what the pixel was.
type finisher func(was, now [3]float32) [3]float32

// newFinish gives nil where nothing would change.
func newFinish(space *colour.Space, f *Finish) finisher {
	if f == nil || *f == *NewFinish() {
		return nil
	}
	var steps []func([3]float32) [3]float32
	if f.Exposure != 0 {
		k := float32(math.Exp2(f.Exposure))
		steps = append(steps, func(c [3]float32) [3]float32 { return [3]float32{c[0] * k, c[1] * k, c[2] * k} })
	}
	if f.Black != 0 || f.White != 255 || f.Middle != 1 || f.OutBlack != 0 || f.OutWhite != 255 {
		steps = append(steps, f.levels())
	}
	if f.Highlights != 0 || f.Shadows != 0 || f.Saturation != 0 || f.Vibrance != 0 {
		steps = append(steps, f.tones(space))
	}
	channel := blendOf(f.Blend)
	return func(was, now [3]float32) [3]float32 {
		for _, s := range steps {
			now = s(now)
		}
		if f.Blend != "" && f.Blend != "normal" {
			var b, s [3]float64
			for c := range 3 {
				b[c], s[c] = float64(max(0, min(1, colour.Coded32(was[c])))), float64(max(0, min(1, colour.Coded32(now[c]))))
			}
			if channel == nil {
				s = Blend(f.Blend, b, s)
			} else {
				s = [3]float64{channel(b[0], s[0]), channel(b[1], s[1]), channel(b[2], s[2])}
			}
			for c, v := range s {
				now[c] = colour.Light32(float32(v))
			}
		}
		return now
	}
}

func (f *Finish) levels() func([3]float32) [3]float32 {
	const n = 4096
	var table [n + 1]float32
	for i := range table {
		v := math.Max(0, math.Min(1, (float64(i)/n*255-f.Black)/(f.White-f.Black)))
		v = f.OutBlack/255 + math.Pow(v, 1/f.Middle)*(f.OutWhite-f.OutBlack)/255
		table[i] = float32(colour.SRGBDecode(v))
	}
	return func(c [3]float32) [3]float32 {
		for k, v := range c {
			p := max(0, min(1, colour.Coded32(v))) * n
			i := min(n-1, int(p))
			c[k] = table[i] + (p-float32(i))*(table[i+1]-table[i])
		}
		return c
	}
}

func (f *Finish) tones(space *colour.Space) func([3]float32) [3]float32 {
	o := colour.NewFast(space)
	hi, lo := float32(f.Highlights/100*0.25), float32(f.Shadows/100*0.25)
	sat, vib := float32(f.Saturation/100), float32(f.Vibrance/100)
	return func(c [3]float32) [3]float32 {
		l, a, b := o.Oklab(c[0], c[1], c[2])
		t := max(0, min(1, l))
		l += lo*4*t*(1-t)*(1-t) + hi*4*t*t*(1-t)
		k := 1 + sat
		if vib != 0 {
			chroma := float32(math.Sqrt(float64(a*a + b*b)))
			k *= 1 + vib*max(0, 1-chroma/0.2)
		}
		r, g, bb := o.Light(l, a*k, b*k)
		return [3]float32{r, g, bb}
	}
}
