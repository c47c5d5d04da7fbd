package app

import (
	"image"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/raster"
)

// What is drawn over a row at a time is what is said of each pixel by itself.
func TestOverlayIsThatOfEachPixel(t *testing.T) {
	const half = raster.Whole / 2
	rnd := rand.New(rand.NewSource(1))
	for range 100 {
		m := raster.NewMask(1+rnd.Intn(60), 1+rnd.Intn(150))
		for i := range m.Pix {
			m.Pix[i] = []uint16{0, 0, raster.Whole, raster.Whole, uint16(rnd.Intn(raster.Whole + 1))}[rnd.Intn(5)]
		}
		x0, y0 := rnd.Intn(m.W), rnd.Intn(m.H)
		r := raster.Rect{X0: x0, Y0: y0, X1: x0 + 1 + rnd.Intn(m.W-x0), Y1: y0 + 1 + rnd.Intn(m.H-y0)}
		was := make([]byte, 4*r.W()*r.H())
		rnd.Read(was)
		from := image.Pt(rnd.Intn(41)-20, rnd.Intn(41)-20)
		ov := Overlay{Tint: [3]byte{200, 10, 90}, Strength: 1.2 * rnd.Float64()}
		for _, show := range []string{"mask", "tint", "hatch"} {
			got := append([]byte(nil), was...)
			overlay(got, r.W(), r.H(), r, from, m, show, ov)
			for i := range r.W() * r.H() {
				x, y := i%r.W(), i/r.W()
				v := m.Pix[(y+y0)*m.W+x+x0]
				want := append([]byte(nil), was[4*i:4*i+4]...)
				away := 256 - int(v>>8)
				switch show {
				case "mask":
					want[0], want[1], want[2] = byte(v>>8), byte(v>>8), byte(v>>8)
				case "tint":
					mix(want[:3], ov.Tint, away*int(min(1, ov.Strength)*256+0.5)>>8)
				default:
					mix(want[:3], grey(hatchGrey), away*50>>8)
					if (x+y+from.X+from.Y+9000)%9 < 2 {
						mix(want[:3], grey(hatchLine), away*120>>8)
					}
				}
				for _, d := range [][2]int{{-1, 0}, {1, 0}, {0, -1}, {0, 1}} {
					nx, ny := x+x0+d[0], y+y0+d[1]
					if show != "mask" && nx >= 0 && ny >= 0 && nx < m.W && ny < m.H && (m.Pix[ny*m.W+nx] >= half) != (v >= half) {
						want[0], want[1], want[2] = 0, 0, 0
						if v >= half {
							want[0], want[1], want[2] = 255, 255, 255
						}
					}
				}
				require.Equal(t, want, got[4*i:4*i+4], "%s at %d, %d of %v", show, x, y, r)
			}
		}
		bare, like := append([]byte(nil), was...), append([]byte(nil), was...)
		overlay(bare, r.W(), r.H(), r, from, nil, "hatch", ov)
		overlay(like, r.W(), r.H(), r, from, raster.NewMask(m.W, m.H), "hatch", ov)
		require.Equal(t, like, bare, "no part is one of nothing")
	}
}

// What is in another space is shown in sRGB.
func TestWhatIsInAnotherSpaceIsShownInSRGB(t *testing.T) {
	rnd := rand.New(rand.NewSource(2))
	pic, part := raster.NewRGB(70, 40), raster.NewMask(70, 40)
	for i := range part.Pix {
		part.Pix[i] = uint16(rnd.Intn(raster.Whole + 1))
	}
	for i := range pic.Pix {
		pic.Pix[i] = 1.1*rnd.Float32() - 0.05
	}
	// Linear-light Display P3 in linear-light sRGB, as its primaries and sRGB's give it; the figures are from memory.
	p3 := [3][3]float64{{1.2249402, -0.2249404, 0}, {-0.0420569, 1.0420571, 0}, {-0.0196376, -0.0786361, 1.0982735}}
	r := raster.Rect{X0: 3, Y0: 5, X1: 66, Y1: 38}
	for _, show := range []string{"picture", "cutout", "rest"} {
		got := display(colour.DisplayP3, pic, r, image.Point{}, part, show, Overlay{Ground: "dark"})
		for i := range r.W() * r.H() {
			at := (i/r.W()+r.Y0)*pic.W + i%r.W() + r.X0
			k := map[string]float64{"picture": 1, "cutout": float64(part.Pix[at]) / raster.Whole, "rest": 1 - float64(part.Pix[at])/raster.Whole}[show]
			for c := range 3 {
				v := 0.0
				for j := range 3 {
					v += p3[c][j] * float64(pic.Pix[3*at+j])
				}
				v = float64(grounds["dark"]) + k*(v-float64(grounds["dark"]))
				require.InDelta(t, 255*colour.SRGBEncode(max(0, min(1, v))), got[4*i+c], 0.56, "%s, pixel %d", show, i)
			}
			require.EqualValues(t, 255, got[4*i+3])
		}
	}
}

func BenchmarkDisplay(b *testing.B) {
	pic := raster.NewRGB(948, 722)
	for i := range pic.Pix {
		pic.Pix[i] = float32(i%997) / 996
	}
	for _, s := range []*colour.Space{colour.SRGB, colour.DisplayP3} {
		b.Run(s.Name, func(b *testing.B) {
			for b.Loop() {
				display(s, pic, raster.Rect{X1: 948, Y1: 722}, image.Point{}, nil, "picture", Overlay{})
			}
		})
	}
}
