// Package cluster gathers many colours around the few that stand for them.
package cluster

import "math"

// Points are places in a space of three coordinates, such as CIELAB.
type Points struct {
	At     [][3]float64
	Weight []float64  // of each point, 0 or more; nil: all count alike
	Scale  [3]float64 // what a difference in each coordinate is multiplied by; none of it changes what is returned
}

// Plain returns points that count alike in coordinates that count alike.
func Plain(at [][3]float64) Points { return Points{At: at, Scale: [3]float64{1, 1, 1}} }

func (p *Points) apart(a, b [3]float64) float64 {
	x, y, z := (a[0]-b[0])*p.Scale[0], (a[1]-b[1])*p.Scale[1], (a[2]-b[2])*p.Scale[2]
	return x*x + y*y + z*z
}

func (p *Points) weight(i int) float64 {
	if p.Weight == nil {
		return 1
	}
	return p.Weight[i]
}

// Mean returns the mean of all points.
func (p *Points) Mean() (mean [3]float64) {
	sum := 0.0
	for i, at := range p.At {
		w := p.weight(i)
		for c := range mean {
			mean[c] += w * at[c]
		}
		sum += w
	}
	for c := range mean {
		mean[c] /= math.Max(sum, math.SmallestNonzeroFloat64)
	}
	return mean
}

// Farthest returns the index of the point farthest from a place, of several the first.
func (p *Points) Farthest(from [3]float64) int {
	best, most := 0, -1.0
	for i, at := range p.At {
		if d := p.apart(at, from); d > most {
			best, most = i, d
		}
	}
	return best
}

// Spread returns the point with index first and up to k-1 more, each as far as can be from those before it (Gonzalez, 1985), where
// heavy points count as farther off: the distance is multiplied by the fourth root of the weight. It ends early where none is
// farther than least from all that were taken.
func (p *Points) Spread(first, k int, least float64) [][3]float64 {
	centres := [][3]float64{p.At[first]}
	far := make([]float64, len(p.At)) // the squared distance to the nearest centre
	for i := range far {
		far[i] = math.Inf(1)
	}
	for len(centres) < k {
		pick, most := -1, least*least
		for i, at := range p.At {
			far[i] = math.Min(far[i], p.apart(at, centres[len(centres)-1]))
			if d := far[i] * math.Sqrt(p.weight(i)); d > most {
				pick, most = i, d
			}
		}
		if pick < 0 {
			break
		}
		centres = append(centres, p.At[pick])
	}
	return centres
}

// Means moves centres to the means of the points that are nearest to them, over and over (k-means; Lloyd, 1982), at most rounds times.
// It returns the centre each point was nearest to before the last move, and the weight of each centre's points.
// A centre without points stays where it is.
func (p *Points) Means(centres [][3]float64, rounds int) (owner []int, weight []float64) {
	owner, weight = make([]int, len(p.At)), make([]float64, len(centres))
	sum := make([][3]float64, len(centres))
	for range rounds {
		clear(sum)
		clear(weight)
		for i, at := range p.At {
			w := p.weight(i)
			if w == 0 {
				continue
			}
			nearest := math.Inf(1)
			for c := range centres {
				if d := p.apart(at, centres[c]); d < nearest {
					owner[i], nearest = c, d
				}
			}
			o := owner[i]
			for c := range at {
				sum[o][c] += w * at[c]
			}
			weight[o] += w
		}
		moved := false
		for c := range centres {
			if weight[c] == 0 {
				continue
			}
			at := [3]float64{sum[c][0] / weight[c], sum[c][1] / weight[c], sum[c][2] / weight[c]}
			moved = moved || at != centres[c]
			centres[c] = at
		}
		if !moved {
			break
		}
	}
	return owner, weight
}
