package app

import (
	"image"

	"episema/core/colour"
	"episema/core/raster"
)

// Overlay is how a view shows the mask.
type Overlay struct {
	Tint     [3]byte // sRGB; what is not selected is tinted with it
	Strength float64 // of the tint, 0..1
	Ground   string  // of a cut-out: light, middle, dark or checks
}

// grounds of a cut-out, in linear light.
var grounds = map[string]float32{"light": 0.57, "middle": 0.254, "dark": 0.033}

// ground gives the light behind a cut-out at a pixel; see display.
func (o Overlay) ground(x, y int) float32 {
	if o.Ground == "checks" {
		if (x>>3+y>>3)&1 == 0 {
			return 0.6
		}
		return 0.3
	}
	if v, ok := grounds[o.Ground]; ok {
		return v
	}
	return grounds["middle"]
}

// display turns linear light into sRGB bytes for the screen and draws what the view shows of the mask. The view begins at pixel from of the
// whole picture at that size: lines and checks lie still on the picture, so that a view is what its pieces are.
func display(space *colour.Space, pic *raster.RGB, r raster.Rect, from image.Point, part *raster.Mask, show string, o Overlay) []byte {
	w, h := r.W(), r.H()
	out := make([]byte, 4*w*h)
	m := colour.SRGB.FromD50.Times(space.ToD50)
	same, cut := space == colour.SRGB, show == "cutout" || show == "rest"
	raster.Parallel((h+63)/64, func(n int) {
		var line []float32 // of the picture, in sRGB
		for y := n * 64; y < min(h, n*64+64); y++ {
			j := (y+r.Y0)*pic.W + r.X0
			row, to := pic.Pix[3*j:3*(j+w)], out[4*y*w:4*(y+1)*w]
			if !same || cut {
				line = append(line[:0], row...)
				row = line
			}
			if !same {
				through(m, row)
			}
			if cut {
				for x := range w {
					k := float32(0)
					if part != nil {
						k = float32(part.Pix[j+x]) / raster.Whole
					}
					if show == "rest" {
						k = 1 - k
					}
					g, c := o.ground(x+from.X, y+from.Y), row[3*x:3*x+3]
					c[0], c[1], c[2] = g+k*(c[0]-g), g+k*(c[1]-g), g+k*(c[2]-g)
				}
			}
			colour.Bytes(to, row)
		}
	})
	if show == "cast" || show == "changed" {
		show = "mask"
	}
	if show == "hatch" || show == "tint" || show == "mask" {
		overlay(out, w, h, r, from, part, show, o)
	}
	return out
}

// through takes a row of linear light into another space.
func through(m colour.Matrix, row []float32) {
	var f [3][3]float32
	for i := range f {
		for k, v := range m[i] {
			f[i][k] = float32(v)
		}
	}
	a, b, c := f[0], f[1], f[2]
	for ; len(row) >= 3; row = row[3:] {
		x, y, z := row[0], row[1], row[2]
		row[0], row[1], row[2] = a[0]*x+a[1]*y+a[2]*z, b[0]*x+b[1]*y+b[2]*z, c[0]*x+c[1]*y+c[2]*z
	}
}

// overlay draws the mask: what is not selected is hatched or tinted; the edge is a double line, white
// beside black, so that it shows on any picture.
func overlay(out []byte, w, h int, r raster.Rect, from image.Point, part *raster.Mask, show string, ov Overlay) {
	tint := int(max(0, min(1, ov.Strength))*256 + 0.5)
	none := make([]uint16, w)
	raster.Parallel((h+63)/64, func(n int) {
		for y := n * 64; y < min(h, n*64+64); y++ {
			o, row := out[4*y*w:4*(y+1)*w], none
			if part != nil {
				row = part.Pix[(y+r.Y0)*part.W+r.X0:][:w]
			}
			switch show {
			case "mask":
				for x, v := range row {
					g := byte(v >> 8)
					o[4*x], o[4*x+1], o[4*x+2] = g, g, g
				}
				continue
			case "tint":
				for x, v := range row {
					mix(o[4*x:4*x+3:4*x+3], ov.Tint, (256-int(v>>8))*tint>>8)
				}
			default:
				hatch(o, row, from.X+from.Y+y)
			}
			if part != nil {
				outline(o, part, r.X0, y+r.Y0, w)
			}
		}
	})
}

const hatchGrey, hatchLine = 0x60, 0xf4

// hatched is what becomes of a value that is not selected at all: between the lines of the hatch and on them.
var hatched = func() (t [2][256]byte) {
	for v := range 256 {
		p := [3]byte{byte(v), byte(v), byte(v)}
		mix(p[:], grey(hatchGrey), 50)
		t[0][v] = p[0]
		mix(p[:], grey(hatchLine), 120)
		t[1][v] = p[0]
	}
	return t
}()

func grey(v byte) [3]byte { return [3]byte{v, v, v} }

// hatch draws over a row what of the mask is not selected, in lines whose distance of the row's first pixel is at.
func hatch(o []byte, row []uint16, at int) {
	phase := (at%9 + 9) % 9 // 2 pixels of 9
	for x, v := range row {
		lined := phase < 2
		if phase++; phase == 9 {
			phase = 0
		}
		p := o[4*x : 4*x+3 : 4*x+3]
		switch v >> 8 {
		case 255:
		case 0:
			t := &hatched[0]
			if lined {
				t = &hatched[1]
			}
			p[0], p[1], p[2] = t[p[0]], t[p[1]], t[p[2]]
		default:
			away := 256 - int(v>>8)
			mix(p, grey(hatchGrey), away*50>>8)
			if lined {
				mix(p, grey(hatchLine), away*120>>8)
			}
		}
	}
}

// mix lays a over 256ths of a colour on a pixel.
func mix(o []byte, v [3]byte, a int) {
	if a == 0 {
		return
	}
	for c := range 3 {
		o[c] = byte((int(o[c])*(256-a) + int(v[c])*a) >> 8)
	}
}

// outline draws the edge of a mask in w pixels of a row, from x0, y on: it runs between pixels, white just inside, black just outside.
func outline(o []byte, part *raster.Mask, x0, y, w int) {
	const half = raster.Whole / 2
	row := part.Pix[y*part.W:][:part.W]
	up, down := row, row // beyond the mask nothing differs
	if y > 0 {
		up = part.Pix[(y-1)*part.W:][:part.W]
	}
	if y+1 < part.H {
		down = part.Pix[(y+1)*part.W:][:part.W]
	}
	left, in := row[max(0, x0-1)] >= half, row[x0] >= half
	for x := range w {
		i := x + x0
		right := row[min(part.W-1, i+1)] >= half
		if in != left || in != right || in != (up[i] >= half) || in != (down[i] >= half) {
			v := byte(0)
			if in {
				v = 255
			}
			o[4*x], o[4*x+1], o[4*x+2] = v, v, v
		}
		left, in = in, right
	}
}
