package isolate

import (
	"container/heap"
	"math"
	"math/bits"
	"slices"

	"episema/core/raster"
)

// SubjectCandidates is how many answers the Subject pick has.
const SubjectCandidates = 4

const (
	thingLeast   = 0.006 // share of the picture that a thing has at least,
	thingMost    = 0.75  // and at most
	sharing      = 0.9   // against a candidate: how much of it is in one that is offered before,
	sameThing    = 0.84  // and the overlap (intersection over union) from which two are one
	closureSays  = 0.9   // weight of how strong the edges along a thing are,
	contrastSays = 2.2   // of how unlike its edge is to what is beside it there,
	unlikeSays   = 0.9   // of how unlike all of it is to all that is not of it,
	standsOut    = 1.4   // of how much it stands out from the borders of the picture,
	rimSays      = 0.8   // against it: of how much of its border is the frame
	sizeSays     = 2.5   // for it: of how large it is,
	sizeEnough   = 0.15  // up to this share of the picture
	roundSays    = 8.0   // of how short its border is for its size,
	agreeSays    = 0.8   // of how many of the others are nearly the same,
	agreeing     = 0.8   // by this overlap
	baseSays     = 0.12  // for the cut in the pixels, which follows smooth things more closely
)

// begunAt are the shares of the width and of the height at which things are looked for by themselves, and begunReach is how far around, as
// a share of the diagonal.
var begunAt = []float64{0.3, 0.5, 0.7}

const begunReach = 0.03

// thing is a set of regions that may be what the picture shows.
type thing struct {
	in    []bool
	bits  []uint64 // the same, a bit a region
	score float64
}

func newThing(in []bool, score float64) thing {
	t := thing{in, make([]uint64, (len(in)+63)/64), score}
	for k, v := range in {
		if v {
			t.bits[k/64] |= 1 << (k % 64)
		}
	}
	return t
}

// overlap is the intersection of two things over their union, counted in regions, which are about equally large.
func (t thing) overlap(o thing) float64 {
	both, either := 0, 0
	for k, v := range t.bits {
		both += bits.OnesCount64(v & o.bits[k])
		either += bits.OnesCount64(v | o.bits[k])
	}
	return float64(both) / math.Max(1, float64(either))
}

// things gives sets of regions that may be the picture's main thing: what comes of joining the two
// neighbours with the least between them over and over (a hierarchy of regions, as in Arbelaez et al., Contour detection and
// hierarchical image segmentation, 2011), cuts around what stands out and what is in focus, and cuts around places in the middle of the picture (many seeds,
// each with many biases: Carreira and Sminchisescu, CPMC, 2012). What many of them agree on is likelier a thing. stands says of each
// region how much it stands out.
func (r *regions) things(stands []float32, done raster.Done) []thing {
	var all []thing
	total := 0.0
	for _, a := range r.area {
		total += float64(a)
	}
	consider := func(in []bool) {
		area := 0.0
		for k, v := range in {
			if v {
				area += float64(r.area[k])
			}
		}
		if area < thingLeast*total || area > thingMost*total {
			return
		}
		all = append(all, newThing(in, r.objectness(in, stands)))
	}
	r.join(func(members []int32, area float64) {
		if area < thingLeast*total || area > thingMost*total {
			return
		}
		done.Check()
		in := make([]bool, len(r.words))
		for _, k := range members {
			in[k] = true
		}
		consider(in)
	})
	for _, l := range r.standing(stands, done) {
		consider(l)
	}
	for _, l := range r.inFocus(done) {
		consider(l)
	}
	for _, l := range r.begun(done) {
		consider(l)
	}
	agreed(all, done)
	return all
}

// standing gives what stands out, with ever more in favour of it: skin, hair and cloth that hang together are one then.
func (r *regions) standing(stands []float32, done raster.Done) (all [][]bool) {
	sorted := slices.Clone(stands)
	slices.Sort(sorted)
	for _, share := range []float64{0.97, 0.92, 0.85} {
		hi, lo := sorted[int(share*float64(len(sorted)-1))], sorted[len(sorted)/3]
		seeds := make([]uint8, len(r.of))
		for i, o := range r.of {
			switch {
			case stands[o] >= hi:
				seeds[i] = seedIn
			case stands[o] <= lo && r.atRim[o] > 0:
				seeds[i] = seedOut
			}
		}
		all = append(all, r.answersOf(seeds, done).labels...)
	}
	return all
}

// begun gives what a stroke in the middle of what may be a thing would mean, at each of some places.
func (r *regions) begun(done raster.Done) [][]bool {
	begun := make([][][]bool, len(begunAt)*len(begunAt))
	done.Parallel(len(begun), func(n int) {
		seeds := make([]uint8, len(r.of))
		cx, cy := begunAt[n%len(begunAt)]*float64(r.w), begunAt[n/len(begunAt)]*float64(r.h)
		reach := begunReach * math.Hypot(float64(r.w), float64(r.h))
		for i := range seeds {
			if math.Hypot(float64(i%r.w)-cx, float64(i/r.w)-cy) < reach {
				seeds[i] = seedIn
			} else if r.sharp != nil && r.sharp[r.of[i]] < blurred {
				seeds[i] = seedOut
			}
		}
		begun[n] = r.answersOf(seeds, done).labels
	})
	return slices.Concat(begun...)
}

// agreed adds to the score of each what speaks for it in how many others are nearly the same.
func agreed(all []thing, done raster.Done) {
	agree := make([]int, len(all))
	for i := range all {
		done.Check()
		for j := range i {
			if all[i].overlap(all[j]) >= agreeing {
				agree[i]++
				agree[j]++
			}
		}
	}
	for i := range all {
		all[i].score += agreeSays * math.Sqrt(float64(agree[i])/float64(len(all)))
	}
}

// objectness says how much a set of regions is like a thing (the word is Alexe, Deselaers and Ferrari's, What is an object?,
// 2010): closed by edges, unlike what is beside it and the rest of the picture (the global contrast of Cheng et al., Global
// contrast based salient region detection, 2011), standing out, and not cut by the frame.
func (r *regions) objectness(in []bool, stands []float32) float64 {
	var inside, outside [wordCount]float32
	var edge, length, rim float64
	for _, b := range r.near {
		if in[b.a] == in[b.b] {
			continue
		}
		edge += float64(b.strength * b.length)
		length += float64(b.length)
		x, y := b.a, b.b
		if in[y] {
			x, y = y, x
		}
		for w := range inside {
			inside[w] += b.length * r.words[x][w]
			outside[w] += b.length * r.words[y][w]
		}
	}
	var sIn, nIn, sOut, nOut float64
	var own, rest [wordCount]float32
	for k, v := range in {
		a, s := float64(r.area[k]), standsOut*float64(stands[k])
		if r.sharp != nil {
			s += focusSays * float64(r.sharp[k])
		}
		if v {
			sIn, nIn = sIn+a*s, nIn+a
			rim += float64(r.atRim[k])
			for w, share := range r.words[k] {
				own[w] += r.area[k] * share
			}
		} else {
			sOut, nOut = sOut+a*s, nOut+a
		}
	}
	if length == 0 || nIn == 0 || nOut == 0 {
		return 0
	}
	for w := range inside {
		inside[w] /= float32(length)
		outside[w] /= float32(length)
		rest[w] = max(0, r.all[w]-own[w]) / float32(nOut)
		own[w] /= float32(nIn)
	}
	contrast := contrastSays*unlike(inside[:], outside[:]) + unlikeSays*unlike(own[:], rest[:])
	large := math.Min(1, math.Sqrt(nIn/(nIn+nOut)/sizeEnough))
	return roundSays*math.Sqrt(nIn)/(length+rim) + closureSays*edge/length + float64(contrast) + sIn/nIn - sOut/nOut + sizeSays*large - rimSays*rim/(rim+length)
}

// join joins regions two by two, always those with the least between them, and tells of each that is made.
func (r *regions) join(made func(members []int32, area float64)) {
	n := len(r.words)
	type node struct {
		members []int32
		area    float64
		words   []float32
		near    map[int]*seam
		gone    bool
	}
	nodes := make([]*node, n, 2*n)
	for k := range nodes {
		nodes[k] = &node{members: []int32{int32(k)}, area: float64(r.area[k]), words: r.words[k], near: map[int]*seam{}}
	}
	h := &seams{}
	cost := func(a, b int, s *seam) float32 {
		small := math.Min(nodes[a].area, nodes[b].area) / (float64(len(r.of)) / float64(n))
		return (s.edge/s.length + 0.7*unlike(nodes[a].words, nodes[b].words)) * float32(math.Pow(math.Min(small, 60), 0.25))
	}
	put := func(a, b int, s *seam) {
		nodes[a].near[b], nodes[b].near[a] = s, s
		heap.Push(h, wish{cost(a, b, s), a, b})
	}
	for _, b := range r.near {
		put(int(b.a), int(b.b), &seam{b.strength * b.length, b.length})
	}
	for h.Len() > 0 {
		w := heap.Pop(h).(wish)
		a, b := nodes[w.a], nodes[w.b]
		if a.gone || b.gone {
			continue
		}
		a.gone, b.gone = true, true
		c := &node{members: slices.Concat(a.members, b.members), area: a.area + b.area, words: make([]float32, len(a.words)), near: map[int]*seam{}}
		ka, kb := float32(a.area/c.area), float32(b.area/c.area)
		for i := range c.words {
			c.words[i] = ka*a.words[i] + kb*b.words[i]
		}
		at := len(nodes)
		nodes = append(nodes, c)
		joint := map[int]*seam{}
		for _, o := range []*node{a, b} {
			for k, s := range o.near {
				if nodes[k].gone {
					continue
				}
				if j := joint[k]; j != nil {
					j.edge, j.length = j.edge+s.edge, j.length+s.length
				} else {
					joint[k] = &seam{s.edge, s.length}
				}
			}
		}
		for _, k := range sortedKeys(joint) {
			put(at, k, joint[k])
		}
		made(c.members, c.area)
	}
}

func sortedKeys(m map[int]*seam) []int {
	keys := make([]int, 0, len(m))
	for k := range m {
		keys = append(keys, k)
	}
	slices.Sort(keys)
	return keys
}

// seam is what lies between two sets of regions that touch.
type seam struct{ edge, length float32 }

// wish is two sets that might be joined.
type wish struct {
	cost float32
	a, b int
}

type seams []wish

func (h seams) Len() int { return len(h) }
func (h seams) Less(i, j int) bool {
	if h[i].cost != h[j].cost {
		return h[i].cost < h[j].cost
	}
	return h[i].a < h[j].a || h[i].a == h[j].a && h[i].b < h[j].b
}
func (h seams) Swap(i, j int) { h[i], h[j] = h[j], h[i] }
func (h *seams) Push(v any)   { *h = append(*h, v.(wish)) }
func (h *seams) Pop() any {
	v := (*h)[len(*h)-1]
	*h = (*h)[:len(*h)-1]
	return v
}
