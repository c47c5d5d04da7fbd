package main

import (
	"encoding/gob"
	"flag"
	"fmt"
	"os"
	"strings"
	"sync"

	"episema/core/colour"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

type shot struct {
	Mask *raster.Mask
	Pic  map[string]*raster.RGB
}

func halfMask(m *raster.Mask) *raster.Mask {
	o := raster.NewMask(m.W/2, m.H/2)
	for y := range o.H {
		for x := range o.W {
			i := 2*y*m.W + 2*x
			o.Pix[y*o.W+x] = uint16((int(m.Pix[i]) + int(m.Pix[i+1]) + int(m.Pix[i+m.W]) + int(m.Pix[i+m.W+1])) / 4)
		}
	}
	return o
}

func load(t *scenes.Truth, clean bool) shot {
	file := fmt.Sprintf("/tmp/xdev-%s-%v.gob", t.Name, clean)
	var s shot
	if f, err := os.Open(file); err == nil {
		if gob.NewDecoder(f).Decode(&s) == nil { f.Close(); return s }
	}
	if err := t.Load(); err != nil { panic(err) }
	s.Pic = map[string]*raster.RGB{}
	s.Mask = t.Mask
	big := t.Mask.W > 1000
	if big { s.Mask = halfMask(t.Mask) }
	for _, n := range append(append([]string{}, t.From...), t.To...) {
		p, err := t.Light(n)
		if err != nil { panic(err) }
		if big { p = raster.Half(p) }
		if clean { p = scenes.Clean(p, 41) } else { p = scenes.Camera(p, 43) }
		s.Pic[n] = p
	}
	f, _ := os.Create(file)
	gob.NewEncoder(f).Encode(s)
	f.Close()
	return s
}

func main() {
	names := flag.String("s", "mug,scarf,seat,muff,pouch", "")
	modes := flag.String("m", "clean,camera", "")
	pairs := flag.Bool("p", false, "")
	est := flag.Bool("est", false, "")
	flag.Parse()
	for _, mode := range strings.Split(*modes, ",") {
		for _, t := range scenes.Truths("demo/truth") {
			if !strings.Contains(","+*names+",", ","+t.Name+",") { continue }
			s := load(t, mode == "clean")
			var mu sync.Mutex
			res := map[string]float64{}
			rese := map[string]float64{}
			det := map[string][6]float64{}
			type job struct{ f, to string }
			var jobs []job
			for _, f := range t.From { for _, to := range t.To { if f != to { jobs = append(jobs, job{f, to}) } } }
			ch := make(chan job)
			var wg sync.WaitGroup
			for range 2 {
				wg.Go(func() {
					for j := range ch {
						own, goal := scenes.Albedos[j.f], scenes.Albedos[j.to]
						a, d := run(s.Pic[j.f], s.Pic[j.to], s.Mask, &own, goal)
						b := 0.0
						if *est { b, _ = run(s.Pic[j.f], s.Pic[j.to], s.Mask, nil, goal) }
						mu.Lock(); res[j.f+j.to] = a; det[j.f+j.to] = d; rese[j.f+j.to] = b; mu.Unlock()
					}
				})
			}
			for _, j := range jobs { ch <- j }
			close(ch)
			wg.Wait()
			for _, f := range t.From {
				sum, n, se := 0.0, 0.0, 0.0
				var line string
				for _, to := range t.To {
					if to == f { continue }
					sum += res[f+to]; se += rese[f+to]; n++
					line += fmt.Sprintf(" %s %.2f", to, res[f+to])
					if *pairs { d := det[f+to]; line += fmt.Sprintf("(L%+.1f C%+.1f H%.1f)", d[0], d[1], d[2]) }
				}
				fmt.Printf("%-6s %-6s %-6s %5.2f est %5.2f |%s\n", mode, t.Name, f, sum/n, se/n, line)
			}
		}
	}
}

func run(src, truth *raster.RGB, mask *raster.Mask, own *colour.RGB, goal colour.RGB) (float64, [6]float64) {
	o := &raster.RGB{W: src.W, H: src.H, Pix: append([]float32(nil), src.Pix...)}
	l, err := recolour.Learn(src, mask)
	if err != nil { panic(err) }
	plan, _, err := l.Plan(colour.SRGB, recolour.Request{Own: own, Goal: goal, Settings: recolour.Defaults()})
	if err != nil { panic(err) }
	plan.Apply(src, o, mask, raster.Place{}, raster.Rect{X1: o.W, Y1: o.H})
	var sum, n float64
	var d [6]float64
	for y := 1; y < o.H; y += 3 {
		for x := 1; x < o.W; x += 3 {
			i := y*o.W + x
			if mask.Pix[i] < raster.Whole { continue }
			a := lab(o, i); b := lab(truth, i)
			sum += colour.DeltaE00(a, b)
			d[0] += a[0] - b[0]; d[1] += a.Chroma() - b.Chroma(); d[2] += ((a[1]-b[1])*(a[1]-b[1])+(a[2]-b[2])*(a[2]-b[2]))-(a.Chroma()-b.Chroma())*(a.Chroma()-b.Chroma())
			n++
		}
	}
	for k := range d { d[k] /= n }
	return sum / n, d
}

func lab(p *raster.RGB, i int) colour.Lab {
	return colour.SRGB.Lab(colour.RGB{float64(p.Pix[3*i]), float64(p.Pix[3*i+1]), float64(p.Pix[3*i+2])})
}
