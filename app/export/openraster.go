package export

import (
	"archive/zip"
	"bytes"
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
	var painted []int
	for i := range d.Parts {
		if d.Parts[i].Plan != nil || d.Parts[i].Copy != nil {
			painted = append(painted, i)
		}
	}
	frame := image.Rect(0, 0, w, h)
	before, after := image.NewNRGBA(frame), image.NewNRGBA(frame)
	layers := make([]*image.NRGBA, len(painted), len(painted)+1)
	for k := range layers {
		layers[k] = image.NewNRGBA(frame)
	}
	var rest *image.NRGBA // what was done beside the parts
	for y := 0; y < h; y += strip {
		r := raster.Rect{Y0: y, X1: w, Y1: min(h, y+strip)}
		o, err := d.Render(0, r)
		if err != nil {
			return err
		}
		if rest == nil && o.Meant != nil {
			rest = image.NewNRGBA(frame)
		}
		raster.Parallel(r.H(), func(n int) {
			for x := range w {
				i := n*w + x
				at := 4 * ((y+n)*w + x)
				was, is := eight(p.Space, o.Given.Pix[3*i:3*i+3]), eight(p.Space, o.After.Pix[3*i:3*i+3])
				put(before.Pix[at:at+4], was, 255)
				put(after.Pix[at:at+4], is, 255)
				inside, under := false, was // under: what the layers so far make of it
				for k, part := range painted {
					m := o.Masks[part]
					if m == nil || m.Pix[i] == 0 {
						continue
					}
					inside = true
					// What, laid over what is under it with this opacity, gives the result.
					// Where no colour can do that, the pixel is made as much more opaque as it takes.
					a := float64(m.Pix[i]) / raster.Whole
					for j := range is {
						if is[j] > under[j] {
							a = max(a, (is[j]-under[j])/(255-under[j]))
						} else if is[j] < under[j] {
							a = max(a, (under[j]-is[j])/under[j])
						}
					}
					a = math.Min(1, math.Ceil(255*a)/255)
					var c [3]float64
					for j := range c {
						c[j] = math.Max(0, math.Min(255, (is[j]-(1-a)*under[j])/a))
						under[j] = (1-a)*under[j] + a*c[j]
					}
					put(layers[k].Pix[at:at+4], c, uint8(math.Round(255*a)))
				}
				if !inside && o.Meant != nil && o.Meant[i] {
					put(rest.Pix[at:at+4], is, 255)
				}
			}
		})
		if progress != nil {
			if err := progress(0.6 * float64(r.Y1) / float64(h)); err != nil {
				return err
			}
		}
	}
	if rest != nil {
		layers = append(layers, rest)
	}
	f, err := os.Create(out)
	if err != nil {
		return err
	}
	defer f.Close()
	z := zip.NewWriter(f)
	add := func(name string, write func(io.Writer) error) error {
		to, err := z.CreateHeader(&zip.FileHeader{Name: name, Method: zip.Store})
		if err != nil {
			return err
		}
		return write(to)
	}
	picture := func(img image.Image) func(io.Writer) error {
		return func(to io.Writer) error { return (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(to, img) }
	}
	if err := add("mimetype", func(to io.Writer) error { _, err := io.WriteString(to, "image/openraster"); return err }); err != nil {
		return err
	}
	stack := oraStack{Version: "0.0.3", W: w, H: h}
	for k := len(layers) - 1; k >= 0; k-- {
		name := "Beside the parts"
		if k < len(painted) {
			name = d.Parts[painted[k]].Name
		}
		stack.Layers = append(stack.Layers, oraLayer{name, fmt.Sprintf("data/part%d.png", k+1), 0, 0, "1.0", "svg:src-over"})
	}
	stack.Layers = append(stack.Layers, oraLayer{"As it came in", "data/before.png", 0, 0, "1.0", "svg:src-over"})
	var b bytes.Buffer
	b.WriteString(xml.Header)
	if err := xml.NewEncoder(&b).Encode(stack); err != nil {
		return err
	}
	if err := add("stack.xml", func(to io.Writer) error { _, err := b.WriteTo(to); return err }); err != nil {
		return err
	}
	if err := add("data/before.png", picture(before)); err != nil {
		return err
	}
	for k := range layers {
		if err := add(fmt.Sprintf("data/part%d.png", k+1), picture(layers[k])); err != nil {
			return err
		}
	}
	if err := add("mergedimage.png", picture(after)); err != nil {
		return err
	}
	if err := add("Thumbnails/thumbnail.png", picture(thumbnail(after, 256))); err != nil {
		return err
	}
	if err := z.Close(); err != nil {
		return err
	}
	return f.Close()
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
