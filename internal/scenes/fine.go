package scenes

import (
	"math"
	"slices"

	"episema/core/colour"
	"episema/core/raster"
)

// FineKept is the correlation of L* less its blur of sigma 3 pixels, over the pixels that lie wholly in the part.
func FineKept(a, b *raster.RGB, mask *raster.Mask) float64 {
	detail := func(p *raster.RGB) []float32 {
		d := make([]float32, p.W*p.H)
		for i := range d {
			d[i] = float32(LabAt(p, i)[0])
		}
		soft := slices.Clone(d)
		raster.Gauss(soft, p.W, p.H, 3)
		for i := range d {
			d[i] -= soft[i]
		}
		return d
	}
	x, y := detail(a), detail(b)
	var n, sx, sy, sxx, syy, sxy float64
	inner := raster.SignedDistance(func(i int) bool { return mask.Pix[i] >= raster.Whole*98/100 }, mask.W, mask.H)
	for i := range x {
		if inner[i] < 4 {
			continue
		}
		u, v := float64(x[i]), float64(y[i])
		n, sx, sy, sxx, syy, sxy = n+1, sx+u, sy+v, sxx+u*u, syy+v*v, sxy+u*v
	}
	return (sxy - sx*sy/n) / math.Sqrt((sxx-sx*sx/n)*(syy-sy*sy/n))
}

// LabAt gives the CIELAB of a pixel as a file of 8 bits has it.
func LabAt(p *raster.RGB, i int) colour.Lab {
	q := func(v float32) float64 {
		if v >= 0 && v <= 1 {
			return float64(colour.Light8[int(255*colour.Coded32(v)+0.5)])
		}
		return colour.SRGBDecode(math.Round(255*colour.SRGBEncode(float64(v))) / 255)
	}
	return colour.SRGB.Lab(colour.RGB{q(p.Pix[3*i]), q(p.Pix[3*i+1]), q(p.Pix[3*i+2])})
}
