package main

import (
	"math"
	"math/rand"
)

// seatCushion is a diamond-tufted cushion in the xy plane, swelling towards -z.
func seatCushion() *mesh {
	const p = 0.155 // from button to button along a diamond's side's projections
	return grid(520, 340, 1, 1, func(u, v float64) vec {
		x, y := (u-0.5)*0.86, (v-0.5)*0.56
		a, b := (x+y)/p, (x-y)/p
		s := math.Abs(math.Sin(math.Pi*a)) * math.Abs(math.Sin(math.Pi*b))
		// Pleats run out from each button along the creases.
		wave := 0.0012 * math.Sin(9*x*9+3*math.Sin(11*y)) * math.Sin(7*y*8+2*math.Sin(13*x))
		edge := math.Min(1, math.Min(0.43-math.Abs(x), 0.28-math.Abs(y))/0.03)
		z := -0.040*math.Pow(s, 0.42)*math.Max(0.15, edge) + wave
		return vec{x, y, z}
	})
}

// muff is a roll along x, and its fur: ribbons that lean and curl, each with its own length.
func muff() (core, fur *mesh) {
	const rx, r, y0 = 0.135, 0.066, 0.082
	on := func(u, v float64) vec { // a superellipse of revolution about x
		t := (v - 0.5) * math.Pi
		x := rx * math.Copysign(math.Pow(math.Abs(math.Sin(t)), 0.8), math.Sin(t))
		k := r * math.Pow(math.Cos(t), 0.55)
		a := 2 * math.Pi * u
		return vec{x, y0 + k*math.Sin(a), k * math.Cos(a)}
	}
	core = grid(120, 80, 1, 1, func(u, v float64) vec { return on(u, 0.002+v*0.996) })
	rnd := rand.New(rand.NewSource(5))
	fur = &mesh{}
	const segments = 4
	for range 30000 {
		u, v := rnd.Float64(), 0.02+0.96*rnd.Float64()
		at := on(u, v)
		n := on(u, v+1e-3).sub(at).cross(on(u+1e-3, v).sub(at)).unit()
		if n.dot(vec{at[0] / rx, at[1] - y0, at[2]}) < 0 {
			n = n.times(-1)
		}
		// Locks: fibres near each other lean alike.
		lean := vec{math.Sin(31*at[0]+5*at[2]*9) * 0.5, -0.55 + 0.3*math.Sin(40*at[2]+22*at[0]), 0.4 * math.Cos(37*at[1]+17*at[0])}
		jitter := vec{rnd.NormFloat64(), rnd.NormFloat64(), rnd.NormFloat64()}.times(0.28)
		dir := n.add(lean.times(0.55)).add(jitter).unit()
		long := 0.020 + 0.012*rnd.Float64()
		wide := 0.00030 + 0.00016*rnd.Float64()
		across := dir.cross(vec{rnd.NormFloat64(), rnd.NormFloat64(), rnd.NormFloat64()}).unit()
		base := len(fur.at)
		p := at
		for k := 0; k <= segments; k++ {
			t := float64(k) / segments
			w := across.times(wide * (1 - 0.85*t))
			fur.at = append(fur.at, p.sub(w), p.add(w))
			fur.uv = append(fur.uv, [2]float64{0, 0.999 * t}, [2]float64{1, 0.999 * t})
			p = p.add(dir.times(long / segments))
			dir = dir.add(lean.times(0.16)).add(vec{0, -0.10, 0}).unit()
		}
		for k := range segments {
			a := base + 2*k
			fur.faces = append(fur.faces, [3]int{a, a + 1, a + 3}, [3]int{a, a + 3, a + 2})
		}
	}
	return core, fur
}

// potWall is a thrown pot: outside, rolled rim, and a little of the inside.
func potWall() *mesh {
	return lathe(func(t float64) (float64, float64) {
		if t < 0.86 {
			k := t / 0.86
			return 0.066 + 0.052*math.Sin(k*2.2)*0.9 + 0.0015*math.Sin(k*47), 0.215 * k
		}
		a := (t - 0.86) / 0.14 * math.Pi * 1.25
		return 0.066 + 0.052*math.Sin(2.2)*0.9 + 0.010*math.Sin(a) - 0.004*(1-math.Cos(a)), 0.215 + 0.010*(1-math.Cos(a)) - 0.012*math.Max(0, a-math.Pi)
	})
}

// curtainCloth hangs in folds that wander and open towards the hem.
func curtainCloth() *mesh {
	return grid(700, 300, 1.15, 0.9, func(u, v float64) vec {
		x, y := (u-0.5)*1.06, 0.415-v*0.84
		drift := 0.035 * math.Sin(4.1*v+5*u)
		phase := 2*math.Pi*(8.5*u+0.35*math.Sin(2*math.Pi*1.3*u+0.8*v)) + drift*30
		amp := 0.012 + 0.018*v + 0.008*math.Sin(9*u+2*v)
		z := -amp*math.Sin(phase) - 0.25*amp*math.Sin(2*phase+1+2*v) + 0.004*math.Sin(31*v+13*u)*v
		return vec{x + 0.35*amp*math.Cos(phase) + drift*0.25, y, z}
	})
}

// pouchAt is the front of a stuffed pouch: u and v in 0..1, out is a distance above it.
func pouchAt(u, v, out float64) vec {
	a, b := 2*u-1, 2*v-1
	round := func(t float64) float64 { return math.Pow(math.Max(0, 1-math.Pow(math.Abs(t), 3.2)), 0.45) }
	swell := round(a) * round(b)
	wrinkle := 0.0022*math.Sin(17*a+6*math.Sin(4*b)) + 0.0016*math.Sin(23*b+5*math.Sin(6*a))
	return vec{a * 0.155 * (1 - 0.06*b*b), 0.118 + b*0.112*(1-0.05*a*a), -(0.052+wrinkle)*swell - out}
}

// pouch gives the cloth, the print on it (a disc cut by a slanted line) and the belt across it.
func pouch() []*mesh {
	body := grid(260, 200, 1, 1, func(u, v float64) vec { return pouchAt(u, v, 0) })
	print := &mesh{}
	for _, side := range []float64{-1, 1} {
		half := grid(60, 40, 1, 1, func(u, v float64) vec {
			a, k := (u-0.5)*math.Pi, v
			x, y := side*(0.006+0.105*k*math.Cos(a)), 0.14*k*math.Sin(a)
			return pouchAt(0.30+x+0.25*y*0.6, 0.36+y, 0.0009)
		})
		base := len(print.at)
		print.at, print.uv = append(print.at, half.at...), append(print.uv, half.uv...)
		for _, f := range half.faces {
			print.faces = append(print.faces, [3]int{f[0] + base, f[1] + base, f[2] + base})
		}
	}
	belt := grid(160, 30, 1, 1, func(u, v float64) vec {
		edge := math.Pow(math.Max(0, 1-math.Pow(math.Abs(2*v-1), 6)), 0.5)
		return pouchAt(0.985*u+0.0075, 0.70+0.10*u+(v-0.5)*0.15, 0.0005+0.0035*edge)
	})
	return []*mesh{body, print, belt}
}
