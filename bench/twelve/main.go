// Command twelve repaints a coloured, a white and a black thing of the demo's truth each in a near-white, a near-black, a
// saturated and a pastel colour, and writes the table and the picture of docs/twelve.md.
package main

import (
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"log"
	"math"
	"os"
	"strings"

	"episema/core/colour"
	"episema/core/develop"
	"episema/core/proof"
	"episema/core/raster"
	"episema/core/recolour"
	"episema/internal/scenes"
)

// rows are the things, and columns what they become; a thing's own colour is left out of its columns where it is one.
var (
	rows    = [][3]string{{"coloured", "scarf", "red"}, {"white", "tote", "white"}, {"black", "mug", "black"}}
	columns = [][2]string{{"near-white", "white"}, {"near-black", "black"}, {"saturated", "teal"}, {"pastel", "pastel"}}
)

const cellW, cellH = 300, 200

func main() {
	sheet := image.NewRGBA(image.Rect(0, 0, cellW*(1+len(columns)), 2*cellH*len(rows)))
	var table strings.Builder
	table.WriteString("| from | to | inside | edge band | edge / inside | fine luminance |\n|---|---|---|---|---|---|\n")
	for r, row := range rows {
		mask, err := scenes.Mask("demo/truth", row[1]+"-mask")
		check(err)
		src, err := scenes.RGB("demo/truth", row[1]+"-"+row[2])
		check(err)
		put(sheet, src, 0, 2*r)
		for c, col := range columns {
			truth, err := scenes.RGB("demo/truth", row[1]+"-"+col[1])
			check(err)
			put(sheet, truth, c+1, 2*r+1)
			if row[2] == col[1] {
				// Of its own kind already: what is asked for is a warmer one, of which there is no truth.
				put(sheet, paint(src, mask, row[2], cousins[col[1]]), c+1, 2*r)
				fmt.Fprintf(&table, "| %s (%s) | another %s | no truth | | | |\n", row[0], row[1], col[0])
				continue
			}
			out := paint(src, mask, row[2], scenes.Albedos[col[1]])
			put(sheet, out, c+1, 2*r)
			in, edge := compare(out, truth, mask)
			fine := proof.DetailKept(&develop.Rendered{Before: truth, After: out, Masks: []*raster.Mask{mask}}, 0)
			fmt.Fprintf(&table, "| %s (%s) | %s | %.2f | %.2f | %.2f | %.3f |\n", row[0], row[1], col[0], in, edge, edge/in, fine)
		}
	}
	f, err := os.Create("docs/twelve.jpg")
	check(err)
	check(jpeg.Encode(f, sheet, &jpeg.Options{Quality: 88}))
	check(f.Close())
	doc, err := os.ReadFile("docs/twelve.md")
	check(err)
	head, _, _ := strings.Cut(string(doc), "| from |")
	check(os.WriteFile("docs/twelve.md", []byte(head+table.String()), 0o644))
	fmt.Print(table.String())
}

var cousins = map[string]colour.RGB{"white": {0.78, 0.7, 0.55}, "black": {0.035, 0.02, 0.018}}

func check(err error) {
	if err != nil {
		log.Fatal(err)
	}
}

func paint(src *raster.RGB, mask *raster.Mask, from string, goal colour.RGB) *raster.RGB {
	l, err := recolour.Learn(src, mask)
	check(err)
	own := scenes.Albedos[from]
	p, _, err := l.Plan(colour.SRGB, recolour.Request{Own: &own, Goal: goal, Settings: recolour.Defaults()})
	check(err)
	o := &raster.RGB{W: src.W, H: src.H, Pix: append([]float32(nil), src.Pix...)}
	p.Apply(src, o, mask, raster.Place{}, raster.Rect{X1: o.W, Y1: o.H})
	return o
}

// compare gives the mean CIEDE2000 inside and in the band of six pixels around the edge.
func compare(a, b *raster.RGB, mask *raster.Mask) (in, edge float64) {
	d := raster.SignedDistance(func(i int) bool { return mask.Pix[i] >= raster.Whole/2 }, mask.W, mask.H)
	var ni, ne float64
	for i, m := range mask.Pix {
		if m == 0 {
			continue
		}
		lab := func(p *raster.RGB) colour.Lab {
			return colour.SRGB.Lab(colour.RGB{float64(p.Pix[3*i]), float64(p.Pix[3*i+1]), float64(p.Pix[3*i+2])})
		}
		e := colour.DeltaE00(lab(a), lab(b))
		if math.Abs(float64(d[i])) <= 3 {
			edge, ne = edge+e, ne+1
		} else if d[i] > 3 {
			in, ni = in+e, ni+1
		}
	}
	return in / ni, edge / ne
}

// put draws a picture into a cell of the sheet.
func put(sheet *image.RGBA, p *raster.RGB, col, row int) {
	k := float64(p.W) / cellW
	small := raster.Shrink(p.Pix, p.W, p.H, 3, 0, 0, k, cellW, cellH)
	for y := range cellH {
		for x := range cellW {
			i := 3 * (y*cellW + x)
			v := func(c int) uint8 {
				return uint8(math.Max(0, math.Min(255, math.Round(255*colour.SRGBEncode(float64(small[i+c]))))))
			}
			sheet.SetRGBA(col*cellW+x, row*cellH+y, color.RGBA{v(0), v(1), v(2), 255})
		}
	}
}
