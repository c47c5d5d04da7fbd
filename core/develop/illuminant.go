package develop

import (
	"math"

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
	w, h := d.Size(0)
	x, y := clampInt(int(g.At[0]), w), clampInt(int(g.At[1]), h)
	pic, err := d.Linear(0, raster.Rect{X0: x - 4, Y0: y - 4, X1: x + 5, Y1: y + 5}.And(raster.Rect{X1: w, Y1: h}))
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
