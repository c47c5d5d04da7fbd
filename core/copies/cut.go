package copies

import (
	"errors"
	"fmt"
	"regexp"

	"episema/core/colour"
	"episema/core/raster"
)

// Cut is a thing of another picture, cut out as it was there.
type Cut struct {
	// File names its picture: the SHA-256 of a mask that has, one below the other, its red, green and blue as sRGB codes them, and
	// how much of each pixel it covers.
	File string `json:"file"`
	Size [2]int `json:"size"` // width and height of each of the four, in pixels
	// Credit is the line that goes with what is delivered of it, where the picture's licence asks for one.
	Credit string `json:"credit,omitempty"`
}

// MostCut is how many pixels a cut has at most.
const MostCut = 4 << 20

const mostCredit = 2000

var cutFile = regexp.MustCompile(`^[0-9a-f]{64}$`)

func (c *Cut) validate() error {
	switch {
	case !cutFile.MatchString(c.File):
		return errors.New("what is cut out names its file; take it from its picture first")
	case len(c.Credit) > mostCredit:
		return fmt.Errorf("the credit of what is cut out has over %d bytes", mostCredit)
	case c.Size[0] < 1 || c.Size[1] < 1 || c.Size[0] > MostCut || c.Size[1] > MostCut || c.Size[0]*c.Size[1] > MostCut:
		return fmt.Errorf("what is cut out has 1 to %d pixels", MostCut)
	}
	return nil
}

// Thing is a cut made ready: its colours as linear light of a space, without what was behind it, and its share of each pixel, with a
// pixel of nothing all around.
type Thing struct {
	Colours *raster.RGB
	Share   []float32
	Place   raster.Place
}

// Bytes returns about what it takes in memory.
func (t *Thing) Bytes() int { return 4 * (len(t.Colours.Pix) + len(t.Share)) }

// Small returns the thing with a long side of at most side pixels, each of which is scale of its own wide.
func (t *Thing) Small(side int) (pic *raster.RGB, share *raster.Mask, scale float64) {
	w, h := t.Colours.W, t.Colours.H
	scale = max(1, float64(max(w, h))/float64(side))
	ow, oh := max(1, int(float64(w)/scale)), max(1, int(float64(h)/scale))
	pic = &raster.RGB{W: ow, H: oh, Pix: raster.Shrink(t.Colours.Pix, w, h, 3, 0, 0, scale, ow, oh)}
	share = raster.NewMask(ow, oh)
	for i, v := range raster.Shrink(t.Share, w, h, 1, 0, 0, scale, ow, oh) {
		share.Pix[i] = uint16(max(0, min(1, v)) * raster.Whole)
	}
	return pic, share, scale
}

// Open reads a cut from its file's mask, for a picture whose pixels are in a space.
func (c *Cut) Open(m *raster.Mask, space *colour.Space) (*Thing, error) {
	w, h := c.Size[0], c.Size[1]
	if m == nil || m.W != w || m.H != 4*h {
		return nil, errors.New("what was cut out of another picture is not there; take it from there again")
	}
	all := raster.Rect{X1: w, Y1: h}
	r := all.Grow(1)
	t := &Thing{Colours: raster.NewRGB(r.W(), r.H()), Place: raster.Place{X: -1, Y: -1, Step: 1}}
	share := raster.Mask{W: w, H: h, Pix: m.Pix[3*w*h:]}
	t.Share = raster.Framed(share.Shares(), 1, all, r)
	raster.Parallel(r.H(), func(row int) {
		y := max(0, min(h-1, row-1)) // the frame has the colours beside it, so that none creeps in
		for col := range r.W() {
			i := y*w + max(0, min(w-1, col-1))
			var l colour.RGB
			for k := range l {
				l[k] = colour.SRGBDecode(float64(m.Pix[k*w*h+i]) / raster.Whole)
			}
			if space != colour.SRGB {
				l = space.MapToGamut(space.Linear(colour.SRGB.Lab(l)))
			}
			for k, v := range l {
				t.Colours.Pix[3*(row*r.W()+col)+k] = float32(v)
			}
		}
	})
	return t, nil
}

// Pack writes a thing as Open reads it: its colours in a space, and its share of each pixel.
func Pack(pic *raster.RGB, share []float32, space *colour.Space) *raster.Mask {
	n := pic.W * pic.H
	m := raster.NewMask(pic.W, 4*pic.H)
	raster.Parallel(pic.H, func(y int) {
		for i := y * pic.W; i < (y+1)*pic.W; i++ {
			l := colour.RGB{float64(pic.Pix[3*i]), float64(pic.Pix[3*i+1]), float64(pic.Pix[3*i+2])}
			if space != colour.SRGB {
				l = colour.SRGB.MapToGamut(colour.SRGB.Linear(space.Lab(l)))
			}
			for k, v := range l {
				m.Pix[k*n+i] = uint16(max(0, min(1, colour.SRGBEncode(v)))*raster.Whole + 0.5)
			}
			m.Pix[3*n+i] = uint16(max(0, min(1, share[i]))*raster.Whole + 0.5)
		}
	})
	return m
}
