package pattern

import (
	"errors"
	"fmt"
	"math"
	"slices"

	"episema/core/raster"
)

// Sketched is a stroke of a tile that is drawn by hand. Lengths are thousandths of the tile, which repeats: what goes out on one side
// comes in on the other.
type Sketched struct {
	Figure int          `json:"figure"` // 0 and up: which figure it is of; -1 takes away what was drawn before
	Radius float64      `json:"radius"`
	Points [][2]float64 `json:"points"`
}

const (
	sketchSide   = 512 // pixels of a tile that is sketched
	mostSketched = 300 // strokes,
	mostPoints   = 400 // each of so many points
)

func (s *Sketched) validate() error {
	switch {
	case s.Figure < -1 || s.Figure >= MostColours:
		return fmt.Errorf("a stroke of a tile is of figure 0 to %d, or -1 to take away", MostColours-1)
	case !(s.Radius >= 2 && s.Radius <= 500):
		return errors.New("a tile is drawn with a tip of 2 to 500 thousandths of it")
	case len(s.Points) == 0 || len(s.Points) > mostPoints:
		return fmt.Errorf("a stroke of a tile has 1 to %d points", mostPoints)
	}
	for _, q := range s.Points {
		if !(math.Abs(q[0]) <= 4000 && math.Abs(q[1]) <= 4000) {
			return errors.New("a stroke of a tile goes too far away from it")
		}
	}
	return nil
}

// Sketch draws strokes one over the other. It returns the mask of a tile that is drawn, its figures one below the other, and which they
// are: those of which anything is left. Where nothing is left at all that is an error.
func Sketch(strokes []Sketched, done raster.Done) (m *raster.Mask, figures []int, err error) {
	if len(strokes) > mostSketched {
		return nil, nil, fmt.Errorf("a tile has %d strokes at most; begin anew", mostSketched)
	}
	for i := range strokes {
		if err := strokes[i].validate(); err != nil {
			return nil, nil, err
		}
	}
	const n = sketchSide
	cover := make([][MostColours]float32, n*n)
	one := make([]float32, n*n)
	for _, s := range strokes {
		clear(one)
		s.into(one, done)
		for i, v := range one {
			if v == 0 {
				continue
			}
			for k := range cover[i] {
				cover[i][k] *= 1 - v
			}
			if s.Figure >= 0 {
				cover[i][s.Figure] += v
			}
		}
	}
	for k := range MostColours {
		if slices.ContainsFunc(cover, func(c [MostColours]float32) bool { return c[k] > 0.5 }) {
			figures = append(figures, k)
		}
	}
	if figures == nil {
		return nil, nil, errors.New("nothing is on the tile yet; drag over it")
	}
	m = raster.NewMask(n, n*len(figures))
	for at, k := range figures {
		for i := range cover {
			m.Pix[at*n*n+i] = uint16(cover[i][k]*raster.Whole + 0.5)
		}
	}
	return m, figures, nil
}

// into draws how much of each pixel the stroke covers, wherever it comes in.
func (s *Sketched) into(one []float32, done raster.Done) {
	const n, k = sketchSide, sketchSide / 1000.0
	radius := s.Radius * k
	x0, y0, x1, y1 := math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)
	for _, q := range s.Points {
		x0, y0, x1, y1 = min(x0, q[0]*k-radius), min(y0, q[1]*k-radius), max(x1, q[0]*k+radius), max(y1, q[1]*k+radius)
	}
	at := make([][2]float64, len(s.Points))
	// A tile to the left of which the stroke begins has it moved to the right, and so on.
	for my := -math.Floor(y1 / n); my <= -math.Floor(y0/n); my++ {
		for mx := -math.Floor(x1 / n); mx <= -math.Floor(x0/n); mx++ {
			for i, q := range s.Points {
				at[i] = [2]float64{q[0]*k + mx*n, q[1]*k + my*n}
			}
			raster.Along(at, func(int) float64 { return radius + 0.5 }, raster.Rect{X1: n, Y1: n}, done, func(_, x, y int, d float64) {
				one[y*n+x] = max(one[y*n+x], float32(min(1, radius+0.5-d)))
			})
		}
	}
}
