package recolour

import "episema/core/raster"

// Changed returns how much of each pixel Apply changes: the part's share in it, less what does not have its colours. The mask itself is returned
// where nothing is held back.
func (p *Plan) Changed(src *raster.RGB, mask *raster.Mask) *raster.Mask {
	if p.member == nil {
		return mask
	}
	all := raster.Rect{X1: mask.W, Y1: mask.H}
	held := p.member.hold(src, mask, all, nil, p.done)
	o := raster.NewMask(mask.W, mask.H)
	raster.Parallel((mask.H+block-1)/block, func(n int) {
		if closed(p.done) {
			return
		}
		b := &blockPainter{Plan: p, src: src, mask: held.mask, known: known{held: held}}
		for x0 := 0; x0 < mask.W; x0 += block {
			b.changed(o, raster.Rect{X0: x0, Y0: n * block, X1: x0 + block, Y1: (n + 1) * block}.And(all))
		}
	})
	return o
}

// changed fills a block of Changed.
func (b *blockPainter) changed(o *raster.Mask, r raster.Rect) {
	any, mixed := shares(b.mask, r)
	if !any {
		return
	}
	if mixed > 0 {
		b.near = newNeighbours(b.src, b.mask, r, mixed)
	}
	for y := r.Y0; y < r.Y1; y++ {
		for x := r.X0; x < r.X1; x++ {
			i := y*o.W + x
			m := b.mask.Pix[i]
			share := float32(m) / raster.Whole
			switch {
			case m >= sureIn:
				share *= b.held.of(x, y)
			case m > 0 && !b.codedRims:
				pixel := b.src.Pix[3*i : 3*i+3 : 3*i+3]
				own := b.near.inside(x, y, pixel, share)
				share = canHave(share*b.belongs(own, x, y), own, pixel)
			}
			o.Pix[i] = uint16(share*raster.Whole + 0.5)
		}
	}
}
