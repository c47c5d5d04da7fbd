package recolour

import (
	"math"

	"episema/core/colour"
)

// TwoTone is the method in which one colour governs the dark end and one, the target, the light end.
type TwoTone struct {
	Dark   string  `json:"dark"`   // CSS; empty links it: the target's hue, deep
	Middle float64 `json:"middle"` // 0..100: the tone, of the lit one's, at which both count alike
}

// Validate says what is wrong.
func (t *TwoTone) Validate() error {
	if t == nil {
		return nil
	}
	if t.Dark != "" {
		if _, err := colour.ParseCSS(t.Dark); err != nil {
			return err
		}
	}
	return inRange([]ranged{{"middle", t.Middle, 1, 99}})
}

// newTwoTone mixes the two in Oklab by the pixel's lightness: black is the dark colour, the typical lit tone
// the target; what is lighter still goes on to white as it does in the picture.
func newTwoTone(space *colour.Space, lit, goal colour.RGB, t *TwoTone) (painter, error) {
	if t == nil {
		t = &TwoTone{Middle: 50}
	}
	top := space.Oklab(goal)
	dark := colour.Oklab{0.16 + 0.1*top[0], top[1] * 0.5, top[2] * 0.5}
	if t.Dark != "" {
		lab, err := colour.ParseCSS(t.Dark)
		if err != nil {
			return nil, err
		}
		dark = space.Oklab(space.Linear(lab))
	}
	l := space.Oklab(lit)[0]
	scale := float32(1 / math.Max(0.05, l))
	rest := float32(math.Max(0.02, 1-l))
	// The power that brings the middle to a half.
	power := math.Log(0.5) / math.Log(t.Middle/100)
	var curve [1025]float32
	for i := range curve {
		curve[i] = float32(math.Pow(float64(i)/1024, power))
	}
	f := colour.NewFast(space)
	var d, g [3]float32
	for c := range 3 {
		d[c], g[c] = float32(dark[c]), float32(top[c])
	}
	return func(r, gg, b float32) (float32, float32, float32) {
		v, _, _ := f.Oklab(r, gg, b)
		k := v * scale
		if k <= 1 {
			k = max(0, k) * 1024
			i := min(1023, int(k))
			m := curve[i] + (k-float32(i))*(curve[i+1]-curve[i])
			return f.Light(d[0]+m*(g[0]-d[0]), d[1]+m*(g[1]-d[1]), d[2]+m*(g[2]-d[2]))
		}
		k = min(1, (v-float32(l))/rest)
		return f.Light(g[0]+k*(1-g[0]), g[1]*(1-k), g[2]*(1-k))
	}, nil
}
