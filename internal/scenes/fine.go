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
	x, y := lightnesses(a), lightnesses(b)
	both := func(weight []float32) float64 {
		x, y := detail(x, weight, mask.W), detail(y, weight, mask.W)
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
	return both(weight), both(slices.Repeat([]float32{1}, len(weight)))
}

const sureIn = raster.Whole * 98 / 100 // lies wholly in the part

// lightnesses gives the L* of a picture's pixels.
func lightnesses(p *raster.RGB) []float32 {
	d := make([]float32, p.W*p.H)
	for i := range d {
		d[i] = float32(LabAt(p, i)[0])
	}
	return d
}

// detail gives values less their blur over those that have weight, in rows of w.
func detail(v, weight []float32, w int) []float32 {
	d, n := make([]float32, len(v)), slices.Clone(weight)
	for i := range d {
		d[i] = v[i] * weight[i]
	}
	raster.Gauss(d, w, len(v)/w, 3)
	raster.Gauss(n, w, len(v)/w, 3)
	for i := range d {
		d[i] = v[i] - d[i]/max(n[i], 1e-6)
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
