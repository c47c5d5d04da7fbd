package app

import (
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

// ground gives the light behind a cut-out at a pixel of the view.
func (o Overlay) ground(x, y int) float32 {
	if o.Ground == "checks" {
		if (x/8+y/8)%2 == 0 {
			return 0.6
		}
		return 0.3
	}
	if v, ok := grounds[o.Ground]; ok {
		return v
	}
	return grounds["middle"]
}

// display turns linear light into sRGB bytes for the screen and draws what the view shows of the mask.
func display(space *colour.Space, pic *raster.RGB, r raster.Rect, part *raster.Mask, show string, o Overlay) []byte {
	w, h := r.W(), r.H()
	out := make([]byte, 4*w*h)
	m := colour.SRGB.FromD50.Times(space.ToD50)
	same, cut := space == colour.SRGB, show == "cutout" || show == "rest"
	raster.Parallel((h+63)/64, func(n int) {
		for y := n * 64; y < min(h, n*64+64); y++ {
			j := (y+r.Y0)*pic.W + r.X0
			row, to := pic.Pix[3*j:3*(j+w)], out[4*y*w:4*(y+1)*w]
			if same && !cut {
				code(to, row)
				continue
			}
			for x := range w {
				a, b, c := row[3*x], row[3*x+1], row[3*x+2]
				if !same {
					v := m.Mul([3]float64{float64(a), float64(b), float64(c)})
					a, b, c = float32(v[0]), float32(v[1]), float32(v[2])
				}
				if cut {
					k := float32(0)
					if part != nil {
						k = float32(part.Pix[j+x]) / raster.Whole
					}
					if show == "rest" {
						k = 1 - k
					}
					g := o.ground(x, y)
					a, b, c = g+k*(a-g), g+k*(b-g), g+k*(c-g)
				}
				to[4*x], to[4*x+1], to[4*x+2], to[4*x+3] = colour.Byte(a), colour.Byte(b), colour.Byte(c), 255
			}
		}
	})
	if show == "cast" || show == "changed" {
		show = "mask"
	}
	if show == "hatch" || show == "tint" || show == "mask" {
		overlay(out, w, h, r, part, show, o)
	}
	return out
}

// code codes a row of linear light, three values a pixel, in four bytes a pixel.
func code(to []byte, row []float32) {
	for len(row) >= 3 && len(to) >= 4 {
		to[0], to[1], to[2], to[3] = colour.Byte(row[0]), colour.Byte(row[1]), colour.Byte(row[2]), 255
		row, to = row[3:], to[4:]
	}
}

// overlay draws the mask: what is not selected is hatched or tinted; the edge is a double line, white
// beside black, so that it shows on any picture.
func overlay(out []byte, w, h int, r raster.Rect, part *raster.Mask, show string, ov Overlay) {
	at := func(x, y int) uint16 {
		if part == nil {
			return 0
		}
		return part.Pix[(y+r.Y0)*part.W+x+r.X0]
	}
	mix := func(o []byte, v [3]byte, a int) {
		for c := range 3 {
			o[c] = byte((int(o[c])*(256-a) + int(v[c])*a) >> 8)
		}
	}
	grey := func(v byte) [3]byte { return [3]byte{v, v, v} }
	tint := int(max(0, min(1, ov.Strength))*256 + 0.5)
	const half = raster.Whole / 2
	raster.Parallel((h+63)/64, func(n int) {
		for y := n * 64; y < min(h, n*64+64); y++ {
			for x := range w {
				o := out[4*(y*w+x) : 4*(y*w+x)+4]
				v := at(x, y)
				if show == "mask" {
					g := byte(v >> 8)
					o[0], o[1], o[2] = g, g, g
					continue
				}
				away := 256 - int(v>>8)
				if show == "tint" {
					mix(o, ov.Tint, away*tint>>8)
				} else {
					mix(o, grey(0x60), away*50>>8)
					if (x+y)%9 < 2 {
						mix(o, grey(0xf4), away*120>>8)
					}
				}
				if part == nil {
					continue
				}
				// The line runs between pixels: white just inside, black just outside.
				in := v >= half
				cross := func(dx, dy int) bool {
					xx, yy := x+dx+r.X0, y+dy+r.Y0
					return xx >= 0 && yy >= 0 && xx < part.W && yy < part.H && (part.Pix[yy*part.W+xx] >= half) != in
				}
				if cross(1, 0) || cross(-1, 0) || cross(0, 1) || cross(0, -1) {
					if in {
						o[0], o[1], o[2] = 255, 255, 255
					} else {
						o[0], o[1], o[2] = 0, 0, 0
					}
				}
			}
		}
	})
}
