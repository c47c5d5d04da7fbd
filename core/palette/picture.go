package palette

import (
	"sort"

	"episema/core/cluster"
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
	p := cluster.Plain(px)
	centres := p.Spread(p.Farthest(p.Mean()), k, 1e-3)
	_, count := p.Means(centres, 20)
	var out []Taken
	for j, c := range centres {
		if count[j] > 0 {
			out = append(out, Taken{space.Lab(space.FromOklab(colour.Oklab(c))), count[j] / float64(len(px))})
		}
	}
	sort.SliceStable(out, func(a, b int) bool { return out[a].Share > out[b].Share })
	return out
}
