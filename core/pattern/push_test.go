package pattern

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
)

// However hands push, the pattern is stretched and squeezed, but never folded over itself: no place is met twice on a way round. What is
// kept of it on a grid is near to that.
func TestPushesNeverFoldThePattern(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 8))
	off, n := 0.0, 0.0
	for range 12 {
		var list []Push
		for range 6 {
			p := Push{Radius: 30 + 60*r.Float64()}
			x, y := 100+300*r.Float64(), 100+300*r.Float64()
			for range 4 {
				p.Points = append(p.Points, [2]float64{x, y})
				x, y = x+80*(r.Float64()-0.5), y+80*(r.Float64()-0.5)
			}
			list = append(list, p)
		}
		f := NewPushed(list, nil)
		at := func(x, y float64) (float64, float64) {
			for i := len(list) - 1; i >= 0; i-- {
				x, y = list[i].back(x, y)
			}
			return x, y
		}
		const near = 1e-4
		for y := 40.0; y < 460; y += 7 {
			for x := 40.0; x < 460; x += 7 {
				ax, ay := at(x, y)
				bx, by := at(x+near, y)
				cx, cy := at(x, y+near)
				assert.Positive(t, (bx-ax)*(cy-ay)-(by-ay)*(cx-ax), "at %g, %g", x, y)
				dx, dy := f.At(x, y)
				off, n = off+math.Hypot(x+dx-ax, y+dy-ay), n+1
			}
		}
	}
	assert.Less(t, off/n, 0.3, "pixels")
}

// Fifty pushes here and there on a large picture, which each step of a hand that pushes on asks for again.
func BenchmarkPushed(b *testing.B) {
	r := rand.New(rand.NewPCG(1, 1))
	var list []Push
	for range 50 {
		x, y := 500+4000*r.Float64(), 500+3000*r.Float64()
		p := Push{Radius: 200}
		for range 8 {
			p.Points = append(p.Points, [2]float64{x, y})
			x, y = x+60*r.Float64(), y+60*r.Float64()
		}
		list = append(list, p)
	}
	for b.Loop() {
		NewPushed(list, nil)
	}
}
