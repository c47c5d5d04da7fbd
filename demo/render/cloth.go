package main

import (
	"math"
	"math/rand"
)

// cloth is a mass-spring sheet, moved by position-based steps (Mueller et al. 2007): springs along
// the threads, across them (shear) and over two (bending).
type cloth struct {
	nu, nv   int
	p, q     []vec // now and one step ago
	fixed    map[int]bool
	links    []link
	pushOut  func(vec) vec // moves a point out of whatever it may not enter
	friction float64
}

type link struct {
	a, b  int
	rest  float64
	stiff float64
}

func newCloth(nu, nv int, w, h float64, place func(u, v float64) vec) *cloth {
	c := &cloth{nu: nu, nv: nv, fixed: map[int]bool{}}
	r := rand.New(rand.NewSource(11))
	for j := 0; j <= nv; j++ {
		for i := 0; i <= nu; i++ {
			p := place(float64(i)/float64(nu), float64(j)/float64(nv))
			p = p.add(vec{0, 0, (r.Float64() - 0.5) * 0.002})
			c.p = append(c.p, p)
		}
	}
	c.q = append([]vec(nil), c.p...)
	dx, dy := w/float64(nu), h/float64(nv)
	put := func(i, j, k, l int, stiff float64) {
		if k < 0 || k > nu || l > nv {
			return
		}
		rest := math.Hypot(float64(k-i)*dx, float64(l-j)*dy)
		c.links = append(c.links, link{c.index(i, j), c.index(k, l), rest, stiff})
	}
	for j := 0; j <= nv; j++ {
		for i := 0; i <= nu; i++ {
			put(i, j, i+1, j, 1)
			put(i, j, i, j+1, 1)
			put(i, j, i+1, j+1, 0.35)
			put(i, j, i-1, j+1, 0.35)
			put(i, j, i+3, j, 0.10)
			put(i, j, i, j+3, 0.10)
		}
	}
	return c
}

func (c *cloth) index(i, j int) int { return j*(c.nu+1) + i }

func (c *cloth) run(steps, rounds int, gravity float64) {
	const dt = 1.0 / 240
	for s := 0; s < steps; s++ {
		for i := range c.p {
			if c.fixed[i] {
				continue
			}
			v := c.p[i].sub(c.q[i]).times(0.985)
			c.q[i] = c.p[i]
			c.p[i] = c.p[i].add(v).add(vec{0, -gravity * dt * dt, 0})
		}
		for r := 0; r < rounds; r++ {
			for _, l := range c.links {
				d := c.p[l.b].sub(c.p[l.a])
				n := d.length()
				if n < 1e-9 {
					continue
				}
				k := l.stiff * (n - l.rest) / n * 0.5
				fa, fb := c.fixed[l.a], c.fixed[l.b]
				switch {
				case fa && fb:
				case fa:
					c.p[l.b] = c.p[l.b].sub(d.times(2 * k))
				case fb:
					c.p[l.a] = c.p[l.a].add(d.times(2 * k))
				default:
					c.p[l.a] = c.p[l.a].add(d.times(k))
					c.p[l.b] = c.p[l.b].sub(d.times(k))
				}
			}
		}
		for i := range c.p {
			if c.fixed[i] {
				continue
			}
			if out := c.pushOut(c.p[i]); out != c.p[i] {
				slide := out.sub(c.q[i])
				c.p[i] = out
				c.q[i] = out.sub(slide.times(1 - c.friction))
			}
		}
	}
}

// mesh refines the sheet once by bicubic (Catmull-Rom) interpolation, so that folds are round.
func (c *cloth) mesh(fine int, w, h float64) *mesh {
	at := func(i, j int) vec {
		return c.p[c.index(max(0, min(c.nu, i)), max(0, min(c.nv, j)))]
	}
	spline := func(a, b, d, e vec, t float64) vec {
		var o vec
		for k := range o {
			o[k] = 0.5 * (2*b[k] + (d[k]-a[k])*t + (2*a[k]-5*b[k]+4*d[k]-e[k])*t*t + (3*b[k]-a[k]-3*d[k]+e[k])*t*t*t)
		}
		return o
	}
	return grid(c.nu*fine, c.nv*fine, w, h, func(u, v float64) vec {
		x, y := u*float64(c.nu), v*float64(c.nv)
		i, j := int(math.Floor(x+1e-9)), int(math.Floor(y+1e-9))
		var row [4]vec
		for k := range row {
			row[k] = spline(at(i-1, j-1+k), at(i, j-1+k), at(i+1, j-1+k), at(i+2, j-1+k), x-float64(i))
		}
		return spline(row[0], row[1], row[2], row[3], y-float64(j))
	})
}
