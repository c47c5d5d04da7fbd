package app

import (
	"image"
	"math/rand"
	"testing"

	"github.com/stretchr/testify/require"

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
