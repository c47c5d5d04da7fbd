// Package mincut cuts small graphs in two where that costs least.
package mincut

// Graph is a graph of which a minimum cut is found: level by level along shortest ways (Dinitz, 1970).
type Graph struct {
	// Term is what draws each node to a side: above nought what it costs to have it on the far side, below nought on the near one.
	Term  []float32
	to    [][]int32 // arcs of each node, by index into arc
	arc   []arc
	level []int32
	next  []int
}

type arc struct {
	to  int32
	cap float32
}

// flowEps is what counts as nothing, so that rounding cannot keep the search going.
const flowEps = 1e-6

// New returns a graph of n nodes that nothing joins.
func New(n int) *Graph {
	return &Graph{Term: make([]float32, n), to: make([][]int32, n+2), level: make([]int32, n+2), next: make([]int, n+2)}
}

// Link joins two nodes; w is what it costs to part them.
func (g *Graph) Link(a, b int32, w float32) { g.Join(a, b, w, w) }

// Join joins two nodes: ab is what it costs to have a on the near side and b on the far one, ba the other way round.

func (g *Graph) Join(a, b int32, ab, ba float32) {
	g.to[a] = append(g.to[a], int32(len(g.arc)))
	g.to[b] = append(g.to[b], int32(len(g.arc)+1))
	g.arc = append(g.arc, arc{b, ab}, arc{a, ba})
}

// Solve returns which nodes are on the near side, as few as a minimum cut has. It uses the graph up.
func (g *Graph) Solve() []bool {
	n := len(g.Term)
	s, t := int32(n), int32(n+1)
	for i, v := range g.Term {
		if v > 0 {
			g.Join(s, int32(i), v, 0)
		} else if v < 0 {
			g.Join(int32(i), t, -v, 0)
		}
	}
	queue := make([]int32, 0, n+2)
	for {
		for i := range g.level {
			g.level[i] = -1
			g.next[i] = 0
		}
		g.level[s] = 0
		queue = append(queue[:0], s)
		for k := 0; k < len(queue); k++ {
			for _, e := range g.to[queue[k]] {
				if a := g.arc[e]; a.cap > flowEps && g.level[a.to] < 0 {
					g.level[a.to] = g.level[queue[k]] + 1
					queue = append(queue, a.to)
				}
			}
		}
		if g.level[t] < 0 {
			break
		}
		for g.push(s, t, 1e30) > 0 {
		}
	}
	in := make([]bool, n)
	for i := range in {
		in[i] = g.level[i] >= 0
	}
	return in
}

// push sends what it can from node i to t.
func (g *Graph) push(i, t int32, most float32) float32 {
	if i == t {
		return most
	}
	sent := float32(0)
	for ; g.next[i] < len(g.to[i]); g.next[i]++ {
		e := g.to[i][g.next[i]]
		a := &g.arc[e]
		if a.cap <= flowEps || g.level[a.to] != g.level[i]+1 {
			continue
		}
		if v := g.push(a.to, t, min(most-sent, a.cap)); v > 0 {
			g.arc[e].cap -= v
			g.arc[e^1].cap += v
			sent += v
			if most-sent <= flowEps {
				return sent
			}
		}
	}
	return sent
}
