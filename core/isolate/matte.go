package isolate

import (
	"math"

	"episema/core/raster"
)

const (
	guessWeight = 0.5 // weight of what a pixel's colours say, where they say it clearly
	cgSteps     = 60
)

// solveMatte gives the share of the thing in each pixel: 1 and 0 where the trimap is sure, and in between the
// minimum of the matting Laplacian (Levin, Lischinski and Weiss, A closed-form solution to natural image
// matting, 2008) with, as a data term, none or whole where the colour models leave no doubt, else the share
// that the best pair of sure colours nearby gives (in the manner of Gastal and Oliveira, Shared sampling for
// real-time alpha matting, 2010). pic is linear light; pull is above 0 for the thing's colours.
func solveMatte(pic *raster.RGB, zones []uint8, pull []float32, done raster.Done) []float32 {
	w, h := pic.W, pic.H
	alpha := make([]float32, w*h)
	index := make([]int32, w*h)
	var open []int32
	for i, z := range zones {
		index[i] = -1
		switch z {
		case zoneIn:
			alpha[i] = 1
		case zoneOpen:
			index[i] = int32(len(open))
			open = append(open, int32(i))
		}
	}
	if len(open) == 0 {
		return alpha
	}
	guess, trust := guessShares(pic, zones, pull, open, done)
	m := &matteSystem{w: w, h: h, open: open, index: index, rows: laplacian(pic, index, len(open), done)}
	x, b := m.fix(alpha, guess, trust)
	conjugate(func(out, v []float64) { m.times(out, v, done) }, x, b, func(u int) float64 { return m.diag[u] + float64(m.rows[u][12]) }, cgSteps)
	for u, i := range open {
		v := float32(x[u])
		// The solution wavers a little around none and whole.
		alpha[i] = max(0, min(1, (v-0.02)/0.96))
	}
	dropIslands(alpha, zones, w, h)
	return alpha
}

// matteSystem is the linear system whose solution are the shares of the open pixels.
type matteSystem struct {
	w, h  int
	open  []int32 // the pixels
	index []int32 // of each pixel, its place in open; -1 for one that is sure
	rows  [][25]float32
	diag  []float64 // added to the diagonal: how much a guess counts
}

// fix moves what is known to the right side: the sure pixels' shares, and the guesses by how far they are trusted. x is where to begin.
func (m *matteSystem) fix(alpha, guess, trust []float32) (x, b []float64) {
	n := len(m.open)
	x, b, m.diag = make([]float64, n), make([]float64, n), make([]float64, n)
	for u, i := range m.open {
		x[u] = float64(guess[u])
		g := guessWeight * float64(trust[u])
		b[u] = g * float64(guess[u])
		m.diag[u] = g
		m.near(int(i), func(k, j int) {
			if m.index[j] < 0 && alpha[j] != 0 {
				b[u] -= float64(m.rows[u][k]) * float64(alpha[j])
			}
		})
	}
	return x, b
}

// near calls f for the pixels of the 5 x 5 square around one that lie in the picture, with their places in the square.
func (m *matteSystem) near(i int, f func(k, j int)) {
	px, py := i%m.w, i/m.w
	for yy := max(0, py-2); yy <= min(m.h-1, py+2); yy++ {
		for xx := max(0, px-2); xx <= min(m.w-1, px+2); xx++ {
			f((yy-py+2)*5+xx-px+2, yy*m.w+xx)
		}
	}
}

// times multiplies the system's matrix by v.
func (m *matteSystem) times(out, v []float64, done raster.Done) {
	const chunk = 2048
	n := len(m.open)
	done.Parallel((n+chunk-1)/chunk, func(c int) {
		for u := c * chunk; u < min(n, (c+1)*chunk); u++ {
			i := int(m.open[u])
			px, py := i%m.w, i/m.w
			s := m.diag[u] * v[u]
			row := &m.rows[u]
			for yy := max(0, py-2); yy <= min(m.h-1, py+2); yy++ { // not by near: it is called for each step of the solution
				for xx := max(0, px-2); xx <= min(m.w-1, px+2); xx++ {
					if j := m.index[yy*m.w+xx]; j >= 0 {
						s += float64(row[(yy-py+2)*5+xx-px+2]) * v[j]
					}
				}
			}
			out[u] = s
		}
	})
}

// dropIslands takes out what hangs together, over gaps of two pixels, with nothing that is surely the thing.
func dropIslands(alpha []float32, zones []uint8, w, h int) {
	some := make([]float32, w*h)
	for i, a := range alpha {
		if a > 0.04 {
			some[i] = 1
		}
	}
	raster.BoxSum(some, w, h, 1)
	labels, seeds := make([]uint8, w*h), make([]uint8, w*h)
	for i, v := range some {
		if v > 0.5 {
			labels[i] = 1
		}
		if zones[i] == zoneIn {
			seeds[i] = seedIn
		}
	}
	for i, l := range keepReached(labels, seeds, w, h) {
		if l == 0 {
			alpha[i] = 0
		}
	}
}

// conjugate solves mul(x) = b by preconditioned conjugate gradients, from x.
func conjugate(mul func(out, v []float64), x, b []float64, diag func(u int) float64, steps int) {
	n := len(x)
	r, z, p, q := make([]float64, n), make([]float64, n), make([]float64, n), make([]float64, n)
	mul(r, x)
	rz, first := 0.0, 0.0
	for u := range r {
		r[u] = b[u] - r[u]
		z[u] = r[u] / math.Max(1e-12, diag(u))
		p[u] = z[u]
		rz += r[u] * z[u]
	}
	first = rz
	for range steps {
		if rz <= 1e-6*first || rz == 0 {
			return
		}
		mul(q, p)
		pq := 0.0
		for u := range p {
			pq += p[u] * q[u]
		}
		if pq <= 0 {
			return
		}
		a, now := rz/pq, 0.0
		for u := range x {
			x[u] += a * p[u]
			r[u] -= a * q[u]
			z[u] = r[u] / math.Max(1e-12, diag(u))
			now += r[u] * z[u]
		}
		k := now / rz
		rz = now
		for u := range p {
			p[u] = z[u] + k*p[u]
		}
	}
}

// laplacian gives the rows of the matting Laplacian of the open pixels, each over its 5 x 5 square.
func laplacian(pic *raster.RGB, index []int32, n int, done raster.Done) [][25]float32 {
	w, h := pic.W, pic.H
	rows := make([][25]float32, n)
	window := func(cx, cy int) {
		px, inv, ok := windowColours(pic, index, cx, cy)
		if !ok {
			return
		}
		for i := range px {
			u := index[(cy+i/3-1)*w+cx+i%3-1]
			if u < 0 {
				continue
			}
			x, y, z := px[i][0], px[i][1], px[i][2]
			t := [3]float64{inv[0]*x + inv[1]*y + inv[2]*z, inv[1]*x + inv[3]*y + inv[4]*z, inv[2]*x + inv[4]*y + inv[5]*z}
			row := &rows[u]
			for j := range px {
				g := -(1 + t[0]*px[j][0] + t[1]*px[j][1] + t[2]*px[j][2]) / 9
				if i == j {
					g++
				}
				row[(j/3-i/3+2)*5+j%3-i%3+2] += float32(g)
			}
		}
	}
	// Bands of rows go side by side; windows that lap over two bands come after.
	const band = 32
	bands := (h + band - 1) / band
	done.Parallel(bands, func(k int) {
		for y := k*band + 1; y < min(h, (k+1)*band)-1; y++ {
			for x := 1; x < w-1; x++ {
				window(x, y)
			}
		}
	})
	for k := range bands {
		for _, y := range [2]int{(k+1)*band - 1, (k + 1) * band} {
			if y >= 1 && y < h-1 {
				for x := 1; x < w-1; x++ {
					window(x, y)
				}
			}
		}
	}
	return rows
}

// windowColours returns the colours of the 3 x 3 square around a pixel, less their mean, and the inverse of their covariance. ok is false where
// no pixel of the square is open, or the colours say nothing.
func windowColours(pic *raster.RGB, index []int32, cx, cy int) (px [9][3]float64, inv symmetric, ok bool) {
	var mean [3]float64
	for k := range px {
		i := (cy+k/3-1)*pic.W + cx + k%3 - 1
		ok = ok || index[i] >= 0
		for c := range 3 {
			px[k][c] = float64(pic.Pix[3*i+c])
			mean[c] += px[k][c] / 9
		}
	}
	if !ok {
		return px, inv, false
	}
	var v [6]float64
	for k := range px {
		for c := range 3 {
			px[k][c] -= mean[c]
		}
		x, y, z := px[k][0], px[k][1], px[k][2]
		for c, q := range [6]float64{x * x, x * y, x * z, y * y, y * z, z * z} {
			v[c] += q / 9
		}
	}
	// What grain of the sensor this bright would spread counts as nothing.
	grain := 0.012*(mean[0]+mean[1]+mean[2])/3 + 0.0012
	inv, det := symmetric(v).plus(grain * grain).inverse()
	return px, inv, det > 0
}

const (
	rays    = 8
	rayTurn = 16 // how many ways the fan of rays is turned
)

// rayWay holds the direction of each ray of each fan.
var rayWay = func() (w [rayTurn][rays][2]float32) {
	for t := range w {
		for r := range w[t] {
			a := 2 * math.Pi * (float64(r) + float64(t)/rayTurn) / rays
			w[t][r] = [2]float32{float32(math.Cos(a)), float32(math.Sin(a))}
		}
	}
	return w
}()

type raySample struct {
	c [3]float32
	d float32
}

// guessShares gives each open pixel the share that its colours speak for, and how clearly, 0 to 1: by the
// models where they are sure, else by the best pair of colours gathered where rays meet the sure zones.
func guessShares(pic *raster.RGB, zones []uint8, pull []float32, open []int32, done raster.Done) (guess, trust []float32) {
	guess, trust = make([]float32, len(open)), make([]float32, len(open))
	const chunk = 512
	done.Parallel((len(open)+chunk-1)/chunk, func(k int) {
		var bufF, bufB [rays]raySample
		for u := k * chunk; u < min(len(open), (k+1)*chunk); u++ {
			i := int(open[u])
			switch decided(pull, pic.W, pic.H, i) {
			case zoneIn:
				guess[u], trust[u] = 1, 1
			case zoneOut:
				guess[u], trust[u] = 0, 1
			default:
				fs, bs := gathered(pic, zones, pull, i, bufF[:0], bufB[:0])
				guess[u], trust[u] = bestPair([3]float32{pic.Pix[3*i], pic.Pix[3*i+1], pic.Pix[3*i+2]}, fs, bs)
			}
		}
	})
	return guess, trust
}

// decided returns the zone of an open pixel by its colour: open where that decides nothing, which is where the models are not sure, or are as
// sure of the other side a pixel away. On a rim both mix, and wood with a quarter of something black in it is wood by its colour. A strand has
// the other side beside it everywhere, and is the thing's: less than two thirds of the square around it are, as on a straight rim.
func decided(pull []float32, w, h, i int) uint8 {
	v := pull[i]
	if v > -pullSure && v < pullSure {
		return zoneOpen
	}
	x, y := i%w, i/w
	var in, out, all int
	for yy := max(0, y-1); yy <= min(h-1, y+1); yy++ {
		for _, beside := range pull[yy*w+max(0, x-1) : yy*w+min(w, x+2)] {
			all++
			switch {
			case beside >= pullSure:
				in++
			case beside <= -pullSure:
				out++
			}
		}
	}
	switch {
	case v < 0 && in == 0:
		return zoneOut
	case v > 0 && (out == 0 || 3*in < 2*all):
		return zoneIn
	}
	return zoneOpen
}

// gathered appends the sure colours of the thing and of what is behind it where rays from a pixel first meet them.
func gathered(pic *raster.RGB, zones []uint8, pull []float32, i int, fs, bs []raySample) (front, back []raySample) {
	w, h := pic.W, pic.H
	px, py := i%w, i/w
	// Fans turn from pixel to pixel, so that neighbours look at different places.
	for _, way := range rayWay[(px*7+py*13)%rayTurn] {
		var gotF, gotB bool
		step := float32(1)
		for t := float32(1.5); t < 200 && !(gotF && gotB); t += step {
			step = min(6, step*1.2)
			x, y := int(float32(px)+way[0]*t+0.5), int(float32(py)+way[1]*t+0.5)
			if x < 0 || y < 0 || x >= w || y >= h {
				break
			}
			j := y*w + x
			z := zones[j]
			if z == zoneOpen {
				switch { // as good as sure
				case pull[j] >= pullSure:
					z = zoneIn
				case pull[j] <= -pullSure:
					z = zoneOut
				}
			}
			if z == zoneIn && !gotF {
				fs, gotF = append(fs, raySample{[3]float32{pic.Pix[3*j], pic.Pix[3*j+1], pic.Pix[3*j+2]}, t}), true
			} else if z == zoneOut && !gotB {
				bs, gotB = append(bs, raySample{[3]float32{pic.Pix[3*j], pic.Pix[3*j+1], pic.Pix[3*j+2]}, t}), true
			}
		}
	}
	return fs, bs
}

// bestPair gives the share by the pair of colours whose mixture explains c best and that are near.
func bestPair(c [3]float32, fs, bs []raySample) (share, trust float32) {
	if len(fs) == 0 || len(bs) == 0 {
		return 0.5, 0
	}
	nearF, nearB := fs[0].d, bs[0].d
	for _, s := range fs {
		nearF = min(nearF, s.d)
	}
	for _, s := range bs {
		nearB = min(nearB, s.d)
	}
	best := float32(math.Inf(1))
	var bestRes, bestLen float32
	for _, f := range fs {
		for _, b := range bs {
			a, len2 := raster.Unmix(&c, &b.c, &f.c)
			if len2 < 1e-8 {
				continue
			}
			a = max(0, min(1, a))
			res := raster.Unexplained(&c, &b.c, &f.c, a)
			cost := res/(len2*0.02+1e-6) + 0.1*(f.d/nearF+b.d/nearB-2)
			if cost < best {
				best, share, bestRes, bestLen = cost, a, res, len2
			}
		}
	}
	bright := (c[0] + c[1] + c[2]) / 3
	noise := 0.02*bright + 0.002
	// Told apart well, and explained well.
	return share, bestLen / (bestLen + 40*noise*noise) * float32(math.Exp(-float64(bestRes/(0.01*bestLen+noise*noise))))
}

// guidedFit fits shares as linear functions of the colours in square windows, and averages the functions over
// each pixel's windows (He, Sun and Tang, Guided image filtering, 2013): three slopes and an offset.
func guidedFit(guide *raster.RGB, share []float32, radius int) [4][]float32 {
	w, h := guide.W, guide.H
	n := w * h
	sums := make([][]float32, 14) // 1; r g b; share; share r, g, b; rr rg rb gg gb bb
	for i := range sums {
		sums[i] = make([]float32, n)
	}
	for i := range n {
		r, g, b, a := guide.Pix[3*i], guide.Pix[3*i+1], guide.Pix[3*i+2], share[i]
		for k, v := range [14]float32{1, r, g, b, a, a * r, a * g, a * b, r * r, r * g, r * b, g * g, g * b, b * b} {
			sums[k][i] = v
		}
	}
	raster.Parallel(len(sums), func(k int) { raster.BoxSum(sums[k], w, h, radius) })
	var fit [4][]float32
	for k := range fit {
		fit[k] = make([]float32, n)
	}
	raster.Parallel(h, func(y int) {
		for i := y * w; i < (y+1)*w; i++ {
			k := 1 / float64(sums[0][i])
			var m [14]float64
			for q := range m {
				m[q] = float64(sums[q][i]) * k
			}
			v := [6]float64{m[8] - m[1]*m[1], m[9] - m[1]*m[2], m[10] - m[1]*m[3], m[11] - m[2]*m[2], m[12] - m[2]*m[3], m[13] - m[3]*m[3]}
			grain := 0.012*(m[1]+m[2]+m[3])/3 + 0.0012
			inv, det := symmetric(v).plus(grain * grain).inverse()
			offset := m[4]
			if det > 0 {
				x, y, z := m[5]-m[4]*m[1], m[6]-m[4]*m[2], m[7]-m[4]*m[3]
				a := [3]float64{inv[0]*x + inv[1]*y + inv[2]*z, inv[1]*x + inv[3]*y + inv[4]*z, inv[2]*x + inv[4]*y + inv[5]*z}
				for c := range 3 {
					fit[c][i] = float32(a[c])
					offset -= a[c] * m[1+c]
				}
			}
			fit[3][i] = float32(offset)
		}
	})
	raster.Parallel(4, func(k int) {
		raster.BoxSum(fit[k], w, h, radius)
		for i := range fit[k] {
			fit[k][i] /= sums[0][i]
		}
	})
	return fit
}

// GuidedFilter smooths shares along the colours of a guide of the same size, in windows of 2 radius + 1 pixels
// (He, Sun and Tang, Guided image filtering, 2013).
func GuidedFilter(guide *raster.RGB, share []float32, radius int) []float32 {
	fit := guidedFit(guide, share, radius)
	out := make([]float32, len(share))
	for i := range out {
		out[i] = fit[3][i] + fit[0][i]*guide.Pix[3*i] + fit[1][i]*guide.Pix[3*i+1] + fit[2][i]*guide.Pix[3*i+2]
	}
	return out
}
