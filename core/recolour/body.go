package recolour

import (
	"episema/core/raster"
)

// lightField is the light on a body, smooth over its neighbourhood.
type lightField struct {
	w, h   int
	cell   float64 // full-size pixels a side
	light  []float32
	weight float32 // of the field against the pixel's own
}

const (
	bodyCell   = 14   // pixels of the learning level a cell
	bodyShare  = 0.5  // the median of a cell's pixels stands for it
	bodySpread = 2.2  // cells that it is smoothed over
	darkBody   = 0.03 // a body that reflects so much and less is dark
)

// bodyLight gives the light on a dark glossy body: what such a thing mirrors is as strong as what it sends back itself,
// so that one pixel alone cannot tell the two apart. A body's light changes slowly; mirrored things come and go. It gives
// nil where the part is not both dark and glossy.
func (l *Learned) bodyLight(p *Plan, scale float64) *lightField {
	veil := (p.veil[0] + p.veil[1] + p.veil[2]) / 3
	weight := min(1, max(0, 2-p.ownMean/darkBody)) * min(1, veil/(0.5*p.ownMean+1e-6))
	if weight < 0.05 {
		return nil
	}
	f := *l.lightOf(p, scale)
	f.weight = weight
	return &f
}

// lightKey tells a light field from any other of the same part.
type lightKey struct {
	own, veil [3]float32
	scale     float64
}

// lightOf gives the light that a plan sees on the part, remembered: it does not depend on the target.
func (l *Learned) lightOf(p *Plan, scale float64) *lightField {
	l.lights.Lock()
	defer l.lights.Unlock()
	key := lightKey{p.own, p.veil, scale}
	if f := l.light[key]; f != nil {
		return f
	}
	if len(l.light) > 8 {
		clear(l.light)
	}
	if l.light == nil {
		l.light = map[lightKey]*lightField{}
	}
	f := l.newLight(p, scale)
	l.light[key] = f
	return f
}

func (l *Learned) newLight(p *Plan, scale float64) *lightField {
	f, n := l.newField(scale)
	var in []float32
	var s run
	for cy := range f.h {
		for cx := range f.w {
			in = in[:0]
			for y := cy * bodyCell; y < min(l.pic.H, (cy+1)*bodyCell); y++ {
				for x := cx * bodyCell; x < min(l.pic.W, (cx+1)*bodyCell); x++ {
					i := y*l.pic.W + x
					if l.mask.Pix[i] < sureIn {
						continue
					}
					s.add(l.pic.Pix[3*i], l.pic.Pix[3*i+1], l.pic.Pix[3*i+2])
				}
				in = s.lightOf(p, in) // a cell is no wider than a run
			}
			if len(in) < 12 {
				continue
			}
			f.light[cy*f.w+cx], n[cy*f.w+cx] = raster.Nth(in, int(bodyShare*float64(len(in)))), 1
		}
	}
	f.spread(n)
	return f
}

// newField gives an empty field over the part's picture, and room for how much each cell knows.
func (l *Learned) newField(scale float64) (f *lightField, n []float32) {
	f = &lightField{w: (l.pic.W + bodyCell - 1) / bodyCell, h: (l.pic.H + bodyCell - 1) / bodyCell, cell: bodyCell * max(1, scale)}
	f.light = make([]float32, f.w*f.h)
	return f, make([]float32, f.w*f.h)
}

// spread makes of sums over n each the mean of the neighbourhood.
func (f *lightField) spread(n []float32) {
	raster.Gauss(f.light, f.w, f.h, bodySpread)
	raster.Gauss(n, f.w, f.h, bodySpread)
	for i, v := range n {
		if v > 1e-4 {
			f.light[i] /= v
		}
	}
}

// along gives the light at places in one row of the full size, and no less than least.
func (f *lightField) along(light []float32, fx []float64, fy float64, least float32) {
	y := max(0, min(float64(f.h-1), fy/f.cell-0.5))
	y0 := int(y)
	v := float32(y - float64(y0))
	above, below := f.light[y0*f.w:(y0+1)*f.w], f.light[min(f.h-1, y0+1)*f.w:][:f.w]
	once := 1 / f.cell
	for i, x := range fx {
		x = x*once - 0.5
		x0 := max(0, min(f.w-1, int(x)))
		x1 := min(f.w-1, x0+1)
		u := unit(float32(x - float64(x0)))
		a := above[x0] + u*(above[x1]-above[x0])
		b := below[x0] + u*(below[x1]-below[x0])
		if light[i] = a + v*(b-a); light[i] < least {
			light[i] = least
		}
	}
}

const (
	sheenFull  = 0.6 // a pixel so much brighter than the body around it has all of its sheen
	sheenLater = 1.2 // and so much more on a dark target, on which every speck of it shows
	gleamLess  = 0.6 // of which less is kept there
	dullFrom   = 0.03
	dullTo     = 0.12
)

// dullOf tells how far the body is bright enough for sheen to be told from its neighbourhood's light.
func dullOf(p *Plan) float32 {
	t := max(0, min(1, (luma(p.own[0], p.own[1], p.own[2])-dullFrom)/(dullTo-dullFrom)))
	return 0.8 * t
}
