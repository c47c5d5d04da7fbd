package mend

import (
	"cmp"
	"math"
	"slices"

	"episema/core/raster"
)

// dominant finds the shifts by which squares of the picture are like others of it most often: those of what repeats, and of what goes on.
func (s *filling) dominant(done raster.Done) [][2]int {
	at := s.squares()
	if len(at) == 0 {
		return nil
	}
	// Half of those that are asked lie anywhere, half beside the patch: what is there must go on in it.
	asked := evenly(at, fillAsked/2)
	asked = append(asked, evenly(slices.DeleteFunc(slices.Clone(at), func(a [2]int) bool { return !s.near(a) }), fillAsked/2)...)
	found := make([][2]int, len(asked))
	raster.Parallel(len(found), func(k int) {
		done.Check()
		found[k] = s.likest(asked[k], at)
	})
	// A vote for each, by its contrast, and, fainter, for its neighbours; the peaks are what is tried.
	votes := map[[2]int]float64{}
	for k, o := range found {
		if o == [2]int{} {
			continue // there is no other far enough away
		}
		weight := s.contrast(asked[k]) // what is flat is like anything
		for dy := -2; dy <= 2; dy++ {
			for dx := -2; dx <= 2; dx++ {
				votes[[2]int{o[0] + dx, o[1] + dy}] += weight * math.Exp(-float64(dx*dx+dy*dy)/4)
			}
		}
	}
	return peaks(votes, fillLabels)
}

// squares lists the squares, by their upper left corners, that have nothing of what must go.
func (s *filling) squares() (at [][2]int) {
	n := s.w + 1
	sum := make([]int32, n*(s.h+1)) // of all above and to the left
	for y := range s.h {
		row := int32(0)
		for x := range s.w {
			if s.taken[y*s.w+x] {
				row++
			}
			sum[(y+1)*n+x+1] = sum[y*n+x+1] + row
		}
	}
	for y := 0; y+fillPatch <= s.h; y++ {
		for x := 0; x+fillPatch <= s.w; x++ {
			if sum[(y+fillPatch)*n+x+fillPatch]-sum[y*n+x+fillPatch]-sum[(y+fillPatch)*n+x]+sum[y*n+x] == 0 {
				at = append(at, [2]int{x, y})
			}
		}
	}
	return at
}

// likest returns the shift to the square most like one, of those that are not near it.
func (s *filling) likest(a [2]int, at [][2]int) (shift [2]int) {
	least := max(fillPatch, max(s.w, s.h)/15)
	best := float32(math.MaxFloat32)
	for _, b := range at {
		dx, dy := b[0]-a[0], b[1]-a[1]
		if max(dx, -dx) < least && max(dy, -dy) < least {
			continue
		}
		if d := s.unlike(a, b, best); d < best {
			best, shift = d, [2]int{dx, dy}
		}
	}
	return shift
}

// peaks lists the shifts that have more votes than those around them, the most first.
func peaks(votes map[[2]int]float64, most int) [][2]int {
	before := func(a, b [2]int) int { // whatever the order of a map
		return cmp.Or(cmp.Compare(votes[b], votes[a]), a[1]-b[1], a[0]-b[0])
	}
	var out [][2]int
	for o := range votes {
		peak := true
		for dy := -1; dy <= 1; dy++ {
			for dx := -1; dx <= 1; dx++ {
				q := [2]int{o[0] + dx, o[1] + dy}
				if _, there := votes[q]; there && q != o && before(q, o) < 0 {
					peak = false
				}
			}
		}
		if peak {
			out = append(out, o)
		}
	}
	slices.SortFunc(out, before)
	return out[:min(len(out), most)]
}

// near reports whether a square lies beside what is filled: something of that is as far from it as it is wide.
func (s *filling) near(a [2]int) bool {
	for _, x := range [3]int{a[0] - fillPatch, a[0] + fillPatch/2, a[0] + 2*fillPatch} {
		for _, y := range [3]int{a[1] - fillPatch, a[1] + fillPatch/2, a[1] + 2*fillPatch} {
			if x >= 0 && y >= 0 && x < s.w && y < s.h && s.open[y*s.w+x] {
				return true
			}
		}
	}
	return false
}

// contrast is how much the pixels of a square differ, as a standard deviation.
func (s *filling) contrast(a [2]int) float64 {
	var sum, square float64
	for y := range fillPatch {
		for x := range fillPatch {
			i := 3 * ((a[1]+y)*s.w + a[0] + x)
			v := float64(s.light[i]+s.light[i+1]+s.light[i+2]) / 3
			sum, square = sum+v, square+v*v
		}
	}
	const n = fillPatch * fillPatch
	return math.Sqrt(max(0, square/n-sum/n*sum/n))
}

// unlike returns how far two squares are apart, every second of their pixels; more than most is as good as any.
func (s *filling) unlike(a, b [2]int, most float32) float32 {
	d := float32(0)
	for y := 0; y < fillPatch; y += 2 {
		i, j := 3*((a[1]+y)*s.w+a[0]), 3*((b[1]+y)*s.w+b[0])
		for x := 0; x < 3*fillPatch; x += 6 {
			for k := range 3 {
				e := s.light[i+x+k] - s.light[j+x+k]
				d += e * e
			}
		}
		if d >= most {
			return d
		}
	}
	return d
}
