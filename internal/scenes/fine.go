package scenes

import (
	"math"
	"slices"

	"episema/core/colour"
	"episema/core/raster"
)

// FineKept is the correlation of L* less its blur of sigma 3 pixels, over the pixels that lie wholly in the part and no nearer than 4 to
// where it ends. part blurs over the part alone. In seen the blur reaches over its edge, so that a thing that became dark on a ground that
// did not counts as well: what its edge is against the ground is not of its own fine light and dark.
func FineKept(a, b *raster.RGB, mask *raster.Mask) (part, seen float64) {
	inner := raster.SignedDistance(func(i int) bool { return mask.Pix[i] >= sureIn }, mask.W, mask.H)
	weight := make([]float32, len(mask.Pix))
	for i, m := range mask.Pix {
		if m >= sureIn {
			weight[i] = 1
		}
	}
	whole := slices.Clone(weight)
	for i := range whole {
		whole[i] = 1
	}
	both := func(weight []float32) float64 {
		x, y := detail(a, weight), detail(b, weight)
		var n, sx, sy, sxx, syy, sxy float64
		for i := range x {
			if inner[i] < 4 {
				continue
			}
			u, v := float64(x[i]), float64(y[i])
			n, sx, sy, sxx, syy, sxy = n+1, sx+u, sy+v, sxx+u*u, syy+v*v, sxy+u*v
		}
		return (sxy - sx*sy/n) / math.Sqrt((sxx-sx*sx/n)*(syy-sy*sy/n))
	}
	return both(weight), both(whole)
}

const sureIn = raster.Whole * 98 / 100 // lies wholly in the part

// detail is a picture's L* less its blur over the pixels that have weight.
func detail(p *raster.RGB, weight []float32) []float32 {
	d, soft, n := make([]float32, len(weight)), make([]float32, len(weight)), slices.Clone(weight)
	for i := range d {
		d[i] = float32(LabAt(p, i)[0])
		soft[i] = d[i] * weight[i]
	}
	raster.Gauss(soft, p.W, p.H, 3)
	raster.Gauss(n, p.W, p.H, 3)
	for i := range d {
		d[i] -= soft[i] / max(n[i], 1e-6)
	}
	return d
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
