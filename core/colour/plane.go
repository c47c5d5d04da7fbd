package colour

import "math"

// Oklch returns the polar form of an Oklab: lightness 0..1, chroma, and hue in degrees, 0..360. The hue of a grey is 0.
func (o Oklab) Oklch() (l, c, h float64) {
	c = math.Hypot(o[1], o[2])
	if c < 2e-4 { // what rounding leaves of no colour
		return o[0], c, 0
	}
	h = math.Atan2(o[2], o[1]) * 180 / math.Pi
	if h < 0 {
		h += 360
	}
	return o[0], c, h
}

// OklabOfPolar returns the Oklab of a lightness, a chroma and a hue in degrees.
func OklabOfPolar(l, c, h float64) Oklab {
	sin, cos := math.Sincos(h * math.Pi / 180)
	return Oklab{l, c * cos, c * sin}
}

// PlaneChroma is the Oklch chroma at the right edge of a plane: 85 % by the percentages of CSS Color 4, a little more than the most
// that sRGB reaches.
const PlaneChroma = 0.34

// Plane draws the Oklch colours of one hue in w x h pixels of 8 bit sRGB RGBA: chroma from nothing at the left to PlaneChroma, lightness
// from 0 at the bottom to 1. Colours that sRGB cannot reach are transparent; along the edge of what it reaches runs a dark line. With a
// table of inks a dotted line, black and white, runs along the edge of what they reach, on its inner side.
func Plane(hue float64, w, h int, inks *InkTable) []byte {
	fast := NewFast(SRGB)
	sin, cos := math.Sincos(hue * math.Pi / 180)
	at := func(x, y int) (r, g, b float32, in bool) {
		l, c := 1-(float64(y)+0.5)/float64(h), PlaneChroma*(float64(x)+0.5)/float64(w)
		r, g, b = fast.Light(float32(l), float32(c*cos), float32(c*sin))
		const e = 1e-4 // for rounding, and less of it in the dark, where it is all there is
		return r, g, b, min(r, g, b) >= -min(e, 1e-3*max(r, g, b)) && max(r, g, b) <= 1+e
	}
	pix := make([]byte, 4*w*h)
	inside, missed := make([]bool, w*h), make([]bool, w*h) // of sRGB; by the inks
	for y := range h {
		for x := range w {
			i := y*w + x
			p := pix[4*i:]
			if r, g, b, in := at(x, y); in {
				p[0], p[1], p[2], p[3] = Byte(r), Byte(g), Byte(b), 255
				inside[i] = true
				missed[i] = inks != nil && inks.Missed(RGB{float64(p[0]) / 255, float64(p[1]) / 255, float64(p[2]) / 255}) > InkMissed
				continue
			}
			for _, by := range [][2]int{{-1, 0}, {0, 1}, {0, -1}} {
				if xx, yy := x+by[0], y+by[1]; xx >= 0 && yy >= 0 && yy < h {
					if _, _, _, in := at(xx, yy); in {
						p[0], p[1], p[2], p[3] = 40, 40, 40, 255
					}
				}
			}
		}
	}
	if inks != nil {
		dotted(pix, w, h, inside, missed)
	}
	return pix
}

// dotted draws a dotted line along the inner side of what was missed.
func dotted(pix []byte, w, h int, inside, missed []bool) {
	for y := range h {
		for x := range w {
			if i := y*w + x; !inside[i] || missed[i] {
				continue
			}
			for _, by := range [][2]int{{1, 0}, {-1, 0}, {0, 1}, {0, -1}} {
				if xx, yy := x+by[0], y+by[1]; xx >= 0 && yy >= 0 && xx < w && yy < h && missed[yy*w+xx] {
					v := byte(255 * ((x + y) / 3 % 2))
					copy(pix[4*(y*w+x):], []byte{v, v, v})
					break
				}
			}
		}
	}
}
