package pattern

import (
	"errors"
	"math"

	"episema/core/raster"
)

// Grid is how a square of cloth in perspective bends where the nodes of a grid over it were pulled elsewhere: from where on the cloth
// each place comes, in sides of the square.
type Grid struct {
	dx, dy []float32 // tabulated at fine by fine places, from -1 to 2 on both axes
}

const (
	tabled = 64           // places of the table in a side of the square
	fine   = 3*tabled + 1 // beyond the square the bend dies away over a side
	ease   = 1.0 / 3      // of a side, over which its slope does
	least  = 0.05         // of its area that a bit of cloth keeps; with less it would as good as lie over itself
)

// Bytes returns what it takes in memory.
func (g *Grid) Bytes() int {
	if g == nil {
		return 0
	}
	return 8 * fine * fine
}

// shifts is how far each node of the grid of four by four lies from where the perspective has it, in sides of the square.
type shifts [4][4][2]float64

// shiftsOf returns the shifts of a grid's nodes in the picture; false where one lies past the horizon of the corners.
func shiftsOf(m *[9]float64, grid *[12][2]float64) (d shifts, ok bool) {
	k := 0
	for j := range 4 {
		for i := range 4 {
			if i%3 == 0 && j%3 == 0 {
				continue // a corner
			}
			s, t, ok := toSquare(m, grid[k][0], grid[k][1])
			if !ok {
				return d, false
			}
			d[j][i] = [2]float64{s - float64(i)/3, t - float64(j)/3}
			k++
		}
	}
	return d, true
}

// slopes is how each node's shift counts in the slope of the curve at each of the four: half the way from one neighbour to the other
// (Catmull and Rom, 1974), at the ends the way to the next one.
var slopes = [4][4]float64{{-1, 1, 0, 0}, {-0.5, 0, 0.5, 0}, {0, -0.5, 0, 0.5}, {0, 0, -1, 1}}

// spread returns how much of each of four nodes' shifts a place along one axis takes, and how that changes along it: between two nodes by
// the cubic that has both and their slopes (Hermite), past the ends less and less of it, without a kink.
func spread(s float64) (w, dw [4]float64) {
	c := max(0, min(1, s))
	e := s - c
	i := min(2, int(3*c))
	x := 3*c - float64(i)
	p, dp := x*x*(3-2*x), 6*x*(1-x) // from one node to the next
	a, da := x*(1-x)*(1-x), (1-x)*(1-3*x)
	b, db := x*x*(x-1), x*(3*x-2)
	w[i], w[i+1] = 1-p, p
	dw[i], dw[i+1] = -dp, dp
	for k := range w {
		w[k] += a*slopes[i][k] + b*slopes[i+1][k]
		dw[k] = 3 * (dw[k] + da*slopes[i][k] + db*slopes[i+1][k])
	}
	if e == 0 {
		return w, dw
	}
	far := math.Abs(e)
	if far >= 1 {
		return [4]float64{}, [4]float64{}
	}
	var g, dg float64
	if u := far / ease; u < 1 {
		g, dg = e*(1-u)*(1-u), (1-u)*(1-3*u)
	}
	f, df := 1+far*far*(2*far-3), 6*e*(far-1)
	for i := range w {
		l := w[i] + dw[i]*g
		w[i], dw[i] = l*f, dw[i]*dg*f+l*df
	}
	return w, dw
}

// at returns by how much a place of the flat cloth is shifted, and the four derivatives of that: of the first and the second co-ordinate
// by s, and then by t.
func (d *shifts) at(s, t float64) (by [2]float64, slope [4]float64) {
	ws, dws := spread(s)
	wt, dwt := spread(t)
	for j := range 4 {
		for i := range 4 {
			for q, v := range d[j][i] {
				by[q] += wt[j] * ws[i] * v
				slope[q] += wt[j] * dws[i] * v
				slope[2+q] += dwt[j] * ws[i] * v
			}
		}
	}
	return by, slope
}

// area returns how large a bit of cloth at a place becomes, of what it was; at 0 and below it the cloth lies over itself.
func area(slope [4]float64) float64 { return (1+slope[0])*(1+slope[3]) - slope[1]*slope[2] }

// validateGrid says what is wrong with the nodes of a grid over the square that m unprojects.
func validateGrid(m *[9]float64, grid *[12][2]float64) error {
	d, ok := shiftsOf(m, grid)
	if !ok {
		return errors.New("a node of a pattern's grid lies past the horizon of its corners; pull it back")
	}
	const steps = 16 // in a side
	for j := -steps; j <= 2*steps; j++ {
		for i := -steps; i <= 2*steps; i++ {
			if _, slope := d.at(float64(i)/steps, float64(j)/steps); !(area(slope) >= least) {
				return errors.New("the grid of a pattern lies over itself; pull its nodes apart")
			}
		}
	}
	return nil
}

// NewGrid tabulates how a valid pattern's grid bends it; nil for a pattern without one.
func NewGrid(p *Pattern, done raster.Done) *Grid {
	if p.Corners == nil || p.Grid == nil {
		return nil
	}
	m, ok := unproject(*p.Corners)
	d, fits := shiftsOf(&m, p.Grid)
	if !ok || !fits {
		return nil
	}
	g := &Grid{make([]float32, fine*fine), make([]float32, fine*fine)}
	done.Parallel(fine, func(row int) {
		done.Check()
		t := float64(row)/tabled - 1
		var by [2]float64 // as at the place before, which is near
		for col := range fine {
			s := float64(col)/tabled - 1
			by = d.back(s, t, by)
			g.dx[row*fine+col], g.dy[row*fine+col] = float32(by[0]), float32(by[1])
		}
	})
	return g
}

// back returns how far from (s, t) that place lies that is shifted there, by Newton's method from a first guess.
func (d *shifts) back(s, t float64, guess [2]float64) [2]float64 {
	miss := func(at [2]float64) (r [2]float64, slope [4]float64, size float64) {
		by, slope := d.at(s+at[0], t+at[1])
		r = [2]float64{at[0] + by[0], at[1] + by[1]}
		return r, slope, math.Hypot(r[0], r[1])
	}
	at := guess
	r, slope, size := miss(at)
	for range 20 {
		det := area(slope)
		if size < 1e-7 || det <= 0 {
			break
		}
		ds, dt := ((1+slope[3])*r[0]-slope[2]*r[1])/det, ((1+slope[0])*r[1]-slope[1]*r[0])/det
		for k := 1.0; k > 1e-3; k /= 2 { // no further than it helps
			to := [2]float64{at[0] - k*ds, at[1] - k*dt}
			if r2, slope2, size2 := miss(to); size2 < size {
				at, r, slope, size = to, r2, slope2, size2
				break
			}
		}
	}
	return at
}

// At returns where on the flat cloth a place of the bent one lies.
func (g *Grid) At(s, t float64) (float64, float64) {
	u, v := (s+1)*tabled, (t+1)*tabled
	if u <= 0 || v <= 0 || u >= fine-1 || v >= fine-1 {
		return s, t
	}
	return s + float64(raster.Sample(g.dx, fine, fine, u, v)), t + float64(raster.Sample(g.dy, fine, fine, u, v))
}
