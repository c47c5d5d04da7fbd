// Command sweep measures the Sweep pick on the demo's truth: a few quick strokes inside, at most one
// outside, against the exact mask. With -grabcut it also runs OpenCV's GrabCut (Debian's python3-opencv,
// a general-purpose library) on the same strokes through grabcut.py beside this file.
package main

import (
	"encoding/json"
	"flag"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"log"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"time"

	"episema/core/isolate"
	"episema/core/raster"
	"episema/internal/scenes"
)

type strokes struct {
	In  []isolate.Stroke `json:"in"`
	Out []isolate.Stroke `json:"out"`
}

func main() {
	dir := flag.String("truth", "demo/truth", "folder with the rendered truth")
	grab := flag.Bool("grabcut", false, "compare with OpenCV's GrabCut")
	save := flag.String("save", "", "folder for the masks found")
	flag.Parse()
	var all map[string]strokes
	b, err := os.ReadFile(filepath.Join("bench", "sweep", "strokes.json"))
	check(err)
	check(json.Unmarshal(b, &all))
	fmt.Printf("%-14s %7s %9s %8s", "picture", "IoU", "edge px", "seconds")
	if *grab {
		fmt.Printf(" | %7s %9s %8s %6s", "GrabCut", "edge px", "seconds", "ratio")
	}
	fmt.Println()
	for _, n := range scenes.Names {
		truth, err := scenes.Mask(*dir, n+"-mask")
		check(err)
		for _, c := range []string{"red", "teal", "white", "black"} {
			pic, err := scenes.RGB(*dir, n+"-"+c)
			check(err)
			s := all[n]
			picks := []isolate.Pick{{Kind: "sweep", Join: "add", Strokes: s.In}}
			if len(s.Out) > 0 {
				picks = append(picks, isolate.Pick{Kind: "sweep", Join: "subtract", Strokes: s.Out})
			}
			start := time.Now()
			pyr := scenes.NewPyramid(pic)
			sel, err := isolate.Compile(pyr, picks, nil, isolate.Inputs{}, nil, isolate.Exact)
			check(err)
			m, err := sel.Render(0, raster.Rect{X1: pic.W, Y1: pic.H})
			check(err)
			took := time.Since(start).Seconds()
			iou, edge := compare(m, truth)
			fmt.Printf("%-14s %7.4f %9.2f %8.3f", n+" "+c, iou, edge, took)
			if *save != "" {
				check(write(filepath.Join(*save, n+"-"+c+".png"), m))
			}
			if *grab {
				g, secs := grabcut(filepath.Join(*dir, n+"-"+c+".png"), s)
				gi, ge := compare(g, truth)
				fmt.Printf(" | %7.4f %9.2f %8.3f %6.1f", gi, ge, secs, secs/took)
			}
			fmt.Println()
		}
	}
}

func grabcut(picture string, s strokes) (*raster.Mask, float64) {
	dir, err := os.MkdirTemp("", "grabcut")
	check(err)
	defer os.RemoveAll(dir)
	b, err := json.Marshal(s)
	check(err)
	out := filepath.Join(dir, "mask.png")
	cmd := exec.Command("/usr/bin/python3", filepath.Join("bench", "sweep", "grabcut.py"), picture, string(b), out)
	cmd.Stderr = os.Stderr
	said, err := cmd.Output()
	check(err)
	var secs float64
	_, err = fmt.Sscan(string(said), &secs)
	check(err)
	m, err := scenes.Mask(dir, "mask")
	check(err)
	return m, secs
}

// compare gives intersection over union of the soft masks and the mean distance from each edge to the other.
func compare(a, t *raster.Mask) (iou, edge float64) {
	var both, any float64
	for i := range a.Pix {
		x, y := float64(a.Pix[i]), float64(t.Pix[i])
		both += math.Min(x, y)
		any += math.Max(x, y)
	}
	return both / any, (edgeDistance(a, t) + edgeDistance(t, a)) / 2
}

func edges(m *raster.Mask) []bool {
	e := make([]bool, len(m.Pix))
	for y := 0; y < m.H-1; y++ {
		for x := 0; x < m.W-1; x++ {
			i := y*m.W + x
			in := m.Pix[i] >= 32768
			e[i] = in != (m.Pix[i+1] >= 32768) || in != (m.Pix[i+m.W] >= 32768)
		}
	}
	return e
}

// edgeDistance is the mean over a's edge pixels of the distance to b's nearest edge pixel, by a chamfer of
// weights 1 and the square root of 2, capped at 50 pixels.
func edgeDistance(a, b *raster.Mask) float64 {
	d := make([]float64, len(b.Pix))
	for i, e := range edges(b) {
		if !e {
			d[i] = 50
		}
	}
	w, h := b.W, b.H
	pass := func(x, y, dx, dy int, c float64) {
		if xx, yy := x+dx, y+dy; xx >= 0 && yy >= 0 && xx < w && yy < h {
			d[y*w+x] = math.Min(d[y*w+x], d[yy*w+xx]+c)
		}
	}
	for y := 0; y < h; y++ {
		for x := 0; x < w; x++ {
			pass(x, y, -1, 0, 1)
			pass(x, y, 0, -1, 1)
			pass(x, y, -1, -1, math.Sqrt2)
			pass(x, y, 1, -1, math.Sqrt2)
		}
	}
	for y := h - 1; y >= 0; y-- {
		for x := w - 1; x >= 0; x-- {
			pass(x, y, 1, 0, 1)
			pass(x, y, 0, 1, 1)
			pass(x, y, 1, 1, math.Sqrt2)
			pass(x, y, -1, 1, math.Sqrt2)
		}
	}
	sum, n := 0.0, 0.0
	for i, e := range edges(a) {
		if e {
			sum += d[i]
			n++
		}
	}
	if n == 0 {
		return 50
	}
	return sum / n
}

func write(path string, m *raster.Mask) error {
	g := image.NewGray(image.Rect(0, 0, m.W, m.H))
	for i, v := range m.Pix {
		g.Set(i%m.W, i/m.W, color.Gray{Y: uint8(v >> 8)})
	}
	f, err := os.Create(path)
	if err != nil {
		return err
	}
	if err := png.Encode(f, g); err != nil {
		return err
	}
	return f.Close()
}

func check(err error) {
	if err != nil {
		log.Fatal(err)
	}
}
