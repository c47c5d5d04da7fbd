// Package photos reads the photographs that benches measure on where Debian's packages opencv-doc, python3-skimage and
// python3-sklearn put them. None is part of the project; masks come from picks that were made with the product.
package photos

import (
	_ "embed"
	"encoding/json"
	"image"
	"image/draw"
	_ "image/jpeg" // the photographs' formats
	_ "image/png"
	"os"
	"strings"

	"episema/core/isolate"
	"episema/core/raster"
	"episema/internal/scenes"
)

// Photo is a photograph and the picks of one part of a thing in it.
type Photo struct {
	Name, File string
	Crop       *[4]int // what is read of it, left, top, right, bottom; nil for all
	Aside      bool    // nothing is tuned on it
	Detail     bool    // the part is not what the photograph is of
	Picks      []isolate.Pick
	Whole      [][2]float64 // the thing's outline, traced by eye and put on the edge by outlines.py; nil where the part is all of it
}

//go:embed photos.json
var list []byte

// folders are where the packages put their pictures.
var folders = strings.NewReplacer("opencv-doc/alphamat", "/usr/share/doc/opencv-doc/examples/alphamat/input_images", "opencv-doc/hfs", "/usr/share/doc/opencv-doc/examples/hfs/data",
	"opencv-doc", "/usr/share/doc/opencv-doc/examples/data",
	"skimage", "/usr/lib/python3/dist-packages/skimage/data", "sklearn", "/usr/lib/python3/dist-packages/sklearn/datasets/images")

// All lists the photographs. Of those without picks the whole thing alone is known.
func All() []Photo {
	var all []Photo
	if err := json.Unmarshal(list, &all); err != nil {
		panic(err)
	}
	return all
}

// Read gives the photograph in linear light and the mask of its part. It fails where the package is not installed.
func (p Photo) Read() (*raster.RGB, *raster.Mask, error) {
	pic, err := p.picture()
	if err != nil {
		return nil, nil, err
	}
	mask, err := masked(pic, p.Picks)
	return pic, mask, err
}

// ReadWhole is Read with the mask of the whole thing, in which no way of the product's own had a hand where it was traced.
func (p Photo) ReadWhole() (*raster.RGB, *raster.Mask, error) {
	if p.Whole == nil {
		return p.Read()
	}
	pic, err := p.picture()
	if err != nil {
		return nil, nil, err
	}
	nodes := make([]isolate.Node, len(p.Whole))
	for i, q := range p.Whole {
		nodes[i].P = q
	}
	mask, err := masked(pic, []isolate.Pick{{Kind: "outline", Join: "add", Nodes: nodes}})
	return pic, mask, err
}

func (p Photo) picture() (*raster.RGB, error) {
	f, err := os.Open(folders.Replace(p.File))
	if err != nil {
		return nil, err
	}
	defer f.Close()
	img, _, err := image.Decode(f)
	if err != nil {
		return nil, err
	}
	if c := p.Crop; c != nil {
		part := image.NewRGBA(image.Rect(0, 0, c[2]-c[0], c[3]-c[1]))
		draw.Draw(part, part.Rect, img, img.Bounds().Min.Add(image.Pt(c[0], c[1])), draw.Src)
		img = part
	}
	return scenes.FromImage(img, scenes.Coded8), nil
}

// masked renders what picks take.
func masked(pic *raster.RGB, picks []isolate.Pick) (*raster.Mask, error) {
	sel, err := isolate.Compile(scenes.NewPyramid(pic), picks, nil, isolate.Inputs{}, nil, isolate.Exact)
	if err != nil {
		return nil, err
	}
	return sel.Render(0, raster.Rect{X1: pic.W, Y1: pic.H})
}
