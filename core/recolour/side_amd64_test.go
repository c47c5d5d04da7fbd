package recolour

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"
)

// What is done side by side is what is done one after the other, to the last bit: of any number of pixels, also where a value is nothing, less
// than nothing or far above what there can be.
func TestSideBySideIsOneAfterTheOther(t *testing.T) {
	if wide == 0 {
		t.Skip("this processor does nothing side by side")
	}
	at := wide
	defer func() { wide = at }()
	r := rand.New(rand.NewPCG(7, 7))
	value := func() float32 {
		switch r.IntN(12) {
		case 0:
			return 0
		case 1:
			return float32(math.Copysign(0, -1))
		case 2:
			return 1
		case 3:
			return -r.Float32()
		case 4:
			return 100 * r.Float32()
		case 5:
			return 1e-20 * r.Float32()
		}
		return r.Float32()
	}
	type seen struct {
		t       taken
		l       [13][block]float32
		pix, to [3 * block]float32
		found   [2]float32
	}
	lane := func(l []float32) {
		for i := range l {
			l[i] = value()
		}
	}
	var table [filmSteps + 2]float32
	lane(table[:])
	shade := make([]float32, 2*shadeSteps)
	lane(shade)
	for n := 1; n <= block; n++ {
		for range 30 {
			var s seen
			for _, l := range []*[block]float32{&s.t.back, &s.t.mean, &s.t.gain, &s.t.even, &s.t.own, &s.t.given, &s.t.gloss, &s.t.shine} {
				lane(l[:])
			}
			for i := range s.l {
				lane(s.l[i][:])
			}
			lane(s.pix[:])
			for i := range s.to { // so that most results stay within 0..1
				s.to[i] = 0.2 + 0.6*r.Float32()
			}
			k := [5]float32{value(), value(), value(), value(), 0.1 + r.Float32()}
			within := r.IntN(3) > 0
			do := func(s seen, side int) seen {
				wide = side
				three := func(i int) *[3][]float32 { return &[3][]float32{s.l[i][:n], s.l[i+1][:n], s.l[i+2][:n]} }
				s.t.giveBack(s.l[0][:n], s.l[1][:n], k[0], k[1])
				s.t.average(three(0), three(3), n, k[2])
				if within {
					s.t.sharpen(s.l[6][:n], k[3])
				}
				s.t.deepen(n, shade)
				s.t.weigh(three(3), n, &weighing{k[0], k[1], k[2], k[3]})
				s.t.relight(&view{in: *three(0), e: *three(3), h: *three(6)}, n, &relighting{of: [3]float32{k[0], k[1], k[2]}, body: [3]float32{k[3], k[4], k[0]}, veil: k[1]})
				s.t.mix(s.l[7][:n], s.l[0][:n], s.l[1][:n], s.l[3][:n], &mixing{k[0], k[1], k[2], k[3]})
				least, most := ends(s.l[0][:n], s.l[1][:n], s.l[2][:n])
				s.found[0], s.found[1] = least+0, most+0 // nothing is nothing, whatever its sign
				curve(s.l[8][:n], &table, k[4])
				curveWhole(s.l[9][:n], s.l[10][:n], s.l[11][:n], &table, k[4])
				var o lanes
				o.apart(s.pix[:3*n])
				for c := range o {
					s.l[4+c] = o[c]
					for i := range o[c] { // near what was
						if within {
							o[c][i] += 0.1 * s.l[c][i]
						}
					}
				}
				for i := 0; i < n; { // as Apply does: what stays within is added to at once, and then some one by one
					i += put(s.to[3*i:3*n], s.pix[3*i:3*n], o[0][i:n], o[1][i:n], o[2][i:n])
					for end := min(n, i+8); i < end; i++ {
						for c := range 3 {
							s.to[3*i+c] += o[c][i] - s.pix[3*i+c]
						}
					}
				}
				return s
			}
			a, b := do(s, at), do(s, 0)
			bits := func(s *seen) (all []uint32) {
				for _, l := range [][]float32{s.t.back[:], s.t.mean[:], s.t.gain[:], s.t.even[:], s.t.own[:], s.t.given[:], s.t.gloss[:], s.t.shine[:], s.to[:], s.found[:]} {
					for _, v := range l {
						all = append(all, math.Float32bits(v))
					}
				}
				for i := range s.l {
					for _, v := range s.l[i] {
						all = append(all, math.Float32bits(v))
					}
				}
				return all
			}
			require.Equal(t, bits(&b), bits(&a), "%d pixels", n)
		}
	}
}
