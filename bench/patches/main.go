// Command patches measures seamless patches against OpenCV's seamlessClone (Debian's python3-opencv) on the same input: covers of a wall,
// of planks and of cloth in the demo's photos, and prints the mean and the largest difference of what is covered, in steps of 8 bits.
//
// What is beside the outline stays as it is here, as in the paper (Perez, Gangnet and Blake, 2003, equation 2); OpenCV solves over the
// whole box around the mask and moves that, too, so that the two do not begin with the same rim; and at the left and the upper rim it
// keeps the picture's own step across. "One rim" is the difference two pixels further in, where ours is given what OpenCV left around
// that: what is left is of the two ways to solve one equation.
//
//	go run ./bench/patches [-python /usr/bin/python3] [-sheet DIR]
package main

import (
	_ "embed"
	"flag"
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"log"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strings"

	"episema/core/colour"
	"episema/core/isolate"
	"episema/core/mend"
	"episema/core/raster"
	"episema/internal/scenes"
)

//go:embed clone.py
var script []byte

// patches are covers in the demo's photos: a ring, and where the cover comes from. The first are of like by like, as people make them; the
// last, of one thing by another, are printed apart: there the two differ in what they hold still, since OpenCV solves over the whole box
// around the mask, and lets what is beside the mask move, too.
var patches = []struct {
	picture string
	x, y    float64 // the middle of what is covered
	rx, ry  float64
	shift   [2]float64
	unlike  bool
}{
	{"tram-at-the-depot", 700, 100, 110, 60, [2]float64{-380, 10}, false},   // bricks, by bricks
	{"tram-at-the-depot", 700, 1090, 150, 60, [2]float64{500, 0}, false},    // stones, by stones
	{"depot-mug", 1500, 500, 80, 60, [2]float64{-40, 400}, false},           // planks in the light, by planks in the shade
	{"canvas-tote", 400, 900, 120, 140, [2]float64{1050, -60}, false},       // boards of a wall, by others
	{"canvas-tote", 1000, 620, 60, 60, [2]float64{-40, 130}, false},         // cloth, by cloth
	{"tram-at-the-depot", 1130, 190, 190, 105, [2]float64{-480, -10}, true}, // a board, bricks and a roof
	{"tram-at-the-depot", 400, 560, 120, 70, [2]float64{260, 0}, true},
	{"canvas-tote", 900, 800, 140, 120, [2]float64{330, -420}, true},
	{"conductors-scarf", 800, 560, 70, 110, [2]float64{-20, 210}, true}, // folds that do not go on in each other
	{"conductors-cap", 1000, 1000, 200, 80, [2]float64{-600, -300}, true},
}

func main() {
	python, sheet := flag.String("python", "/usr/bin/python3", "a Python that has cv2"), flag.String("sheet", "", "a folder for the pictures beside each other")
	flag.Parse()
	dir, err := os.MkdirTemp("", "patches")
	check(err)
	defer os.RemoveAll(dir)
	check(os.WriteFile(filepath.Join(dir, "clone.py"), script, 0o600))
	fmt.Printf("%-20s %8s %8s %8s | %8s %8s %8s\n", "picture", "mean", "95 %", "most", "one rim", "95 %", "most")
	for k, p := range patches {
		pic := read(filepath.Join("demo", "pictures", p.picture+".png"))
		patch := mend.Patch{Nodes: ring(p.x, p.y, p.rx, p.ry), Shift: p.shift, Seamless: true}
		within := patch
		within.Nodes = ring(p.x, p.y, p.rx-2, p.ry-2)
		ours := lay(pic, pic, patch)
		mask := maskOf(patch.Nodes, pic.W, pic.H)
		before, cover := coded(pic), image.NewNRGBA(image.Rect(0, 0, pic.W, pic.H))
		draw.Draw(cover, cover.Bounds(), before, image.Pt(int(p.shift[0]), int(p.shift[1])), draw.Src)
		for name, img := range map[string]image.Image{"picture": before, "cover": cover, "mask": mask} {
			write(filepath.Join(dir, name+".png"), img)
		}
		said, err := exec.Command(*python, filepath.Join(dir, "clone.py"), filepath.Join(dir, "picture.png"), filepath.Join(dir, "cover.png"), filepath.Join(dir, "mask.png"), filepath.Join(dir, "out.png")).CombinedOutput()
		if err != nil {
			log.Fatalf("%v: %s; install python3-opencv", err, said)
		}
		cloned := read(filepath.Join(dir, "out.png"))
		theirs, is := coded(cloned), coded(ours)
		apart := ""
		if p.unlike {
			apart = "apart: one thing by another"
		}
		fmt.Printf("%-20s %s | %s   OpenCV %s   %s\n", p.picture, differences(theirs, is, mask), differences(theirs, coded(lay(pic, cloned, within)), maskOf(within.Nodes, pic.W, pic.H)), strings.TrimSpace(string(said)), apart)
		if *sheet != "" {
			r := image.Rect(int(p.x-1.6*p.rx), int(p.y-1.6*p.ry), int(p.x+1.6*p.rx), int(p.y+1.6*p.ry))
			out := image.NewNRGBA(image.Rect(0, 0, 3*r.Dx(), r.Dy()))
			for i, img := range []image.Image{before, is, theirs} {
				draw.Draw(out, image.Rect(i*r.Dx(), 0, (i+1)*r.Dx(), r.Dy()), img, r.Min, draw.Src)
			}
			write(filepath.Join(*sheet, fmt.Sprintf("%d-%s.png", k, p.picture)), out)
		}
	}
}

func ring(x, y, rx, ry float64) (nodes []isolate.Node) {
	for i := range 48 {
		sin, cos := math.Sincos(2 * math.Pi * float64(i) / 48)
		nodes = append(nodes, isolate.Node{P: [2]float64{x + rx*cos, y + ry*sin}})
	}
	return nodes
}

func maskOf(nodes []isolate.Node, w, h int) *image.Gray {
	mask := image.NewGray(image.Rect(0, 0, w, h))
	for i, v := range raster.FillPath(isolate.Flatten(nodes), raster.Place{Step: 1}, w, h) {
		if v >= 0.5 {
			mask.Pix[i] = 255
		}
	}
	return mask
}

// differences returns the mean, the 95th percentile and the largest difference of two pictures inside a mask, as three columns.
func differences(a, b *image.NRGBA, mask *image.Gray) string {
	var all []float64
	sum := 0.0
	for i, v := range mask.Pix {
		if v == 0 {
			continue
		}
		for c := range 3 {
			d := math.Abs(float64(a.Pix[4*i+c]) - float64(b.Pix[4*i+c]))
			all, sum = append(all, d), sum+d
		}
	}
	n := len(all)
	return fmt.Sprintf("%8.2f %8.1f %8.1f", sum/float64(n), raster.Nth(all, n*95/100), raster.Nth(all, n-1))
}

// lay lays a patch as the product does, at full size: its cover is of pic, what it runs into of rim.
func lay(pic, rim *raster.RGB, p mend.Patch) *raster.RGB {
	out := &raster.RGB{W: rim.W, H: rim.H, Pix: append([]float32(nil), rim.Pix...)}
	c := mend.NewCover(p)
	s := c.FitStep()
	around := rim
	for step := 1.0; step < s; step *= 2 {
		around = raster.Half(around)
	}
	r := c.FitArea().And(raster.Rect{X1: around.W, Y1: around.H})
	all := raster.Place{Step: 1}
	c.Fit(around.Crop(r), raster.Place{X: float64(r.X0) * s, Y: float64(r.Y0) * s, Step: s}, pic, all, nil)
	c.Lay(out, all, c.Area(all, pic.W, pic.H), pic, all, nil)
	return out
}

func read(path string) *raster.RGB {
	f, err := os.Open(path)
	check(err)
	defer f.Close()
	img, err := png.Decode(f)
	check(err)
	return scenes.FromImage(img, scenes.Coded8)
}

// coded returns a picture in 8 bits of sRGB.
func coded(p *raster.RGB) *image.NRGBA {
	out := image.NewNRGBA(image.Rect(0, 0, p.W, p.H))
	for i := range p.W * p.H {
		var v [3]uint8
		for c := range v {
			v[c] = uint8(math.Round(255 * max(0, min(1, colour.SRGBEncode(float64(p.Pix[3*i+c]))))))
		}
		out.SetNRGBA(i%p.W, i/p.W, color.NRGBA{v[0], v[1], v[2], 255})
	}
	return out
}

func write(path string, img image.Image) {
	f, err := os.Create(path)
	check(err)
	check(png.Encode(f, img))
	check(f.Close())
}

func check(err error) {
	if err != nil {
		log.Fatal(err)
	}
}
