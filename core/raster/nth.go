package raster

import "cmp"

// Nth returns the value that would stand at index k, 0..len(v)-1, if v were sorted. It rearranges v: what stands before k is not
// larger, what stands behind it not smaller. The time grows with len(v) (C. A. R. Hoare, Algorithm 65: Find, 1961).
func Nth[T cmp.Ordered](v []T, k int) T {
	lo, hi := 0, len(v)-1
	for lo < hi {
		pivot := middle(v[lo], v[lo+(hi-lo)/2], v[hi])
		i, j := lo, hi
		for i <= j {
			for v[i] < pivot {
				i++
			}
			for pivot < v[j] {
				j--
			}
			if i <= j {
				v[i], v[j] = v[j], v[i]
				i++
				j--
			}
		}
		switch {
		case k <= j:
			hi = j
		case k >= i:
			lo = i
		default:
			return v[k]
		}
	}
	return v[k]
}

func middle[T cmp.Ordered](a, b, c T) T { return max(min(a, b), min(max(a, b), c)) }

// Between returns those of the indices of which the value lies between two shares of all their values, 0..1, in the order that they
// came in; what equals a bound belongs to it. There is always one, if there are indices.
func Between[T cmp.Ordered](of []int, value func(i int) T, from, to float64) []int {
	if len(of) == 0 {
		return nil
	}
	values := make([]T, len(of))
	for k, i := range of {
		values[k] = value(i)
	}
	most := len(of) - 1
	lo := Nth(values, min(most, int(from*float64(len(of)))))
	hi := Nth(values, min(most, int(to*float64(len(of)))))
	var in []int
	for _, i := range of {
		if v := value(i); v >= lo && v <= hi {
			in = append(in, i)
		}
	}
	return in
}
