package main

import (
	"bytes"
	"fmt"
	"math"
	"os"
)

// tramShells writes the tram's body: shells over a plan with a rounded front.
func tramShells(path string) error {
	plan := func(t, inset float64) vec { // from the back of the far side round the front to the near side
		const half, front, back = 1.05, -3.05, 4.2
		const corner = 0.55
		h, f := half-inset, front+inset
		straight := back - (f + corner)
		arc := corner * math.Pi / 2
		flat := 2 * (h - corner)
		total := 2*straight + 2*arc + flat
		s := t * total
		switch {
		case s < straight:
			return vec{back - s, 0, h}
		case s < straight+arc:
			a := (s - straight) / corner
			return vec{f + corner - corner*math.Sin(a), 0, h - corner + corner*math.Cos(a)}
		case s < straight+arc+flat:
			return vec{f, 0, h - corner - (s - straight - arc)}
		case s < straight+2*arc+flat:
			a := (s - straight - arc - flat) / corner
			return vec{f + corner - corner*math.Cos(a), 0, -h + corner - corner*math.Sin(a)}
		}
		return vec{f + corner + s - straight - 2*arc - flat, 0, -h}
	}
	shell := func(y0, y1, round float64) *mesh {
		return grid(260, 24, 1, 1, func(u, v float64) vec {
			inset := 0.0
			y := y0 + (y1-y0)*v
			if d := math.Min(y-y0, y1-y); d < round {
				k := 1 - d/round
				inset = round * (1 - math.Sqrt(1-k*k*0.99))
			}
			p := plan(u, inset)
			p[1] = y
			return p
		})
	}
	roof := grid(260, 24, 1, 1, func(u, v float64) vec {
		a := v * math.Pi / 2
		p := plan(u, 1.0*(1-math.Cos(a))-0.06*(1-v))
		p[1] = 2.62 + 0.36*math.Sin(a)
		return p
	})
	var all bytes.Buffer
	for _, s := range []struct {
		name string
		m    *mesh
	}{{"TramLower", shell(0.58, 1.41, 0.02)}, {"TramWaist", shell(1.405, 1.60, 0.015)}, {"TramUpper", shell(1.59, 2.64, 0.01)}, {"TramRoof", roof}} {
		part := path + ".part"
		if err := s.m.write(part, s.name); err != nil {
			return err
		}
		b, err := os.ReadFile(part)
		if err != nil {
			return err
		}
		all.Write(b)
		if err := os.Remove(part); err != nil {
			return err
		}
		fmt.Fprintln(&all)
	}
	return os.WriteFile(path, all.Bytes(), 0o644)
}
