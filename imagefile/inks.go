package imagefile

/*
#include "vips.h"
*/
import "C"

import (
	"errors"
	"math"
	"unsafe"

	"episema/core/colour"
)

// CheckInkProfile says whether bytes are an ICC profile of CMYK inks that colours can be read through (ICC.1:2010, 7.2).
func CheckInkProfile(profile []byte) error {
	if len(profile) < 132 || string(profile[36:40]) != "acsp" {
		return rejected("this is no ICC profile")
	}
	if s := string(profile[16:20]); s != "CMYK" {
		return rejected("this profile is for %s, not for CMYK inks; take the one of the press or the standard printing condition", s)
	}
	_, err := InkLab(profile, [4]float64{})
	return err
}

// InkLab gives what shares of ink (cyan, magenta, yellow, black; 0..1) look like by a profile: CIELAB D50, relative
// colorimetric, so that bare paper is white.
func InkLab(profile []byte, inks [4]float64) (colour.Lab, error) {
	if err := start(); err != nil {
		return colour.Lab{}, err
	}
	if len(profile) == 0 {
		return colour.Lab{}, errors.New("the profile is empty")
	}
	var in [4]C.ushort
	for i, v := range inks {
		in[i] = C.ushort(math.Round(65535 * math.Max(0, math.Min(1, v))))
	}
	var lab [3]C.double
	if C.ep_inks(unsafe.Pointer(unsafe.SliceData(profile)), C.size_t(len(profile)), &in[0], &lab[0]) != 0 {
		return colour.Lab{}, rejected("the profile cannot be used; it is damaged, or has no table for its inks")
	}
	return colour.Lab{float64(lab[0]), float64(lab[1]), float64(lab[2])}, nil
}

// inkPoints is how many points a side an ink table has: as many as ICC engines take for theirs.
const inkPoints = 33

// InkTable makes the table of what colours look like printed through a CMYK profile: they go to ink relative colorimetric with black
// point compensation, and are looked at relative to the paper, or absolutely, on it.
func InkTable(profile []byte) (*colour.InkTable, error) {
	if err := CheckInkProfile(profile); err != nil {
		return nil, err
	}
	const n = inkPoints * inkPoints * inkPoints
	values := make([]C.double, 5*3*n)
	part := func(k int) []C.double { return values[3*n*k : 3*n*(k+1)] }
	rgb := part(0)
	for i := range n {
		for c, v := range [3]int{i / (inkPoints * inkPoints), i / inkPoints % inkPoints, i % inkPoints} {
			rgb[3*i+c] = C.double(v) / (inkPoints - 1)
		}
	}
	if C.ep_ink_proof(unsafe.Pointer(unsafe.SliceData(profile)), C.size_t(len(profile)), n, &rgb[0], &part(1)[0], &part(2)[0], &part(3)[0], &part(4)[0]) != 0 {
		return nil, rejected("the profile cannot be used to see colours in ink; it has no table for one of the two ways")
	}
	at := func(k, i int) [3]float64 {
		return [3]float64{float64(part(k)[3*i]), float64(part(k)[3*i+1]), float64(part(k)[3*i+2])}
	}
	coded := func(v [3]float64) (o [3]float32) {
		for c := range o {
			o[c] = float32(math.Max(0, math.Min(1, v[c])))
		}
		return o
	}
	seen, paper, missed := make([][3]float32, n), make([][3]float32, n), make([]float32, n)
	for i := range n {
		seen[i], paper[i] = coded(at(1, i)), coded(at(2, i))
		missed[i] = float32(colour.DeltaE00(colour.Lab(at(3, i)), colour.Lab(at(4, i))))
	}
	return colour.NewInkTable(inkPoints, seen, paper, missed)
}
