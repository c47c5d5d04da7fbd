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

// finisher changes n painted pixels; it also gets what they were.
type finisher func(was, now *lanes, n int)

// newFinish gives nil where nothing would change.
func newFinish(space *colour.Space, f *Finish) finisher {
	if f == nil || *f == *NewFinish() {
		return nil
	}
	var steps []lanesPainter
	if f.Exposure != 0 {
		k := float32(math.Exp2(f.Exposure))
		steps = append(steps, painter(func(r, g, b float32) (float32, float32, float32) { return r * k, g * k, b * k }).each)
	}
	if f.Black != 0 || f.White != 255 || f.Middle != 1 || f.OutBlack != 0 || f.OutWhite != 255 {
		steps = append(steps, f.levels())
	}
	if f.Highlights != 0 || f.Shadows != 0 || f.Saturation != 0 || f.Vibrance != 0 {
		steps = append(steps, f.tones(space).each)
	}
	blend := f.Blend
	if blend == "normal" {
		blend = ""
	}
	return func(was, now *lanes, n int) {
		for _, s := range steps {
			s(now, n)
		}
		if blend != "" {
			laid(blend, was, now, n)
		}
	}
}

// laid blends coded values of what is painted with what was there.
func laid(mode string, was, now *lanes, n int) {
	var b, s lanes
	for c := range s {
		colour.Code(b[c][:n], was[c][:n])
		colour.Code(s[c][:n], now[c][:n])
	}
	channel := blendOf(mode)
	for i := range n {
		at := func(l *lanes) [3]float64 {
			return [3]float64{float64(unit(l[0][i])), float64(unit(l[1][i])), float64(unit(l[2][i]))}
		}
		under, over := at(&b), at(&s)
		if channel == nil {
			over = Blend(mode, under, over)
		} else {
			over = [3]float64{channel(under[0], over[0]), channel(under[1], over[1]), channel(under[2], over[2])}
		}
		now.set(i, colour.Light32(float32(over[0])), colour.Light32(float32(over[1])), colour.Light32(float32(over[2])))
	}
}

func (f *Finish) levels() lanesPainter {
	const steps = 4096
	var table [steps + 1]float32
	for i := range table {
		v := math.Max(0, math.Min(1, (float64(i)/steps*255-f.Black)/(f.White-f.Black)))
		v = f.OutBlack/255 + math.Pow(v, 1/f.Middle)*(f.OutWhite-f.OutBlack)/255
		table[i] = float32(colour.SRGBDecode(v))
	}
	return func(l *lanes, n int) {
		for c := range l {
			now := l[c][:n]
			colour.Code(now, now)
			for k, v := range now {
				p := unit(v) * steps
				i := min(steps-1, int(p))
				now[k] = table[i] + (p-float32(i))*(table[i+1]-table[i])
			}
		}
	}
}

func (f *Finish) tones(space *colour.Space) painter {
	o := colour.NewFast(space)
	hi, lo := float32(f.Highlights/100*0.25), float32(f.Shadows/100*0.25)
	sat, vib := float32(f.Saturation/100), float32(f.Vibrance/100)
	return func(r, g, bl float32) (float32, float32, float32) {
		l, a, b := o.Oklab(r, g, bl)
		t := unit(l)
		l += lo*4*t*(1-t)*(1-t) + hi*4*t*t*(1-t)
		k := 1 + sat
		if vib != 0 {
			chroma := float32(math.Sqrt(float64(a*a + b*b)))
			k *= 1 + vib*max(0, 1-chroma/0.2)
		}
		return o.Light(l, a*k, b*k)
	}
}
