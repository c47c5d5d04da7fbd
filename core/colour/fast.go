package colour

import (
	"encoding/binary"
	"math"
)

// Fast turns linear light of a space into Oklab and back in single precision, within 1e-5 of Space.Oklab. It is for loops over
// pixels.
type Fast struct{ in, out [9]float32 }

// NewFast returns the Fast of a space.
func NewFast(s *Space) *Fast {
	// The cone matrices of the space follow from what Oklab gives for its primaries: both ways are linear but
	// for the cube roots in between, which the three cones' own values undo.
	o := &Fast{}
	var m Matrix
	for j := range 3 {
		var c RGB
		c[j] = 1
		lab := s.Oklab(c)
		cone := labToCone(float32(lab[0]), float32(lab[1]), float32(lab[2]))
		for i := range 3 {
			m[i][j] = float64(cone[i]) * float64(cone[i]) * float64(cone[i])
		}
	}
	inv, _ := m.Inverse() // the primaries of a space are three different colours
	for i := range 3 {
		for j := range 3 {
			o.in[3*i+j], o.out[3*i+j] = float32(m[i][j]), float32(inv[i][j])
		}
	}
	return o
}

// labToCone returns the cube roots of the cone values (the inverse of the second matrix of CSS Color 4's Oklab).
func labToCone(l, a, b float32) [3]float32 {
	return [3]float32{l + 0.3963377774*a + 0.2158037573*b, l - 0.1055613458*a - 0.0638541728*b, l - 0.0894841775*a - 1.2914855480*b}
}

// Oklab returns the Oklab of linear light.
func (o *Fast) Oklab(r, g, b float32) (l, a, bb float32) {
	x := Cbrt(o.in[0]*r + o.in[1]*g + o.in[2]*b)
	y := Cbrt(o.in[3]*r + o.in[4]*g + o.in[5]*b)
	z := Cbrt(o.in[6]*r + o.in[7]*g + o.in[8]*b)
	return 0.2104542683*x + 0.7936177747*y - 0.0040720430*z,
		1.9779985324*x - 2.4285922420*y + 0.4505937096*z,
		0.0259040425*x + 0.7827717125*y - 0.8086757549*z
}

// Light returns the linear light of an Oklab.
func (o *Fast) Light(l, a, b float32) (r, g, bb float32) {
	c := labToCone(l, a, b)
	x, y, z := c[0]*c[0]*c[0], c[1]*c[1]*c[1], c[2]*c[2]*c[2]
	return o.out[0]*x + o.out[1]*y + o.out[2]*z, o.out[3]*x + o.out[4]*y + o.out[5]*z, o.out[6]*x + o.out[7]*y + o.out[8]*z
}

// Cbrt is the cube root, by a guess from the exponent and two steps of Halley.
func Cbrt(v float32) float32 {
	if v == 0 {
		return 0
	}
	if v < 0 {
		return -Cbrt(-v)
	}
	y := math.Float32frombits(math.Float32bits(v)/3 + 709921077)
	for range 2 {
		c := y * y * y
		y *= (c + 2*v) / (2*c + v)
	}
	return y
}

// codeTable has the curve over the square root of light, of which it is nearly a straight line: so few steps stay in the nearest cache.
var codeTable = func() (t [codeSteps + 1]float32) {
	for i := range t {
		s := float64(i) / codeSteps
		t[i] = float32(SRGBEncode(s * s))
	}
	return t
}()

const codeSteps = 1 << 12

func sqrt32(v float32) float32 { return float32(math.Sqrt(float64(v))) }

// Coded32 is SRGBEncode from a table, within 2e-6 for light from 0 to 1.
func Coded32(v float32) float32 {
	if v <= 0.0031308 && v >= -0.0031308 { // the straight foot of the curve
		return 12.92 * v
	}
	if v < 0 || v >= 1 { // beyond the table
		return float32(SRGBEncode(float64(v)))
	}
	f := sqrt32(v) * codeSteps
	i := int(f)
	return codeTable[i] + (f-float32(i))*(codeTable[i+1]-codeTable[i])
}

// Code sets each value of coded to Coded32 of that of light. The two are as long, and may be one.
func Code(coded, light []float32) {
	light = light[:len(coded)]
	for i, v := range light {
		if v > 0.0031308 && v < 1 {
			f := sqrt32(v) * codeSteps
			k := int(f)
			coded[i] = codeTable[k] + (f-float32(k))*(codeTable[k+1]-codeTable[k])
		} else {
			coded[i] = Coded32(v)
		}
	}
}

var lightTable = func() [4097]float32 {
	var t [4097]float32
	for i := range t {
		t[i] = float32(SRGBDecode(float64(i) / 4096))
	}
	return t
}()

// Light32 is SRGBDecode from a table, within 1e-6 for values from 0 to 1.
func Light32(v float32) float32 {
	if v <= 0 || v >= 1 {
		return float32(SRGBDecode(float64(v)))
	}
	f := v * 4096
	i := int(f)
	return lightTable[i] + (f-float32(i))*(lightTable[i+1]-lightTable[i])
}

// Decode sets each value of light to Light32 of that of coded. The two are as long, and may be one.
func Decode(light, coded []float32) {
	coded = coded[:len(light)]
	for i, v := range coded {
		if v > 0 && v < 1 {
			f := v * 4096
			k := int(f)
			light[i] = lightTable[k] + (f-float32(k))*(lightTable[k+1]-lightTable[k])
		} else {
			light[i] = Light32(v)
		}
	}
}

// Light8 is the linear light of each value of 8 bits that is coded for sRGB.
var Light8 = func() (t [256]float32) {
	for i := range t {
		t[i] = float32(SRGBDecode(float64(i) / 255))
	}
	return t
}()

// byteOf is how 16 bits of linear light are coded in 8 for sRGB.
var byteOf = func() (t [1<<16 + 1]byte) {
	for i := range t {
		t[i] = byte(math.Round(SRGBEncode(float64(i)/(1<<16)) * 255))
	}
	return t
}()

// Byte returns linear light coded in 8 bits for sRGB, rounded; light outside 0..1 is kept at its ends.
func Byte(light float32) byte {
	i := int(light*(1<<16) + 0.5)
	if uint(i) > 1<<16 { // one branch that is hardly ever taken is quicker than two that ask for the ends
		if light > 0 {
			return 255
		}
		return 0
	}
	return byteOf[i]
}

// Bytes codes rows of linear light, three values a pixel, by Byte: four bytes a pixel, of which the last is 255. It does as many pixels as both have.
func Bytes(to []byte, row []float32) {
	n := min(len(row)/3, len(to)/4)
	i := 0
	if wide > 0 {
		if i = n &^ (wide - 1); i > 0 {
			codeWide(i, &to[0], &row[0], &byteOf[0])
		}
	}
	for ; i < n; i++ {
		v := row[3*i : 3*i+3 : 3*i+3]
		binary.LittleEndian.PutUint32(to[4*i:], uint32(Byte(v[0]))|uint32(Byte(v[1]))<<8|uint32(Byte(v[2]))<<16|0xff<<24)
	}
}
