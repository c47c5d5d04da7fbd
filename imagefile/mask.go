package imagefile

import (
	"fmt"
	"image"
	"image/png"
	"os"

	"episema/core/raster"
)

// ReadMask reads a grey picture as a mask: white is the part. A mask saved as RGB is
// averaged over its channels.
func ReadMask(path string) (*raster.Mask, error) {
	dir, err := os.MkdirTemp("", "episema-mask-*")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(dir)
	raw := dir + "/raw"
	info, err := Decode(path, raw, DefaultLimits())
	if os.IsNotExist(err) {
		return nil, fmt.Errorf("the mask %s is not there", path)
	}
	if err != nil {
		return nil, err
	}
	b, err := os.ReadFile(raw)
	if err != nil {
		return nil, err
	}
	m := raster.NewMask(info.Width, info.Height)
	n := info.Bands
	if info.Bits == 8 {
		for i := range m.Pix {
			s := int(b[i*n]) + int(b[i*n+1]) + int(b[i*n+2])
			m.Pix[i] = uint16((s*257 + 1) / 3)
		}
		return m, nil
	}
	s := Samples16(b)
	for i := range m.Pix {
		m.Pix[i] = uint16((int(s[i*n]) + int(s[i*n+1]) + int(s[i*n+2])) / 3)
	}
	return m, nil
}

// WriteMask writes a 16 bit grey PNG, rendered in strips.
func WriteMask(path string, w, h int, render func(raster.Rect) (*raster.Mask, error)) error {
	g := image.NewGray16(image.Rect(0, 0, w, h))
	const strip = 256
	for y := 0; y < h; y += strip {
		m, err := render(raster.Rect{X0: 0, Y0: y, X1: w, Y1: min(h, y+strip)})
		if err != nil {
			return err
		}
		for i, v := range m.Pix {
			g.Pix[2*(y*w+i)], g.Pix[2*(y*w+i)+1] = byte(v>>8), byte(v)
		}
	}
	f, err := os.Create(path)
	if err != nil {
		return err
	}
	defer f.Close()
	if err := png.Encode(f, g); err != nil {
		return err
	}
	return f.Close()
}
