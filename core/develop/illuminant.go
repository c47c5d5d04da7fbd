package develop

import (
	"fmt"
	"math"
	"slices"

	"episema/core/colour"
	"episema/core/document"
	"episema/core/raster"
)

// light returns what the picture's light makes of a neutral colour, a factor for each channel: by the grey card that the document
// names, or estimated.
func (d *Developed) light(grey *document.Grey) ([3]float64, error) {
	key := "illuminant"
	if grey != nil {
		key = keyOf("grey card", grey)
	}
	v, err := d.memo.Do(key, func(raster.Done) (any, error) {
		if grey != nil {
			return d.byCard(*grey)
		}
		pic, err := d.LearningPicture(d.memo)
		if err != nil {
			return nil, err
		}
		return illuminant(pic), nil
	})
	if err != nil {
		return [3]float64{}, err
	}
	return v.([3]float64), nil
}

// byCard returns the light as a grey card shows it: the mean of 9 x 9 pixels, over what a card of its lightness has under even light,
// or with a mean channel of 1 where only its tint counts.
func (d *Developed) byCard(g document.Grey) (o [3]float64, err error) {
	pic, err := d.card(g.At)
	if err != nil {
		return o, err
	}
	n := float64(pic.W * pic.H)
	mean := 0.0
	for i, v := range pic.Pix {
		o[i%3] += float64(v) / n
		mean += float64(v) / (3 * n)
	}
	whole := mean
	if g.Lightness > 0 {
		whole = d.Space.Linear(colour.Lab{g.Lightness, 0, 0})[1]
	}
	for c := range o {
		o[c] = max(0.05, min(4, o[c]/max(whole, 1e-4)))
	}
	return o, nil
}

// card reads the 9 x 9 pixels at full size that are taken for a grey card.
func (d *Developed) card(at [2]float64) (*raster.RGB, error) {
	w, h := d.Size(0)
	x, y := clampInt(int(at[0]), w), clampInt(int(at[1]), h)
	return d.Linear(0, raster.Rect{X0: x - 4, Y0: y - 4, X1: x + 5, Y1: y + 5}.And(raster.Rect{X1: w, Y1: h}))
}

const (
	cardChroma = 25.0 // CIE C*ab past which something is rather coloured than grey in tinted light; only lamplight that nothing corrected gives a mid grey more
	cardBurned = 0.98 // of full scale in a channel: it may have been more
	cardDark   = 8.0  // CIE L* under which noise is what is seen
	cardUneven = 12.0 // CIE L* from the darkest to the lightest tenth
)

// CardDoubt says what speaks against taking what lies at a point of the full size for a grey card, a sentence; empty where nothing does.
// The limits are rules of thumb.
func (d *Developed) CardDoubt(at [2]float64) (string, error) {
	pic, err := d.card(at)
	if err != nil {
		return "", err
	}
	n := pic.W * pic.H
	burned := 0
	light := make([]float64, n)
	var mean colour.RGB
	for i := range n {
		c := colour.RGB{float64(pic.Pix[3*i]), float64(pic.Pix[3*i+1]), float64(pic.Pix[3*i+2])}
		if max(c[0], c[1], c[2]) >= cardBurned {
			burned++
		}
		light[i] = d.Space.Lab(c)[0]
		for k := range mean {
			mean[k] += c[k] / float64(n)
		}
	}
	slices.Sort(light)
	lab := d.Space.Lab(mean)
	switch {
	case 4*burned > n:
		return "it is burned out there, so that its tint cannot be seen", nil
	case lab[0] < cardDark:
		return fmt.Sprintf("it is nearly black there (L* %.0f), so that its tint is mostly noise", lab[0]), nil
	case lab.Chroma() > cardChroma:
		return fmt.Sprintf("it is coloured (C* %.0f): right only where the light itself is tinted so", lab.Chroma()), nil
	case light[n-1-n/10]-light[n/10] > cardUneven:
		return "it is uneven there; click where it is one tone", nil
	}
	return "", nil
}

// illuminant estimates the tint of a picture's light, with a mean channel of 1: shades of grey (Finlayson and Trezzi,
// Shades of gray and colour constancy, 2004) with the sixth power.
func illuminant(pic *raster.RGB) (o [3]float64) {
	for i, v := range pic.Pix {
		if v < 0.98 {
			o[i%3] += math.Pow(float64(v), 6)
		}
	}
	m := 0.0
	for c := range o {
		o[c] = math.Pow(o[c], 1.0/6)
		m += o[c] / 3
	}
	for c := range o {
		o[c] = max(0.4, min(2.5, o[c]/max(m, 1e-9)))
	}
	return o
}
