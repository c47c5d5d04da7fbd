package isolate

import (
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/raster"
)

// focused is a picture of one mixture of greys everywhere: within a disc it is what the camera was focused on, around it is blurred. The disc's
// greys are brought to the contrast that the blur left around it, so that nothing but focus parts them.
func focused(sharpGround bool) (*raster.RGB, *raster.Mask) {
	const w, h, blur = 400, 300, 5
	r := rand.New(rand.NewPCG(3, 3))
	fine, soft := make([]float32, w*h), make([]float32, w*h)
	for i := range fine {
		fine[i], soft[i] = float32(r.NormFloat64()), float32(r.NormFloat64())
	}
	raster.Gauss(fine, w, h, 0.6)
	raster.Gauss(soft, w, h, blur)
	spread := func(v []float32) float32 {
		var sum float64
		for _, x := range v {
			sum += float64(x * x)
		}
		return float32(math.Sqrt(sum / float64(len(v))))
	}
	kf, ks := 0.05/spread(fine), 0.05/spread(soft)
	p, m := raster.NewRGB(w, h), raster.NewMask(w, h)
	for i := range w * h {
		in := math.Hypot(float64(i%w)-190, float64(i/w)-150) < 85
		v := 0.55 + ks*soft[i]
		if in || sharpGround {
			v = 0.55 + kf*fine[i]
		}
		if in {
			m.Pix[i] = raster.Whole
		}
		for c := range 3 {
			p.Pix[3*i+c] = v * v * v
		}
	}
	return p, m
}

func TestFocusTellsWhatIsSharp(t *testing.T) {
	pic, mask := focused(false)
	r := newRegions(features(pic, nil), nil)
	require.NotNil(t, r.sharp)
	var in, out, nIn, nOut float64
	for i, o := range r.of {
		if mask.Pix[i] == raster.Whole {
			in, nIn = in+float64(r.sharp[o]), nIn+1
		} else {
			out, nOut = out+float64(r.sharp[o]), nOut+1
		}
	}
	assert.Greater(t, in/nIn, 0.85)
	assert.Less(t, out/nOut, 0.2)
	pic, _ = focused(true)
	assert.Nil(t, newRegions(features(pic, nil), nil).sharp, "all is sharp")
	assert.Nil(t, newRegions(features(raster.NewRGB(200, 150), nil), nil).sharp, "nothing is to be seen")
}

// Of two things that only focus parts a stroke takes the one that it is in.
func TestAStrokeKeepsToThePlaneOfFocus(t *testing.T) {
	pic, mask := focused(false)
	rest := raster.NewMask(mask.W, mask.H)
	for i, v := range mask.Pix {
		rest.Pix[i] = raster.Whole - v
	}
	sharp, blurred := [][2]float64{{150, 140}, {190, 160}, {230, 140}}, [][2]float64{{30, 150}, {60, 30}, {200, 30}, {370, 30}, {370, 270}}
	for name, c := range map[string]struct {
		in, out [][2]float64
		truth   *raster.Mask
	}{
		"what is sharp":   {sharp, blurred, mask},
		"what is blurred": {blurred, sharp, rest},
	} {
		sel, err := Compile(newPyramid(pic), []Pick{{Kind: "sweep", Join: "add", Strokes: []Stroke{stroke(8, c.in...)}}, {Kind: "sweep", Join: "subtract", Strokes: []Stroke{stroke(8, c.out...)}}}, nil, Inputs{}, kept{}, Exact)
		require.NoError(t, err)
		got, err := sel.Render(0, raster.Rect{X1: pic.W, Y1: pic.H})
		require.NoError(t, err)
		assert.Greater(t, iou(got, c.truth), 0.85, name)
	}
}

// Subject's first candidate is what is in focus where nothing else stands out.
func TestTheSubjectIsInFocus(t *testing.T) {
	pic, mask := focused(false)
	m := whole(t, newPyramid(pic), nil, Inputs{}, Pick{Kind: "subject", Join: "add"})
	assert.Greater(t, iou(m, mask), 0.9)
}
