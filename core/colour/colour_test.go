package colour

import (
	"encoding/binary"
	"encoding/json"
	"math"
	"math/rand"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The 34 pairs of Sharma, Wu and Dalal, The CIEDE2000 color-difference formula: implementation notes,
// supplementary test data, and mathematical observations (2005), table 1.
var sharma = [][7]float64{
	{50, 2.6772, -79.7751, 50, 0, -82.7485, 2.0425}, {50, 3.1571, -77.2803, 50, 0, -82.7485, 2.8615},
	{50, 2.8361, -74.0200, 50, 0, -82.7485, 3.4412}, {50, -1.3802, -84.2814, 50, 0, -82.7485, 1},
	{50, -1.1848, -84.8006, 50, 0, -82.7485, 1}, {50, -0.9009, -85.5211, 50, 0, -82.7485, 1},
	{50, 0, 0, 50, -1, 2, 2.3669}, {50, -1, 2, 50, 0, 0, 2.3669},
	{50, 2.4900, -0.0010, 50, -2.4900, 0.0009, 7.1792}, {50, 2.4900, -0.0010, 50, -2.4900, 0.0010, 7.1792},
	{50, 2.4900, -0.0010, 50, -2.4900, 0.0011, 7.2195}, {50, 2.4900, -0.0010, 50, -2.4900, 0.0012, 7.2195},
	{50, -0.0010, 2.4900, 50, 0.0009, -2.4900, 4.8045}, {50, -0.0010, 2.4900, 50, 0.0010, -2.4900, 4.8045},
	{50, -0.0010, 2.4900, 50, 0.0011, -2.4900, 4.7461}, {50, 2.5, 0, 50, 0, -2.5, 4.3065},
	{50, 2.5, 0, 73, 25, -18, 27.1492}, {50, 2.5, 0, 61, -5, 29, 22.8977}, {50, 2.5, 0, 56, -27, -3, 31.9030},
	{50, 2.5, 0, 58, 24, 15, 19.4535}, {50, 2.5, 0, 50, 3.1736, 0.5854, 1}, {50, 2.5, 0, 50, 3.2972, 0, 1},
	{50, 2.5, 0, 50, 1.8634, 0.5757, 1}, {50, 2.5, 0, 50, 3.2592, 0.3350, 1},
	{60.2574, -34.0099, 36.2677, 60.4626, -34.1751, 39.4387, 1.2644}, {63.0109, -31.0961, -5.8663, 62.8187, -29.7946, -4.0864, 1.2630},
	{61.2901, 3.7196, -5.3901, 61.4292, 2.2480, -4.9620, 1.8731}, {35.0831, -44.1164, 3.7933, 35.0232, -40.0716, 1.5901, 1.8645},
	{22.7233, 20.0904, -46.6940, 23.0331, 14.9730, -42.5619, 2.0373}, {36.4612, 47.8580, 18.3852, 36.2715, 50.5065, 21.2231, 1.4146},
	{90.8027, -2.0831, 1.4410, 91.1528, -1.6435, 0.0447, 1.4441}, {90.9257, -0.5406, -0.9208, 88.6381, -0.8985, -0.7239, 1.5381},
	{6.7747, -0.2908, -2.4247, 5.8714, -0.0985, -2.2286, 0.6377}, {2.0776, 0.0795, -1.1350, 0.9033, -0.0636, -0.5514, 0.9082},
}

func TestDeltaE00AgainstPublishedPairs(t *testing.T) {
	require.Len(t, sharma, 34)
	for i, p := range sharma {
		a, b := Lab{p[0], p[1], p[2]}, Lab{p[3], p[4], p[5]}
		assert.InDelta(t, p[6], DeltaE00(a, b), 5e-5, "pair %d", i+1)
		assert.InDelta(t, p[6], DeltaE00(b, a), 5e-5, "pair %d, swapped", i+1)
	}
}

func TestOklabAgainstItsAuthorsPairs(t *testing.T) {
	// Ottosson, A perceptual color space for image processing (2020), the table of XYZ and Oklab pairs; the
	// matrices here are CSS Color 4's, which differ in later digits.
	for _, p := range [][6]float64{{0.950, 1, 1.089, 1, 0, 0}, {1, 0, 0, 0.450, 1.236, -0.019}, {0, 1, 0, 0.922, -0.671, 0.263}, {0, 0, 1, 0.153, -1.415, -0.449}} {
		o := OklabOf(XYZ{p[0], p[1], p[2]})
		for c := range o {
			assert.InDelta(t, p[3+c], o[c], 1.5e-3)
		}
	}
}

func TestSRGBCurveOfIEC61966(t *testing.T) {
	// IEC 61966-2-1: the linear part up to 0.04045 and its end at 0.0031308; half of the code is 0.2140 of
	// the light (from memory).
	assert.InDelta(t, 0.0031308, SRGBDecode(0.04045), 1e-6)
	assert.InDelta(t, 0.21404, SRGBDecode(0.5), 1e-5)
	for i := range 256 {
		v := float64(i) / 255
		assert.InDelta(t, v, SRGBEncode(SRGBDecode(v)), 1e-12)
	}
}

func TestBradfordAgainstICC(t *testing.T) {
	// The D65 to D50 matrix as CSS Color 4, section 10.2's sample code prints it.
	want := Matrix{{1.0479297925449969, 0.022946870601609652, -0.05019226628920524},
		{0.02962780877005599, 0.9904344267538799, -0.017073799063418826}, {-0.009243040646204504, 0.015055191490298152, 0.7518742814281371}}
	for i := range want {
		for j := range want[i] {
			assert.InDelta(t, want[i][j], toD50[i][j], 2e-5)
		}
	}
}

func TestCSSNotationsOfOneGreen(t *testing.T) {
	// The web platform tests of CSS Color 4 write the named colour green in every notation (values from memory).
	want, err := ParseCSS("green")
	require.NoError(t, err)
	for _, css := range []string{"#008000", "#008000ff", "rgb(0 128 0)", "rgb(0, 128, 0)", "rgba(0,128,0,1)", "rgb(0% 50.196% 0% / 100%)", "hsl(120 100% 25.1%)", "hwb(120 0% 49.8%)",
		"lab(46.277 -47.562 48.583)", "lch(46.277 67.989 134.391)", "lch(46.277% 67.989 0.373308turn)", "oklab(0.51975 -0.1403 0.10768)", "oklch(51.975% 0.17686 142.495deg)",
		"color(srgb 0 0.50196 0)", "color(srgb-linear 0 0.21586 0)", " GREEN "} {
		got, err := ParseCSS(css)
		require.NoError(t, err, css)
		assert.Less(t, DeltaE00(want, got), 0.05, css)
	}
	p3, err := ParseCSS("color(display-p3 0.26374 0.59085 0.16434)")
	require.NoError(t, err)
	assert.Equal(t, "#009900", Hex(p3))
}

func TestWrongColoursSayWhatIsWrong(t *testing.T) {
	for css, part := range map[string]string{"": "nothing was typed", "#12": "3 or 6 digits", "#12345g": "hex digits", "lab(200 0 0)": "0 to 100", "cmyk(": "bracket",
		"cmyk(0 1 1)": "four shares", "cmyk(0 1 1 200)": "share of ink", "rgb(1 2)": "three values", "lab(1,2,3)": "spaces", "blurple": "neither a name", "rgb(0 0 0 / 50%)": "opaque",
		"#1d6a7280": "opaque", "oklab(5 0 0)": "0 to 1", "rgb(a b c)": "not a number", "color(nope 1 1 1)": "not known", "rgb(nan 0 0)": "not a number", "lab(1e999 0 0)": "not a number"} {
		_, err := ParseCSS(css)
		var e *SyntaxError
		require.ErrorAs(t, err, &e, css)
		assert.Contains(t, err.Error(), part, css)
	}
}

func FuzzParseCSS(f *testing.F) {
	for _, s := range []string{"#fff", "lab(50 10 -20)", "oklch(0.5 0.1 20)", "rgb(1,2,3)", "color(xyz 0 0 0)", "hsl(1turn 5% 5%)", "("} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		l, err := ParseCSS(s)
		if err != nil {
			return
		}
		for _, v := range l {
			if math.IsNaN(v) || math.IsInf(v, 0) {
				t.Fatalf("%q gave %v", s, l)
			}
		}
		if h := Hex(l); len(h) != 7 {
			t.Fatalf("%q gave the hex %q", s, h)
		}
	})
}

func TestGamutMappingKeepsHue(t *testing.T) {
	r := rand.New(rand.NewSource(1))
	for range 3000 {
		o := Oklab{r.Float64(), r.Float64()*0.7 - 0.35, r.Float64()*0.7 - 0.35}
		in := SRGB.FromOklab(o)
		out := SRGB.MapToGamut(in)
		require.True(t, InGamut(out), "%v", o)
		if InGamut(in) {
			continue
		}
		m := SRGB.Oklab(out)
		if math.Hypot(m[1], m[2]) < 0.04 || o[0] < 0.1 || o[0] > 0.95 {
			continue // too grey or too near black and white for a hue to mean anything
		}
		d := math.Abs(math.Atan2(m[2], m[1]) - math.Atan2(o[2], o[1]))
		d = math.Min(d, 2*math.Pi-d) * 180 / math.Pi
		// CSS Color 4, 13.2 clips within a just noticeable difference of 0.02, which may turn the hue a little.
		assert.LessOrEqual(t, d*math.Pi/180*math.Hypot(m[1], m[2]), 0.021, "%v turned by %v degrees", o, d)
	}
	assert.Equal(t, RGB{1, 1, 1}, SRGB.MapToGamut(SRGB.FromOklab(Oklab{1.2, 0.1, 0})))
	assert.Equal(t, RGB{}, SRGB.MapToGamut(SRGB.FromOklab(Oklab{-0.2, 0.1, 0})))
}

func TestLabRoundTrip(t *testing.T) {
	r := rand.New(rand.NewSource(2))
	for range 1000 {
		c := RGB{r.Float64(), r.Float64(), r.Float64()}
		for _, s := range []*Space{SRGB, DisplayP3} {
			got := s.Linear(s.Lab(c))
			back := s.FromOklab(s.Oklab(c))
			for k := range c {
				assert.InDelta(t, c[k], got[k], 1e-9)
				assert.InDelta(t, c[k], back[k], 1e-6)
			}
		}
	}
	white := SRGB.Lab(RGB{1, 1, 1})
	assert.InDelta(t, 100, white[0], 1e-6)
	assert.InDelta(t, 0, white.Chroma(), 0.02)
}

// profile builds a matrix profile as ICC.1:2010 lays it out.
func profile(trc []byte) []byte {
	x := func(a, b, c float64) []byte {
		o := append([]byte("XYZ \x00\x00\x00\x00"), make([]byte, 12)...)
		for i, v := range []float64{a, b, c} {
			binary.BigEndian.PutUint32(o[8+4*i:], uint32(int32(math.Round(v*65536))))
		}
		return o
	}
	m := SRGB.ToD50
	tags := map[string][]byte{"rXYZ": x(m[0][0], m[1][0], m[2][0]), "gXYZ": x(m[0][1], m[1][1], m[2][1]), "bXYZ": x(m[0][2], m[1][2], m[2][2]), "rTRC": trc, "gTRC": trc, "bTRC": trc}
	head := make([]byte, 128)
	copy(head[16:], "RGB XYZ ")
	copy(head[36:], "acsp")
	out := binary.BigEndian.AppendUint32(head, uint32(len(tags)))
	at := 132 + 12*len(tags)
	var body []byte
	for _, k := range []string{"rXYZ", "gXYZ", "bXYZ", "rTRC", "gTRC", "bTRC"} {
		out = append(out, k...)
		out = binary.BigEndian.AppendUint32(out, uint32(at+len(body)))
		out = binary.BigEndian.AppendUint32(out, uint32(len(tags[k])))
		body = append(body, tags[k]...)
	}
	return append(out, body...)
}

// srgbPara is the sRGB curve as parametric curve of type 3.
func srgbPara() []byte {
	b := []byte("para\x00\x00\x00\x00\x00\x03\x00\x00")
	for _, v := range []float64{2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045} {
		b = binary.BigEndian.AppendUint32(b, uint32(int32(math.Round(v*65536))))
	}
	return b
}

func TestICCProfileOfSRGBIsSRGB(t *testing.T) {
	s, err := ParseICC(profile(srgbPara()))
	require.NoError(t, err)
	for i := range 256 {
		v := float64(i) / 255
		c := RGB{v, 1 - v, 0.3}
		a, b := s.Lab(s.LinearOf(c)), SRGB.Lab(SRGB.LinearOf(c))
		assert.Less(t, DeltaE00(a, b), 0.05)
		assert.InDelta(t, v, s.Decode[0].Coded(s.Decode[0].Linear(v)), 1e-4)
	}
}

func FuzzParseICC(f *testing.F) {
	f.Add(profile(srgbPara()))
	f.Add(profile([]byte("curv\x00\x00\x00\x00\x00\x00\x00\x01\x02\x33")))
	f.Add(profile([]byte("curv\x00\x00\x00\x00\x00\x00\x00\x03\x00\x00\x40\x00\xff\xff")))
	f.Fuzz(func(t *testing.T, b []byte) {
		s, err := ParseICC(b)
		if err != nil {
			return
		}
		for _, v := range []float64{-0.1, 0, 0.001, 0.5, 1, 1.5} {
			s.LinearOf(RGB{v, v, v})
			s.Coded(RGB{v, v, v})
		}
	})
}

// The same conversions by another hand: see testdata/conversions.mjs.
func TestConversionsAgainstAnotherLibrary(t *testing.T) {
	b, err := os.ReadFile("testdata/conversions.json")
	require.NoError(t, err)
	var rows []struct {
		CSS        string
		Lab, Oklab [3]float64
		DE00       *float64
	}
	require.NoError(t, json.Unmarshal(b, &rows))
	require.Len(t, rows, 300)
	var last Lab
	for _, r := range rows {
		l, err := ParseCSS(r.CSS)
		require.NoError(t, err, r.CSS)
		o := SRGB.Oklab(SRGB.Linear(l))
		for c := range 3 {
			assert.InDelta(t, r.Lab[c], l[c], 0.02, "%s as Lab", r.CSS)
			assert.InDelta(t, r.Oklab[c], o[c], 0.0005, "%s as Oklab", r.CSS)
		}
		if r.DE00 != nil {
			assert.InDelta(t, *r.DE00, DeltaE00(last, l), 0.02, "%s to the one before", r.CSS)
		}
		last = l
	}
}
