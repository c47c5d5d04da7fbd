package proof

import (
	"math"
	"slices"

	"episema/core/colour"
	"episema/core/develop"
	"episema/core/raster"
)

// Spot is a place on the picture, in pixels of the full size.
type Spot [2]float64

// lit measures the lit tones of a part: pixels that lie wholly in it and were between the 50th and the 90th percentile of
// its lightness. It gives the median colour of the result there, and a pixel of the level that has it.
func lit(d *develop.Developed, r *develop.Rendered, part int) (tone colour.Lab, pixel int) {
	m := r.Masks[part]
	if m == nil {
		return tone, 0
	}
	all := wholly(m)
	if len(all) == 0 {
		return tone, 0
	}
	band := raster.Between(all, func(i int) float64 { return light(at(r.Before, i)) }, 0.5, 0.9)
	// The median channel by channel, and the pixel nearest to it.
	var mid colour.RGB
	for c := range mid {
		v := make([]float64, len(band))
		for k, i := range band {
			v[k] = float64(r.After.Pix[3*i+c])
		}
		mid[c] = raster.Nth(v, len(v)/2)
	}
	tone = d.Space.Lab(mid)
	best := math.Inf(1)
	for _, i := range band {
		if e := colour.DeltaE00(d.Space.Lab(at(r.After, i)), tone); e < best {
			best, pixel = e, i
		}
	}
	return tone, pixel
}

// wholly returns the pixels that lie wholly in a part.
func wholly(m *raster.Mask) (all []int) {
	for i, v := range m.Pix {
		if v >= raster.Whole*98/100 {
			all = append(all, i)
		}
	}
	return all
}

func at(p *raster.RGB, i int) colour.RGB {
	return colour.RGB{float64(p.Pix[3*i]), float64(p.Pix[3*i+1]), float64(p.Pix[3*i+2])}
}

// worst gives the pixels of a part that lie furthest out of gamut and furthest above white, if any do.
func worst(d *develop.Developed, r *develop.Rendered, part int, scale float64) (gamut, clipped *Spot) {
	m, p := r.Masks[part], &d.Parts[part]
	all := wholly(m)
	out, over := p.Plan.Until(d.Done).Beyond(r.Before, all)
	furthest := func(by []float32) *Spot {
		var most float32
		var at *Spot
		for k, v := range by {
			if v > most {
				most, at = v, &Spot{(float64(all[k]%m.W) + 0.5) * scale, (float64(all[k]/m.W) + 0.5) * scale}
			}
		}
		return at
	}
	return furthest(out), furthest(over)
}

const (
	vividHue   = 25.0 * math.Pi / 180 // colours are similar up to so much of hue
	vividLight = 0.2                  // and of lightness (Oklab)
	vividLeast = 30                   // pixels that have it at least
	vividFaint = 0.02                 // what has less chroma has no hue
)

// MostVivid returns the Oklab chroma of the most vivid colour like the wanted one that the photo itself contains; 0
// where it has none like it.
func MostVivid(space *colour.Space, pic *raster.RGB, want colour.Lab) float64 {
	w := space.Oklab(space.Linear(want))
	hue := math.Atan2(w[2], w[1])
	lab := colour.NewFast(space)
	rows := make([][]float64, pic.H)
	raster.Parallel(pic.H, func(y int) {
		row := pic.Pix[3*y*pic.W : 3*(y+1)*pic.W]
		for x := range pic.W {
			l, a, b := lab.Oklab(row[3*x], row[3*x+1], row[3*x+2])
			if math.Abs(float64(l)-w[0]) > vividLight || a*a+b*b < vividFaint*vividFaint {
				continue
			}
			if turn := math.Abs(math.Remainder(math.Atan2(float64(b), float64(a))-hue, 2*math.Pi)); turn < vividHue {
				rows[y] = append(rows[y], math.Hypot(float64(a), float64(b)))
			}
		}
	})
	chroma := slices.Concat(rows...)
	if len(chroma) < vividLeast {
		return 0
	}
	return raster.Nth(chroma, len(chroma)-vividLeast)
}

// vividStrength gives the strength, in percent, at which the result at the match point would be as vivid as the most
// vivid similar colour of the photo; nil where the photo has none like it or the result is not as vivid.
func vividStrength(d *develop.Developed, r *develop.Rendered, p *develop.Part, got colour.Lab) *float64 {
	vivid := MostVivid(d.Space, r.Before, p.Aim)
	if vivid == 0 {
		return nil
	}
	chroma := func(t float64) float64 {
		a, b := d.Space.Linear(p.Own), d.Space.Linear(got)
		for c := range a {
			a[c] += t * (b[c] - a[c])
		}
		o := d.Space.Oklab(a)
		return math.Hypot(o[1], o[2])
	}
	if chroma(1) <= vivid {
		return nil
	}
	// From the whole change down to the last strength that is as vivid as the photo.
	t := 1.0
	for t > 0 && chroma(t) > vivid {
		t -= 0.01
	}
	now := p.Settings.Strength // the result has this strength already
	s := math.Max(0, t*now)
	return &s
}
