package export

import (
	"archive/zip"
	"fmt"
	"io"
	"os"
	"strings"

	"episema/core/develop"
	"episema/core/raster"
	"episema/imagefile"
	"episema/internal/problem"
)

// Masks writes the masks of all parts, settled among each other, as a zip of 16 bit grey PNGs named by the parts.
func Masks(d *develop.Developed, p *imagefile.Pyramid, out string, progress func(float64) error) error {
	f, err := os.Create(out)
	if err != nil {
		return err
	}
	defer f.Close()
	z := zip.NewWriter(f)
	w, h := p.Size(0)
	names := map[string]int{}
	for i := range d.Parts {
		png := out + ".png"
		err := imagefile.WriteMask(png, w, h, func(r raster.Rect) (*raster.Mask, error) {
			masks, err := d.Masks(0, r)
			if err != nil || masks[i] == nil {
				return raster.NewMask(r.W(), r.H()), err
			}
			return masks[i], progress((float64(i) + float64(r.Y1)/float64(h)) / float64(len(d.Parts)))
		})
		if err != nil {
			return err
		}
		name := Plain(d.Parts[i].Name)
		if names[strings.ToLower(name)]++; names[strings.ToLower(name)] > 1 {
			name = fmt.Sprintf("%s %d", name, names[strings.ToLower(name)])
		}
		to, err := z.CreateHeader(&zip.FileHeader{Name: name + ".png", Method: zip.Store})
		if err != nil {
			return err
		}
		if err := copyFile(to, png); err != nil {
			return err
		}
	}
	if len(d.Parts) == 0 {
		return problem.New("the picture has no parts, so it has no masks")
	}
	if err := z.Close(); err != nil {
		return err
	}
	return f.Close()
}

func copyFile(to io.Writer, path string) error {
	f, err := os.Open(path)
	if err != nil {
		return err
	}
	defer f.Close()
	defer os.Remove(path)
	_, err = io.Copy(to, f)
	return err
}
