package recolour

import (
	"math"

	"episema/core/raster"
)

// Shades is what the shades of a picture's surfaces tell of its camera. In light, a surface's channels rise and fall
// together, and what is mirrored takes away from the contrast of the weak ones. A toe gives the weak ones more
// contrast, and a shoulder takes from the strong ones.
type Shades struct {
	slope [len(filmPrior)]float64 // contrast of the weakest channel over that of the strongest, median of its logarithm, with each film taken out
	n     int                     // places it was seen in
}

// ShadesOf looks at the surfaces of a picture, at any level whose long side is some hundred pixels.
func ShadesOf(pic *raster.RGB) *Shades {
	const side = 8
	type place struct {
		hi, lo [side * side]float32
	}
	var places []place
	for max(pic.W, pic.H) > 500 {
		pic = raster.Half(pic)
	}
	for y0 := 0; y0+side <= pic.H; y0 += side {
		for x0 := 0; x0+side <= pic.W; x0 += side {
			var mean [3]float32
			for y := range side {
				row := pic.Pix[3*((y0+y)*pic.W+x0) : 3*((y0+y)*pic.W+x0+side)]
				for i, v := range row {
					mean[i%3] += v / (side * side)
				}
			}
			hi, lo := 0, 0
			for c := range mean {
				if mean[c] > mean[hi] {
					hi = c
				}
				if mean[c] < mean[lo] {
					lo = c
				}
			}
			if mean[lo] < 0.001 || mean[hi] > 0.75 || mean[hi] < 1.3*mean[lo] {
				continue
			}
			var p place
			for k := range p.hi {
				i := 3 * ((y0+k/side)*pic.W + x0 + k%side)
				p.hi[k], p.lo[k] = pic.Pix[i+hi], pic.Pix[i+lo]
			}
			places = append(places, p)
		}
	}
	s := &Shades{}
	for k, f := range films() {
		var all []float64
		for i := range places {
			if v, ok := f.contrasts(places[i].hi[:], places[i].lo[:]); ok {
				all = append(all, v)
			}
		}
		if k == 0 {
			s.n = len(all)
		}
		if len(all) > 0 {
			s.slope[k] = raster.Nth(all, len(all)/2)
		}
	}
	if s.n < 20 {
		s.n = 0
	}
	return s
}

// contrasts compares two channels of a surface; not ok where it has hardly any shade, or is not one surface.
func (f *film) contrasts(hi, lo []float32) (float64, bool) {
	var mh, ml, vh, vl, cov float64
	n := float64(len(hi))
	for i := range hi {
		a, b := float64(f.light(hi[i])), float64(f.light(lo[i]))
		mh, ml, vh, vl, cov = mh+a, ml+b, vh+a*a, vl+b*b, cov+a*b
	}
	mh, ml = mh/n, ml/n
	vh, vl, cov = vh/n-mh*mh, vl/n-ml*ml, cov/n-mh*ml
	if ml <= 0 || mh < 1.5*ml || vh < 0.05*0.05*mh*mh || cov < 0.97*math.Sqrt(vh*vl) || vl <= 0 {
		return 0, false
	}
	return math.Log(math.Sqrt(vl/vh) * mh / ml), true
}
