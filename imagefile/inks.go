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
