package imagefile

import (
	"bufio"
	"fmt"
	"image"
	"image/png"
	"io"
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
	f, err := os.Open(raw)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	m := raster.NewMask(info.Width, info.Height)
	row := make([]byte, info.Width*info.Bands*info.Bits/8) // what was decoded is three times as large as the mask
	from := bufio.NewReaderSize(f, 1<<20)
	for y := range info.Height {
		if _, err := io.ReadFull(from, row); err != nil {
			return nil, err
		}
		greys(m.Pix[y*m.W:(y+1)*m.W], row, info)
	}
	return m, nil
}

// greys averages the three channels of a decoded row.
func greys(to []uint16, row []byte, info Info) {
	n := info.Bands
	if info.Bits == 8 {
		for i := range to {
			s := int(row[i*n]) + int(row[i*n+1]) + int(row[i*n+2])
			to[i] = uint16((s*257 + 1) / 3)
		}
		return
	}
	s := Samples16(row)
	for i := range to {
		to[i] = uint16((int(s[i*n]) + int(s[i*n+1]) + int(s[i*n+2])) / 3)
	}
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
