package develop

import (
	"episema/core/document"
	"episema/core/raster"
)

// Claims settles who has which pixel: parts made inside another are bounded by it, a pixel that a part inside
// has is not the outer part's, and of two parts side by side the later has what both want. Parts that may
// overlap neither give nor take. raw holds a mask a part, all of one size (nil: none); the result shares
// masks that did not change.
func Claims(parts []document.Part, raw []*raster.Mask) []*raster.Mask {
	alone := true
	n := 0
	for i := range parts {
		if raw[i] != nil {
			n++
		}
		alone = alone && parts[i].Within == ""
	}
	if alone && n < 2 {
		return raw
	}
	at := map[string]int{}
	for i := range parts {
		at[parts[i].ID] = i
	}
	inside := make([][]int, len(parts)+1) // by part; the last holds the outermost
	for i := range parts {
		o, ok := at[parts[i].Within]
		if !ok || o == i {
			o = len(parts)
		}
		inside[o] = append(inside[o], i)
	}
	out := make([]*raster.Mask, len(parts))
	// share settles the parts inside one, whose ground is at their disposal (nil: everything). It gives what is left.
	var share func(of int, ground *raster.Mask) *raster.Mask
	share = func(of int, ground *raster.Mask) *raster.Mask {
		left := ground
		for k := len(inside[of]) - 1; k >= 0; k-- {
			i := inside[of][k]
			if raw[i] == nil {
				share(i, raster.NewMask(0, 0))
				continue
			}
			from := left
			if parts[i].Overlap {
				from = ground
			}
			got := lesser(raw[i], from)
			if !parts[i].Overlap {
				left = without(left, got)
			}
			out[i] = share(i, got)
		}
		return left
	}
	share(len(parts), nil)
	return out
}

func lesser(a, b *raster.Mask) *raster.Mask {
	if b == nil {
		return a
	}
	o := raster.NewMask(a.W, a.H)
	for i := range b.Pix {
		o.Pix[i] = min(a.Pix[i], b.Pix[i])
	}
	return o
}

func without(a, b *raster.Mask) *raster.Mask {
	o := raster.NewMask(b.W, b.H)
	if a == nil {
		for i, v := range b.Pix {
			o.Pix[i] = raster.Whole - v
		}
		return o
	}
	for i := range a.Pix {
		o.Pix[i] = a.Pix[i] - min(a.Pix[i], b.Pix[i])
	}
	return o
}
