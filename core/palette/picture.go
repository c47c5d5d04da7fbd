package palette

import (
	"math"
	"sort"

	"episema/core/colour"
	"episema/core/raster"
)

// Taken is a colour that stands for a share of a picture.
type Taken struct {
	Lab   colour.Lab
	Share float64 // of the picture, 0..1
}

// OfPicture takes k representative colours out of a picture, the largest share first: k means in Oklab, begun at places
// as far apart as can be, so that the same picture always gives the same.
func OfPicture(space *colour.Space, pic *raster.RGB, k int) []Taken {
	k = max(1, min(32, k))
	n := pic.W * pic.H
	step := max(1, n/20000)
	var px [][3]float64
	for i := 0; i < n; i += step {
		px = append(px, [3]float64(space.Oklab(colour.RGB{float64(pic.Pix[3*i]), float64(pic.Pix[3*i+1]), float64(pic.Pix[3*i+2])})))
	}
	dist := func(a, b [3]float64) float64 {
		return (a[0]-b[0])*(a[0]-b[0]) + (a[1]-b[1])*(a[1]-b[1]) + (a[2]-b[2])*(a[2]-b[2])
	}
	var mean [3]float64
	for _, p := range px {
		for c := range mean {
			mean[c] += p[c] / float64(len(px))
		}
	}
	far := make([]float64, len(px))
	for i, p := range px {
		far[i] = dist(p, mean)
	}
	var centres [][3]float64
	for len(centres) < k {
		best := 0
		for i := range far {
			if far[i] > far[best] {
				best = i
			}
		}
		if len(centres) > 0 && far[best] < 1e-6 {
			break // the picture has no more colours
		}
		centres = append(centres, px[best])
		for i, p := range px {
			d := dist(p, px[best])
			if len(centres) == 1 || d < far[i] {
				far[i] = d
			}
		}
	}
	count := make([]float64, len(centres))
	for range 20 {
		sum := make([][4]float64, len(centres))
		for _, p := range px {
			at, best := 0, math.Inf(1)
			for j, c := range centres {
				if d := dist(p, c); d < best {
					at, best = j, d
				}
			}
			s := &sum[at]
			s[0], s[1], s[2], s[3] = s[0]+p[0], s[1]+p[1], s[2]+p[2], s[3]+1
		}
		moved := 0.0
		for j, s := range sum {
			count[j] = s[3]
			if s[3] == 0 {
				continue
			}
			next := [3]float64{s[0] / s[3], s[1] / s[3], s[2] / s[3]}
			moved += dist(next, centres[j])
			centres[j] = next
		}
		if moved < 1e-9 {
			break
		}
	}
	var out []Taken
	for j, c := range centres {
		if count[j] > 0 {
			out = append(out, Taken{space.Lab(space.FromOklab(colour.Oklab(c))), count[j] / float64(len(px))})
		}
	}
	sort.SliceStable(out, func(a, b int) bool { return out[a].Share > out[b].Share })
	return out
}
