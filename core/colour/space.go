// Package colour holds colour spaces, adaptation, differences and gamut mapping.
//
// Linear values are light (1 = the white of the space), XYZ is relative to Y = 1 of the white, Lab is
// CIELAB with L* in 0..100. Nothing here does I/O.
package colour

import "math"

// RGB is a triple of a red, green and blue value; whether linear or coded is said where it is used.
type RGB [3]float64

// XYZ is a CIE 1931 tristimulus value relative to Y = 1 of the white.
type XYZ [3]float64

// Lab is a CIELAB colour; the white is said where it is used and is D50 unless it says otherwise.
type Lab [3]float64

// Matrix is a 3x3 matrix in row order.
type Matrix [3][3]float64

// Mul gives m x v.
func (m Matrix) Mul(v [3]float64) [3]float64 {
	return [3]float64{
		m[0][0]*v[0] + m[0][1]*v[1] + m[0][2]*v[2],
		m[1][0]*v[0] + m[1][1]*v[1] + m[1][2]*v[2],
		m[2][0]*v[0] + m[2][1]*v[1] + m[2][2]*v[2],
	}
}

// Times gives m x n.
func (m Matrix) Times(n Matrix) Matrix {
	var o Matrix
	for i := range 3 {
		for j := range 3 {
			for k := range 3 {
				o[i][j] += m[i][k] * n[k][j]
			}
		}
	}
	return o
}

// Inverse gives the inverse of m; ok is false where m is singular.
func (m Matrix) Inverse() (inv Matrix, ok bool) {
	c := func(i, j int) float64 {
		a, b, d, e := (i+1)%3, (i+2)%3, (j+1)%3, (j+2)%3
		return m[a][d]*m[b][e] - m[a][e]*m[b][d]
	}
	det := m[0][0]*c(0, 0) + m[0][1]*c(0, 1) + m[0][2]*c(0, 2)
	if math.Abs(det) < 1e-12 || math.IsNaN(det) {
		return inv, false
	}
	for i := range 3 {
		for j := range 3 {
			inv[j][i] = c(i, j) / det
		}
	}
	return inv, true
}

// D50 and D65 are the whites of CSS Color 4, section 10 (from the chromaticities of the ASTM tables).
var (
	D50 = XYZ{0.3457 / 0.3585, 1, (1 - 0.3457 - 0.3585) / 0.3585}
	D65 = XYZ{0.3127 / 0.3290, 1, (1 - 0.3127 - 0.3290) / 0.3290}
)

// bradford is the cone response matrix of the linear Bradford adaptation (ICC.1:2010, annex E).
var bradford = Matrix{{0.8951, 0.2664, -0.1614}, {-0.7502, 1.7135, 0.0367}, {0.0389, -0.0685, 1.0296}}

// Bradford gives the matrix that adapts XYZ from one white to another (ICC.1:2010, annex E.3).
func Bradford(from, to XYZ) Matrix {
	inv, _ := bradford.Inverse()
	a, b := bradford.Mul(from), bradford.Mul(to)
	scale := Matrix{{b[0] / a[0]}, {0, b[1] / a[1]}, {0, 0, b[2] / a[2]}}
	return inv.Times(scale).Times(bradford)
}

var (
	toD50, toD65 = Bradford(D65, D50), Bradford(D50, D65)
)

// srgbToXYZ is linear sRGB to XYZ D65 (CSS Color 4, section 10 and its sample code).
var srgbToXYZ = Matrix{
	{506752. / 1228815, 87881. / 245763, 12673. / 70218},
	{87098. / 409605, 175762. / 245763, 12673. / 175545},
	{7918. / 409605, 87881. / 737289, 1001167. / 1053270},
}

// p3ToXYZ is linear Display P3 to XYZ D65 (CSS Color 4 sample code).
var p3ToXYZ = Matrix{
	{608311. / 1250200, 189793. / 714400, 198249. / 1000160},
	{35783. / 156275, 247089. / 357200, 198249. / 2500400},
	{0, 32229. / 714400, 5220557. / 5000800},
}

// SRGBDecode turns one coded sRGB value into light (IEC 61966-2-1); negative values are mirrored.
func SRGBDecode(v float64) float64 {
	if v < 0 {
		return -SRGBDecode(-v)
	}
	if v <= 0.04045 {
		return v / 12.92
	}
	return math.Pow((v+0.055)/1.055, 2.4)
}

// SRGBEncode is the inverse of SRGBDecode.
func SRGBEncode(v float64) float64 {
	if v < 0 {
		return -SRGBEncode(-v)
	}
	if v <= 0.0031308 {
		return v * 12.92
	}
	return 1.055*math.Pow(v, 1/2.4) - 0.055
}

const (
	labE = 216. / 24389
	labK = 24389. / 27
)

func labF(t float64) float64 {
	if t > labE {
		return math.Cbrt(t)
	}
	return (labK*t + 16) / 116
}

// LabOf gives the CIELAB of an XYZ against its white (CIE 15:2004, 8.2.1).
func LabOf(c, white XYZ) Lab {
	x, y, z := labF(c[0]/white[0]), labF(c[1]/white[1]), labF(c[2]/white[2])
	return Lab{116*y - 16, 500 * (x - y), 200 * (y - z)}
}

// XYZOf is the inverse of LabOf.
func XYZOf(l Lab, white XYZ) XYZ {
	y := (l[0] + 16) / 116
	x, z := y+l[1]/500, y-l[2]/200
	inv := func(t float64) float64 {
		if c := t * t * t; c > labE {
			return c
		}
		return (116*t - 16) / labK
	}
	return XYZ{inv(x) * white[0], inv(y) * white[1], inv(z) * white[2]}
}

// Chroma gives C*ab and Hue the angle in degrees, 0..360.
func (l Lab) Chroma() float64 { return math.Hypot(l[1], l[2]) }

// Hue is the CIE LCh angle in degrees, 0..360.
func (l Lab) Hue() float64 {
	h := math.Atan2(l[2], l[1]) * 180 / math.Pi
	if h < 0 {
		h += 360
	}
	return h
}

// Space is a display-like RGB space: a matrix and a curve a channel.
type Space struct {
	Name    string
	ToD50   Matrix // linear RGB -> XYZ D50, Bradford adapted
	FromD50 Matrix
	Decode  [3]Curve // coded 0..1 -> linear
}

// Curve turns a coded value into light and back.
type Curve interface {
	Linear(coded float64) float64
	Coded(linear float64) float64
}

type srgbCurve struct{}

func (srgbCurve) Linear(v float64) float64 { return SRGBDecode(v) }
func (srgbCurve) Coded(v float64) float64  { return SRGBEncode(v) }

// SRGB and DisplayP3 are the spaces pictures are shown and delivered in.
var (
	SRGB      = newSpace("sRGB", toD50.Times(srgbToXYZ), [3]Curve{srgbCurve{}, srgbCurve{}, srgbCurve{}})
	DisplayP3 = newSpace("Display P3", toD50.Times(p3ToXYZ), [3]Curve{srgbCurve{}, srgbCurve{}, srgbCurve{}})
)

func newSpace(name string, toD50 Matrix, c [3]Curve) *Space {
	inv, _ := toD50.Inverse()
	return &Space{Name: name, ToD50: toD50, FromD50: inv, Decode: c}
}

// Lab gives the CIELAB D50 of a linear RGB of the space.
func (s *Space) Lab(linear RGB) Lab { return LabOf(XYZ(s.ToD50.Mul(linear)), D50) }

// Linear gives the linear RGB of a CIELAB D50 colour; channels leave 0..1 where it is out of gamut.
func (s *Space) Linear(l Lab) RGB { return RGB(s.FromD50.Mul(XYZOf(l, D50))) }

// LinearOf and Coded turn whole triples.
func (s *Space) LinearOf(coded RGB) RGB {
	return RGB{s.Decode[0].Linear(coded[0]), s.Decode[1].Linear(coded[1]), s.Decode[2].Linear(coded[2])}
}

// Coded is the inverse of LinearOf.
func (s *Space) Coded(linear RGB) RGB {
	return RGB{s.Decode[0].Coded(linear[0]), s.Decode[1].Coded(linear[1]), s.Decode[2].Coded(linear[2])}
}

// InGamut says whether every channel of a linear RGB is in 0..1 with a small allowance for rounding.
func InGamut(c RGB) bool {
	const e = 1e-4
	return c[0] >= -e && c[1] >= -e && c[2] >= -e && c[0] <= 1+e && c[1] <= 1+e && c[2] <= 1+e
}
