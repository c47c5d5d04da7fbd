// Package photos reads the photographs that benches measure on where Debian's packages opencv-doc, python3-skimage and
// python3-sklearn put them. None is part of the project; masks come from picks that were made with the product.
package photos

import (
	_ "embed"
	"encoding/json"
	"image"
	_ "image/jpeg" // the photographs' formats
	_ "image/png"
	"os"
	"strings"

	"episema/core/isolate"
	"episema/core/raster"
	"episema/internal/scenes"
)

// Photo is a photograph and the picks of one thing in it.
type Photo struct {
	Name, File string
	Aside      bool // nothing is tuned on it
	Picks      []isolate.Pick
}

//go:embed photos.json
var list []byte

// folders are where the packages put their pictures.
var folders = strings.NewReplacer("opencv-doc/alphamat", "/usr/share/doc/opencv-doc/examples/alphamat/input_images", "opencv-doc", "/usr/share/doc/opencv-doc/examples/data",
	"skimage", "/usr/lib/python3/dist-packages/skimage/data", "sklearn", "/usr/lib/python3/dist-packages/sklearn/datasets/images")

// All lists the photographs.
func All() []Photo {
	var all []Photo
	if err := json.Unmarshal(list, &all); err != nil {
		panic(err)
	}
	return all
}

// Read gives the photograph in linear light and the mask of its thing. It fails where the package is not installed.
func (p Photo) Read() (*raster.RGB, *raster.Mask, error) {
	f, err := os.Open(folders.Replace(p.File))
	if err != nil {
		return nil, nil, err
	}
	defer f.Close()
	img, _, err := image.Decode(f)
	if err != nil {
		return nil, nil, err
	}
	pic := scenes.FromImage(img, scenes.Coded8)
	sel, err := isolate.Compile(scenes.NewPyramid(pic), p.Picks, nil, isolate.Inputs{}, nil, isolate.Exact)
	if err != nil {
		return nil, nil, err
	}
	mask, err := sel.Render(0, raster.Rect{X1: pic.W, Y1: pic.H})
	return pic, mask, err
}
