package recolour

import (
	"episema/core/colour"
	"episema/core/raster"
)

// Margin is how many pixels around a rectangle Apply wants to see, to know what a mixed pixel is mixed of.
const Margin = 7

const window = 2 // half size of the neighbourhood that tells inside and outside colours, applied twice

// Stats counts what Apply met.
type Stats struct {
	Inside, OutOfGamut, Clipped int
}

// Apply recolours pic in place within inner, a rectangle of pic's own pixels; mask has pic's size.
// Pixels with no share in the part are not touched. Mixed pixels keep their share of the background: only
// the part's share of them changes.
func (p *Plan) Apply(pic *raster.RGB, mask *raster.Mask, inner raster.Rect) Stats {
	var st Stats
	w := pic.W
	mixed := false
	for y := inner.Y0; y < inner.Y1 && !mixed; y++ {
		for _, v := range mask.Pix[y*w+inner.X0 : y*w+inner.X1] {
			if v != 0 && v < sureIn {
				mixed = true
				break
			}
		}
	}
	var near *neighbours
	if mixed {
		near = newNeighbours(pic, mask)
	}
	for y := inner.Y0; y < inner.Y1; y++ {
		for x := inner.X0; x < inner.X1; x++ {
			i := y*w + x
			m := mask.Pix[i]
			if m == 0 {
				continue
			}
			st.Inside++
			px := pic.Pix[3*i : 3*i+3 : 3*i+3]
			var r, g, b float32
			if m >= sureIn {
				r, g, b = p.paint(px[0], px[1], px[2])
			} else {
				a := float32(m) / raster.Whole
				f := near.inside(i, px, a)
				r, g, b = p.paint(f[0], f[1], f[2])
				r = max(0, px[0]+a*(r-f[0]))
				g = max(0, px[1]+a*(g-f[1]))
				b = max(0, px[2]+a*(b-f[2]))
			}
			if r < 0 || g < 0 || b < 0 || r > 1 || g > 1 || b > 1 {
				if r > 1 && g > 1 && b > 1 {
					st.Clipped++
				} else if r < -0.001 || g < -0.001 || b < -0.001 || r > 1.001 || g > 1.001 || b > 1.001 {
					st.OutOfGamut++
				}
				c := p.space.MapToGamut(colour.RGB{float64(r), float64(g), float64(b)})
				r, g, b = float32(c[0]), float32(c[1]), float32(c[2])
			}
			px[0], px[1], px[2] = r, g, b
		}
	}
	return st
}

const (
	sureIn  = raster.Whole * 98 / 100
	sureOut = raster.Whole * 2 / 100
)

// neighbours holds the mean colours surely inside and surely outside around each pixel.
type neighbours struct {
	in, out [4][]float32
}

func newNeighbours(pic *raster.RGB, mask *raster.Mask) *neighbours {
	n := &neighbours{}
	size := pic.W * pic.H
	for c := range n.in {
		n.in[c], n.out[c] = make([]float32, size), make([]float32, size)
	}
	for i, m := range mask.Pix {
		to := &n.in
		if m <= sureOut {
			to = &n.out
		} else if m < sureIn {
			continue
		}
		for c := range 3 {
			to[c][i] = pic.Pix[3*i+c]
		}
		to[3][i] = 1
	}
	for range 2 { // twice a box is nearly a tent: near pixels count more
		for c := range n.in {
			raster.BoxSum(n.in[c], pic.W, pic.H, window)
			raster.BoxSum(n.out[c], pic.W, pic.H, window)
		}
	}
	return n
}

// inside gives the part's own light in a pixel of which it has the share a.
func (n *neighbours) inside(i int, px []float32, a float32) [3]float32 {
	var f [3]float32
	nf, nb := n.in[3][i], n.out[3][i]
	if nf < 0.5 {
		// A thin thing: no pixel near lies wholly in it.
		if nb < 0.5 {
			copy(f[:], px)
			return f
		}
		for c := range f {
			f[c] = max(0, (px[c]-(1-a)*n.out[c][i]/nb)/a)
		}
		return f
	}
	for c := range f {
		f[c] = n.in[c][i] / nf
	}
	if nb >= 0.5 {
		k := a * a
		for c := range f {
			own := max(0, (px[c]-(1-a)*n.out[c][i]/nb)/a)
			own = min(own, 2*f[c]+0.02)
			f[c] += k * (own - f[c])
		}
	}
	return f
}
