package isolate

import (
	"math"
	"slices"

	"episema/core/cluster"
	"episema/core/raster"
)

// regions is what a picture is made of: small areas of like colours (superpixels), each with the colours in and around it,
// and how much of a boundary lies between neighbours. A boundary is where the mixtures of colours on its two sides
// differ, so that strands of fur, petals and bricks, which are alike on both sides, are not one (Martin, Fowlkes and Malik,
// Learning to detect natural image boundaries using local brightness, color, and texture cues, 2004).
type regions struct {
	w, h  int
	of    []int32     // region of each pixel
	area  []float32   // pixels of each region
	words [][]float32 // share of each colour word in and around each region
	all   []float32   // pixels of each colour word, by these shares, in the whole picture
	near  []border
	edge  []float32 // boundary strength of each pixel, 0..1
	atRim []float32 // pixels of each region on the frame of the picture
	sharp []float32 // how much each region is in focus, 0..1; nil where the picture has no plane of focus
}

// border is where two regions meet.
type border struct {
	a, b     int32
	length   float32 // pixels
	strength float32 // 0..1
}

const (
	regionSide  = 640  // long side up to which regions are looked for
	regionCount = 1500 // as many as are asked for

	wordCount   = 40
	textureEdge = 0.35 // what a difference of textures counts against one of colours where edges are looked for
)

// regions finds what the picture is made of, remembered.
func (c *compiler) regions() (*regions, error) {
	level := c.levelBelow(regionSide)
	return once(c, "regions", level, func(r *regions) int { return 12*len(r.of) + 4*wordCount*len(r.words) }, func() (*regions, error) {
		f, err := c.planes(level)
		if err != nil {
			return nil, err
		}
		return newRegions(f, doneOf(c.p)), nil
	})
}

// regionsAtHand is regions for what has no time to wait: while a hand is still moving they are nil until they are known.
func (c *compiler) regionsAtHand() (*regions, error) {
	if c.effort != Quick {
		return c.regions()
	}
	if c.solved == nil {
		return nil, nil
	}
	key, err := keyOf("regions", c.levelBelow(regionSide))
	if err != nil {
		return nil, err
	}
	r, _ := c.solved.Get(key)
	known, _ := r.(*regions)
	return known, nil
}

func newRegions(f *planes, done raster.Done) *regions {
	r := &regions{w: f.w, h: f.h, of: superpixels(f, regionCount, done)}
	done.Check()
	word := colourWords(f, wordCount)
	r.edge = edgesOf(f, word, done)
	own := r.measure(word)
	r.meet()
	r.mix(own)
	r.sharp = r.focus(f, done)
	return r
}

// edgesOf returns the boundary strength of each pixel, 0..1, from the mixtures of colours and of textures around it.
func edgesOf(f *planes, word []uint8, done raster.Done) []float32 {
	texture := textureWords(f, done)
	done.Check()
	edge := mixtureEdges(f, word, wordCount, done)
	done.Check()
	for i, e := range mixtureEdges(f, texture, textureWordCount, done) {
		edge[i] = min(1, edge[i]+textureEdge*e)
	}
	// An edge counts by how much more than what is around it it is.
	done.Check()
	soft := slices.Clone(edge)
	raster.Gauss(soft, f.w, f.h, float64(f.w+f.h)/50)
	for i, e := range edge {
		edge[i] = min(1, 2*e*e/(e+soft[i]+0.01))
	}
	return edge
}

// measure finds how large the regions are and how much of them lies on the frame, and returns the words of each.
func (r *regions) measure(word []uint8) (own [][]float32) {
	n := 0
	for _, o := range r.of {
		n = max(n, int(o)+1)
	}
	r.area, r.atRim = make([]float32, n), make([]float32, n)
	own = make([][]float32, n)
	for i := range own {
		own[i] = make([]float32, wordCount)
	}
	for i, o := range r.of {
		r.area[o]++
		own[o][word[i]]++
		if x, y := i%r.w, i/r.w; x == 0 || y == 0 || x == r.w-1 || y == r.h-1 {
			r.atRim[o]++
		}
	}
	return own
}

// meet finds which regions are neighbours, and how strong the boundary between them is.
func (r *regions) meet() {
	pair := map[[2]int32]int{}
	var sum []float64
	meet := func(i, j int) {
		a, b := r.of[i], r.of[j]
		if a == b {
			return
		}
		key := [2]int32{min(a, b), max(a, b)}
		k, ok := pair[key]
		if !ok {
			k = len(r.near)
			pair[key] = k
			r.near = append(r.near, border{a: key[0], b: key[1]})
			sum = append(sum, 0)
		}
		r.near[k].length++
		sum[k] += float64(max(r.edge[i], r.edge[j]))
	}
	for y := range r.h {
		for x := range r.w {
			i := y*r.w + x
			if x+1 < r.w {
				meet(i, i+1)
			}
			if y+1 < r.h {
				meet(i, i+r.w)
			}
		}
	}
	for k := range r.near {
		r.near[k].strength = float32(sum[k]) / r.near[k].length
	}
}

// mix finds the shares of the words in each region and around it: a neighbour's count as far as no boundary lies between.
func (r *regions) mix(own [][]float32) {
	r.words = make([][]float32, len(own))
	for i := range r.words {
		r.words[i] = slices.Clone(own[i])
	}
	for _, b := range r.near {
		k := 1 - b.strength
		for w := range wordCount {
			r.words[b.a][w] += k * own[b.b][w]
			r.words[b.b][w] += k * own[b.a][w]
		}
	}
	for _, h := range r.words {
		t := float32(0)
		for _, v := range h {
			t += v
		}
		for w := range h {
			h[w] /= max(t, 1)
		}
	}
	r.all = make([]float32, wordCount)
	for k, h := range r.words {
		for w, share := range h {
			r.all[w] += r.area[k] * share
		}
	}
}

// unlike is the chi-square distance of two mixtures of colour words, 0..1. The shares of each add up to 1, so that only the words that both
// have count: (a-b)^2/(a+b) is a+b-4ab/(a+b).
func unlike(a, b []float32) float32 {
	s := float32(0)
	for i, v := range a {
		if p := v * b[i]; p > 0 {
			s += p / (v + b[i])
		}
	}
	return max(0, 1-2*s)
}

// superpixels parts a picture into about n small areas of like colours that keep to its edges (Achanta et al., SLIC
// superpixels compared to state-of-the-art superpixel methods, 2012). Each is connected.
func superpixels(f *planes, n int, done raster.Done) []int32 {
	w, h := f.w, f.h
	side := max(2, int(math.Round(math.Sqrt(float64(w*h)/float64(n)))))
	type centre struct{ l, a, b, x, y, n float32 }
	var cs []centre
	nx, ny := max(1, w/side), max(1, h/side)
	for j := range ny {
		for i := range nx {
			x, y := (2*i+1)*w/(2*nx), (2*j+1)*h/(2*ny)
			k := y*w + x
			cs = append(cs, centre{f.lab[3*k], f.lab[3*k+1], f.lab[3*k+2], float32(x), float32(y), 0})
		}
	}
	of, best := make([]int32, w*h), make([]float32, w*h)
	const compact = 0.10 // colour difference that weighs as much as a side's length
	kk := float32(compact*compact) / float32(side*side)
	for range 6 {
		done.Check()
		for i := range best {
			best[i] = never
		}
		for k, c := range cs {
			for y := max(0, int(c.y)-side); y <= min(h-1, int(c.y)+side); y++ {
				for x := max(0, int(c.x)-side); x <= min(w-1, int(c.x)+side); x++ {
					i := y*w + x
					dl, da, db := f.lab[3*i]-c.l, f.lab[3*i+1]-c.a, f.lab[3*i+2]-c.b
					dx, dy := float32(x)-c.x, float32(y)-c.y
					if d := dl*dl + 2.5*(da*da+db*db) + kk*(dx*dx+dy*dy); d < best[i] {
						best[i], of[i] = d, int32(k)
					}
				}
			}
		}
		next := make([]centre, len(cs))
		for i, o := range of {
			c := &next[o]
			c.l, c.a, c.b = c.l+f.lab[3*i], c.a+f.lab[3*i+1], c.b+f.lab[3*i+2]
			c.x, c.y, c.n = c.x+float32(i%w), c.y+float32(i/w), c.n+1
		}
		for k, c := range next {
			if c.n > 0 {
				cs[k] = centre{c.l / c.n, c.a / c.n, c.b / c.n, c.x / c.n, c.y / c.n, 0}
			}
		}
	}
	return connected(of, w, h, side*side/4)
}

// connected gives each connected area a number of its own; those under least pixels go to a neighbour.
func connected(of []int32, w, h, least int) []int32 {
	out := make([]int32, w*h)
	for i := range out {
		out[i] = -1
	}
	next := int32(0)
	var area []int
	for i := range out {
		if out[i] >= 0 {
			continue
		}
		beside := int32(-1)
		area = append(area[:0], i)
		out[i] = next
		for k := 0; k < len(area); k++ {
			x, y := area[k]%w, area[k]/w
			for d := 0; d < 8; d += 2 {
				xx, yy := x+dirX[d], y+dirY[d]
				if xx < 0 || yy < 0 || xx >= w || yy >= h {
					continue
				}
				j := yy*w + xx
				if out[j] < 0 && of[j] == of[i] {
					out[j] = next
					area = append(area, j)
				} else if out[j] >= 0 && out[j] != next {
					beside = out[j]
				}
			}
		}
		if len(area) < least && beside >= 0 {
			for _, j := range area {
				out[j] = beside
			}
			continue
		}
		next++
	}
	return out
}

// colourWords gives each pixel the nearest of n colours that stand for the picture's.
func colourWords(f *planes, n int) []uint8 {
	return words(f.bin, n, [3]float64{1, 2, 2}, func(i int) [3]float64 {
		return [3]float64{float64(f.lab[3*i]), float64(f.lab[3*i+1]), float64(f.lab[3*i+2])}
	})
}

// words gives each pixel the nearest of n places that stand for those of all pixels. Pixels of one bin, of which none is empty, lie
// together; scale is what a difference in each coordinate counts for.
func words(bin []int32, n int, scale [3]float64, at func(i int) [3]float64) []uint8 {
	bins := int(slices.Max(bin)) + 1
	p := cluster.Points{At: make([][3]float64, bins), Weight: make([]float64, bins), Scale: scale}
	for i, b := range bin {
		v := at(i)
		for c := range v {
			p.At[b][c] += v[c]
		}
		p.Weight[b]++
	}
	heaviest := 0
	for k := range p.At {
		for c := range 3 {
			p.At[k][c] /= p.Weight[k]
		}
		if p.Weight[k] > p.Weight[heaviest] {
			heaviest = k
		}
	}
	owner, _ := p.Means(p.Spread(heaviest, n, 0), 8)
	word := make([]uint8, len(bin))
	for i, b := range bin {
		word[i] = uint8(owner[b])
	}
	return word
}

// mixtureEdges gives how much the mixtures of words on both sides of each pixel differ, upright or level, the mean of two
// sizes of neighbourhood: chi-square, 0..1.
func mixtureEdges(f *planes, word []uint8, count int, done raster.Done) []float32 {
	w, h := f.w, f.h
	out := make([]float32, w*h)
	sizes := [2]int{max(2, (w+h)/160), max(4, (w+h)/64)}
	planes := make([][]float32, 2*len(sizes))
	raster.Parallel(len(planes), func(k int) {
		planes[k] = mixtureEdge(word, count, w, h, sizes[k/2], k%2 == 1, done)
	})
	for i := range out {
		var x, y float32
		for k := range sizes {
			x += planes[2*k][i]
			y += planes[2*k+1][i]
		}
		out[i] = max(x, y) / float32(len(sizes))
	}
	return out
}

// mixtureEdge compares the boxes before and after each pixel, r deep and 2r+1 wide; across, above and below.
func mixtureEdge(word []uint8, count, w, h, r int, upright bool, done raster.Done) []float32 {
	if upright {
		return transposed(mixtureEdge(transposed(word, w, h), count, h, w, r, false, done), h, w)
	}
	out := make([]float32, w*h)
	high := make([]int32, count*w) // of each word, how many pixels of each column are in the rows of the boxes
	has := make([]int, count)      // of each word, how many there are in these rows
	add := func(y int, n int32) {
		for x, k := range word[y*w : (y+1)*w] {
			high[int(k)*w+x] += n
			has[k] += int(n)
		}
	}
	for y := range min(h, r) {
		add(y, 1)
	}
	over := make([]float32, 2*r*(2*r+1)+1) // 1/n; nothing of a word on either side tells nothing
	for n := 1; n < len(over); n++ {
		over[n] = 1 / float32(n)
	}
	sum := make([]int32, w+1)
	whole := max(0, w-2*r+1) // pixels of a row whose boxes lie in the picture as a whole, from r on
	for y := range h {
		done.Check()
		if y+r < h {
			add(y+r, 1)
		}
		if y > r {
			add(y-r-1, -1)
		}
		rows := min(h, y+r+1) - max(0, y-r)
		row := out[y*w : (y+1)*w]
		for k, n := range has {
			if n == 0 {
				continue
			}
			for x, n := range high[k*w : (k+1)*w] {
				sum[x+1] = sum[x] + n
			}
			for x := 1; x < w; x++ {
				if x == r && whole > 0 {
					x += whole - 1
					continue
				}
				x0, x1 := max(0, x-r), min(w, x+r)
				a, b := float32(sum[x]-sum[x0])/float32((x-x0)*rows), float32(sum[x1]-sum[x])/float32((x1-x)*rows)
				if a+b > 0 {
					row[x] += (a - b) * (a - b) / (a + b) / 2
				}
			}
			if whole > 0 {
				each := 1 / float32(2*r*rows)
				before, here, after, of := sum[:whole], sum[r:r+whole], sum[2*r:2*r+whole], row[r:r+whole]
				for i, at := range here {
					a, b := at-before[i], after[i]-at
					of[i] += each * over[a+b] * float32((a-b)*(a-b))
				}
			}
		}
	}
	return out
}

// transposed returns the transpose of an image of w columns and h rows.
func transposed[T any](v []T, w, h int) []T {
	out := make([]T, w*h)
	for y := range h {
		for x, p := range v[y*w : (y+1)*w] {
			out[x*h+y] = p
		}
	}
	return out
}
