package recolour

import (
	"sort"

	"episema/core/raster"
)

// bodyField is the light on a dark glossy body, smooth over its neighbourhood: what such a thing mirrors is as strong
// as what it sends back itself, so that one pixel alone cannot tell the two apart. A body's light changes slowly;
// mirrored things come and go.
type bodyField struct {
	w, h   int
	cell   float64 // full-size pixels a side
	light  []float32
	weight float32 // of the field against the pixel's own
}

const (
	bodyCell  = 14   // pixels of the learning level a cell
	bodyShare = 0.5  // the median of a cell's pixels stands for it
	darkBody  = 0.03 // a body that reflects so much and less is dark
)

// bodyLight gives nil where the part is not both dark and glossy.
func (l *Learned) bodyLight(p *Plan, scale float64) *bodyField {
	veil := (p.veil[0] + p.veil[1] + p.veil[2]) / 3
	weight := min(1, max(0, 2-p.ownMean/darkBody)) * min(1, veil/(0.5*p.ownMean+1e-6))
	if weight < 0.05 {
		return nil
	}
	f := &bodyField{w: (l.pic.W + bodyCell - 1) / bodyCell, h: (l.pic.H + bodyCell - 1) / bodyCell, cell: bodyCell * max(1, scale), weight: weight}
	f.light = make([]float32, f.w*f.h)
	sum := make([]float32, f.w*f.h)
	var in []float32
	for cy := range f.h {
		for cx := range f.w {
			in = in[:0]
			for y := cy * bodyCell; y < min(l.pic.H, (cy+1)*bodyCell); y++ {
				for x := cx * bodyCell; x < min(l.pic.W, (cx+1)*bodyCell); x++ {
					i := y*l.pic.W + x
					if l.mask.Pix[i] < sureIn {
						continue
					}
					e, _, _ := p.split(l.pic.Pix[3*i], l.pic.Pix[3*i+1], l.pic.Pix[3*i+2], bodyTop)
					in = append(in, (e[0]+e[1]+e[2])/3)
				}
			}
			if len(in) < 12 {
				continue
			}
			sort.Slice(in, func(a, b int) bool { return in[a] < in[b] })
			f.light[cy*f.w+cx], sum[cy*f.w+cx] = in[int(bodyShare*float64(len(in)))], 1
		}
	}
	raster.Gauss(f.light, f.w, f.h, 2.2)
	raster.Gauss(sum, f.w, f.h, 2.2)
	for i := range f.light {
		if sum[i] > 1e-4 {
			f.light[i] /= sum[i]
		}
	}
	return f
}

// at gives the light at a place of the full size.
func (f *bodyField) at(fx, fy float64) float32 {
	return raster.Sample(f.light, f.w, f.h, fx/f.cell-0.5, fy/f.cell-0.5)
}

// repaintDark repaints a pixel of a dark glossy body: its light is mostly its neighbourhood's, and what is left over or
// missing is what it mirrors.
func (p *Plan) repaintDark(r, g, b, light float32) (o [3]float32) {
	e, h, rest := p.split(r, g, b, bodyTop)
	for i := range o {
		s := e[i] + p.body.weight*(light-e[i])
		h[i] += p.own[i] * (e[i] - s)
		if p.shade != nil {
			s *= p.shade[int(max(0, min(2*shadeSteps-1, s*shadeSteps)))]
		}
		o[i] = p.goal[i]*s + p.high*h[i] + rest[i] + p.veil[i]
	}
	return o
}
