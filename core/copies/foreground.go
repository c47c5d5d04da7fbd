package copies

import (
	"math"

	"episema/core/raster"
)

// Around how far, in pixels of the full size, a pixel's colours before and behind are looked for; first coarsely, then finely.
const (
	farAround  = 30
	nearAround = 6
)

// radii returns these in pixels that are step full-size pixels wide.
func radii(step float64) [2]int {
	return [2]int{max(4, int(math.Round(farAround/step))), max(2, int(math.Round(nearAround/step)))}
}

// Margin is how far around a pixel Unmix looks, in pixels that are step full-size pixels wide.
func Margin(step float64) int {
	r := radii(step)
	return r[0] + r[1]
}

// Unmix tells for each pixel the colour of a thing that covers a share of it, and that of what is behind: pic is the one over the other.
// It is Blur-Fusion, twice (Forte, Approximate Fast Foreground Colour Estimation, ICIP 2021, equations 4 to 7), with smaller
// neighbourhoods, for masks are a few pixels soft here, and with what the means leave unexplained given to the two by how much each
// varies around: a thing's limb is often in another light than what is beside it. share is 0..1, a value a pixel; step is how many
// full-size pixels a pixel is wide.
func Unmix(pic *raster.RGB, share []float32, step float64, done raster.Done) (before, behind *raster.RGB) {
	before, behind = pic, pic
	for _, r := range radii(step) {
		done.Check()
		before, behind = fuse(pic, before, behind, share, r, done)
	}
	return before, behind
}

// fuse is one round: the means of what both are around a pixel, and as much of each as makes the pixel what it is.
func fuse(pic, before, behind *raster.RGB, share []float32, r int, done raster.Done) (f, b *raster.RGB) {
	w, h := pic.W, pic.H
	n := w * h
	weight := append([]float32(nil), share...)
	raster.BoxSum(weight, w, h, r)
	rest := inverse(share)
	raster.BoxSum(rest, w, h, r)
	varF, varB := spread(before, share, weight, r), spread(behind, inverse(share), rest, r)
	f, b = raster.NewRGB(w, h), raster.NewRGB(w, h)
	raster.Parallel(3, func(c int) {
		done.Check()
		fm, bm := make([]float32, n), make([]float32, n)
		for i, a := range share {
			fm[i], bm[i] = a*before.Pix[3*i+c], (1-a)*behind.Pix[3*i+c]
		}
		raster.BoxSum(fm, w, h, r)
		raster.BoxSum(bm, w, h, r)
		for i, a := range share {
			at := 3*i + c
			switch {
			case a >= 1:
				f.Pix[at], b.Pix[at] = pic.Pix[at], mean(bm[i], rest[i], pic.Pix[at])
			case a <= 0:
				f.Pix[at], b.Pix[at] = mean(fm[i], weight[i], pic.Pix[at]), pic.Pix[at]
			default:
				fore, back := mean(fm[i], weight[i], pic.Pix[at]), mean(bm[i], rest[i], pic.Pix[at])
				// Of all that explains the pixel, what is least unlikely for colours that vary as they do.
				p, q := a*varF[i], (1-a)*varB[i]
				miss := (pic.Pix[at] - a*fore - (1-a)*back) / (a*p + (1-a)*q)
				f.Pix[at], b.Pix[at] = max(0, min(1, fore+p*miss)), max(0, min(1, back+q*miss))
			}
		}
	})
	return f, b
}

func inverse(share []float32) []float32 {
	out := make([]float32, len(share))
	for i, a := range share {
		out[i] = 1 - a
	}
	return out
}

// Variances of a colour that are taken for given, in squares of linear light: a sensor's noise, and what no mean tells.
const leastSpread = 1e-4

// spread returns how much a colour varies around each pixel: the mean square distance from its mean, all channels together.
func spread(p *raster.RGB, share, weight []float32, r int) []float32 {
	w, h := p.W, p.H
	n := w * h
	var sums [4][]float32 // of each channel, and of their squares
	for k := range sums {
		sums[k] = make([]float32, n)
	}
	for i, a := range share {
		for c := range 3 {
			v := p.Pix[3*i+c]
			sums[c][i] = a * v
			sums[3][i] += a * v * v
		}
	}
	raster.Parallel(4, func(k int) { raster.BoxSum(sums[k], w, h, r) })
	for i, m := range weight {
		if m < leastWeight {
			sums[3][i] = leastSpread
			continue
		}
		v := sums[3][i] / m
		for c := range 3 {
			v -= sums[c][i] / m * (sums[c][i] / m)
		}
		sums[3][i] = max(0, v) + leastSpread
	}
	return sums[3]
}

// leastWeight is what must be around a pixel for its mean to tell anything.
const leastWeight = 0.01

func mean(sum, weight, otherwise float32) float32 {
	if weight < leastWeight {
		return otherwise
	}
	return sum / weight
}
