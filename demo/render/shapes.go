package main

import (
	"math"
	"math/rand"
	"os"
	"path/filepath"
	"slices"
	"strings"
)

// generated are the meshes of every scene, by file: the name each is declared by, and those made together.
var generated = []struct {
	files, names []string
	make         func() []*mesh
}{
	{[]string{"mug_body"}, []string{"MugBody"}, one(func() *mesh { return lathe(mugWall) })},
	{[]string{"mug_inside"}, []string{"MugInside"}, one(func() *mesh { return lathe(mugInside) })},
	{[]string{"mug_handle"}, []string{"MugHandle"}, one(mugHandle)},
	{[]string{"scarf", "scarf_fringe"}, []string{"Scarf", "ScarfFringe"}, two(scarfMeshes)},
	{[]string{"bobble"}, []string{"Bobble"}, one(bobble)},
	{[]string{"tote", "tote_straps"}, []string{"Tote", "ToteStraps"}, two(toteMeshes)},
	{[]string{"seat_cushion"}, []string{"SeatCushion"}, one(seatCushion)},
	{[]string{"muff_core", "muff_fur"}, []string{"MuffCore", "MuffFur"}, two(muff)},
	{[]string{"pot_wall"}, []string{"PotWall"}, one(potWall)},
	{[]string{"curtain_cloth"}, []string{"CurtainCloth"}, one(curtainCloth)},
	{[]string{"pouch_body", "pouch_print", "pouch_belt"}, []string{"PouchBody", "PouchPrint", "PouchBelt"}, pouch},
	{[]string{"cap_crown"}, []string{"CapCrown"}, one(capCrown)},
	{[]string{"cap_band"}, []string{"CapBand"}, one(capBand)},
	{[]string{"cap_peak"}, []string{"CapPeak"}, one(capPeak)},
}

func one(f func() *mesh) func() []*mesh { return func() []*mesh { return []*mesh{f()} } }
func two(f func() (a, b *mesh)) func() []*mesh {
	return func() []*mesh { a, b := f(); return []*mesh{a, b} }
}

// meshes writes the meshes that a scene includes into a folder; those that are there already are kept, for cloth takes
// minutes to fall.
func meshes(dir, scene string) error {
	text, err := os.ReadFile(scene)
	if err != nil {
		return err
	}
	missing := func(file string) bool {
		_, err := os.Stat(filepath.Join(dir, file+".inc"))
		return err != nil && strings.Contains(string(text), `"`+file+`.inc"`)
	}
	for _, g := range generated {
		if !slices.ContainsFunc(g.files, missing) {
			continue
		}
		for i, m := range g.make() {
			if err := m.write(filepath.Join(dir, g.files[i]+".inc"), g.names[i]); err != nil {
				return err
			}
		}
	}
	if missing("tram_body") {
		return tramShells(filepath.Join(dir, "tram_body.inc"))
	}
	return nil
}

// lathe turns a profile (height t in 0..1 -> radius, y) around the y axis.
func lathe(profile func(t float64) (r, y float64)) *mesh {
	return grid(180, 60, 1, 1, func(u, v float64) vec {
		r, y := profile(v)
		a := 2 * math.Pi * u
		return vec{r * math.Cos(a), y, r * math.Sin(a)}
	})
}

func mugWall(t float64) (float64, float64) {
	y := t * 0.0905
	r := 0.0400 + 0.0050*t
	if t < 0.10 { // rounded foot
		k := (0.10 - t) / 0.10
		r -= 0.0035 * k * k
	}
	return r, y
}

func mugInside(t float64) (float64, float64) {
	if t < 0.5 {
		return 0.039 * t * 2, 0.004
	}
	k := (t - 0.5) * 2
	return 0.0385 + 0.0055*k, 0.004 + 0.0865*k
}

func mugHandle() *mesh {
	m := &mesh{}
	var path []vec
	for i := 0; i <= 70; i++ {
		a := math.Pi * (0.5 - float64(i)/70)
		x := 0.0415 + 0.031*math.Pow(math.Max(0, math.Cos(a)), 0.75)
		y := 0.047 + 0.030*math.Sin(a)
		path = append(path, vec{x, y, 0})
	}
	flat := func(float64) float64 { return 0.0062 }
	thin := func(float64) float64 { return 0.0034 }
	m.tube(path, flat, thin, vec{0, 0, 1}, 24)
	return m
}

// roundBox is the signed distance to a box with rounded edges and its outward direction.
func roundBox(p, centre, half vec, round float64) (float64, vec) {
	d := p.sub(centre)
	var q, out vec
	inside := math.Inf(-1)
	axis := 0
	for k := range d {
		q[k] = math.Abs(d[k]) - half[k] + round
		if q[k] > inside {
			inside, axis = q[k], k
		}
		out[k] = math.Max(q[k], 0) * math.Copysign(1, d[k])
	}
	if l := out.length(); l > 0 {
		return l - round, out.times(1 / l)
	}
	n := vec{}
	n[axis] = math.Copysign(1, d[axis])
	return inside - round, n
}

func outOfBoxes(boxes [][2]vec, round, gap float64) func(vec) vec {
	return func(p vec) vec {
		for _, b := range boxes {
			if d, n := roundBox(p, b[0], b[1], round); d < gap {
				p = p.add(n.times(gap - d))
			}
		}
		return p
	}
}

func scarfMeshes() (*mesh, *mesh) {
	const w, h = 0.30, 0.90
	const topRow = 86 // the row that lies on the top slat and stays there
	c := newCloth(48, 200, w, h, func(u, v float64) vec {
		// Starts as a gathered sheet over the top slat.
		s := (v - topRow/200.0) * h
		fold := math.Sin(u*19 + 1.3*math.Sin(u*5))
		x := (u-0.5)*w*0.74 + 0.012*math.Sin(v*7+u*2)
		z, y := 0.0, 0.869+0.007*(1+fold)
		if s < 0 {
			z = -0.034 - 0.016*fold
			y += s
		} else {
			z = 0.034 + 0.016*fold
			y -= s
		}
		if math.Abs(s) < 0.034 {
			z *= math.Abs(s) / 0.034
			y = 0.869 + 0.007*(1+fold)
		}
		return vec{x - 0.05, y, z}
	})
	for i := 0; i <= c.nu; i++ {
		c.fixed[c.index(i, topRow)] = true
	}
	copy(c.q, c.p)
	boxes := [][2]vec{
		{{0, 0.805, 0}, {1.1, 0.055, 0.018}}, {{0, 0.665, 0.004}, {1.1, 0.045, 0.016}}, {{0, 0.545, 0.004}, {1.1, 0.045, 0.016}},
	}
	for i := 0; i < 5; i++ {
		boxes = append(boxes, [2]vec{{0, 0.42, -0.075 - float64(i)*0.092}, {1.1, 0.016, 0.046}})
	}
	c.pushOut = outOfBoxes(boxes, 0.012, 0.006)
	c.friction = 0.55
	c.run(900, 12, 9.8)
	fringe := &mesh{}
	r := rand.New(rand.NewSource(5))
	for _, end := range []struct{ j, dir int }{{0, -1}, {c.nv, 1}} {
		for i := 0; i <= c.nu*2; i++ {
			k := min(i/2, c.nu)
			edge := c.p[c.index(k, end.j)]
			if i%2 == 1 && k < c.nu {
				edge = edge.add(c.p[c.index(k+1, end.j)]).times(0.5)
			}
			along := edge.sub(c.p[c.index(k, end.j-3*end.dir)]).unit()
			bend := vec{(r.Float64() - 0.5) * 0.5, -0.35 * r.Float64(), (r.Float64() - 0.5) * 0.4}
			var path []vec
			for t := 0; t <= 10; t++ {
				s := float64(t) / 10
				p := edge.add(along.times(s * 0.055)).add(bend.times(s * s * 0.030))
				path = append(path, c.pushOut(p))
			}
			thread := func(t float64) float64 { return 0.0016 * (1 - 0.35*t) }
			fringe.tube(path, thread, thread, vec{1, 0.1, 0.2}, 7)
		}
	}
	return c.mesh(2, w, h), fringe
}

// bobble is a ball of wool: threads from a core outwards, their ends bent and uneven.
func bobble() *mesh {
	m := &mesh{}
	r := rand.New(rand.NewSource(8))
	centre := vec{0, 0.055, 0}
	for i := 0; i < 5200; i++ {
		dir := vec{r.NormFloat64(), r.NormFloat64(), r.NormFloat64()}.unit()
		length := 0.046 + 0.008*r.NormFloat64()
		if r.Float64() < 0.06 {
			length *= 1.22
		}
		bend := vec{r.NormFloat64(), r.NormFloat64() - 0.5, r.NormFloat64()}.times(0.007)
		var path []vec
		for t := 0; t <= 5; t++ {
			s := float64(t) / 5
			p := centre.add(dir.times(0.02 + (length-0.02)*s)).add(bend.times(s * s))
			p[1] = math.Max(p[1], 0.001)
			path = append(path, p)
		}
		thread := func(t float64) float64 { return 0.00055 * (1 - 0.6*t) }
		m.tube(path, thread, thread, vec{1, 0.1, 0.2}, 4)
	}
	return m
}

func toteMeshes() (*mesh, *mesh) {
	const w, h = 0.36, 0.40
	top := 0.385
	// The sheet is a little wider than its frame, so that it folds; two handle seams hold it up.
	c := newCloth(72, 80, w*1.03, h*1.02, func(u, v float64) vec {
		return vec{(u - 0.5) * w * 0.99, top - v*h, -0.030 - 0.045*math.Sin(math.Pi*u)*math.Sin(math.Pi*math.Min(1, v*1.15)) + 0.006*math.Sin(u*17)*(1-v)}
	})
	for _, u := range []int{17, 18, 19, 20, 52, 53, 54, 55} {
		c.fixed[c.index(u, 0)] = true
	}
	for _, u := range []int{0, 72} { // the side seams hang close to the wall
		for j := 0; j <= 80; j += 8 {
			c.fixed[c.index(u, j)] = true
			c.p[c.index(u, j)][2] = -0.012 - 0.006*math.Sin(float64(j)*0.4)
		}
	}
	for i := 0; i <= 72; i += 6 { // and so does the bottom seam
		k := c.index(i, 80)
		c.fixed[k] = true
		c.p[k][2] = -0.012 - 0.020*math.Sin(math.Pi*float64(i)/72)
		c.p[k][1] -= 0.008*math.Sin(math.Pi*float64(i)/72) - 0.004
	}
	copy(c.q, c.p)
	boxes := [][2]vec{{{0.02, 0.10, -0.020}, {0.125, 0.085, 0.030}}, {{0, 0.3, 0.04}, {3, 3, 0.034}}}
	c.pushOut = outOfBoxes(boxes, 0.022, 0.004)
	c.friction = 0.4
	c.run(900, 16, 9.8)
	straps := &mesh{}
	for _, s := range []struct{ out, a, b float64 }{{-0.004, 18.5, 53.5}, {0.010, 17, 55}} {
		left, right := c.p[c.index(int(s.a), 2)], c.p[c.index(int(s.b), 2)]
		var path []vec
		for i := 0; i <= 90; i++ {
			t := float64(i) / 90
			y := math.Sin(math.Pi * t)
			x := left[0] + (right[0]-left[0])*t
			x *= 1 - 0.90*math.Pow(y, 1.6)
			peak := 0.617
			path = append(path, vec{x, left[1] - 0.03 + (peak-left[1]+0.03)*math.Pow(y, 0.62), left[2] - 0.004 + s.out*y - 0.018*math.Pow(y, 3)})
		}
		wide := func(float64) float64 { return 0.0125 }
		thin := func(float64) float64 { return 0.0022 }
		straps.tube(path, wide, thin, vec{1, 0.6, 0}, 18)
	}
	return c.mesh(2, w, h), straps
}

func capCrown() *mesh {
	return grid(200, 70, 1, 1, func(u, v float64) vec {
		a := 2 * math.Pi * u
		// from the band's top out to the wide rim and over to the middle
		var r, y float64
		switch {
		case v < 0.35:
			k := v / 0.35
			r = 0.100 + 0.026*math.Sin(k*math.Pi/2)
			y = 0.062 + 0.034*k
		case v < 0.5:
			k := (v - 0.35) / 0.15
			r = 0.126 + 0.004*math.Sin(k*math.Pi) - 0.004*k
			y = 0.096 + 0.012*math.Sin(k*math.Pi/2)
		default:
			k := (v - 0.5) / 0.5
			r = 0.122 * (1 - k)
			y = 0.108 + 0.004*math.Sin(k*math.Pi*0.5) - 0.006*math.Sin(math.Pi*k)
		}
		soft := 0.0009*math.Sin(a*5+v*6)*math.Sin(math.Pi*math.Min(1, v*1.6)) + 0.0005*math.Sin(a*11-v*9)*math.Sin(math.Pi*v)
		r += soft
		front := -math.Sin(a)
		y += 0.016*front*math.Min(1, v*2.2)*math.Min(1, r/0.1) + soft*math.Min(1, r/0.06) // the crown rises to the front
		return vec{r * math.Cos(a), y, r * 1.04 * math.Sin(a)}
	})
}

func capBand() *mesh {
	return grid(160, 12, 1, 1, func(u, v float64) vec {
		a := 2 * math.Pi * u
		return vec{0.1 * math.Cos(a), 0.006 + 0.060*v, 0.1 * 1.02 * math.Sin(a)}
	})
}

func capPeak() *mesh {
	return grid(90, 24, 1, 1, func(u, v float64) vec {
		a := math.Pi * (1.12 + 0.76*u) // around the front
		reach := 0.052 * math.Pow(math.Sin(math.Pi*u), 0.6) * v
		r := 0.0985 + reach
		return vec{r * math.Cos(a), 0.020 - 0.30*reach - 0.05*reach*reach, r * 1.02 * math.Sin(a)}
	})
}
