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
	at := func(key string, from int) int {
		for i := from; i < len(words); i++ {
			if words[i].text == key {
				return i
			}
		}
		return -1
	}
	begin := at("BEGIN_DATA_FORMAT", 0)
	end := at("END_DATA_FORMAT", max(0, begin))
	if begin < 0 || end < 0 {
		return nil, &Error{1, "it has no BEGIN_DATA_FORMAT and END_DATA_FORMAT, which name its columns"}
	}
	fields := words[begin+1 : end]
	start := at("BEGIN_DATA", end)
	stop := at("END_DATA", max(0, start))
	if start < 0 || stop < 0 {
		return nil, &Error{words[end].line, "below its columns it has no BEGIN_DATA and END_DATA"}
	}
	if len(fields) == 0 || len(fields) > 1000 {
		return nil, &Error{words[begin].line, "it names no columns, or over 1000"}
	}
	data := words[start+1 : stop]
	if len(data)%len(fields) != 0 {
		k := len(data) / len(fields) * len(fields)
		return nil, &Error{data[k].line, fmt.Sprintf("the sample that begins here has %d values and not one for each of the %d columns", len(data)-k, len(fields))}
	}
	col := map[string]int{}
	type spectral struct {
		nm float64
		i  int
	}
	var bands []spectral
	for i, f := range fields {
		col[strings.ToUpper(f.text)] = i
		if m := band.FindStringSubmatch(f.text); m != nil {
			nm, _ := strconv.ParseFloat(m[1], 64) // digits alone
			bands = append(bands, spectral{nm, i})
		}
	}
	slices.SortFunc(bands, func(a, b spectral) int { return int(a.nm - b.nm) })
	three := func(names ...string) (c [3]int, ok bool) {
		for k, n := range names {
			if c[k], ok = col[n]; !ok {
				return c, false
			}
		}
		return c, true
	}
	lab, hasLab := three("LAB_L", "LAB_A", "LAB_B")
	xyz, hasXYZ := three("XYZ_X", "XYZ_Y", "XYZ_Z")
	if !hasLab && !hasXYZ && len(bands) < 8 {
		return nil, &Error{words[begin].line, "its columns are neither LAB_L LAB_A LAB_B nor XYZ_X XYZ_Y XYZ_Z nor a spectrum"}
	}
	var out []Entry
	for r := 0; r < len(data); r += len(fields) {
		row := data[r : r+len(fields)]
		number := func(i int) (float64, error) {
			v, err := strconv.ParseFloat(strings.ReplaceAll(row[i].text, ",", "."), 64)
			if err != nil || math.IsNaN(v) || math.IsInf(v, 0) {
				return 0, &Error{row[i].line, fmt.Sprintf("%q, of %s, is no number", row[i].text, fields[i].text)}
			}
			return v, nil
		}
		values := func(at [3]int) (v [3]float64, err error) {
			for k := range v {
				if v[k], err = number(at[k]); err != nil {
					return v, err
				}
			}
			return v, nil
		}
		var l colour.Lab
		switch {
		case hasLab:
			v, err := values(lab)
			if err != nil {
				return nil, err
			}
			l = v
		case hasXYZ:
			v, err := values(xyz)
			if err != nil {
				return nil, err
			}
			l = colour.LabOf(colour.XYZ{v[0] / 100, v[1] / 100, v[2] / 100}, colour.D50)
		default:
			s := make([]float64, len(bands))
			most := 0.0
			for k, b := range bands {
				if s[k], err = number(b.i); err != nil {
					return nil, err
				}
				most = max(most, s[k])
			}
			if most > 2 {
				for k := range s {
					s[k] /= 100
				}
			}
			step := (bands[len(bands)-1].nm - bands[0].nm) / float64(len(bands)-1)
			for k, b := range bands {
				if math.Abs(bands[0].nm+float64(k)*step-b.nm) > 0.01 {
					return nil, &Error{words[begin].line, "the bands of its spectrum are not evenly apart"}
				}
			}
			if l, err = colour.SpectrumLab(bands[0].nm, step, s); err != nil {
				return nil, &Error{row[0].line, err.Error()}
			}
		}
		if !(l[0] >= 0 && l[0] <= 100.5 && math.Abs(l[1]) < 200 && math.Abs(l[2]) < 200) {
			return nil, &Error{row[0].line, fmt.Sprintf("Lab %.1f %.1f %.1f is no colour of a surface", l[0], l[1], l[2])}
		}
		e := Entry{CSS: fmt.Sprintf("lab(%.4f %.4f %.4f)", min(100, l[0]), l[1], l[2])}
		for _, n := range []string{"SAMPLE_NAME", "SAMPLE_ID", "SAMPLEID"} {
			if i, ok := col[n]; ok && e.Name == "" {
				e.Name = strings.TrimSpace(row[i].text)
			}
		}
		if e.Name == "" {
			e.Name = fmt.Sprintf("Sample %d", len(out)+1)
		}
		if i, ok := col["TOLERANCE_DE00"]; ok {
			if e.Tolerance, err = number(i); err != nil || !(e.Tolerance >= 0 && e.Tolerance <= 100) {
				return nil, &Error{row[i].line, fmt.Sprintf("the tolerance %q is no number from 0 to 100", row[i].text)}
			}
		}
		out = append(out, e)
	}
	return out, nil
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
