package isolate

import "episema/core/raster"

// maskFile is a mask that was made elsewhere, at full size.
type maskFile struct{ full *raster.Mask }

func (c *compiler) maskFile(pick *Pick) (coverage, error) {
	m := c.in.Masks[pick.File]
	if m == nil {
		return nil, problem("the mask file \"" + pick.File + "\" is not there")
	}
	if w, h := c.p.Size(0); m.W != w || m.H != h {
		return nil, problem("the mask file \"" + pick.File + "\" has another size than the picture; save it at the picture's full size")
	}
	return &maskFile{m}, nil
}

func (m *maskFile) render(_ Pyramid, level int, r raster.Rect) ([]float32, error) {
	out := make([]float32, r.W()*r.H())
	n := 1 << level
	raster.Parallel(r.H(), func(row int) {
		y := r.Y0 + row
		to := out[row*r.W() : (row+1)*r.W()]
		if n == 1 {
			for i, v := range m.full.Pix[y*m.full.W+r.X0 : y*m.full.W+r.X1] {
				to[i] = float32(v) / raster.Whole
			}
			return
		}
		for i := range to {
			x := r.X0 + i
			sum, cnt := 0, 0
			for yy := y * n; yy < min((y+1)*n, m.full.H); yy++ {
				for _, v := range m.full.Pix[yy*m.full.W+min(x*n, m.full.W) : yy*m.full.W+min((x+1)*n, m.full.W)] {
					sum += int(v)
					cnt++
				}
			}
			if cnt > 0 {
				to[i] = float32(sum) / float32(cnt) / raster.Whole
			}
		}
	})
	return out, nil
}

// part reuses the mask of another part as it stands.
func (c *compiler) part(pick *Pick) (coverage, error) {
	s := c.in.Parts[pick.Part]
	if s == nil {
		return nil, problem("the part \"" + pick.Part + "\" it reuses is not in this picture")
	}
	return s, nil
}
