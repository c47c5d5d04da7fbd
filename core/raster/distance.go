package raster

import "math"

// SignedDistance gives each pixel's distance to the nearest pixel of the other kind, in pixels, less half a
// pixel: above 0 inside, below 0 outside. Where all pixels are of one kind it is far (1e6). Exact Euclidean
// distances (Felzenszwalb and Huttenlocher, Distance transforms of sampled functions, 2012).
func SignedDistance(inside func(i int) bool, w, h int) []float32 {
	in, out := make([]float32, w*h), make([]float32, w*h)
	for i := range in {
		if inside(i) {
			in[i] = never
		} else {
			out[i] = never
		}
	}
	distance2(in, w, h)
	distance2(out, w, h)
	for i := range in {
		if in[i] > 0 {
			in[i] = float32(math.Min(1e6, math.Sqrt(float64(in[i]))-0.5))
		} else {
			in[i] = -float32(math.Min(1e6, math.Sqrt(float64(out[i]))-0.5))
		}
	}
	return in
}

const never = 1e20

// distance2 replaces 0 where the goal is and never elsewhere by squared distances to the goal.
func distance2(f []float32, w, h int) {
	Parallel(w, func(x int) {
		col := make([]float64, h)
		for y := range h {
			col[y] = float64(f[y*w+x])
		}
		envelope(col)
		for y := range h {
			f[y*w+x] = float32(col[y])
		}
	})
	Parallel(h, func(y int) {
		row := make([]float64, w)
		for x := range w {
			row[x] = float64(f[y*w+x])
		}
		envelope(row)
		for x := range w {
			f[y*w+x] = float32(row[x])
		}
	})
}

// envelope is the one-dimensional transform: the lower envelope of parabolas.
func envelope(f []float64) {
	n := len(f)
	v := make([]int, n)
	z := make([]float64, n+1)
	out := make([]float64, n)
	k := -1
	for q := range n {
		if f[q] >= never {
			continue
		}
		for k >= 0 {
			p := v[k]
			s := (f[q] + float64(q*q) - f[p] - float64(p*p)) / float64(2*(q-p))
			if s > z[k] {
				z[k+1] = s
				break
			}
			k--
		}
		k++
		v[k] = q
		if k == 0 {
			z[0] = math.Inf(-1)
		}
		z[k+1] = math.Inf(1)
	}
	if k < 0 {
		return
	}
	for q, j := 0, 0; q < n; q++ {
		for z[j+1] < float64(q) {
			j++
		}
		d := float64(q - v[j])
		out[q] = d*d + f[v[j]]
	}
	copy(f, out)
}

// Gauss blurs a w x h plane with a Gaussian, the plane continued by its edge values.
func Gauss(p []float32, w, h int, sigma float64) {
	n := int(math.Ceil(3 * sigma))
	k := make([]float32, n+1)
	sum := 0.0
	for i := range k {
		v := math.Exp(-0.5 * float64(i*i) / (sigma * sigma))
		k[i] = float32(v)
		sum += v
		if i > 0 {
			sum += v
		}
	}
	for i := range k {
		k[i] = float32(float64(k[i]) / sum)
	}
	Parallel(h, func(y int) {
		row := p[y*w : (y+1)*w]
		tmp := make([]float32, w+2*n)
		for i := range tmp {
			tmp[i] = row[max(0, min(w-1, i-n))]
		}
		for x := range row {
			v := k[0] * tmp[x+n]
			for i := 1; i <= n; i++ {
				v += k[i] * (tmp[x+n-i] + tmp[x+n+i])
			}
			row[x] = v
		}
	})
	const strip = 16 // columns go in strips, so that memory is read in order
	Parallel((w+strip-1)/strip, func(s int) {
		x0, x1 := s*strip, min(w, (s+1)*strip)
		c := x1 - x0
		tmp := make([]float32, (h+2*n)*c)
		for y := range h + 2*n {
			copy(tmp[y*c:(y+1)*c], p[max(0, min(h-1, y-n))*w+x0:])
		}
		acc := make([]float32, c)
		for y := range h {
			mid := (y + n) * c
			for x := range acc {
				acc[x] = k[0] * tmp[mid+x]
			}
			for i := 1; i <= n; i++ {
				a, b := tmp[mid-i*c:mid-i*c+c], tmp[mid+i*c:mid+i*c+c]
				for x := range acc {
					acc[x] += k[i] * (a[x] + b[x])
				}
			}
			copy(p[y*w+x0:y*w+x1], acc)
		}
	})
}
