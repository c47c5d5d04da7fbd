// Command same tells whether a change of the code changed a picture. It develops a document for every field of the model, and
// the demo's photos in every method, and prints a checksum for each; given what it printed before, it prints what differs.
//
//	go run ./bench/same -keep /tmp/pixels > /tmp/before; ...; go run ./bench/same -keep /tmp/pixels -against /tmp/before
//
// With the pixels kept it also says by how much they differ.
package main

import (
	"bytes"
	"crypto/sha256"
	"encoding/binary"
	"flag"
	"fmt"
	"log"
	"math"
	"os"
	"path/filepath"
	"strings"

	"episema/core/artwork"
	"episema/core/colour"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/imagefile"
	"episema/internal/everyfield"
	"episema/internal/scenes"
)

var keep = flag.String("keep", "", "a folder for the pixels themselves")

func main() {
	against := flag.String("against", "", "what it printed before")
	flag.Parse()
	before := map[string]string{}
	if *against != "" {
		b, err := os.ReadFile(*against)
		check(err)
		for line := range strings.Lines(string(b)) {
			sum, name, _ := strings.Cut(strings.TrimSpace(line), "  ")
			before[name] = sum
		}
	}
	n, other := 0, 0
	say := func(name, sum string) {
		n++
		switch {
		case *against == "":
			fmt.Printf("%s  %s\n", sum, name)
		case before[name] != sum:
			other++
			fmt.Println("differs:", name, apart[name])
		}
	}
	fields(say)
	photos(say)
	if *against != "" {
		fmt.Printf("%d of %d pictures differ\n", other, n)
		if other > 0 || n != len(before) {
			os.Exit(1)
		}
	}
}

const stored = "5e1f0000000000000000000000000000000000000000000000000000000000aa"

func fields(say func(name, sum string)) {
	src := develop.Source{Pyramid: scenes.NewPyramid(everyfield.Scene()), Space: colour.SRGB, Depth: everyfield.Near(), Masks: map[string]*raster.Mask{stored: everyfield.Stored()}}
	drawing, err := artwork.Parse([]byte(everyfield.Drawing))
	check(err)
	for i, m := range everyfield.Moves(stored) {
		name := fmt.Sprintf("%03d %s", i, m.Field)
		doc := m.After()
		if m.Drawn {
			r, err := doc.Recoloured(drawing)
			check(err)
			say(name, fmt.Sprintf("%x", sha256.Sum256(r.Source)))
			continue
		}
		d, err := develop.Develop(src, doc, nil, nil, isolate.Exact)
		check(err)
		for level, r := range []raster.Rect{{X1: everyfield.W, Y1: everyfield.H}, {X0: 20, Y0: 10, X1: 120, Y1: 100}} {
			where := fmt.Sprintf("%s, level %d", name, level)
			say(where, sumOf(where, d, level, r))
		}
	}
}

func photos(say func(name, sum string)) {
	files, err := filepath.Glob("demo/pictures/*.png")
	check(err)
	dir, err := os.MkdirTemp("", "same")
	check(err)
	defer os.RemoveAll(dir)
	for _, f := range files {
		p, err := imagefile.BuildPyramid(f, filepath.Join(dir, filepath.Base(f)), imagefile.DefaultLimits())
		check(err)
		w, h := p.Size(0)
		for _, method := range recolour.Methods {
			part := document.Part{ID: "a", Name: "A", Picks: []isolate.Pick{{Kind: "subject", Join: "add"}}, Edge: &isolate.Edge{Smooth: 2}, Target: document.Target{CSS: "#1d6a72"}, Settings: recolour.Defaults()}
			part.Settings.Method = method
			d, err := develop.Develop(develop.Source{Pyramid: p, Space: p.Space}, document.Picture{Parts: []document.Part{part}}, nil, nil, isolate.Exact)
			check(err)
			name := strings.TrimSuffix(filepath.Base(f), ".png") + ", " + method
			half, hh := p.Size(1)
			say(name+", half", sumOf(name+", half", d, 1, raster.Rect{X1: half, Y1: hh}))
			say(name+", a piece", sumOf(name+", a piece", d, 0, raster.Rect{X0: w / 3, Y0: h / 3, X1: w/3 + 500, Y1: h/3 + 400}))
		}
		p.Close()
	}
}

// apart says by how much what a rectangle becomes is apart from what was kept.
var apart = map[string]string{}

// sumOf returns the checksum of what a rectangle becomes.
func sumOf(name string, d *develop.Developed, level int, r raster.Rect) string {
	out, err := d.Render(level, r)
	check(err)
	var b bytes.Buffer
	check(binary.Write(&b, binary.LittleEndian, out.After.Pix))
	if *keep != "" {
		path := filepath.Join(*keep, fmt.Sprintf("%x", sha256.Sum256([]byte(name))))
		before, err := os.ReadFile(path)
		switch {
		case os.IsNotExist(err):
			check(os.WriteFile(path, b.Bytes(), 0o600))
		case err == nil && len(before) == b.Len():
			was := make([]float32, len(out.After.Pix))
			check(binary.Read(bytes.NewReader(before), binary.LittleEndian, was))
			most, moved := 0.0, 0
			for i, v := range out.After.Pix {
				if by := math.Abs(float64(v - was[i])); by > 0 {
					most, moved = max(most, by), moved+1
				}
			}
			apart[name] = fmt.Sprintf("(%.2g %% of the values, by at most %.2g of linear light)", 100*float64(moved)/float64(len(was)), most)
		}
	}
	return fmt.Sprintf("%x", sha256.Sum256(b.Bytes()))
}

func check(err error) {
	if err != nil {
		log.Fatal(err)
	}
}
