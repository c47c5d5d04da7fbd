package isolate

import (
	"math"

	"episema/core/raster"
)

// textureBands are the sizes of detail that texture is told by: the Gaussians that bound each, in pixels of the regions' level.
var textureBands = [3][2]float64{{0, 1}, {1, 2.2}, {2.2, 5}}

const (
	textureWordCount = 12
	textureFloor     = 0.004 // lightness (Oklab) below which detail is noise
	textureBins      = 24    // bins an axis of logarithmic strength
)

// textureWords gives each pixel the nearest of a few textures that stand for the picture's: how much fine, middling and coarse
// detail of lightness there is around it (band energies, as in Malik and Perona, Preattentive texture discrimination with early
// vision mechanisms, 1990), in the calmest of the four quarters around it, so that the edge of a smooth thing is no texture
// (the choice of quarter is Kuwahara's, 1976).
func textureWords(f *planes, done raster.Done) []uint8 {
	var strength [len(textureBands)][]float32
	done.Parallel(len(textureBands), func(k int) { strength[k] = f.detail(textureBands[k], done) })
	done.Check()
	// Logarithms, from the floor to 64 times it.
	at := func(i int) (v [3]float64) {
		for b := range strength {
			v[b] = min(1, math.Log2(1+float64(strength[b][i])/textureFloor)/6)
		}
		return v
	}
	bin := make([]int32, f.w*f.h)
	var index [textureBins * textureBins * textureBins]int32 // over 0 where the bin is in use
	used := int32(0)
	for i := range bin {
		k := 0
		for _, v := range at(i) {
			k = k*textureBins + min(textureBins-1, int(v*textureBins))
		}
		if index[k] == 0 {
			used++
			index[k] = used
		}
		bin[i] = index[k] - 1
	}
	return words(bin, textureWordCount, [3]float64{1, 1, 1}, at)
}

// detail gives the root mean square of the lightness between two Gaussians, in the calmest quarter around each pixel.
func (f *planes) detail(band [2]float64, done raster.Done) []float32 {
	w, h := f.w, f.h
	fine, coarse := make([]float32, w*h), make([]float32, w*h)
	for i := range fine {
		fine[i] = f.lab[3*i]
	}
	copy(coarse, fine)
	if band[0] > 0 {
		raster.Gauss(fine, w, h, band[0])
	}
	raster.Gauss(coarse, w, h, band[1])
	sum := make([]float64, (w+1)*(h+1))
	for y := range h {
		done.Check()
		row := 0.0
		for x := range w {
			d := float64(fine[y*w+x] - coarse[y*w+x])
			row += d * d
			sum[(y+1)*(w+1)+x+1] = sum[y*(w+1)+x+1] + row
		}
	}
	r := int(math.Round(2 + 2*band[1]))
	for y := range h {
		done.Check()
		for x := range w {
			best := math.Inf(1)
			for _, q := range [4][2]int{{0, 0}, {0, r}, {r, 0}, {r, r}} {
				x0, y0 := max(0, x-q[0]), max(0, y-q[1])
				x1, y1 := min(w, x-q[0]+r+1), min(h, y-q[1]+r+1)
				if x1 <= x0 || y1 <= y0 {
					continue
				}
				s := sum[y1*(w+1)+x1] - sum[y0*(w+1)+x1] - sum[y1*(w+1)+x0] + sum[y0*(w+1)+x0]
				best = min(best, s/float64((x1-x0)*(y1-y0)))
			}
			fine[y*w+x] = float32(math.Sqrt(max(0, best)))
		}
	}
	return fine
}
