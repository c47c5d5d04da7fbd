package develop

import (
	"math"

	"episema/core/raster"
)

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
