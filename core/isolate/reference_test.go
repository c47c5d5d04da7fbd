package isolate

import (
	"encoding/json"
	"math"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/raster"
)

// reference is what scikit-image, SciPy and OpenCV say; testdata/reference.py makes it and names the versions.
type reference struct {
	W, H            int
	Mask, Dilated   []uint8
	Areas, Holes    []int
	Signed          []float64
	Plane, Gauss    []float64
	Lab, Ways       []float64
	Beta            float64
	Starts          []int
	Guide, Filtered []float64
	Words           []uint8
	Boundary        []float64
}

func readReference(t *testing.T) reference {
	t.Helper()
	b, err := os.ReadFile("testdata/reference.json")
	require.NoError(t, err)
	var r reference
	require.NoError(t, json.Unmarshal(b, &r))
	require.Len(t, r.Mask, r.W*r.H)
	return r
}

func floats(v []float64) []float32 {
	o := make([]float32, len(v))
	for i := range v {
		o[i] = float32(v[i])
	}
	return o
}

func TestAreasAsScikitImageLabelsThem(t *testing.T) {
	r := readReference(t)
	m, err := labelAreas(r.W, r.H, nil, func(_ int, q raster.Rect) ([]float32, error) {
		out := make([]float32, q.W()*q.H())
		for i := range out {
			out[i] = float32(r.Mask[q.Y0*r.W+i])
		}
		return out, nil
	})
	require.NoError(t, err)
	var areas, holes []int
	for _, a := range m.list() {
		if a.Hole {
			holes = append(holes, a.Pixels)
		} else {
			areas = append(areas, a.Pixels)
		}
		x, y := int(a.At[0]), int(a.At[1])
		assert.Equal(t, !a.Hole, r.Mask[y*r.W+x] == 1, "its point lies in it")
	}
	require.NotEmpty(t, r.Holes)
	assert.Equal(t, r.Areas, areas)
	assert.Equal(t, r.Holes, holes)
}

func TestDistancesBlurAndWaysAsSciPyHasThem(t *testing.T) {
	r := readReference(t)
	d := raster.SignedDistance(func(i int) bool { return r.Mask[i] == 1 }, r.W, r.H)
	for i, want := range r.Signed {
		require.InDelta(t, want, d[i], 1e-3, "distance at %d", i)
	}
	p := floats(r.Plane)
	raster.Gauss(p, r.W, r.H, 1.7)
	for i, want := range r.Gauss {
		require.InDelta(t, want, p[i], 2e-4, "blur at %d", i)
	}
	f := &planes{w: r.W, h: r.H, lab: floats(r.Lab)}
	start := make([]bool, r.W*r.H)
	for _, s := range r.Starts {
		start[s] = true
	}
	ways := geodesic(f, f.steps(func(i, j, _ int) float32 { return crossing(float32(math.Exp(-r.Beta * f.diff2(i, j)))) }), start, 3)
	for i, want := range r.Ways {
		require.InDelta(t, want, ways[i], 0.03, "way to %d", i) // raster scans come close
	}
}

func TestGrownHardMasksAsOpenCVDilatesThem(t *testing.T) {
	r := readReference(t)
	m := make([]float32, len(r.Mask))
	for i, v := range r.Mask {
		m[i] = float32(v)
	}
	g := grown(m, r.W, r.H, 2)
	differ := 0
	for i, want := range r.Dilated {
		if (g[i] >= 0.5) != (want == 1) {
			differ++
		}
	}
	// A disc of pixels has corners that a distance of 2 has not.
	assert.Less(t, differ, len(r.Mask)/12)
}

func TestGuidedFilterAsItsEquations(t *testing.T) {
	r := readReference(t)
	guide := &raster.RGB{W: r.W, H: r.H, Pix: floats(r.Guide)}
	share := make([]float32, len(r.Mask))
	for i, v := range r.Mask {
		share[i] = float32(v)
	}
	for i, v := range GuidedFilter(guide, share, 2) {
		require.InDelta(t, r.Filtered[i], v, 2e-3, "at %d", i)
	}
}

// Where every window's colours lie on one line between two, the matte is exactly the place on it: the case in
// which the closed form of Levin, Lischinski and Weiss (2008, section 3) has no error.
func TestMatteOfTwoColoursIsTheirMixture(t *testing.T) {
	const w, h = 60, 40
	pic := raster.NewRGB(w, h)
	zones, pull, truth := make([]uint8, w*h), make([]float32, w*h), make([]float64, w*h)
	f, b := [3]float64{0.6, 0.1, 0.05}, [3]float64{0.1, 0.3, 0.5}
	for y := range h {
		for x := range w {
			i := y*w + x
			a := math.Max(0, math.Min(1, (float64(x)-15+6*math.Sin(float64(y)*0.4))/30))
			truth[i] = a
			for c := range 3 {
				pic.Pix[3*i+c] = float32(a*f[c] + (1-a)*b[c])
			}
			zones[i] = zoneOpen
			if a == 0 && x < 6 {
				zones[i] = zoneOut
			} else if a == 1 && x > 53 {
				zones[i] = zoneIn
			}
		}
	}
	for i, v := range solveMatte(pic, zones, pull, nil) {
		require.InDelta(t, truth[i], v, 0.04, "at %d, %d", i%w, i/w)
	}
}

func TestABoundaryMapIsThatOfScikitImagesHistograms(t *testing.T) {
	r := readReference(t)
	require.Len(t, r.Words, r.W*r.H)
	got, most := mixtureEdges(&planes{w: r.W, h: r.H}, r.Words, 5, nil), 0.0
	for i, want := range r.Boundary {
		require.InDelta(t, want, got[i], 2e-5, "at %d", i)
		most = max(most, want)
	}
	require.Greater(t, most, 0.5, "there are boundaries in it")
}
