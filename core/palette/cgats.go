package palette

import (
	"bytes"
	"fmt"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"episema/core/colour"
)

// isCGATS reports whether a text is of the format that instruments write: CGATS.17, ISO 28178.
func isCGATS(text string) bool {
	return strings.HasPrefix(text, "CGATS") || strings.HasPrefix(text, "ISO28178") || strings.Contains(text, "BEGIN_DATA_FORMAT")
}

// word is a word of a CGATS file and the line that it stands on.
type word struct {
	text string
	line int
}

// cgatsWords cuts a text into words; what stands in quotes is one, and # begins what is not read.
func cgatsWords(text string) (all []word, err error) {
	line := 1
	for i := 0; i < len(text); {
		switch c := text[i]; {
		case c == '\n':
			line++
			i++
		case c == ' ' || c == '\t' || c == '\r':
			i++
		case c == '#':
			for i < len(text) && text[i] != '\n' {
				i++
			}
		case c == '"':
			end := strings.IndexAny(text[i+1:], "\"\n")
			if end < 0 || text[i+1+end] == '\n' {
				return nil, &Error{line, "a quotation mark is not closed"}
			}
			all = append(all, word{text[i+1 : i+1+end], line})
			i += end + 2
		default:
			end := strings.IndexAny(text[i:], " \t\r\n")
			if end < 0 {
				end = len(text) - i
			}
			all = append(all, word{text[i : i+end], line})
			i += end
		}
	}
	return all, nil
}

// band is the name of a spectral value's column: SPECTRAL_NM440, SPECTRAL_440, NM440, nm440 or R_440.
var band = regexp.MustCompile(`^(?i:SPECTRAL_NM_?|SPECTRAL_|NM_?|R_)(\d{3,4})$`)

// readCGATS reads the samples of a measurement: as their CIELAB, their XYZ, or their spectrum, under D50 for the 2 degree observer.
// Spectra of paper and of paint are reflectances, 0 to 1 or in percent.
func readCGATS(text string) ([]Entry, error) {
	words, err := cgatsWords(text)
	if err != nil {
		return nil, err
	}
	t, err := cgatsTableOf(words)
	if err != nil {
		return nil, err
	}
	var out []Entry
	for r := 0; r < len(t.data); r += len(t.fields) {
		e, err := t.entry(t.data[r : r+len(t.fields)])
		if err != nil {
			return nil, err
		}
		if e.Name == "" {
			e.Name = fmt.Sprintf("Sample %d", len(out)+1)
		}
		out = append(out, e)
	}
	return out, nil
}

// cgatsTable is the table of a CGATS file: the names of its columns, and a value of each for every sample.
type cgatsTable struct {
	fields, data []word
	col          map[string]int // the columns by their names in capitals
	bands        []spectralBand // the columns of a spectrum, by wavelength
}

// spectralBand is the column of one wavelength, in nanometres.
type spectralBand struct {
	nm     float64
	column int
}

// cgatsTableOf finds the table among the words of a file, and that its columns have colours.
func cgatsTableOf(words []word) (*cgatsTable, error) {
	at := func(key string, from int) int {
		i := slices.IndexFunc(words[from:], func(w word) bool { return w.text == key })
		if i >= 0 {
			i += from
		}
		return i
	}
	begin := at("BEGIN_DATA_FORMAT", 0)
	end := at("END_DATA_FORMAT", max(0, begin))
	if begin < 0 || end < 0 {
		return nil, &Error{1, "it has no BEGIN_DATA_FORMAT and END_DATA_FORMAT, which name its columns"}
	}
	start := at("BEGIN_DATA", end)
	stop := at("END_DATA", max(0, start))
	if start < 0 || stop < 0 {
		return nil, &Error{words[end].line, "below its columns it has no BEGIN_DATA and END_DATA"}
	}
	t := &cgatsTable{fields: words[begin+1 : end], data: words[start+1 : stop], col: map[string]int{}}
	n := len(t.fields)
	if n == 0 || n > 1000 {
		return nil, &Error{words[begin].line, "it names no columns, or over 1000"}
	}
	if over := len(t.data) % n; over != 0 {
		return nil, &Error{t.data[len(t.data)-over].line, fmt.Sprintf("the sample that begins here has %d values and not one for each of the %d columns", over, n)}
	}
	for i, f := range t.fields {
		t.col[strings.ToUpper(f.text)] = i
		if m := band.FindStringSubmatch(f.text); m != nil {
			nm, _ := strconv.ParseFloat(m[1], 64) // digits alone
			t.bands = append(t.bands, spectralBand{nm, i})
		}
	}
	slices.SortFunc(t.bands, func(a, b spectralBand) int { return int(a.nm - b.nm) })
	_, hasLab := t.columns("LAB_L", "LAB_A", "LAB_B")
	_, hasXYZ := t.columns("XYZ_X", "XYZ_Y", "XYZ_Z")
	if !hasLab && !hasXYZ && len(t.bands) < 8 {
		return nil, &Error{words[begin].line, "its columns are neither LAB_L LAB_A LAB_B nor XYZ_X XYZ_Y XYZ_Z nor a spectrum"}
	}
	return t, nil
}

// columns returns where columns stand; false where one is missing.
func (t *cgatsTable) columns(names ...string) (at []int, ok bool) {
	for _, n := range names {
		i, ok := t.col[n]
		if !ok {
			return nil, false
		}
		at = append(at, i)
	}
	return at, true
}

// numbers reads columns of a sample.
func (t *cgatsTable) numbers(row []word, columns []int) ([]float64, error) {
	v := make([]float64, len(columns))
	for k, i := range columns {
		var err error
		if v[k], err = strconv.ParseFloat(strings.ReplaceAll(row[i].text, ",", "."), 64); err != nil || math.IsNaN(v[k]) || math.IsInf(v[k], 0) {
			return nil, &Error{row[i].line, fmt.Sprintf("%q, of %s, is no number", row[i].text, t.fields[i].text)}
		}
	}
	return v, nil
}

// entry reads a sample.
func (t *cgatsTable) entry(row []word) (e Entry, err error) {
	l, err := t.lab(row)
	if err != nil {
		return e, err
	}
	if !(l[0] >= 0 && l[0] <= 100.5 && math.Abs(l[1]) < 200 && math.Abs(l[2]) < 200) {
		return e, &Error{row[0].line, fmt.Sprintf("Lab %.1f %.1f %.1f is no colour of a surface", l[0], l[1], l[2])}
	}
	e.CSS = fmt.Sprintf("lab(%.4f %.4f %.4f)", min(100, l[0]), l[1], l[2])
	for _, n := range []string{"SAMPLE_NAME", "SAMPLE_ID", "SAMPLEID"} {
		if i, ok := t.col[n]; ok && e.Name == "" {
			e.Name = strings.TrimSpace(row[i].text)
		}
	}
	if at, ok := t.columns("TOLERANCE_DE00"); ok {
		v, err := t.numbers(row, at)
		if err != nil || !(v[0] >= 0 && v[0] <= 100) {
			return e, &Error{row[at[0]].line, fmt.Sprintf("the tolerance %q is no number from 0 to 100", row[at[0]].text)}
		}
		e.Tolerance = v[0]
	}
	return e, nil
}

// lab reads a sample's colour: its CIELAB before its XYZ before its spectrum.
func (t *cgatsTable) lab(row []word) (colour.Lab, error) {
	if at, ok := t.columns("LAB_L", "LAB_A", "LAB_B"); ok {
		v, err := t.numbers(row, at)
		if err != nil {
			return colour.Lab{}, err
		}
		return colour.Lab(v), nil
	}
	if at, ok := t.columns("XYZ_X", "XYZ_Y", "XYZ_Z"); ok {
		v, err := t.numbers(row, at)
		if err != nil {
			return colour.Lab{}, err
		}
		return colour.LabOf(colour.XYZ{v[0] / 100, v[1] / 100, v[2] / 100}, colour.D50), nil
	}
	return t.spectrum(row)
}

// spectrum returns the colour of a sample's spectrum, whose bands must be evenly apart.
func (t *cgatsTable) spectrum(row []word) (colour.Lab, error) {
	columns := make([]int, len(t.bands))
	first := t.bands[0].nm
	step := (t.bands[len(t.bands)-1].nm - first) / float64(len(t.bands)-1)
	for k, b := range t.bands {
		columns[k] = b.column
		if math.Abs(first+float64(k)*step-b.nm) > 0.01 {
			return colour.Lab{}, &Error{t.fields[b.column].line, "the bands of its spectrum are not evenly apart"}
		}
	}
	s, err := t.numbers(row, columns)
	if err != nil {
		return colour.Lab{}, err
	}
	if slices.Max(s) > 2 { // percent
		for k := range s {
			s[k] /= 100
		}
	}
	l, err := colour.SpectrumLab(first, step, s)
	if err != nil {
		return colour.Lab{}, &Error{row[0].line, err.Error()}
	}
	return l, nil
}

// writeCGATS writes the colours as measured ones: their CIELAB under D50, with their tolerances in a column of our own.
func writeCGATS(list []Entry) ([]byte, error) {
	var b bytes.Buffer
	fmt.Fprintf(&b, "CGATS.17\nORIGINATOR \"Episema\"\nKEYWORD \"TOLERANCE_DE00\"\nNUMBER_OF_FIELDS 6\nBEGIN_DATA_FORMAT\nSAMPLE_ID SAMPLE_NAME LAB_L LAB_A LAB_B TOLERANCE_DE00\nEND_DATA_FORMAT\nNUMBER_OF_SETS %d\nBEGIN_DATA\n", len(list))
	for i, e := range list {
		l, err := colour.ParseCSS(e.CSS)
		if err != nil {
			return nil, err
		}
		name := strings.NewReplacer("\"", "'", "\n", " ", "\r", " ").Replace(e.Name)
		fmt.Fprintf(&b, "%d \"%s\" %.4f %.4f %.4f %g\n", i+1, name, l[0], l[1], l[2], e.Tolerance)
	}
	b.WriteString("END_DATA\n")
	return b.Bytes(), nil
}
