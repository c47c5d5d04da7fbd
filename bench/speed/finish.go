package main

import (
	"fmt"
	"os"
	"path/filepath"
	"sort"
	"time"

	"episema/app/export"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/imagefile"
)

// memo remembers everything, as the application does while a slider moves.
type memo map[string]any

func (m memo) Do(key string, f func(raster.Done) (any, error)) (any, error) {
	if v, ok := m[key]; ok {
		return v, nil
	}
	v, err := f(nil)
	m[key] = v
	return v, err
}

// threeParts measures a full-size render with three parts that use every finish, against lch, and a slider's step with
// every finish against one without.
func threeParts(photo, mask, dir string, lch func() time.Duration) {
	p, err := imagefile.BuildPyramid(photo, filepath.Join(dir, "three"), imagefile.DefaultLimits())
	check(err)
	defer p.Close()
	all, err := imagefile.ReadMask(mask)
	check(err)
	masks := map[string]*raster.Mask{}
	for k := range 3 { // the thing cut into three by rows
		m := raster.NewMask(all.W, all.H)
		copy(m.Pix[k*all.H/3*all.W:(k+1)*all.H/3*all.W], all.Pix[k*all.H/3*all.W:(k+1)*all.H/3*all.W])
		masks[fmt.Sprint(k)] = m
	}
	every := &recolour.Finish{Black: 4, Middle: 1.1, White: 250, OutBlack: 2, OutWhite: 253, Exposure: 0.1, Highlights: -15, Shadows: 12, Saturation: 8, Vibrance: 10, Blend: "soft-light"}
	doc := func(finish *recolour.Finish, depth float64) document.Picture {
		var d document.Picture
		for k := range 3 {
			set := recolour.Defaults()
			set.Finish, set.ShadeDepth = finish, depth
			d.Parts = append(d.Parts, document.Part{ID: fmt.Sprint(k), Name: fmt.Sprint(k), Settings: set, Target: document.Target{CSS: []string{"#1d6a72", "#9c2a1e", "#d9a441"}[k]},
				Picks: []isolate.Pick{{Kind: "mask", Join: "add", File: fmt.Sprint(k)}}})
		}
		return d
	}
	src := develop.Source{Pyramid: p, Space: p.Space, Masks: masks}
	seen := memo{}
	export := func() time.Duration {
		start := time.Now()
		d, err := develop.Develop(src, doc(every, 0), nil, memo{}, isolate.Exact)
		check(err)
		_, err = export.Picture(d, p, photo, dir, "png", 92, imagefile.Options{}, filepath.Join(dir, "three.png"), nil, imagefile.Encode)
		check(err)
		return time.Since(start)
	}
	export()
	lch()
	var r []float64
	for range 3 {
		r = append(r, export().Seconds()/lch().Seconds())
	}
	sort.Float64s(r)
	fmt.Printf("three parts with every finish, 24 MP rendered and written, over libvips LCh and back (PNG out): %.2f %.2f %.2f\n", r[0], r[1], r[2])

	level := 0
	for w, _ := p.Size(level); w > 1500; w, _ = p.Size(level) {
		level++
	}
	w, h := p.Size(level)
	step := func(f *recolour.Finish, n int) time.Duration {
		start := time.Now()
		d, err := develop.Develop(src, doc(f, float64(n%40)), nil, seen, isolate.Exact)
		check(err)
		_, err = d.Render(level, raster.Rect{X1: w, Y1: h})
		check(err)
		return time.Since(start)
	}
	r = r[:0]
	for n := range 15 {
		plain := step(nil, n)
		r = append(r, step(every, n).Seconds()/plain.Seconds())
	}
	sort.Float64s(r)
	fmt.Printf("a slider's step with every finish over one of plain Repaint, three parts, %d x %d: median %.2f\n", w, h, r[len(r)/2])
	check(os.RemoveAll(filepath.Join(dir, "three")))
}
