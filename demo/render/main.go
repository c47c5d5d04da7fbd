// Command render makes the demo pictures and their truth from the scene files, with POV-Ray.
//
//	go run ./demo/render [-work DIR] [-scene NAME] [-width 1800]
//
// For a scene with truth, the part is rendered at three grey albedos. A colour channel of a picture
// depends only on that channel of the part's albedo, as a polynomial of low degree (direct light, own
// bounce), so any albedo follows by interpolation a pixel and a channel in linear light.
package main

import (
	"flag"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"log"
	"math"
	"math/rand"
	"os"
	"os/exec"
	"path/filepath"
)

// albedos of the three renders a scene with truth gets.
var albedos = [3]float64{0.02, 0.40, 0.85}

type scene struct {
	name, picture string
	truth         bool
	bright        float64    // exposed so much more that the part clips, half the size: picture and truth in other colours
	same          bool       // of another scene's file, on a ground of the part's hue: picture and mask for the truth
	own           [3]float64 // linear sRGB albedo of the part in the demo picture
	gain          float64
	nearness      float64
	fibres        bool
	raw           bool // kept as its linear renders, so that any colour and any camera can be made of it
	full          bool // variants are as wide as pictures; else half
	// variants are renders for the truth alone, by what they are called: what is declared, and whether they are kept as linear light.
	variants []variant
}

type variant struct {
	name    string
	mode    int
	declare []string
	linear  bool // 16 bits as they were rendered: coordinates, not light
}

var scenes = []scene{
	{name: "mug", picture: "depot-mug", truth: true, own: [3]float64{0.42, 0.034, 0.018}, gain: 4, nearness: 1.2},
	{name: "scarf", picture: "conductors-scarf", truth: true, own: [3]float64{0.36, 0.05, 0.075}, gain: 4, nearness: 3},
	{name: "tote", picture: "canvas-tote", truth: true, own: [3]float64{0.80, 0.755, 0.66}, gain: 4, nearness: 2.5},
	{name: "cap", picture: "conductors-cap", gain: 4, nearness: 1.2},
	{name: "tram", picture: "tram-at-the-depot", gain: 4, nearness: 12},
	{name: "mug", picture: "mug-same", same: true, gain: 4, nearness: 1.2},
	{name: "tote", picture: "tote-same", same: true, gain: 4, nearness: 2.5},
	{name: "tote", picture: "tote-bright", bright: 1.45, own: [3]float64{0.80, 0.755, 0.66}, gain: 4, nearness: 2.5},
	{name: "scarf", picture: "scarf-bright", bright: 2.4, own: [3]float64{0.36, 0.05, 0.075}, gain: 4, nearness: 3},
	{name: "bobble", picture: "bobble", same: true, gain: 4, nearness: 1.2},
	{name: "seat", picture: "seat", gain: 4, raw: true},
	{name: "muff", picture: "muff", gain: 4, raw: true, fibres: true},
	{name: "pot", picture: "pot", gain: 4, raw: true},
	{name: "curtain", picture: "curtain", gain: 4, raw: true},
	{name: "pouch", picture: "pouch", gain: 4, raw: true},
	{name: "bloom", picture: "bloom", gain: 4, raw: true},
	{name: "pillar", picture: "pillar", gain: 4, raw: true},
	{name: "cushion", picture: "cushion", gain: 4, raw: true},
	{name: "mug", picture: "mug", full: true, variants: []variant{{name: "whole", mode: 1, declare: []string{"WHOLE=1"}}}},
	{name: "pouch", picture: "pouch", variants: []variant{{name: "whole", mode: 1, declare: []string{"WHOLE=1"}}}},
	{name: "pair", picture: "pair", gain: 4, fibres: true, variants: []variant{
		{name: "one"}, {name: "two", declare: []string{"PAIR=1"}},
		{name: "mask", mode: 1}, {name: "second-mask", mode: 1, declare: []string{"PAIR=1", "SECOND=1"}},
	}},
	{name: "tin", picture: "tin", gain: 4, variants: []variant{
		{name: "plain"}, {name: "checks", declare: []string{"CHECKED=1"}}, {name: "mask", mode: 1}, {name: "places", mode: 3, linear: true},
	}},
	{name: "scarf", picture: "scarf-checked", gain: 4, nearness: 3, variants: []variant{
		{name: "plain", declare: []string{"CHECKED=0"}}, {name: "checks", declare: []string{"CHECKED=1"}}, {name: "mask", mode: 1, declare: []string{"CHECKED=0"}},
		{name: "places", mode: 3, declare: []string{"CHECKED=0"}, linear: true},
	}},
}

// targets are the truth's other colours: linear sRGB albedos.
var targets = []struct {
	name   string
	albedo [3]float64
}{
	{"red", [3]float64{0.42, 0.034, 0.018}},
	{"teal", [3]float64{0.013, 0.145, 0.168}},
	{"white", [3]float64{0.82, 0.80, 0.74}},
	{"black", [3]float64{0.020, 0.022, 0.026}},
	{"pastel", [3]float64{0.48, 0.58, 0.74}},
}

func main() {
	work := flag.String("work", filepath.Join(os.TempDir(), "episema-render"), "folder for meshes and raw renders")
	only := flag.String("scene", "", "render this scene alone")
	width := flag.Int("width", 1800, "width in pixels; the height is two thirds of it")
	out := flag.String("out", "demo", "the demo folder")
	flag.Parse()
	if err := run(*work, *only, *out, *width); err != nil {
		log.Fatal(err)
	}
}

func run(work, only, out string, width int) error {
	if err := os.MkdirAll(work, 0o755); err != nil {
		return err
	}
	for _, s := range scenes {
		if only != "" && only != s.name && only != s.picture {
			continue
		}
		if err := meshes(work, filepath.Join(out, "scenes", s.name+".pov")); err != nil {
			return err
		}
		if err := s.make(work, out, width); err != nil {
			return fmt.Errorf("%s: %w", s.name, err)
		}
	}
	return nil
}

func (s scene) make(work, out string, width int) error {
	noise := rand.New(rand.NewSource(41))
	if s.bright > 0 {
		return s.overexposed(work, out, width/2)
	}
	if s.raw {
		return s.linear(work, out, width/2)
	}
	if s.variants != nil {
		if !s.full {
			width /= 2
		}
		return s.vary(work, out, width)
	}
	if s.same {
		return s.alone(work, out, width, noise)
	}
	if !s.truth {
		raw, err := s.trace(work, out, width, "own", 0, 0.4)
		if err != nil {
			return err
		}
		return save(filepath.Join(out, "pictures", s.picture+".png"), develop(raw, s.gain, noise))
	}
	var raw [3]*image.NRGBA64
	for i, a := range albedos {
		r, err := s.trace(work, out, width, fmt.Sprintf("a%d", i), 0, a)
		if err != nil {
			return err
		}
		raw[i] = r
	}
	if err := save(filepath.Join(out, "pictures", s.picture+".png"), develop(blend(raw, s.own), s.gain, noise)); err != nil {
		return err
	}
	for _, t := range targets {
		path := filepath.Join(out, "truth", s.name+"-"+t.name+".png")
		// The same noise for every colour: what differs is the paint alone.
		if err := save(path, develop(blend(raw, t.albedo), s.gain, rand.New(rand.NewSource(41)))); err != nil {
			return err
		}
	}
	for mode, name := range map[int]string{1: "mask", 2: "depth"} {
		r, err := s.trace(work, out, width, name, mode, 0.4)
		if err != nil {
			return err
		}
		if err := save(filepath.Join(out, "truth", s.name+"-"+name+".png"), grey(r)); err != nil {
			return err
		}
	}
	return nil
}

// overexposed makes a picture in which the part clips, its mask, and the truth in colours that do not.
func (s scene) overexposed(work, out string, width int) error {
	var raw [3]*image.NRGBA64
	for i, a := range albedos {
		r, err := s.trace(work, out, width, fmt.Sprintf("a%d", i), 0, a)
		if err != nil {
			return err
		}
		raw[i] = r
	}
	mask, err := s.trace(work, out, width, "mask", 1, 0.4)
	if err != nil {
		return err
	}
	if err := save(filepath.Join(out, "truth", s.picture+"-mask.png"), grey(mask)); err != nil {
		return err
	}
	for name, albedo := range map[string][3]float64{"": s.own, "-teal": targets[1].albedo, "-black": targets[3].albedo} {
		path := filepath.Join(out, "truth", s.picture+name+".png")
		if err := save(path, develop(blend(raw, albedo), s.gain*s.bright, rand.New(rand.NewSource(41)))); err != nil {
			return err
		}
	}
	return nil
}

// linear keeps the renders at the three albedos as they are, 16 bits of linear light over the gain, and the mask.
func (s scene) linear(work, out string, width int) error {
	for i, a := range albedos {
		r, err := s.trace(work, out, width, fmt.Sprintf("a%d", i), 0, a)
		if err != nil {
			return err
		}
		if err := save(filepath.Join(out, "truth", fmt.Sprintf("%s-a%d.png", s.picture, i)), opaque(r)); err != nil {
			return err
		}
	}
	mask, err := s.trace(work, out, width, "mask", 1, 0.4)
	if err != nil {
		return err
	}
	return save(filepath.Join(out, "truth", s.picture+"-mask.png"), grey(mask))
}

// vary makes the variants of a scene for the truth.
func (s scene) vary(work, out string, width int) error {
	for _, v := range s.variants {
		r, err := s.trace(work, out, width, v.name, v.mode, 0.4, v.declare...)
		if err != nil {
			return err
		}
		var img image.Image = develop(r, s.gain, rand.New(rand.NewSource(41))) // the same noise in each
		switch {
		case v.linear:
			img = opaque(r)
		case v.mode == 1:
			img = grey(r)
		}
		if err := save(filepath.Join(out, "truth", s.picture+"-"+v.name+".png"), img); err != nil {
			return err
		}
	}
	return nil
}

// opaque is a render as it is: three channels of 16 bits in the file.
func opaque(r *image.NRGBA64) image.Image {
	o := image.NewRGBA64(r.Bounds())
	for p := 0; p < len(r.Pix); p += 8 {
		copy(o.Pix[p:p+6], r.Pix[p:p+6])
		o.Pix[p+6], o.Pix[p+7] = 255, 255
	}
	return o
}

// alone makes a picture and a mask for the truth, in one colour.
func (s scene) alone(work, out string, width int, noise *rand.Rand) error {
	raw, err := s.trace(work, out, width, "same", 0, 0.4)
	if err != nil {
		return err
	}
	if err := save(filepath.Join(out, "truth", s.picture+".png"), develop(raw, s.gain, noise)); err != nil {
		return err
	}
	mask, err := s.trace(work, out, width, "mask", 1, 0.4)
	if err != nil {
		return err
	}
	return save(filepath.Join(out, "truth", s.picture+"-mask.png"), grey(mask))
}

func grey(r *image.NRGBA64) *image.Gray {
	g := image.NewGray(r.Bounds())
	for y := 0; y < r.Rect.Dy(); y++ {
		for x := 0; x < r.Rect.Dx(); x++ {
			g.SetGray(x, y, color.Gray{Y: uint8(float64(r.NRGBA64At(x, y).R)/65535*255 + 0.5)})
		}
	}
	return g
}

// trace runs POV-Ray to a linear 16 bit PNG; a render that is there already is kept.
func (s scene) trace(work, out string, width int, tag string, mode int, albedo float64, declare ...string) (*image.NRGBA64, error) {
	file := filepath.Join(work, fmt.Sprintf("%s-%s-%d.png", s.name, tag, width))
	if s.variants != nil {
		file = filepath.Join(work, fmt.Sprintf("%s-%s-%d.png", s.picture, tag, width))
	}
	if _, err := os.Stat(file); err != nil {
		part := file + ".part.png"
		dir := filepath.Join(out, "scenes")
		cmd := exec.Command("povray", "+I"+filepath.Join(dir, s.name+".pov"), "+O"+part, "+FN16", "File_Gamma=1.0",
			fmt.Sprintf("+W%d", width), fmt.Sprintf("+H%d", width*2/3), "-D", "-GA", "+L"+dir, "+L"+work,
			fmt.Sprintf("Declare=MODE=%d", mode), fmt.Sprintf("Declare=ALB=%g", albedo), fmt.Sprintf("Declare=NEARNESS=%g", s.nearness), fmt.Sprintf("Declare=SAME=%d", map[bool]int{true: 1}[s.same]))
		for _, d := range declare {
			cmd.Args = append(cmd.Args, "Declare="+d)
		}
		if s.fibres {
			// Each pixel is sampled alike whatever the albedo: where edges are looked for, dark ones are not found.
			cmd.Args = append(cmd.Args, "+A0.0", "+AM1", "+R3", "-J")
		} else {
			cmd.Args = append(cmd.Args, "+A0.15", "+AM2", "+R2")
		}
		if msg, err := cmd.CombinedOutput(); err != nil {
			return nil, fmt.Errorf("povray %s: %w\n%s", tag, err, msg)
		}
		if err := os.Rename(part, file); err != nil {
			return nil, err
		}
	}
	f, err := os.Open(file)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	img, err := png.Decode(f)
	if err != nil {
		return nil, err
	}
	o := image.NewNRGBA64(img.Bounds())
	for y := img.Bounds().Min.Y; y < img.Bounds().Max.Y; y++ {
		for x := img.Bounds().Min.X; x < img.Bounds().Max.X; x++ {
			o.Set(x, y, img.At(x, y))
		}
	}
	return o, nil
}

// blend interpolates the three renders to an albedo: a quadratic through three points, a channel each.
func blend(raw [3]*image.NRGBA64, albedo [3]float64) *image.NRGBA64 {
	o := image.NewNRGBA64(raw[0].Bounds())
	var k [3][3]float64
	for c := range k {
		a := albedo[c]
		for i := range albedos {
			w := 1.0
			for j := range albedos {
				if j != i {
					w *= (a - albedos[j]) / (albedos[i] - albedos[j])
				}
			}
			k[c][i] = w
		}
	}
	for i := 0; i < len(o.Pix); i += 8 {
		for c := 0; c < 3; c++ {
			p := i + 2*c
			v := 0.0
			for r := range raw {
				v += k[c][r] * float64(uint16(raw[r].Pix[p])<<8|uint16(raw[r].Pix[p+1]))
			}
			u := uint16(math.Max(0, math.Min(65535, math.Round(v))))
			o.Pix[p], o.Pix[p+1] = uint8(u>>8), uint8(u)
		}
		o.Pix[i+6], o.Pix[i+7] = 255, 255
	}
	return o
}

// develop exposes, codes for sRGB (IEC 61966-2-1) and adds a sensor's noise to 8 bits.
func develop(raw *image.NRGBA64, gain float64, r *rand.Rand) *image.NRGBA {
	o := image.NewNRGBA(raw.Bounds())
	for i, j := 0, 0; i < len(raw.Pix); i, j = i+8, j+4 {
		for c := 0; c < 3; c++ {
			l := float64(uint16(raw.Pix[i+2*c])<<8|uint16(raw.Pix[i+2*c+1])) / 65535 * gain
			var v float64
			if l <= 0.0031308 {
				v = 12.92 * l
			} else {
				v = 1.055*math.Pow(l, 1/2.4) - 0.055
			}
			v = math.Min(v, 1)*255 + r.NormFloat64()*1.2
			o.Pix[j+c] = uint8(math.Max(0, math.Min(255, math.Round(v))))
		}
		o.Pix[j+3] = 255
	}
	return o
}

func save(path string, img image.Image) error {
	if err := os.MkdirAll(filepath.Dir(path), 0o755); err != nil {
		return err
	}
	f, err := os.Create(path)
	if err != nil {
		return err
	}
	if err := (&png.Encoder{CompressionLevel: png.BestCompression}).Encode(f, img); err != nil {
		return err
	}
	return f.Close()
}
