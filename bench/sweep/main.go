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

	Reach *float64 `json:"-"` // nil: the answer that is given first
}

func main() {
	dir := flag.String("truth", "demo/truth", "folder with the rendered truth")
	grab := flag.Bool("grabcut", false, "compare with OpenCV's GrabCut")
	save := flag.String("save", "", "folder for the masks found")
	kinds := flag.String("only", "", "smooth: the demo's things alone; else a name: this textured thing alone")
	hand := flag.Bool("hand", false, "what simulated hands reach with a stroke after the other, instead")
	flag.Parse()
	if *hand {
		byHands(*dir, *save, *kinds)
		return
	}
	if *kinds != "smooth" {
		texturedThings(*dir, *save, *kinds)
	}
	if *kinds != "" && *kinds != "smooth" {
		return
	}
	var all map[string]strokes
	b, err := os.ReadFile(filepath.Join("bench", "sweep", "strokes.json"))
	check(err)
	check(json.Unmarshal(b, &all))
	fmt.Printf("%-14s %7s %9s %8s", "picture", "IoU", "edge px", "seconds")
	if *grab {
		fmt.Printf(" | %7s %9s %8s %6s", "GrabCut", "edge px", "seconds", "ratio")
	}
	fmt.Printf(" | %7s %9s %s\n", "mended", "edge px", "with at most five strokes")
	for _, n := range scenes.Names {
		truth, err := scenes.Mask(*dir, n+"-mask")
		check(err)
		for _, c := range []string{"red", "teal", "white", "black", "own", "same"} {
			pic, path, err := picture(*dir, n, c)
			check(err)
			if pic == nil {
				continue
			}
			s := all[n]
			m, took := sweep(pic, s)
			iou, edge := scenes.Compare(m, truth)
			fmt.Printf("%-14s %7.4f %9.2f %8.3f", n+" "+c, iou, edge, took)
			if *save != "" {
				check(write(filepath.Join(*save, n+"-"+c+".png"), m))
			}
			if *grab {
				g, secs := grabcut(path, s)
				gi, ge := scenes.Compare(g, truth)
				fmt.Printf(" | %7.4f %9.2f %8.3f %6.1f", gi, ge, secs, secs/took)
			}
			if more, ok := all[n+"-"+c]; ok {
				m, _ := sweep(pic, more)
				iou, edge = scenes.Compare(m, truth)
				fmt.Printf(" | %7.4f %9.2f %d strokes", iou, edge, len(more.In)+len(more.Out))
			}
			fmt.Println()
		}
	}
}

// own are the demo's own pictures of the scenes with truth.
var own = map[string]string{"mug": "depot-mug", "scarf": "conductors-scarf", "tote": "canvas-tote"}

// picture reads a scene in a colour; nil where it was not rendered so.
func picture(dir, scene, c string) (*raster.RGB, string, error) {
	name := scene + "-" + c
	if c == "own" {
		dir, name = filepath.Join(dir, "..", "pictures"), own[scene]
	}
	path := filepath.Join(dir, name+".png")
	if _, err := os.Stat(path); err != nil {
		return nil, "", nil
	}
	pic, err := scenes.RGB(dir, name)
	return pic, path, err
}

// sweep gives the mask and the seconds it took, halving the picture included.
func sweep(pic *raster.RGB, s strokes) (*raster.Mask, float64) {
	picks := []isolate.Pick{{Kind: "sweep", Join: "add", Strokes: s.In, Reach: s.Reach}}
	if len(s.Out) > 0 {
		picks = append(picks, isolate.Pick{Kind: "sweep", Join: "subtract", Strokes: s.Out})
	}
	start := time.Now()
	return rendered(scenes.NewPyramid(pic), picks, scenes.Kept{}), time.Since(start).Seconds()
}

func rendered(p isolate.Pyramid, picks []isolate.Pick, solved isolate.Solved) *raster.Mask {
	sel, err := isolate.Compile(p, picks, nil, isolate.Inputs{}, solved, isolate.Exact)
	check(err)
	w, h := p.Size(0)
	m, err := sel.Render(0, raster.Rect{X1: w, Y1: h})
	check(err)
	return m
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
