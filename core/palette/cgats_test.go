package palette

import (
	"fmt"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
)

const measured = `CGATS.17
ORIGINATOR	"a reader"	# of the depot
NUMBER_OF_FIELDS	5
BEGIN_DATA_FORMAT
SAMPLE_ID	SAMPLE_NAME	%s
END_DATA_FORMAT
NUMBER_OF_SETS	2
BEGIN_DATA
A1	"Tram side, panel 3"	%s
A2	"Lamp"	%s
END_DATA
`

func TestMeasurementsAreReadAsLabXYZAndSpectra(t *testing.T) {
	flat := func(v string) string { return strings.TrimSpace(strings.Repeat(v+" ", 31)) }
	var nm, percent []string
	for i := range 31 {
		nm, percent = append(nm, fmt.Sprintf("SPECTRAL_NM%d", 400+10*i)), append(percent, fmt.Sprintf("nm%d", 400+10*i))
	}
	for name, text := range map[string]string{
		"Lab":                fmt.Sprintf(measured, "LAB_L LAB_A LAB_B", "50.0000 0 0", "76,5 0 0"),
		"XYZ":                fmt.Sprintf(measured, "XYZ_X XYZ_Y XYZ_Z", "17.7615 18.4187 15.1954", "48.7 50.5 41.66"),
		"spectra":            fmt.Sprintf(measured, strings.Join(nm, " "), flat("0.184187"), flat("0.505")),
		"spectra in percent": fmt.Sprintf(measured, strings.Join(percent, " "), flat("18.4187"), flat("50.5")),
		"with old line ends": strings.ReplaceAll(fmt.Sprintf(measured, "LAB_L LAB_A LAB_B", "50 0 0", "76.5 0 0"), "\n", "\r\n"),
		"another order":      fmt.Sprintf(strings.Replace(measured, "SAMPLE_NAME	%s", "SAMPLE_NAME DATE %s", 1), "LAB_B LAB_L LAB_A", "today 0 50 0", "today 0 76.5 0"),
	} {
		list, err := Read("", []byte(text))
		require.NoError(t, err, name)
		require.Len(t, list, 2, name)
		assert.Equal(t, "Tram side, panel 3", list[0].Name, name)
		for i, want := range []colour.Lab{{50, 0, 0}, {76.4, 0, 0}} {
			got, err := colour.ParseCSS(list[i].CSS)
			require.NoError(t, err)
			assert.Less(t, colour.DeltaE00(want, got), 0.2, "%s: %s", name, list[i].CSS)
		}
	}
}

func TestAWrongMeasurementSaysItsLine(t *testing.T) {
	lab := func(data string) string {
		return "CGATS.17\nBEGIN_DATA_FORMAT\nSAMPLE_ID LAB_L LAB_A LAB_B\nEND_DATA_FORMAT\nBEGIN_DATA\n" + data + "\nEND_DATA\n"
	}
	for text, says := range map[string]string{
		lab("1 50 0"):                         "line 6: the sample that begins here has 3 values",
		lab("1 50 0 0\n2 50 zero 0"):          `line 7: "zero", of LAB_A, is no number`,
		lab("1 5000 0 0"):                     "line 6: Lab 5000.0 0.0 0.0 is no colour of a surface",
		lab("1 NaN 0 0"):                      "is no number",
		lab("\"1 50 0 0"):                     "line 6: a quotation mark is not closed",
		"CGATS.17\nBEGIN_DATA 1 END_DATA":     "line 1: it has no BEGIN_DATA_FORMAT",
		"BEGIN_DATA_FORMAT A END_DATA_FORMAT": "has no BEGIN_DATA",
		strings.Replace(lab("1 50 0 0"), "LAB_L", "DENS_C", 1):                 "neither LAB_L",
		strings.Replace(lab("1 50 0 0"), "SAMPLE_ID LAB_L LAB_A LAB_B", "", 1): "names no columns",
		lab(""): "no colour in it",
		strings.Replace(lab("1 50 0 0 200"), "LAB_B", "LAB_B TOLERANCE_DE00", 1):  `line 6: the tolerance "200" is no number from 0 to 100`,
		strings.Replace(lab("1 50 0 0 some"), "LAB_B", "LAB_B TOLERANCE_DE00", 1): `the tolerance "some" is no number`,
	} {
		_, err := Read("", []byte(text))
		require.Error(t, err, text)
		assert.Contains(t, err.Error(), says, text)
	}
}

func FuzzCGATS(f *testing.F) {
	f.Add(fmt.Sprintf(measured, "LAB_L LAB_A LAB_B", "50 0 0", "76.5 0 0"))
	f.Add("CGATS.17\nBEGIN_DATA_FORMAT\nNM400 R_410\nEND_DATA_FORMAT\nBEGIN_DATA\n1 2\nEND_DATA")
	f.Fuzz(func(t *testing.T, s string) {
		list, err := Read("cgats", []byte(s))
		if err != nil {
			return
		}
		for _, e := range list {
			_, err := colour.ParseCSS(e.CSS)
			assert.NoError(t, err)
		}
	})
}
