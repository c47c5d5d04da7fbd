package export

import (
	"archive/zip"
	"encoding/xml"
	"fmt"
	"image"
	"image/png"
	"io"
	"math"
	"os"

	"episema/core/colour"
	"episema/core/develop"
	"episema/core/raster"
	"episema/imagefile"
	"episema/internal/problem"
)

// oraStack is stack.xml of an OpenRaster file (freedesktop, OpenRaster baseline: uppermost layer first).
type oraStack struct {
	XMLName xml.Name   `xml:"image"`
	Version string     `xml:"version,attr"`
	W       int        `xml:"w,attr"`
	H       int        `xml:"h,attr"`
	Layers  []oraLayer `xml:"stack>layer"`
}

type oraLayer struct {
	Name      string `xml:"name,attr"`
	Src       string `xml:"src,attr"`
	X         int    `xml:"x,attr"`
	Y         int    `xml:"y,attr"`
	Opacity   string `xml:"opacity,attr"`
	Composite string `xml:"composite-op,attr"`
}

// mostOra is how many pixels an OpenRaster file has at most: each layer is held whole while it is packed.
const mostOra = 120_000_000

// OpenRaster writes a developed picture as an OpenRaster file of 8 bit sRGB layers: the picture as it came in, one layer for each
// part that is painted or a copy, whose opacity is the part's mask, and, where casts, mends or the shadows of copies changed what is beside
// the parts, one with what they did. Laid over each other they are the result.
func OpenRaster(d *develop.Developed, p *imagefile.Pyramid, out string, progress func(float64) error) error {
	w, h := p.Size(0)
	if w*h > mostOra {
		return problem.Inputf("OpenRaster files have at most %d megapixels here; this picture has %d", mostOra/1_000_000, w*h/1_000_000)
	}
	o := newOra(d, w, h)
	for y := 0; y < h; y += strip {
		r := raster.Rect{Y0: y, X1: w, Y1: min(h, y+strip)}
		if err := o.strip(p.Space, r); err != nil {
			return err
		}
		if progress != nil {
			if err := progress(0.6 * float64(r.Y1) / float64(h)); err != nil {
				return err
			}
		}
	}
	f, err := os.Create(out)
	if err != nil {
		return err
	}
	defer f.Close()
	if err := o.write(f); err != nil {
		return err
	}
	return f.Close()
}

// ora is an OpenRaster file while its layers are made.
type ora struct {
	d             *develop.Developed
	w, h          int
	painted       []int // the parts that have a layer
	before, after *image.NRGBA
	layers        []*image.NRGBA // of the parts
	rest          *image.NRGBA   // what was done beside the parts; nil for nothing
}

func newOra(d *develop.Developed, w, h int) *ora {
	o := &ora{d: d, w: w, h: h}
	o.before, o.after = o.blank(), o.blank()
	for i := range d.Parts {
		if d.Parts[i].Plan != nil || d.Parts[i].Copy != nil {
			o.painted = append(o.painted, i)
			o.layers = append(o.layers, o.blank())
		}
	}
	return o
}

func (o *ora) blank() *image.NRGBA { return image.NewNRGBA(image.Rect(0, 0, o.w, o.h)) }

// strip renders a strip of all layers.
func (o *ora) strip(space *colour.Space, r raster.Rect) error {
	seen, err := o.d.Render(0, r)
	if err != nil {
		return err
	}
	if o.rest == nil && seen.Meant != nil {
		o.rest = o.blank()
	}
	raster.Parallel(r.H(), func(n int) {
		for x := range o.w {
			i := n*o.w + x
			at := 4 * ((r.Y0+n)*o.w + x)
			was, is := eight(space, seen.Given.Pix[3*i:3*i+3]), eight(space, seen.After.Pix[3*i:3*i+3])
			put(o.before.Pix[at:at+4], was, 255)
			put(o.after.Pix[at:at+4], is, 255)
			inside, under := false, was // under: what the layers so far make of it
			for k, part := range o.painted {
				m := seen.Masks[part]
				if m == nil || m.Pix[i] == 0 {
					continue
				}
				inside = true
				c, a := over(&under, is, float64(m.Pix[i])/raster.Whole)
				put(o.layers[k].Pix[at:at+4], c, uint8(math.Round(255*a)))
			}
			if !inside && seen.Meant != nil && seen.Meant[i] {
				put(o.rest.Pix[at:at+4], is, 255)
			}
		}
	})
	return nil
}

// over returns what colour, laid over what is under it with an opacity, gives the result, and lays it there. Where no colour can do
// that, the pixel is made as much more opaque as it takes.
func over(under *[3]float64, is [3]float64, opacity float64) (c [3]float64, a float64) {
	a = opacity
	for j := range is {
		if is[j] > under[j] {
			a = max(a, (is[j]-under[j])/(255-under[j]))
		} else if is[j] < under[j] {
			a = max(a, (under[j]-is[j])/under[j])
		}
	}
	a = math.Min(1, math.Ceil(255*a)/255)
	for j := range c {
		c[j] = math.Max(0, math.Min(255, (is[j]-(1-a)*under[j])/a))
		under[j] = (1-a)*under[j] + a*c[j]
	}
	return c, a
}

// write packs the layers.
func (o *ora) write(to io.Writer) error {
	layers := o.layers
	if o.rest != nil {
		layers = append(layers, o.rest)
	}
	stack := oraStack{Version: "0.0.3", W: o.w, H: o.h}
	for k := len(layers) - 1; k >= 0; k-- {
		name := "Beside the parts"
		if k < len(o.painted) {
			name = o.d.Parts[o.painted[k]].Name
		}
		stack.Layers = append(stack.Layers, oraLayer{name, fmt.Sprintf("data/part%d.png", k+1), 0, 0, "1.0", "svg:src-over"})
	}
	stack.Layers = append(stack.Layers, oraLayer{"As it came in", "data/before.png", 0, 0, "1.0", "svg:src-over"})

	picture := func(img image.Image) func(io.Writer) error {
		return func(to io.Writer) error { return (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(to, img) }
	}
	files := []struct {
		name  string
		write func(io.Writer) error
	}{
		{"mimetype", func(to io.Writer) error { _, err := io.WriteString(to, "image/openraster"); return err }}, // it comes first
		{"stack.xml", func(to io.Writer) error {
			if _, err := io.WriteString(to, xml.Header); err != nil {
				return err
			}
			return xml.NewEncoder(to).Encode(stack)
		}},
		{"data/before.png", picture(o.before)},
		{"mergedimage.png", picture(o.after)},
		{"Thumbnails/thumbnail.png", picture(thumbnail(o.after, 256))},
	}
	z := zip.NewWriter(to)
	add := func(name string, write func(io.Writer) error) error {
		to, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Store})
		if err != nil {
			return err
		}
		return write(to)
	}
	for _, f := range files {
		if err := add(f.name, f.write); err != nil {
			return err
		}
	}
	for k := range layers {
		if err := add(fmt.Sprintf("data/part%d.png", k+1), picture(layers[k])); err != nil {
			return err
		}
	}
	return z.Close()
}

// eight gives a linear colour of a space as sRGB values from 0 to 255, not rounded.
func eight(space *colour.Space, px []float32) (o [3]float64) {
	c := colour.RGB{float64(px[0]), float64(px[1]), float64(px[2])}
	if space != colour.SRGB {
		c = colour.SRGB.MapToGamut(colour.SRGB.Linear(space.Lab(c)))
	}
	for i := range o {
		o[i] = 255 * math.Max(0, math.Min(1, colour.SRGBEncode(c[i])))
	}
	return o
}

func put(to []uint8, c [3]float64, a uint8) {
	to[0], to[1], to[2], to[3] = uint8(c[0]+0.5), uint8(c[1]+0.5), uint8(c[2]+0.5), a
}

// thumbnail makes a picture small by averaging.
func thumbnail(p *image.NRGBA, side int) *image.NRGBA {
	w, h := p.Rect.Dx(), p.Rect.Dy()
	k := math.Max(1, float64(max(w, h))/float64(side))
	src := make([]float32, 3*w*h)
	for i := range w * h {
		for c := range 3 {
			src[3*i+c] = float32(p.Pix[4*i+c])
		}
	}
	ow, oh := max(1, int(float64(w)/k)), max(1, int(float64(h)/k))
	small := raster.Shrink(src, w, h, 3, 0, 0, k, ow, oh)
	o := image.NewNRGBA(image.Rect(0, 0, ow, oh))
	for i := range ow * oh {
		put(o.Pix[4*i:4*i+4], [3]float64{float64(small[3*i]), float64(small[3*i+1]), float64(small[3*i+2])}, 255)
	}
	return o
}
