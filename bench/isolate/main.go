// Command isolate measures the other kinds of pick on the demo's truth: Marks on fur and fringe beside a
// guided filter over a hard mask, Subject only where Like colours is too on grounds of the same hue, how near
// a snapped outline runs to a known edge, and what Like colours costs beside a conversion to CIELAB.
package main

import (
	"fmt"
	"log"
	"math/rand"
	"os"
	"os/exec"
	"path/filepath"
	"sort"
	"time"

	"episema/core/colour"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/imagefile"
	"episema/internal/scenes"
)

const truth = "demo/truth"

func main() {
	marks()
	texturedMarks()
	sameHue()
	snapping()
	anyLight()
	likeSpeed()
}

func render(p isolate.Pyramid, edge *isolate.Edge, picks ...isolate.Pick) *raster.Mask {
	s, err := isolate.Compile(p, picks, edge, isolate.Inputs{}, nil, isolate.Exact)
	check(err)
	w, h := p.Size(0)
	m, err := s.Render(0, raster.Rect{X1: w, Y1: h})
	check(err)
	return m
}

func stroke(radius float64, p ...[2]float64) isolate.Stroke {
	return isolate.Stroke{Stroke: raster.Stroke{Radius: radius, Points: p}}
}

func sameHue() {
	fmt.Println("Subject, only where Like colours is too, on a ground of the same hue (aim IoU 0.95)")
	for _, c := range []struct {
		name string
		like isolate.Pick
	}{
		{"mug-same", isolate.Pick{Kind: "like", Join: "add", Tolerance: 10, Boxes: [][4]float64{{620, 480, 1100, 900}},
			Samples: [][2]float64{{700, 700}, {1000, 640}, {1330, 600}, {1150, 800}, {660, 500}, {1165, 600}, {1180, 430}, {1250, 395}},
			Not:     [][2]float64{{1550, 820}, {1700, 850}, {1350, 900}, {1450, 770}, {1200, 960}, {300, 800}, {1500, 300}, {1180, 1000}, {1290, 560}}}},
		{"tote-same", isolate.Pick{Kind: "like", Join: "add", Tolerance: 8, Boxes: [][4]float64{{720, 560, 1120, 1040}},
			Samples: [][2]float64{{860, 700}, {1000, 640}, {1100, 800}, {1140, 560}, {700, 560}, {1150, 640}, {1180, 600}, {680, 700}, {1160, 1080}, {846, 344}},
			Not:     [][2]float64{{1230, 700}, {900, 400}, {1000, 300}, {1260, 900}, {300, 700}, {1100, 250}, {600, 1100}, {1240, 1100}, {1000, 1180}, {940, 450}}}},
	} {
		pic, err := scenes.RGB(truth, c.name)
		check(err)
		t, err := scenes.Mask(truth, c.name+"-mask")
		check(err)
		p := scenes.NewPyramid(pic)
		subject := isolate.Pick{Kind: "subject", Join: "add"}
		alone, _ := scenes.Compare(render(p, nil, subject), t)
		only, _ := scenes.Compare(render(p, nil, c.like), t)
		subject.Join = "intersect"
		both, _ := scenes.Compare(render(p, &isolate.Edge{FillHolesUnder: 2000, DropSpecksUnder: 2000}, c.like, subject), t)
		fmt.Printf("  %-10s subject %.3f, like colours %.3f, both %.3f\n", c.name, alone, only, both)
	}
}

// snapping draws the true edge as a hand would, some pixels off, and measures how near the snapped path comes.
func snapping() {
	fmt.Println("Snapped outlines: mean distance to the known edge in pixels (aim 1)")
	for _, c := range []struct {
		picture, mask string
	}{{"mug-red", "mug-mask"}, {"mug-white", "mug-mask"}, {"tote-red", "tote-mask"}, {"tote-white", "tote-mask"}, {"tote-same", "tote-mask"}, {"scarf-teal", "scarf-mask"}} {
		pic, err := scenes.RGB(truth, c.picture)
		check(err)
		t, err := scenes.Mask(truth, c.mask)
		check(err)
		nodes := drawn(t, rand.New(rand.NewSource(3)))
		p := scenes.NewPyramid(pic)
		off := scenes.EdgeDistance(render(p, nil, isolate.Pick{Kind: "outline", Join: "add", Nodes: nodes}), t)
		on := scenes.EdgeDistance(render(p, nil, isolate.Pick{Kind: "outline", Join: "add", Nodes: nodes, Snap: true}), t)
		fmt.Printf("  %-10s as drawn %.2f, snapped %.2f (%d nodes)\n", c.picture, off, on, len(nodes))
	}
}

// drawn goes around the outer edge of a mask and sets a node every 60 pixels, up to 4 pixels off.
func drawn(t *raster.Mask, r *rand.Rand) []isolate.Node {
	in := func(x, y int) bool {
		return x >= 0 && y >= 0 && x < t.W && y < t.H && t.Pix[y*t.W+x] >= raster.Whole/2
	}
	x, y := 0, 0
	for !in(x, y) {
		if x++; x == t.W {
			x, y = 0, y+1
		}
	}
	// Moore's neighbour tracing.
	ways := [8][2]int{{1, 0}, {1, 1}, {0, 1}, {-1, 1}, {-1, 0}, {-1, -1}, {0, -1}, {1, -1}}
	sx, sy, back := x, y, 5
	var path [][2]int
	for n := 0; n < 100000; n++ {
		path = append(path, [2]int{x, y})
		for k := 1; k <= 8; k++ {
			d := (back + k) % 8
			if in(x+ways[d][0], y+ways[d][1]) {
				x, y, back = x+ways[d][0], y+ways[d][1], (d+4)%8
				break
			}
		}
		if x == sx && y == sy && n > 2 {
			break
		}
	}
	var nodes []isolate.Node
	for i := 0; i < len(path); i += 60 {
		nodes = append(nodes, isolate.Node{P: [2]float64{float64(path[i][0]) + 0.5 + 8*(r.Float64()-0.5), float64(path[i][1]) + 0.5 + 8*(r.Float64()-0.5)}})
	}
	return nodes
}

// likeSpeed compares on 24 megapixels: a view's first answer and a step of its tolerance with converting the
// same pixels to CIELAB once, and the full mask with libvips converting the whole picture (vips, where it is).
// anyLight measures Like colours on things in light and shade, each at its best tolerance: without a tolerance for light and with.
func anyLight() {
	fmt.Println("Like colours in any light: IoU at the best tolerance, without and with a tolerance for light (aim 0.9)")
	for _, c := range []struct {
		name, colour string
		samples, not [][2]float64
	}{
		{"pillar", "teal", [][2]float64{{360, 250}, {420, 120}, {500, 300}, {540, 400}}, [][2]float64{{150, 200}, {800, 300}, {200, 570}}},
		{"bloom", "apricot", [][2]float64{{250, 300}, {400, 180}, {560, 260}, {420, 420}}, [][2]float64{{820, 120}, {850, 420}, {60, 60}}},
		{"muff", "vivid", [][2]float64{{220, 300}, {450, 200}, {480, 440}}, [][2]float64{{100, 60}, {150, 560}, {700, 570}}},
		{"curtain", "sage", [][2]float64{{300, 200}, {450, 300}, {600, 400}}, [][2]float64{{20, 20}, {880, 580}}},
	} {
		t := scenes.Bare(truth, c.name)
		check(t.Load())
		pic, err := t.Shot(c.colour, false)
		check(err)
		p := scenes.NewPyramid(pic)
		best := func(light float64) (iou, at float64) {
			for _, tolerance := range []float64{2, 3, 4, 5, 6, 8, 10, 12, 15, 18, 22, 27, 33} {
				m := render(p, nil, isolate.Pick{Kind: "like", Join: "add", Samples: c.samples, Not: c.not, Tolerance: tolerance, Light: light})
				if v, _ := scenes.Compare(m, t.Mask); v > iou {
					iou, at = v, tolerance
				}
			}
			return iou, at
		}
		plain, a := best(0)
		lit, b := best(45)
		fmt.Printf("  %-8s %-8s %.3f at %g   %.3f at %g\n", c.name, c.colour, plain, a, lit, b)
	}
}

func likeSpeed() {
	fmt.Println("Like colours on 24 MP, as ratios in this run (aim 2)")
	dir, err := os.MkdirTemp("", "isolate")
	check(err)
	defer os.RemoveAll(dir)
	big := filepath.Join(dir, "24.png")
	if _, err := exec.LookPath("vips"); err != nil {
		fmt.Println("  libvips-tools is not installed: nothing is compared")
		return
	}
	run("vips", "resize", "demo/pictures/depot-mug.png", big, "3.3333334", "--kernel", "linear")
	p, err := imagefile.BuildPyramid(big, filepath.Join(dir, "pyramid"), imagefile.DefaultLimits())
	check(err)
	defer p.Close()
	w, h := p.Size(0)
	level := 2
	lw, lh := p.Size(level)
	view := raster.Rect{X1: lw, Y1: lh}
	like := func(tolerance float64) isolate.Pick {
		return isolate.Pick{Kind: "like", Join: "add", Tolerance: tolerance, Samples: [][2]float64{{2300, 2300}, {3300, 2100}, {4400, 2000}}}
	}
	keep := scenes.Kept{}
	answer := func(s isolate.Solved, tolerance float64) float64 {
		t := time.Now()
		sel, err := isolate.Compile(p, []isolate.Pick{like(tolerance)}, nil, isolate.Inputs{Space: p.Space}, s, isolate.Exact)
		check(err)
		_, err = sel.Render(level, view)
		check(err)
		return time.Since(t).Seconds()
	}
	lab := func() float64 {
		t := time.Now()
		px, err := p.Linear(level, view)
		check(err)
		out := make([]colour.Lab, len(px.Pix)/3)
		raster.Parallel(px.H, func(y int) {
			for i := y * px.W; i < (y+1)*px.W; i++ {
				out[i] = p.Space.Lab(colour.RGB{float64(px.Pix[3*i]), float64(px.Pix[3*i+1]), float64(px.Pix[3*i+2])})
			}
		})
		return time.Since(t).Seconds()
	}
	answer(keep, 12)
	var first, step, full []float64
	for i := range 7 {
		l := lab()
		first = append(first, answer(nil, 12)/l)
		step = append(step, answer(keep, 10+float64(i)/3)/l)
	}
	sel, err := isolate.Compile(p, []isolate.Pick{like(12)}, nil, isolate.Inputs{Space: p.Space}, nil, isolate.Exact)
	check(err)
	raw := filepath.Join(dir, "24.v")
	run("vips", "copy", big, raw)
	var made []float64
	for range 5 {
		t := time.Now()
		run("vips", "colourspace", raw, filepath.Join(dir, "lab.v"), "lab")
		vips := time.Since(t).Seconds()
		t = time.Now()
		check(isolate.Prepare(p, nil))
		made = append(made, time.Since(t).Seconds()/vips)
		t = time.Now()
		for y := 0; y < h; y += 256 {
			_, err := sel.Render(0, raster.Rect{Y0: y, X1: w, Y1: min(h, y+256)})
			check(err)
		}
		full = append(full, time.Since(t).Seconds()/vips)
	}
	fmt.Printf("  first answer %.2f, tolerance step %.2f of converting the view to Lab; full mask %.2f of libvips' conversion (medians)\n", median(first), median(step), median(full))
	fmt.Printf("  what a picture is made of, over libvips' Lab of the whole: %.2f (aim 8)\n", median(made))
}

func median(v []float64) float64 {
	sort.Float64s(v)
	return v[len(v)/2]
}

func run(name string, args ...string) {
	if out, err := exec.Command(name, args...).CombinedOutput(); err != nil {
		log.Fatalf("%s %v: %v\n%s", name, args, err, out)
	}
}

func check(err error) {
	if err != nil {
		log.Fatal(err)
	}
}
