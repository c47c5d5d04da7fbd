package mincut

import "episema/core/raster"

// Grid is a two-terminal flow network over a sparse set of pixels with 8 neighbours each, solved by
// growing two search trees from the terminals and repairing them after each augmentation (Boykov and
// Kolmogorov, An experimental comparison of min-cut/max-flow algorithms, 2004).
type Grid struct {
	Next []int32   // the neighbour of node i in direction d of Directions: Next[8*i+d], or -1
	Cap  []float32 // what it costs to have node i on the near side and that neighbour on the far one
	Term []float32 // as a Graph has it
	Done raster.Done
	tree []int8 // 0 free, 1 source, 2 sink
	par  []int8 // direction to the parent; -1 none, 8 terminal
	dist []int32
	mark []int32
	time int32

	queue  []int32
	queued []bool
	head   int
	orphan []int32
}

// Directions are those of the eight neighbours, across and down: east, south-east, and so on round.
var Directions = [8][2]int{{1, 0}, {1, 1}, {0, 1}, {-1, 1}, {-1, 0}, {-1, -1}, {0, -1}, {1, -1}}

// opposite returns the direction that leads back.
func opposite(d int) int { return (d + 4) & 7 }

// NewGrid returns a grid of n nodes without neighbours.
func NewGrid(n int) *Grid {
	g := &Grid{Next: make([]int32, 8*n), Cap: make([]float32, 8*n), Term: make([]float32, n),
		tree: make([]int8, n), par: make([]int8, n), dist: make([]int32, n), mark: make([]int32, n), queued: make([]bool, n)}
	for i := range g.Next {
		g.Next[i] = -1
	}
	return g
}

const (
	noParent = -1
	terminal = 8
)

func (g *Grid) activate(i int32) {
	if !g.queued[i] {
		g.queued[i] = true
		g.queue = append(g.queue, i)
	}
}

// residual capacity of the edge from i towards its neighbour in direction d as seen by a tree: a source
// tree grows along i->j, a sink tree along j->i.
func (g *Grid) grows(i int32, d int, tree int8) bool {
	if tree == 1 {
		return g.Cap[8*i+int32(d)] > flowEps
	}
	return g.Cap[8*g.Next[8*i+int32(d)]+int32(opposite(d))] > flowEps
}

// Solve runs to the minimum cut; afterwards Near tells the side of each node. It uses the grid up.
func (g *Grid) Solve() {
	for i := range g.tree {
		g.par[i] = noParent
		switch {
		case g.Term[i] > flowEps:
			g.tree[i], g.par[i], g.dist[i] = 1, terminal, 1
			g.activate(int32(i))
		case g.Term[i] < -flowEps:
			g.tree[i], g.par[i], g.dist[i] = 2, terminal, 1
			g.activate(int32(i))
		}
	}
	for g.head < len(g.queue) {
		i := g.queue[g.head]
		g.head++
		if g.head > 1<<16 && g.head*2 > len(g.queue) {
			g.queue = append(g.queue[:0], g.queue[g.head:]...)
			g.head = 0
		}
		g.queued[i] = false
		if g.head&1023 == 0 {
			g.Done.Check()
		}
		if g.tree[i] == 0 {
			continue
		}
		for d := 0; d < 8; d++ {
			j := g.Next[8*i+int32(d)]
			if j < 0 || !g.grows(i, d, g.tree[i]) {
				continue
			}
			switch {
			case g.tree[j] == 0:
				g.tree[j], g.par[j] = g.tree[i], int8(opposite(d))
				g.mark[j], g.dist[j] = g.mark[i], g.dist[i]+1
				g.activate(j)
			case g.tree[j] != g.tree[i]:
				if g.tree[i] == 1 {
					g.augment(i, j, d)
				} else {
					g.augment(j, i, opposite(d))
				}
				g.adopt()
				if g.tree[i] == 0 {
					d = 8
				} else {
					d-- // the edge may carry more
				}
			case g.mark[j] <= g.mark[i] && g.dist[j] > g.dist[i]+1:
				g.par[j] = int8(opposite(d))
				g.mark[j], g.dist[j] = g.mark[i], g.dist[i]+1
			}
		}
	}
}

// Near reports whether a node is on the near side.
func (g *Grid) Near(i int) bool { return g.tree[i] == 1 }

// augment sends flow along source ... s -> t ... sink, where s sees t in direction d.
func (g *Grid) augment(s, t int32, d int) {
	least := g.Cap[8*s+int32(d)]
	for i := s; ; {
		p := g.par[i]
		if p == terminal {
			least = min(least, g.Term[i])
			break
		}
		up := g.Next[8*i+int32(p)]
		least = min(least, g.Cap[8*up+int32(opposite(int(p)))])
		i = up
	}
	for i := t; ; {
		p := g.par[i]
		if p == terminal {
			least = min(least, -g.Term[i])
			break
		}
		least = min(least, g.Cap[8*i+int32(p)])
		i = g.Next[8*i+int32(p)]
	}
	g.Cap[8*s+int32(d)] -= least
	g.Cap[8*t+int32(opposite(d))] += least
	for i := s; ; {
		p := g.par[i]
		if p == terminal {
			g.Term[i] -= least
			if g.Term[i] <= flowEps {
				g.Term[i] = 0
				g.setOrphan(i)
			}
			break
		}
		up := g.Next[8*i+int32(p)]
		back := 8*up + int32(opposite(int(p)))
		g.Cap[back] -= least
		g.Cap[8*i+int32(p)] += least
		if g.Cap[back] <= flowEps {
			g.Cap[back] = 0
			g.setOrphan(i)
		}
		i = up
	}
	for i := t; ; {
		p := g.par[i]
		if p == terminal {
			g.Term[i] += least
			if g.Term[i] >= -flowEps {
				g.Term[i] = 0
				g.setOrphan(i)
			}
			break
		}
		down := g.Next[8*i+int32(p)]
		e := 8*i + int32(p)
		g.Cap[e] -= least
		g.Cap[8*down+int32(opposite(int(p)))] += least
		if g.Cap[e] <= flowEps {
			g.Cap[e] = 0
			g.setOrphan(i)
		}
		i = down
	}
}

func (g *Grid) setOrphan(i int32) {
	g.par[i] = noParent
	g.orphan = append(g.orphan, i)
}

const far = int32(1) << 30

// origin walks to the terminal and gives the distance, or far where the path is broken.
func (g *Grid) origin(i int32) int32 {
	d := int32(0)
	for j := i; ; {
		if g.mark[j] == g.time {
			d += g.dist[j]
			break
		}
		d++
		p := g.par[j]
		if p == terminal {
			g.mark[j], g.dist[j] = g.time, 1
			break
		}
		if p == noParent {
			return far
		}
		j = g.Next[8*j+int32(p)]
	}
	// Marks the way, so that the next walk ends sooner.
	left := d
	for j := i; g.mark[j] != g.time; {
		g.mark[j], g.dist[j] = g.time, left
		left--
		j = g.Next[8*j+int32(g.par[j])]
	}
	return d
}

func (g *Grid) adopt() {
	g.time++
	for len(g.orphan) > 0 {
		i := g.orphan[len(g.orphan)-1]
		g.orphan = g.orphan[:len(g.orphan)-1]
		tree := g.tree[i]
		best, bestDist := int8(noParent), far
		for d := 0; d < 8; d++ {
			j := g.Next[8*i+int32(d)]
			if j < 0 || g.tree[j] != tree || g.par[j] == noParent || !g.grows(j, opposite(d), tree) {
				continue
			}
			if n := g.origin(j); n < bestDist {
				best, bestDist = int8(d), n
			}
		}
		if best != noParent {
			g.par[i], g.mark[i], g.dist[i] = best, g.time, bestDist+1
			continue
		}
		for d := 0; d < 8; d++ {
			j := g.Next[8*i+int32(d)]
			if j < 0 || g.tree[j] != tree {
				continue
			}
			if g.grows(j, opposite(d), tree) {
				g.activate(j)
			}
			if p := g.par[j]; p >= 0 && p != terminal && g.Next[8*j+int32(p)] == i {
				g.setOrphan(j)
			}
		}
		g.tree[i] = 0
	}
}
