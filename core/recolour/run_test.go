package recolour

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
)

// The light along a row is read bilinearly between the middles of the field's cells, and beyond them it stays what it is there.
func TestTheLightAlongARowIsThatOfItsPlaces(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	f := &lightField{w: 7, h: 5, cell: 28, light: make([]float32, 35)}
	for i := range f.light {
		f.light[i] = 0.1 + r.Float32()
	}
	for range 200 {
		x, y := -40+280*r.Float64(), -40+220*r.Float64()
		got := make([]float32, 3)
		f.along(got, []float64{x, x + 1, x + 31}, y, 0.3)
		for k, at := range []float64{x, x + 1, x + 31} {
			want := max(0.3, raster.Sample(f.light, f.w, f.h, at/f.cell-0.5, y/f.cell-0.5))
			require.InDelta(t, want, got[k], 1e-6, "at %v, %v", at, y)
		}
	}
}

// What a run becomes does not depend on what lies beside a pixel in it.
func TestARunIsItsPixelsOneByOne(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 4))
	p := newPlan(colour.SRGB, colour.RGB{0.4, 0.12, 0.05}, colour.RGB{0.05, 0.2, 0.3}, colour.RGB{0.01, 0.012, 0.015}, 0.4, 0.5, 0.8, Defaults())
	p.film, p.whole, p.dull, p.crisp = films()[3], true, 0.5, 0.3
	p.roll, p.floor = shoulderOver([3]float64{0.05, 0.2, 0.3}), floorAt
	p.steady = &steady{weight: 0.3, at: 0.5, to: 0.3, slope: 0.8}
	p.steady.draw()
	p.finish = newFinish(colour.SRGB, &Finish{Middle: 1.2, White: 240, OutWhite: 255, Vibrance: 20, Blend: "multiply"})
	p.strength = 0.9
	one := func(px [3]float32, light float32) [3]float32 {
		var s run
		s.add(px[0], px[1], px[2])
		s.light[0], s.aside[0] = light, light/4
		s.paint(p)
		return s.o.pixel(0)
	}
	var s run
	var want [block][3]float32
	for k := range block - 1 {
		px, light := [3]float32{r.Float32(), r.Float32(), r.Float32()}, r.Float32()
		want[k] = one(px, light)
		s.add(px[0], px[1], px[2])
		s.light[k], s.aside[k] = light, light/4
	}
	s.paint(p)
	for k := range s.n {
		require.Equal(t, want[k], s.o.pixel(k), "pixel %d", k)
	}
}

// A thing of several tints is painted with the plan of each, weighed by how near a pixel's tint lies to its own.
func TestTintsAreWeighedByHowNearTheyAre(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 6))
	lab := colour.NewFast(colour.SRGB)
	tinted := func(c colour.RGB) tint {
		l, a, b := lab.Oklab(float32(c[0]), float32(c[1]), float32(c[2]))
		return tint{at: [3]float64{float64(a / l), float64(b / l), tintLight * float64(l)}}
	}
	owns := []colour.RGB{{0.4, 0.1, 0.05}, {0.1, 0.3, 0.12}, {0.3, 0.3, 0.28}}
	goals := []colour.RGB{{0.1, 0.2, 0.4}, {0.4, 0.35, 0.1}, {0.05, 0.05, 0.05}}
	var tints []tint
	var plans []*Plan
	for k, own := range owns {
		tints = append(tints, tinted(own))
		plans = append(plans, newPlan(colour.SRGB, own, goals[k], colour.RGB{}, 1, 1, 1, Defaults()))
	}
	b := newBlended(colour.SRGB, tints, plans)
	near := math.Inf(1)
	for i := range tints {
		for j := range i {
			near = min(near, math.Sqrt(apart(tints[i].at, tints[j].at)))
		}
	}
	var l lanes
	n := 20
	var want [block][3]float64
	mixed := 0
	for i := range n {
		px := [3]float32{0.05 + 0.4*r.Float32(), 0.05 + 0.3*r.Float32(), 0.05 + 0.2*r.Float32()}
		l.set(i, px[0], px[1], px[2])
		at := tinted(colour.RGB{float64(px[0]), float64(px[1]), float64(px[2])}).at
		least, sum, shares := math.Inf(1), 0.0, 0
		for k := range tints {
			least = min(least, apart(at, tints[k].at))
		}
		for k, p := range plans {
			w := math.Exp((least - apart(at, tints[k].at)) / (0.15 * near * near))
			if w < 0.01 {
				continue
			}
			var s run
			var alone lanes
			alone.set(0, px[0], px[1], px[2])
			made := s.repaintLanes(p, &alone, 1).pixel(0)
			for c := range made {
				want[i][c] += w * float64(made[c])
			}
			sum, shares = sum+w, shares+1
		}
		for c := range want[i] {
			want[i][c] /= sum
		}
		if shares > 1 {
			mixed++
		}
	}
	b.paint(&l, n)
	for i := range n {
		for c := range 3 {
			require.InDelta(t, want[i][c], l[c][i], 1e-4, "pixel %d", i)
		}
	}
	assert.Greater(t, mixed, 3, "several plans have a share of some")
}
