package colour

import (
	"encoding/binary"
	"encoding/json"
	"fmt"
	"math"
	"math/rand"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The gamut mapping of CSS Color 4 by another hand: see testdata/gamut.mjs (culori 4.0.2).
func TestGamutMappingAgainstAnotherLibrary(t *testing.T) {
	b, err := os.ReadFile("testdata/gamut.json")
	require.NoError(t, err)
	var rows []struct {
		CSS string
		RGB RGB
	}
	require.NoError(t, json.Unmarshal(b, &rows))
	require.Len(t, rows, 200)
	for _, r := range rows {
		l, err := ParseCSS(r.CSS)
		require.NoError(t, err)
		out := SRGB.MapToGamut(SRGB.Linear(l))
		want := SRGB.LinearOf(r.RGB)
		assert.Less(t, DeltaE00(SRGB.Lab(want), SRGB.Lab(out)), 0.7, "%s: %v, not %v", r.CSS, SRGB.Coded(out), r.RGB)
	}
}

// As much chroma is kept as there is room for: a little more of it, at the same hue and lightness, would be seen to be clipped.
func TestGamutMappingKeepsAllTheChromaThereIs(t *testing.T) {
	r := rand.New(rand.NewSource(5))
	mapped := 0
	for range 3000 {
		o := Oklab{0.15 + 0.75*r.Float64(), r.Float64()*0.7 - 0.35, r.Float64()*0.7 - 0.35}
		in := SRGB.FromOklab(o)
		if InGamut(in) {
			continue
		}
		m := SRGB.Oklab(SRGB.MapToGamut(in))
		was, is := math.Hypot(o[1], o[2]), math.Hypot(m[1], m[2])
		more := is*1.05 + 0.01
		if more >= was {
			continue
		}
		mapped++
		k := more / was
		require.False(t, InGamut(SRGB.FromOklab(Oklab{o[0], o[1] * k, o[2] * k})), "%v became %v, and there was room for chroma %g", o, m, more)
		require.InDelta(t, o[0], m[0], 0.03, "lightness stays within what is noticeable")
	}
	require.Greater(t, mapped, 800)
}

// The plain formula of CSS Color 5, section 10.1: red = 1 - min(1, cyan * (1 - black) + black), worked by hand.
func TestInkWithoutAProfileIsThePlainFormula(t *testing.T) {
	for css, want := range map[string][3]float64{
		"device-cmyk(0 0 0 0)": {255, 255, 255}, "device-cmyk(0 0 0 1)": {0, 0, 0}, "device-cmyk(0 0 0 0.5)": {127.5, 127.5, 127.5}, "device-cmyk(1 0 0 0)": {0, 255, 255},
		"device-cmyk(0 0.5 1 0.2)": {204, 102, 0}, "device-cmyk(0.3 0.3 0.3 0.3)": {124.95, 124.95, 124.95}, "cmyk(0 81 81 30)": {178.5, 33.915, 33.915},
	} {
		l, err := ParseCSS(css)
		require.NoError(t, err, css)
		got := SRGB.Coded(SRGB.Linear(l))
		for c := range 3 {
			assert.InDelta(t, want[c], got[c]*255, 0.05, css)
		}
	}
}

func para(kind uint16, v ...float64) []byte {
	b := binary.BigEndian.AppendUint16([]byte("para\x00\x00\x00\x00"), kind)
	b = append(b, 0, 0)
	for _, p := range v {
		b = binary.BigEndian.AppendUint32(b, uint32(int32(math.Round(p*65536))))
	}
	return b
}

// curves are all the kinds of curve of ICC.1:2010, sections 10.5 and 10.15, with every parameter at work.
var curves = map[string][]byte{
	"none": []byte("curv\x00\x00\x00\x00\x00\x00\x00\x00"), "gamma 2.2": []byte("curv\x00\x00\x00\x00\x00\x00\x00\x01\x02\x33"),
	"table":  append([]byte("curv\x00\x00\x00\x00\x00\x00\x00\x05"), 0, 0, 0x10, 0, 0x38, 0, 0x90, 0, 0xff, 0xff),
	"type 0": para(0, 1.8), "type 1": para(1, 2.4, 1/1.2, 0.2/1.2), "type 2": para(2, 2.2, 0.9, 0.05, 0.02), "type 3": para(3, 2.4, 1/1.055, 0.055/1.055, 1/12.92, 0.04045),
	"type 4": para(4, 2.4, 0.9, 0.06, 0.3, 0.1, 0.03, 0.01),
}

// LittleCMS reads the same profiles (transicc of Debian's liblcms2-utils, absolute colorimetric without adaptation of the black).
func TestEveryKindOfCurveAgainstLittleCMS(t *testing.T) {
	for name, curve := range curves {
		t.Run(name, func(t *testing.T) {
			b := profile(curve)
			s, err := ParseICC(b)
			require.NoError(t, err)
			// The header as a reader that is stricter than ours wants it.
			binary.BigEndian.PutUint32(b, uint32(len(b)))
			binary.BigEndian.PutUint32(b[8:], 0x04200000)
			copy(b[12:], "mntr")
			for i, v := range []uint32{0x0000f6d6, 0x00010000, 0x0000d32d} { // D50
				binary.BigEndian.PutUint32(b[68+4*i:], v)
			}
			path := filepath.Join(t.TempDir(), "p.icc")
			require.NoError(t, os.WriteFile(path, b, 0o600))
			var in strings.Builder
			var want []RGB
			for i := range 21 {
				v := float64(i) / 20
				want = append(want, RGB{v, v * v, 1 - v})
				fmt.Fprintf(&in, "%g %g %g\n", 255*v, 255*v*v, 255*(1-v))
			}
			cmd := exec.Command("transicc", "-n", "-t", "1", "-i", path, "-o", "*Lab")
			cmd.Stdin = strings.NewReader(in.String())
			out, err := cmd.Output()
			require.NoError(t, err, "transicc is in Debian's liblcms2-utils")
			lines := strings.Split(strings.TrimSpace(string(out)), "\n")
			require.Len(t, lines, len(want))
			for i, line := range lines {
				var l Lab
				_, err := fmt.Sscan(strings.NewReplacer("L*=", "", "a*=", "", "b*=", "").Replace(line), &l[0], &l[1], &l[2])
				require.NoError(t, err, line)
				got := s.Lab(s.LinearOf(want[i]))
				assert.Less(t, DeltaE00(l, got), 0.3, "%v: %v, LittleCMS %v", want[i], got, l)
			}
			for i := range 101 {
				v := float64(i) / 100
				assert.InDelta(t, v, s.Decode[0].Coded(s.Decode[0].Linear(v)), 2e-3, "there and back at %g", v)
			}
		})
	}
}
