package isolate

import (
	"math"

	"episema/core/cluster"
)

// gauss is one component of a colour model.
type gauss struct {
	mean   [3]float64
	inv    symmetric // the inverse covariance
	logw   float64   // log of weight over normalisation
	weight float64
}

type mixture []gauss

const components = 5

// floorVar keeps a component from becoming so narrow that light and noise leave it: lightness may
// vary more than tint.
var floorVar = [3]float64{0.0015, 0.00005, 0.00005}

// fit learns a mixture of Gaussians over weighted bins: k-means from spread-out starts, then two rounds
// of expectation and maximisation.
func fit(bins []binned, weight []float64) mixture {
	total := 0.0
	for _, w := range weight {
		total += w
	}
	if total <= 0 {
		return nil
	}
	// Starts: the heaviest bin, and those far from it by their weight.
	p := cluster.Points{At: make([][3]float64, len(bins)), Weight: weight, Scale: colourScale}
	best := 0
	for i, w := range weight {
		p.At[i] = bins[i].v
		if w > weight[best] {
			best = i
		}
	}
	centres := p.Spread(best, components, 0)
	owner, _ := p.Means(centres, 6)
	k := len(centres)
	resp := make([][]float64, k)
	for c := range resp {
		resp[c] = make([]float64, len(bins))
		for i := range bins {
			if owner[i] == c {
				resp[c][i] = weight[i]
			}
		}
	}
	var m mixture
	for round := range 3 {
		m = m[:0]
		for c := range resp {
			if g, ok := component(bins, resp[c], total); ok {
				m = append(m, g)
			}
		}
		if round == 2 {
			break
		}
		resp = resp[:len(m)]
		for i := range bins {
			if weight[i] == 0 {
				continue
			}
			sum := 0.0
			for c := range m {
				resp[c][i] = math.Exp(m[c].log(bins[i].v))
				sum += resp[c][i]
			}
			for c := range m {
				if sum > 0 {
					resp[c][i] *= weight[i] / sum
				}
			}
		}
	}
	return m
}

// colourScale is what differences in lightness and in tint count for.
var colourScale = [3]float64{0.5, 1, 1}

func component(bins []binned, w []float64, total float64) (gauss, bool) {
	var g gauss
	sum := 0.0
	for i := range bins {
		if w[i] == 0 {
			continue
		}
		sum += w[i]
		for c := range 3 {
			g.mean[c] += bins[i].v[c] * w[i]
		}
	}
	if sum < total*1e-4 {
		return g, false
	}
	for c := range 3 {
		g.mean[c] /= sum
	}
	var v symmetric
	for i := range bins {
		if w[i] == 0 {
			continue
		}
		x, y, z := bins[i].v[0]-g.mean[0], bins[i].v[1]-g.mean[1], bins[i].v[2]-g.mean[2]
		for c, q := range [6]float64{x * x, x * y, x * z, y * y, y * z, z * z} {
			v[c] += q * w[i]
		}
	}
	for c := range v {
		v[c] /= sum
	}
	v[0] += floorVar[0]
	v[3] += floorVar[1]
	v[5] += floorVar[2]
	inv, det := v.inverse()
	if det <= 0 {
		return g, false
	}
	g.inv = inv
	g.weight = sum / total
	g.logw = math.Log(g.weight) - 0.5*math.Log(det)
	return g, true
}

// log is the log density up to a constant that all components share.
func (g *gauss) log(v [3]float64) float64 {
	x, y, z := v[0]-g.mean[0], v[1]-g.mean[1], v[2]-g.mean[2]
	q := g.inv[0]*x*x + g.inv[3]*y*y + g.inv[5]*z*z + 2*(g.inv[1]*x*y+g.inv[2]*x*z+g.inv[4]*y*z)
	return g.logw - 0.5*q
}

func (m mixture) log(v [3]float64) float64 {
	best := math.Inf(-1)
	sum := 0.0
	for i := range m {
		l := m[i].log(v)
		if l > best {
			sum = sum*math.Exp(best-l) + 1
			best = l
		} else {
			sum += math.Exp(l - best)
		}
	}
	return best + math.Log(sum)
}

// nearest is the least Mahalanobis distance to a component, squared.
func (m mixture) nearest(v [3]float64) float64 {
	best := math.Inf(1)
	for i := range m {
		g := m[i]
		g.logw = 0
		best = math.Min(best, -2*g.log(v))
	}
	return best
}
