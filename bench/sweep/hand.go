package main

import (
	"container/heap"
	"fmt"
	"math"
	"path/filepath"
	"slices"
	"strings"

	"episema/core/isolate"
	"episema/core/raster"
	"episema/internal/scenes"
	"episema/internal/textured"
)

// A hand that nobody had to hold: it strokes through the thing, looks at the answer, and strokes through what is most wrong
// in it, again and again, as users are simulated for measuring interactive segmentation (Nickisch, Rother, Kohli and Rhemann,
// Learning an interactive segmentation system, 2010; Gulshan et al., Geodesic star convexity for interactive image
// segmentation, 2010). It knows the truth but not the method.

const (
	mostStrokes = 4
	strokeShare = 0.4  // of the room there is to both sides that a stroke is wide,
	widest      = 12.0 // in pixels at most
)

// A hand keeps to where there is at least this share of the most room, and strokes this share of the way through it.
var hands = []struct{ deep, part float64 }{{0.5, 1}, {0.25, 1}, {0.6, 0.5}}

// byHand gives how well the answer agrees with the truth after each stroke, from the first on (intersection over union).
func byHand(pic *raster.RGB, truth *raster.Mask, deep, part float64) (ious []float64, answer *raster.Mask) {
	answer = raster.NewMask(pic.W, pic.H)
	solved, pyramid := scenes.Kept{}, scenes.NewPyramid(pic)
	var picks []isolate.Pick
	for len(ious) < mostStrokes {
		missing := piecesOf(func(i int) bool { return answer.Pix[i] < half && truth.Pix[i] >= half }, pic.W, pic.H)
		spilled := piecesOf(func(i int) bool { return answer.Pix[i] >= half && truth.Pix[i] < half }, pic.W, pic.H)
		join, most := "add", missing
		if len(spilled.largest) > len(missing.largest) {
			join, most = "subtract", spilled
		}
		if len(most.largest) == 0 {
			break
		}
		picks = append(picks, isolate.Pick{Kind: "sweep", Join: join, Strokes: []isolate.Stroke{most.stroke(deep, part)}})
		answer = rendered(pyramid, picks, solved)
		iou, _ := scenes.Compare(answer, truth)
		ious = append(ious, iou)
	}
	return ious, answer
}

const half = 1 << 15

// pieces is an area: how far each of its pixels is from its rim, and the pixels of its largest piece that are not on the rim.
type pieces struct {
	w, h    int
	room    []float32
	largest []int
}

func piecesOf(in func(i int) bool, w, h int) pieces {
	p := pieces{w: w, h: h, room: raster.SignedDistance(in, w, h)}
	p.largest = largest(func(i int) bool { return p.room[i] > 1 }, w, h)
	return p
}

// stroke gives a stroke along the middle of the largest piece, through a part of the way from one of its ends to the other.
func (p pieces) stroke(deep, part float64) isolate.Stroke {
	at := p.largest[0]
	for _, i := range p.largest {
		if p.room[i] > p.room[at] {
			at = i
		}
	}
	least := float32(deep) * p.room[at]
	open := func(i int) bool { return p.room[i] >= least }
	even := func(int) float32 { return 1 }
	one, _ := p.farthest(at, open, even)
	other, _ := p.farthest(one, open, even)
	_, from := p.farthest(one, open, func(i int) float32 { return 1 / p.room[i] })
	var s isolate.Stroke
	narrow := p.room[at]
	for i, n := other, 0; ; i, n = from[i], n+1 {
		narrow = min(narrow, p.room[i])
		if n%8 == 0 || i == one {
			s.Points = append(s.Points, [2]float64{float64(i%p.w) + 0.5, float64(i/p.w) + 0.5})
		}
		if i == one {
			break
		}
	}
	cut := int(float64(len(s.Points)) * (1 - part) / 2)
	s.Points = s.Points[cut : len(s.Points)-cut]
	s.Radius = math.Max(1, math.Min(widest, strokeShare*float64(narrow)))
	return s
}

// largest lists the pixels of the largest piece that hangs together by its sides.
func largest(in func(i int) bool, w, h int) []int {
	seen := make([]bool, w*h)
	var best []int
	for start := range seen {
		if seen[start] || !in(start) {
			continue
		}
		seen[start] = true
		piece := []int{start}
		for k := 0; k < len(piece); k++ {
			beside(piece[k], w, h, func(j int, _ float32) {
				if (j/w == piece[k]/w || j%w == piece[k]%w) && !seen[j] && in(j) {
					seen[j] = true
					piece = append(piece, j)
				}
			})
		}
		if len(piece) > len(best) {
			best = piece
		}
	}
	return best
}

func beside(i, w, h int, do func(j int, step float32)) {
	x, y := i%w, i/w
	for yy := max(0, y-1); yy <= min(h-1, y+1); yy++ {
		for xx := max(0, x-1); xx <= min(w-1, x+1); xx++ {
			if j := yy*w + xx; j != i {
				do(j, float32(math.Hypot(float64(xx-x), float64(yy-y))))
			}
		}
	}
}

// farthest gives the pixel that is farthest from a start within an area (Dijkstra), and from where each is reached.
func (p pieces) farthest(start int, in func(i int) bool, cost func(i int) float32) (int, map[int]int) {
	d := map[int]float32{start: 0}
	from := map[int]int{start: start}
	q := &queue{{0, start}}
	last := start
	for q.Len() > 0 {
		n := heap.Pop(q).(reachedAt)
		if n.d > d[n.i] {
			continue
		}
		last = n.i
		beside(n.i, p.w, p.h, func(j int, step float32) {
			if !in(j) {
				return
			}
			v := n.d + step*cost(j)
			if old, ok := d[j]; !ok || v < old {
				d[j], from[j] = v, n.i
				heap.Push(q, reachedAt{v, j})
			}
		})
	}
	return last, from
}

type reachedAt struct {
	d float32
	i int
}

type queue []reachedAt

func (q queue) Len() int           { return len(q) }
func (q queue) Less(i, j int) bool { return q[i].d < q[j].d }
func (q queue) Swap(i, j int)      { q[i], q[j] = q[j], q[i] }
func (q *queue) Push(v any)        { *q = append(*q, v.(reachedAt)) }
func (q *queue) Pop() any {
	old := *q
	v := old[len(old)-1]
	*q = old[:len(old)-1]
	return v
}

// byHands prints what the hands reach on each of the list's things and on the demo's, the mean of all hands: after each
// stroke, and by how much strokes made it worse.
func byHands(dir, save, only string) {
	fmt.Printf("%-18s %-5s %s\n", "by simulated hands", "", "IoU after one stroke, two, three, four; by how much a stroke made it worse, at most")
	var all [3]struct {
		ious       [mostStrokes]float64
		n, dropped float64
	}
	line := func(name, where string, pic *raster.RGB, truth *raster.Mask) {
		sum := &all[slices.Index([]string{"tuned", "aside", "demo"}, where)]
		var mean [mostStrokes]float64
		worse := 0.0
		for _, h := range hands {
			ious, answer := byHand(pic, truth, h.deep, h.part)
			for k := range mean {
				v := ious[min(k, len(ious)-1)]
				mean[k] += v / float64(len(hands))
				sum.ious[k] += v
			}
			for k, v := range ious[1:] {
				worse = math.Max(worse, ious[k]-v)
				sum.dropped += math.Max(0, ious[k]-v)
			}
			sum.n++
			if save != "" {
				check(write(filepath.Join(save, fmt.Sprintf("%s-%g.png", strings.ReplaceAll(name, " ", "-"), h.deep)), answer))
			}
		}
		fmt.Printf("%-18s %-5s", name, where)
		for _, v := range mean {
			fmt.Printf(" %.4f", v)
		}
		fmt.Printf("  %.4f\n", worse)
	}
	check(textured.Each(dir, only, func(t *textured.Thing, pic *raster.RGB, truth *raster.Mask) {
		line(t.Name+" "+t.Colour, t.Where(), pic, truth)
	}))
	for _, n := range scenes.Names {
		if only != "" && only != "smooth" {
			break
		}
		truth, err := scenes.Mask(dir, n+"-mask")
		check(err)
		for _, c := range []string{"red", "black", "own"} {
			pic, _, err := picture(dir, n, c)
			check(err)
			if pic != nil {
				line(n+" "+c, "demo", pic, truth)
			}
		}
	}
	for k, what := range []string{"tuned", "aside", "demo"} {
		if sum := all[k]; sum.n > 0 {
			fmt.Printf("all %-14s %-5s", what, "")
			for _, v := range sum.ious {
				fmt.Printf(" %.4f", v/sum.n)
			}
			fmt.Printf("  %.4f for each hand, all its drops together\n", sum.dropped/sum.n)
		}
	}
}
