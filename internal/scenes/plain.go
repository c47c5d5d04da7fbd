package scenes

import (
	"math"

	"episema/core/colour"
	"episema/core/raster"
)

func each(src *raster.RGB, mask *raster.Mask, f func(c colour.RGB) colour.RGB) *raster.RGB {
	o := raster.NewRGB(src.W, src.H)
	copy(o.Pix, src.Pix)
	for i, m := range mask.Pix {
		if m == 0 {
			continue
		}
		a := float32(m) / raster.Whole
		c := f(colour.RGB{float64(src.Pix[3*i]), float64(src.Pix[3*i+1]), float64(src.Pix[3*i+2])})
		for k := range 3 {
			v := float32(math.Max(0, math.Min(1, c[k])))
			o.Pix[3*i+k] += a * (v - src.Pix[3*i+k])
		}
	}
	return o
}

// PlainAB replaces a* and b* by the goal's and shifts L*.
func PlainAB(src *raster.RGB, mask *raster.Mask, own, goal colour.RGB) *raster.RGB {
	f, t := colour.SRGB.Lab(own), colour.SRGB.Lab(goal)
	return each(src, mask, func(c colour.RGB) colour.RGB {
		l := colour.SRGB.Lab(c)
		return colour.SRGB.Linear(colour.Lab{math.Max(0, math.Min(100, l[0]+t[0]-f[0])), t[1], t[2]})
	})
}

// PlainHSL replaces hue and saturation of HSL by the goal's.
func PlainHSL(src *raster.RGB, mask *raster.Mask, goal colour.RGB) *raster.RGB {
	th, ts, _ := toHSL(colour.SRGB.Coded(goal))
	return each(src, mask, func(c colour.RGB) colour.RGB {
		_, _, l := toHSL(colour.SRGB.Coded(c))
		k := func(n float64) float64 {
			v := math.Mod(n+th*12, 12)
			return l - ts*math.Min(l, 1-l)*math.Max(-1, math.Min(math.Min(v-3, 9-v), 1))
		}
		return colour.SRGB.LinearOf(colour.RGB{k(0), k(8), k(4)})
	})
}

func toHSL(c colour.RGB) (h, s, l float64) {
	hi, lo := math.Max(c[0], math.Max(c[1], c[2])), math.Min(c[0], math.Min(c[1], c[2]))
	l = (hi + lo) / 2
	d := hi - lo
	if d == 0 {
		return 0, 0, l
	}
	s = d / (1 - math.Abs(2*l-1))
	switch hi {
	case c[0]:
		h = math.Mod((c[1]-c[2])/d+6, 6) / 6
	case c[1]:
		h = ((c[2]-c[0])/d + 2) / 6
	default:
		h = ((c[0]-c[1])/d + 4) / 6
	}
	return h, math.Min(1, s), l
}
