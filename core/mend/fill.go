package mend

import (
	"math"

	"episema/core/raster"
)

// Fillings is how many fillings of one patch there are to choose from.
const Fillings = 3

const (
	fillSide   = 72  // pixels of the longer side of what is filled, where it is worked out
	fillLabels = 48  // shifts that are tried, at most
	fillPatch  = 8   // pixels of the side of the squares that are compared
	fillAsked  = 450 // squares that are looked for elsewhere
)

// Filling is a patch filled by example: each of its places comes from elsewhere in the picture, whole areas of them by one shift, and
// the shifts meet where that is seen least (He and Sun, Statistics of patch offsets for image completion, 2012).
type Filling struct {
	place  raster.Place
	w, h   int
	label  []uint8      // of each place; noLabel outside of the patch
	shifts [][2]float64 // of each label, in pixels of the full size
}

const noLabel = 255

// Bytes returns about what it takes in memory.
func (f *Filling) Bytes() int {
	if f == nil {
		return 0
	}
	return len(f.label) + 16*len(f.shifts)
}

// FillStep is how many full-size pixels a pixel is wide where a filling is worked out: a power of two. A hand that moves is shown what is
// found more coarsely.
func (c *Cover) FillStep(quick bool) float64 {
	step := 1.0
	if quick {
		step = 2
	}
	for max(c.box[2]-c.box[0], c.box[3]-c.box[1]) > fillSide*step {
		step *= 2
	}
	return step
}

// FillBox is what of a picture of the full size w x h is looked at for a filling: x0, y0, x1, y1.
func (c *Cover) FillBox(w, h int) [4]float64 {
	reach := 1.5*max(c.box[2]-c.box[0], c.box[3]-c.box[1]) + 48
	return [4]float64{max(0, c.box[0]-reach), max(0, c.box[1]-reach), min(float64(w), c.box[2]+reach), min(float64(h), c.box[3]+reach)}
}

// Fill works out a filling of the patch: see gives the picture at levels whose pixels are so many full-size pixels wide, all of FillBox
// or nothing where that level is too large; others are paths of what must not be taken as an example either.
// nil is returned where there is nothing to fill, or nothing to fill it with.
func (c *Cover) Fill(see func(step float64) (*raster.RGB, raster.Place, error), others [][][2]float64, quick bool, done raster.Done) (*Filling, error) {
	step := c.FillStep(quick)
	pic, place, err := see(step)
	if err != nil || pic == nil {
		return nil, err
	}
	s := newFilling(c, pic, place, others)
	if len(s.pixels) == 0 {
		return nil, nil
	}
	s.offsets = s.dominant(done)
	if quick {
		s.offsets = s.offsets[:min(len(s.offsets), fillLabels/3)]
	}
	if len(s.offsets) == 0 {
		return nil, nil
	}
	s.favour = make([]float32, len(s.offsets))
	s.solve(nil, done)
	for range c.Patch.Fill - 1 { // another filling does without what the one before it has most of
		s.favour[s.mostTaken()] = noExample
		s.solve(nil, done)
	}
	if !quick && step > 1 {
		if pic, place, err = see(step / 2); err != nil {
			return nil, err
		}
		if pic != nil {
			step /= 2
			s = s.finer(newFilling(c, pic, place, others), done)
		}
	}
	f := &Filling{place: s.place, w: s.w, h: s.h, label: s.label}
	for _, o := range s.offsets {
		f.shifts = append(f.shifts, [2]float64{float64(o[0]) * s.place.Scale(), float64(o[1]) * s.place.Scale()})
	}
	for step /= 2; step >= 1; step /= 2 {
		done.Check()
		fine, at, err := see(step)
		if err != nil {
			return nil, err
		}
		if fine == nil {
			break
		}
		f.refine(c, fine, at)
	}
	return f, nil
}

// refine sets the shifts more finely, by what lies beside the patch, in a picture whose pixels are at most half as wide as before: by that
// of the nine shifts about each that makes of what is beside it what is there.
func (f *Filling) refine(c *Cover, pic *raster.RGB, place raster.Place) {
	step := place.Scale()
	share := c.share(place, raster.Rect{X1: pic.W, Y1: pic.H})
	for k, list := range f.beside(share, pic.W, pic.H, place) {
		list = evenly(list, 4000)
		best, to := math.Inf(1), f.shifts[k]
		for _, e := range [9][2]float64{{}, {-1, 0}, {1, 0}, {0, -1}, {0, 1}, {-1, -1}, {1, -1}, {-1, 1}, {1, 1}} {
			shift := [2]float64{f.shifts[k][0] + e[0]*step, f.shifts[k][1] + e[1]*step}
			if off := missed(pic, share, list, int(math.Round(shift[0]/step)), int(math.Round(shift[1]/step))); off < best {
				best, to = off, shift
			}
		}
		f.shifts[k] = to
	}
}

// beside lists, for each shift, pixels beside what it fills: the nearest few on the way out of the patch.
func (f *Filling) beside(share []float32, w, h int, place raster.Place) [][]int {
	rim := make([][]int, len(f.shifts))
	for y := 1; y < h-1; y++ {
		for x := 1; x < w-1; x++ {
			i := y*w + x
			if share[i] == 0 {
				continue
			}
			k := f.at(place.Full(x, y))
			if k == noLabel {
				continue
			}
			for _, by := range [4]int{1, -1, w, -w} {
				for d, j := 0, i+by; d < 4 && j >= 0 && j < w*h && share[j] == 0; d, j = d+1, j+by {
					rim[k] = append(rim[k], j)
				}
			}
		}
	}
	return rim
}

// missed is how far a shift is from making of pixels what they are, together; what would come from nowhere is as far as can be.
func missed(pic *raster.RGB, share []float32, list []int, dx, dy int) (off float64) {
	for _, j := range list {
		x, y := j%pic.W+dx, j/pic.W+dy
		if x < 0 || y < 0 || x >= pic.W || y >= pic.H || share[y*pic.W+x] > 0 {
			off++
			continue
		}
		for q := range 3 {
			off += math.Abs(float64(coded(pic.Pix[3*j+q]) - coded(pic.Pix[3*(y*pic.W+x)+q])))
		}
	}
	return off
}

// evenly takes evenly at most so many of a list.
func evenly[T any](list []T, most int) []T {
	if len(list) <= most {
		return list
	}
	out := make([]T, most)
	for i := range out {
		out[i] = list[i*len(list)/most]
	}
	return out
}

// at returns the label of a place of the full size.
func (f *Filling) at(x, y float64) uint8 {
	s := f.place.Scale()
	u, v := int(math.Floor((x-f.place.X)/s)), int(math.Floor((y-f.place.Y)/s))
	if u < 0 || v < 0 || u >= f.w || v >= f.h {
		return noLabel
	}
	return f.label[v*f.w+u]
}

// around returns the labels of the four places around one of the full size, and how near it is to each; those that are filled alone.
func (f *Filling) around(x, y float64) (label [4]uint8, near [4]float32) {
	s := f.place.Scale()
	u, v := (x-f.place.X)/s-0.5, (y-f.place.Y)/s-0.5
	u0, v0 := math.Floor(u), math.Floor(v)
	fu, fv := float32(u-u0), float32(v-v0)
	sum := float32(0)
	for k := range 4 {
		i, j := int(u0)+k&1, int(v0)+k>>1
		label[k] = noLabel
		if i >= 0 && j >= 0 && i < f.w && j < f.h {
			label[k] = f.label[j*f.w+i]
		}
		if label[k] == noLabel {
			continue
		}
		near[k] = 1
		for _, q := range [2]struct {
			far bool
			f   float32
		}{{k&1 == 1, fu}, {k>>1 == 1, fv}} {
			if q.far {
				near[k] *= q.f
			} else {
				near[k] *= 1 - q.f
			}
		}
		sum += near[k]
	}
	for k := range near {
		if sum > 0 {
			near[k] /= sum
		}
	}
	return label, near
}

// needs returns the rectangle of the full-size picture from which an area of a plane at place is filled.
func (f *Filling) needs(place raster.Place, area raster.Rect) [4]float64 {
	s := f.place.Scale()
	x0, y0 := place.Full(area.X0, area.Y0)
	x1, y1 := place.Full(area.X1-1, area.Y1-1)
	o := [4]float64{x0, y0, x0, y0} // never nothing
	at := func(v, from float64, most int) int { return max(0, min(most, int(math.Floor((v-from)/s)))) }
	for v := at(y0, f.place.Y, f.h) - 1; v <= at(y1, f.place.Y, f.h)+1; v++ {
		for u := at(x0, f.place.X, f.w) - 1; u <= at(x1, f.place.X, f.w)+1; u++ {
			if u < 0 || v < 0 || u >= f.w || v >= f.h || f.label[v*f.w+u] == noLabel {
				continue
			}
			by := f.shifts[f.label[v*f.w+u]]
			x, y := f.place.X+float64(u)*s+by[0], f.place.Y+float64(v)*s+by[1]
			o = [4]float64{min(o[0], x-s), min(o[1], y-s), max(o[2], x+2*s), max(o[3], y+2*s)}
		}
	}
	return o
}

// take returns what fills an area of a plane at place, three values a pixel, from a picture at a place of its own.
func (f *Filling) take(place raster.Place, area raster.Rect, from *raster.RGB, at raster.Place, done raster.Done) []float32 {
	out := make([]float32, 3*area.W()*area.H())
	s, t := place.Scale(), at.Scale()
	n := max(1, min(8, int(math.Ceil(s/t-0.01)))) // a pixel covers several of a finer picture
	done.Parallel(area.H(), func(row int) {
		for col := range area.W() {
			to := out[3*(row*area.W()+col):][:3]
			fx, fy := place.Full(area.X0+col, area.Y0+row)
			label, near := f.around(fx, fy)
			for k, l := range label {
				if l == noLabel || near[k] == 0 {
					continue
				}
				by := f.shifts[l]
				for j := range n {
					for i := range n {
						x, y := fx+by[0]+s*((float64(i)+0.5)/float64(n)-0.5), fy+by[1]+s*((float64(j)+0.5)/float64(n)-0.5)
						raster.AddSample(to, from.Pix, 3, from.W, from.H, (x-at.X)/t-0.5, (y-at.Y)/t-0.5, near[k]/float32(n*n))
					}
				}
			}
		}
	})
	return out
}
