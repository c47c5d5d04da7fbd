package scenes

import (
	"fmt"

	"episema/core/colour"
	"episema/core/raster"
)

// Truth is a scene of which the part's mask is known exactly, and what it looks like in other colours.
type Truth struct {
	Name  string
	Mask  *raster.Mask
	From  []string // colours that the part is repainted from
	To    []string // and to
	Aside bool     // nothing is tuned on it
	dir   string
	raw   []*raster.RGB // at rawAlbedos, unclipped; nil: only what was developed is there
}

// rawAlbedos are the grey albedos of the renders that are kept as linear light, and rawGain what they are exposed by; they
// are those of demo/render.
var rawAlbedos = [3]float64{0.02, 0.40, 0.85}

const rawGain = 4

// targets of the scenes that are kept as linear light: vivid, pastel, near-white, near-black and a middle grey.
var targets = []string{"vivid", "pastel", "offwhite", "offblack", "grey"}

func init() {
	for name, css := range map[string]string{"offwhite": "#f4f4f0", "offblack": "#1b1b1f", "grey": "#808080", "vivid": "#a3162a"} {
		l, err := colour.ParseCSS(css)
		if err != nil {
			panic(err)
		}
		Albedos[name] = colour.SRGB.Linear(l)
	}
}

// Truths lists the scenes: those that things are tuned on first.
func Truths(dir string) []*Truth {
	all := []*Truth{
		{Name: "mug", From: Colours, To: Colours},
		{Name: "scarf", From: Colours, To: Colours},
		{Name: "tote", From: Colours, To: Colours, Aside: true},
		{Name: "seat", From: []string{"hide"}, To: targets},
		{Name: "muff", From: []string{"olive"}, To: targets},
		{Name: "pouch", From: []string{"navy"}, To: targets},
		{Name: "pot", From: []string{"clay"}, To: targets},
		{Name: "curtain", From: []string{"sage"}, To: targets, Aside: true},
	}
	for _, t := range all {
		t.dir = dir
	}
	return all
}

// Bare gives a scene that is only told by its name: its mask and its linear renders.
func Bare(dir, name string) *Truth { return &Truth{Name: name, From: []string{""}, dir: dir} }

// Load reads a scene's mask and, where they are kept, its linear renders.
func (t *Truth) Load() error {
	var err error
	if t.Mask, err = Mask(t.dir, t.Name+"-mask"); err != nil {
		return err
	}
	if t.From[0] == Colours[0] {
		return nil
	}
	for i := range rawAlbedos {
		p, err := Linear16(t.dir, fmt.Sprintf("%s-a%d", t.Name, i))
		if err != nil {
			return err
		}
		t.raw = append(t.raw, p)
	}
	return nil
}

// Light is the scene with its part in a colour, in linear light, 1 = white; it may lie above.
func (t *Truth) Light(name string) (*raster.RGB, error) {
	if t.raw == nil {
		return RGB(t.dir, t.Name+"-"+name)
	}
	albedo, ok := Albedos[name]
	if !ok {
		return nil, fmt.Errorf("the colour %q is not known", name)
	}
	// A quadratic through three points, a channel each: direct light and the part's own bounce.
	var k [3][3]float64
	for c := range k {
		for i := range rawAlbedos {
			k[c][i] = 1
			for j, b := range rawAlbedos {
				if j != i {
					k[c][i] *= (albedo[c] - b) / (rawAlbedos[i] - b)
				}
			}
		}
	}
	o := raster.NewRGB(t.Mask.W, t.Mask.H)
	for i := range o.Pix {
		w := &k[i%3]
		v := float32(w[0])*t.raw[0].Pix[i] + float32(w[1])*t.raw[1].Pix[i] + float32(w[2])*t.raw[2].Pix[i]
		o.Pix[i] = max(0, v*rawGain)
	}
	return o, nil
}

// Shot is the scene with its part in a colour as a camera gives it: clean, or a small camera's file. The noise of all
// colours is the same. What was developed is clean already.
func (t *Truth) Shot(name string, clean bool) (*raster.RGB, error) {
	p, err := t.Light(name)
	switch {
	case err != nil:
		return nil, err
	case !clean:
		return Camera(p, 43), nil
	case t.raw == nil:
		return p, nil
	}
	return Clean(p, 41), nil
}

// Linear16 reads a truth picture of 16 bits as it is: linear light, or coordinates, from 0 to 1.
func Linear16(dir, name string) (*raster.RGB, error) {
	img, err := read(dir, name)
	if err != nil {
		return nil, err
	}
	return FromImage(img, func(v uint32) float32 { return float32(v) / 65535 }), nil
}
