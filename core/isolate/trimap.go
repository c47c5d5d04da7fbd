package isolate

import (
	"math"

	"episema/core/raster"
)

// The zones of a trimap.
const (
	zoneOut uint8 = iota
	zoneOpen
	zoneIn
)

// How far the band of open shares reaches from the cut, as shares of the thing's size: threads and hair
// reach out further than what shines through reaches in.
const (
	bandOut = 0.055
	bandIn  = 0.022

	untoldBand = 0.3 // of that, where colours do not tell the thing from what is around it: they cannot say how far threads reach
)

// quickMatte is the long side at which a matte is solved while the hand is still moving.
const quickMatte = 800

// Pulls (log-likelihood ratios) from which on a pixel's colour says what it is.
const (
	pullOpen = -2.5 // less: surely not the thing, unless it is close to it
	pullSure = 5.0
)

// trimap opens a band around the edge of a labelling, and what lies within the ring and might be of the thing
// by its colour; what strokes claim stays sure. It also gives how much each pixel's colour speaks for the
// thing. Colours are learned from what is surely one or the other: not from the band, where both mix. Where colours do not tell the thing from
// what is around it, the band is narrow, and nothing beyond it is opened for its colour.
func trimap(f *planes, labels, seeds []uint8, ring []float32, told bool, done raster.Done) (zones []uint8, pull []float32) {
	w, h := f.w, f.h
	area := 0
	for _, l := range labels {
		area += int(l)
	}
	size := math.Sqrt(float64(area))
	out, in := float32(math.Max(6, bandOut*size)), float32(math.Max(4, bandIn*size))
	if !told {
		out, in = max(3, untoldBand*out), max(2, untoldBand*in)
	}
	d := raster.SignedDistance(func(i int) bool { return labels[i] == 1 }, w, h)
	done.Check()
	away := raster.SignedDistance(func(i int) bool { return ring[i] >= 0.5 }, w, h)
	done.Check()
	pull = f.pullsOf(func(i int) (surelyIn, surelyOut bool) {
		return seeds[i] == seedIn || d[i] > in, ring[i] < 0.5 && away[i] > -float32(aroundRing*size) || d[i] < -4*out
	}, done)
	// What might be of the thing, and two pixels around it.
	maybe := make([]float32, w*h)
	for i := range maybe {
		if told && ring[i] > 0 && pull[i] > pullOpen {
			maybe[i] = 1
		}
	}
	raster.BoxSum(maybe, w, h, 2)
	zones = make([]uint8, w*h)
	for i := range zones {
		switch {
		case seeds[i] == seedIn:
			zones[i] = zoneIn
		case seeds[i] == seedOut:
		case d[i] > 2*in || d[i] > in && pull[i] > 0:
			zones[i] = zoneIn
		case d[i] > -out || maybe[i] > 0.5:
			zones[i] = zoneOpen
		}
	}
	return zones, pull
}

// pullsOf gives how much each pixel's colour speaks for the thing, by models learned from the pixels that are surely one or the other.
func (f *planes) pullsOf(sure func(i int) (in, out bool), done raster.Done) []float32 {
	m := &models{done: done}
	wIn, wOut := make([]float64, len(f.bins)), make([]float64, len(f.bins))
	for i, b := range f.bin {
		switch in, out := sure(i); {
		case in:
			wIn[b]++
		case out:
			wOut[b]++
		}
	}
	m.in, m.out = fit(f.bins, wIn), fit(f.bins, wOut)
	done.Check()
	byBin := m.pulls(f)
	m.doubt(f, byBin, wIn, wOut)
	pull := make([]float32, len(f.bin))
	for i, b := range f.bin {
		pull[i] = byBin[b]
	}
	return pull
}
