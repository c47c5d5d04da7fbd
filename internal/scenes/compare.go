package scenes

import (
	"math"

	"episema/core/raster"
)

// Compare gives the intersection over union of two soft masks and the mean distance from each one's edge to
// the other's, in pixels.
func Compare(a, t *raster.Mask) (iou, edge float64) {
	var both, any float64
	for i := range a.Pix {
		x, y := float64(a.Pix[i]), float64(t.Pix[i])
		both += math.Min(x, y)
		any += math.Max(x, y)
	}
	return both / any, (EdgeDistance(a, t) + EdgeDistance(t, a)) / 2
}

// EdgeDistance is the mean over a's edge pixels of the distance to b's nearest edge pixel, capped at 50.
func EdgeDistance(a, b *raster.Mask) float64 {
	eb := edges(b)
	d := raster.SignedDistance(func(i int) bool { return !eb[i] }, b.W, b.H)
	sum, n := 0.0, 0.0
	for i, e := range edges(a) {
		if e {
			sum += math.Min(50, math.Max(0, float64(d[i])+0.5))
			n++
		}
	}
	if n == 0 {
		return 50
	}
	return sum / n
}

func edges(m *raster.Mask) []bool {
	e := make([]bool, len(m.Pix))
	for y := 0; y < m.H-1; y++ {
		for x := 0; x < m.W-1; x++ {
			i := y*m.W + x
			in := m.Pix[i] >= 32768
			e[i] = in != (m.Pix[i+1] >= 32768) || in != (m.Pix[i+m.W] >= 32768)
		}
	}
	return e
}

// AlphaError is the mean absolute difference of two masks' shares in the band where t is neither none nor
// whole, two pixels wider.
func AlphaError(a, t *raster.Mask) float64 {
	band := make([]float32, len(t.Pix))
	for i, v := range t.Pix {
		if v > raster.Whole/50 && v < raster.Whole*49/50 {
			band[i] = 1
		}
	}
	raster.BoxSum(band, t.W, t.H, 2)
	sum, n := 0.0, 0.0
	for i, b := range band {
		if b > 0.5 {
			sum += math.Abs(float64(a.Pix[i])-float64(t.Pix[i])) / raster.Whole
			n++
		}
	}
	return sum / n
}
