package colour

import (
	"encoding/binary"
	"errors"
	"fmt"
	"math"
	"sort"
)

// ErrNotMatrix is returned for profiles that are not of the matrix and curve kind.
var ErrNotMatrix = fmt.Errorf("the colour profile is not of the matrix and curve kind")

// ParseICC reads an RGB matrix/TRC profile (ICC.1:2010, 8.3.3 and 10.5, 10.15) into a Space.
// Table-based, grey and CMYK profiles give ErrNotMatrix.
func ParseICC(b []byte) (*Space, error) {
	if len(b) < 132 || string(b[36:40]) != "acsp" {
		return nil, fmt.Errorf("the colour profile is damaged")
	}
	if string(b[16:20]) != "RGB " || string(b[20:24]) != "XYZ " {
		return nil, ErrNotMatrix
	}
	n := binary.BigEndian.Uint32(b[128:])
	if n > 200 || len(b) < 132+int(n)*12 {
		return nil, fmt.Errorf("the colour profile's tag table is damaged")
	}
	tags := map[string][]byte{}
	for i := range int(n) {
		e := b[132+12*i:]
		off, size := uint64(binary.BigEndian.Uint32(e[4:])), uint64(binary.BigEndian.Uint32(e[8:]))
		if off+size > uint64(len(b)) || size < 8 {
			return nil, fmt.Errorf("the colour profile's tag %q points outside it", e[:4])
		}
		tags[string(e[:4])] = b[off : off+size]
	}
	if tags["A2B0"] != nil {
		return nil, ErrNotMatrix
	}
	var m Matrix
	var curves [3]Curve
	for c, k := range []string{"r", "g", "b"} {
		x := tags[k+"XYZ"]
		if len(x) < 20 || string(x[:4]) != "XYZ " {
			return nil, ErrNotMatrix
		}
		for i := range 3 {
			m[i][c] = s15(x[8+4*i:])
		}
		curve, err := parseTRC(tags[k+"TRC"])
		if err != nil {
			return nil, err
		}
		curves[c] = curve
	}
	if _, ok := m.Inverse(); !ok {
		return nil, fmt.Errorf("the colour profile's primaries do not span a space")
	}
	return newSpace("embedded profile", m, curves), nil
}

func s15(b []byte) float64 { return float64(int32(binary.BigEndian.Uint32(b))) / 65536 }

// errCurve is of a curve that is not what it says.
var errCurve = errors.New("the colour profile's curve is damaged")

// parseTRC reads a tone reproduction curve (ISO 15076-1, 10.6 and 10.18).
func parseTRC(b []byte) (Curve, error) {
	if len(b) < 12 {
		return nil, ErrNotMatrix
	}
	switch string(b[:4]) {
	case "curv":
		return parseCurv(b)
	case "para":
		return parsePara(b)
	}
	return nil, errCurve
}

// parseCurv reads a curve of type curv: the identity, a power, or a table.
func parseCurv(b []byte) (Curve, error) {
	n := int(binary.BigEndian.Uint32(b[8:]))
	switch {
	case n == 0:
		return parametric{g: 1, a: 1}, nil
	case n == 1 && len(b) >= 14:
		return newParametric(float64(binary.BigEndian.Uint16(b[12:]))/256, 1, 0, 0, 0, 0, 0)
	case n <= 1 || n > 1<<16 || len(b) < 12+2*n:
		return nil, errCurve
	}
	t := make(table, n)
	for i := range t {
		t[i] = float64(binary.BigEndian.Uint16(b[12+2*i:])) / 65535
		if i > 0 && t[i] < t[i-1] {
			return nil, fmt.Errorf("the colour profile's curve falls")
		}
	}
	if t[n-1] <= t[0] {
		return nil, fmt.Errorf("the colour profile's curve is flat")
	}
	return t, nil
}

// parsePara reads a curve of type para, of one of its five kinds.
func parsePara(b []byte) (Curve, error) {
	kind := binary.BigEndian.Uint16(b[8:])
	counts := []int{1, 3, 4, 5, 7}
	if int(kind) >= len(counts) || len(b) < 12+4*counts[kind] {
		return nil, errCurve
	}
	var v [7]float64
	for i := range counts[kind] {
		v[i] = s15(b[12+4*i:])
	}
	switch kind {
	case 0:
		return newParametric(v[0], 1, 0, 0, 0, 0, 0)
	case 1, 2:
		if v[1] == 0 {
			return nil, errCurve
		}
		return newParametric(v[0], v[1], v[2], 0, -v[2]/v[1], v[3], v[3])
	case 3:
		return newParametric(v[0], v[1], v[2], v[3], v[4], 0, 0)
	}
	return newParametric(v[0], v[1], v[2], v[3], v[4], v[5], v[6])
}

// parametric is y = (a x + b)^g + e for x >= d, c x + f below it.
type parametric struct{ g, a, b, c, d, e, f float64 }

func newParametric(g, a, b, c, d, e, f float64) (Curve, error) {
	if g <= 0 || g > 20 || a <= 0 {
		return nil, fmt.Errorf("the colour profile's curve cannot be inverted")
	}
	return parametric{g, a, b, c, d, e, f}, nil
}

func (p parametric) Linear(x float64) float64 {
	if x < 0 {
		return -p.Linear(-x)
	}
	if x >= p.d {
		return math.Pow(math.Max(0, p.a*x+p.b), p.g) + p.e
	}
	return p.c*x + p.f
}

func (p parametric) Coded(y float64) float64 {
	if y < 0 {
		return -p.Coded(-y)
	}
	if knee := p.Linear(p.d); y >= knee || p.c == 0 {
		return (math.Pow(math.Max(0, y-p.e), 1/p.g) - p.b) / p.a
	}
	return (y - p.f) / p.c
}

type table []float64

func (t table) Linear(x float64) float64 {
	if x < 0 {
		return -t.Linear(-x)
	}
	f := x * float64(len(t)-1)
	i := int(f)
	if i >= len(t)-1 {
		// Past white the last slope goes on, so that highlights brighter than white stay apart.
		n := len(t)
		return t[n-1] + (f-float64(n-1))*(t[n-1]-t[n-2])
	}
	return t[i] + (t[i+1]-t[i])*(f-float64(i))
}

func (t table) Coded(y float64) float64 {
	if y < 0 {
		return -t.Coded(-y)
	}
	i := sort.SearchFloat64s(t, y)
	n := len(t)
	if i == 0 {
		return 0
	}
	if i >= n {
		return 1 + math.Max(0, y-t[n-1])
	}
	k := 0.0
	if d := t[i] - t[i-1]; d > 0 {
		k = (y - t[i-1]) / d
	}
	return (float64(i-1) + k) / float64(n-1)
}
