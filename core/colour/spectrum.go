package colour

import (
	"errors"
	"math"
)

// The tables are from 380 to 780 nm in steps of 10.
const (
	firstNM, lastNM, stepNM = 380, 780, 10
	bandsNM                 = (lastNM-firstNM)/stepNM + 1
)

// observer2 are the colour matching functions of the CIE 1931 standard observer, 2 degrees (CIE 15, table T.4; from memory, and held
// against the white of D50 in the tests).
var observer2 = [bandsNM][3]float64{
	{0.0014, 0.0000, 0.0065}, {0.0042, 0.0001, 0.0201}, {0.0143, 0.0004, 0.0679}, {0.0435, 0.0012, 0.2074}, {0.1344, 0.0040, 0.6456},
	{0.2839, 0.0116, 1.3856}, {0.3483, 0.0230, 1.7471}, {0.3362, 0.0380, 1.7721}, {0.2908, 0.0600, 1.6692}, {0.1954, 0.0910, 1.2876},
	{0.0956, 0.1390, 0.8130}, {0.0320, 0.2080, 0.4652}, {0.0049, 0.3230, 0.2720}, {0.0093, 0.5030, 0.1582}, {0.0633, 0.7100, 0.0782},
	{0.1655, 0.8620, 0.0422}, {0.2904, 0.9540, 0.0203}, {0.4334, 0.9950, 0.0087}, {0.5945, 0.9950, 0.0039}, {0.7621, 0.9520, 0.0021},
	{0.9163, 0.8700, 0.0017}, {1.0263, 0.7570, 0.0011}, {1.0622, 0.6310, 0.0008}, {1.0026, 0.5030, 0.0003}, {0.8544, 0.3810, 0.0002},
	{0.6424, 0.2650, 0.0000}, {0.4479, 0.1750, 0.0000}, {0.2835, 0.1070, 0.0000}, {0.1649, 0.0610, 0.0000}, {0.0874, 0.0320, 0.0000},
	{0.0468, 0.0170, 0.0000}, {0.0227, 0.0082, 0.0000}, {0.0114, 0.0041, 0.0000}, {0.0058, 0.0021, 0.0000}, {0.0029, 0.0010, 0.0000},
	{0.0014, 0.0005, 0.0000}, {0.0007, 0.0002, 0.0000}, {0.0003, 0.0001, 0.0000}, {0.0002, 0.0001, 0.0000}, {0.0001, 0.0000, 0.0000},
	{0.0000, 0.0000, 0.0000},
}

// lightD50 is the relative power of illuminant D50 (CIE 15, table T.1; from memory, and held against its white in the tests).
var lightD50 = [bandsNM]float64{
	24.49, 29.87, 49.31, 56.51, 60.03, 57.82, 74.82, 87.25, 90.61, 91.37, 95.11, 91.96, 95.72, 96.61, 97.13, 102.10, 100.75, 102.32, 100.00, 97.74,
	98.92, 93.50, 97.69, 99.27, 99.04, 95.72, 98.86, 95.67, 98.19, 103.00, 99.13, 87.38, 91.60, 92.89, 76.85, 86.51, 92.58, 78.23, 57.69, 82.92,
	78.27,
}

// SpectrumXYZ returns what a surface looks like under D50 to the 2 degree observer, the perfect white having Y 1: sums over steps of
// 10 nm, as CIE 15, section 7.1, has them. reflectance has values (0 black, 1 the perfect white) from a wavelength on, step nanometres
// apart; between them it is linear, past its ends it goes on as it ends. It must cover 430 to 650 nm at least.
func SpectrumXYZ(from, step float64, reflectance []float64) (XYZ, error) {
	to := from + step*float64(len(reflectance)-1)
	if len(reflectance) < 8 || !(step >= 1 && step <= 20) || !(from >= 200 && from <= 430) || !(to >= 650 && to <= 2000) {
		return XYZ{}, errors.New("a spectrum has values from 430 nm or less to 650 nm or more, 1 to 20 nm apart")
	}
	var sum XYZ
	white := 0.0
	for i := range bandsNM {
		at := max(0, min(float64(len(reflectance)-1), (float64(firstNM+stepNM*i)-from)/step))
		k := min(len(reflectance)-2, int(at))
		r := reflectance[k] + (at-float64(k))*(reflectance[k+1]-reflectance[k])
		if math.IsNaN(r) || r < -0.1 || r > 3 {
			return XYZ{}, errors.New("a value of the spectrum is no reflectance; they run from 0 to 1, for papers that glow a little above")
		}
		for c := range sum {
			sum[c] += r * lightD50[i] * observer2[i][c]
		}
		white += lightD50[i] * observer2[i][1]
	}
	for c := range sum {
		sum[c] /= white
	}
	return sum, nil
}

// SpectrumLab is SpectrumXYZ as CIELAB, the perfect white under the same light being (100, 0, 0).
func SpectrumLab(from, step float64, reflectance []float64) (Lab, error) {
	xyz, err := SpectrumXYZ(from, step, reflectance)
	if err != nil {
		return Lab{}, err
	}
	return LabOf(xyz, whiteOfTables), nil
}

var whiteOfTables = func() XYZ {
	ones := make([]float64, bandsNM)
	for i := range ones {
		ones[i] = 1
	}
	w, err := SpectrumXYZ(firstNM, stepNM, ones)
	if err != nil {
		panic(err) // the tables cover themselves
	}
	return w
}()
