package isolate

import (
	"math"

	"episema/core/raster"
)

// finish is what is done to the joined picks: areas dropped and filled, the edge tidied, smoothed, grown and
// feathered, in this order.
type finish struct {
	edge  Edge
	areas *areaEdits
	tidy  *Labels
}

func (s *Selection) finishWith(c *compiler, picks []Pick, edge *Edge) (err error) {
	if edge.None() || s.Empty() {
		return nil
	}
	s.finish.edge = *edge
	w, h := c.p.Size(0)
	if edge.areas() {
		s.finish.areas, err = once(c, "areas", struct {
			Picks  []Pick
			Edge   Edge
			Key    string
			Effort Effort
		}{picks, *edge, c.in.Key, c.effort}, func(a *areaEdits) int { return 16 * (len(a.drop) + len(a.fill)) }, func() (*areaEdits, error) {
			all, err := labelAreas(w, h, nil, s.joined)
			if err != nil {
				return nil, err
			}
			return all.edits(edge), nil
		})
		if err != nil {
			return err
		}
	}
	if edge.Tidy > 0 {
		s.finish.tidy, err = c.labels("tidy", struct {
			Picks  []Pick
			Edge   Edge
			Key    string
			Effort Effort
		}{picks, *edge, c.in.Key, c.effort}, func() (*Labels, error) { return c.tidied(s, edge.Tidy) })
	}
	return err
}

// tidied looks for the edge again within reach (pixels of the full size) of the mask's: a cut in a band, with
// colours learned from what lies surely on either side.
func (c *compiler) tidied(s *Selection, reach float64) (*Labels, error) {
	level := c.levelBelow(finest)
	f, err := c.planes(level)
	if err != nil {
		return nil, err
	}
	share, err := s.finish.withAreas(s, level, raster.Rect{X1: f.w, Y1: f.h})
	if err != nil {
		return nil, err
	}
	labels := make([]uint8, len(share))
	for i, v := range share {
		if v >= 0.5 {
			labels[i] = 1
		}
	}
	m := &models{done: doneOf(c.p)}
	m.relearn(f, labels)
	near := max(1, int(math.Round(reach/float64(int(1)<<level))))
	return &Labels{level, f.w, f.h, m.cutBandOpen(f, make([]uint8, len(labels)), labels, near)}, nil
}

// margin is how many pixels around a rectangle of a level decide about it.
func (f *finish) margin(k float64) int {
	m := 0.0
	if f.edge.Smooth > 0 {
		m += 3 * f.smoothSigma(k)
	}
	if f.edge.Grow != 0 {
		m += math.Abs(f.edge.Grow)*k + 3
	}
	if f.edge.Feather > 0 {
		m += 3 * f.featherSigma(k)
	}
	return int(math.Ceil(m))
}

// A feather of f runs from 2 to 98 percent over 2f: that is a Gaussian of f/2.05.
func (f *finish) featherSigma(k float64) float64 { return f.edge.Feather * k / 2.05 }
func (f *finish) smoothSigma(k float64) float64  { return f.edge.Smooth * k / 2 }

func (f *finish) render(s *Selection, level int, r raster.Rect) ([]float32, error) {
	if f.edge.None() {
		return s.joined(level, r)
	}
	k := 1 / float64(int(1)<<level)
	w, h := s.pyramid.Size(level)
	outer := r.Grow(f.margin(k)).And(raster.Rect{X1: w, Y1: h})
	m, err := f.withAreas(s, level, outer)
	if err != nil {
		return nil, err
	}
	if f.tidy != nil {
		fresh, err := (&sweep{l: f.tidy}).render(s.pyramid, level, outer)
		if err != nil {
			return nil, err
		}
		m = f.blendTidy(m, fresh)
	}
	if sigma := f.smoothSigma(k); sigma > 0.05 {
		smoothEdge(m, outer.W(), outer.H(), sigma)
	}
	if g := f.edge.Grow * k; math.Abs(g) > 0.005 {
		m = grown(m, outer.W(), outer.H(), g)
	}
	if sigma := f.featherSigma(k); sigma > 0.05 {
		raster.Gauss(m, outer.W(), outer.H(), sigma)
	}
	return raster.Crop(m, 1, outer, r), nil
}

func (f *finish) withAreas(s *Selection, level int, r raster.Rect) ([]float32, error) {
	m, err := s.joined(level, r)
	if err == nil && f.areas != nil {
		f.areas.apply(m, level, r)
	}
	return m, err
}

// blendTidy takes the tidied edge; shares that were soft on purpose far from any edge stay.
func (f *finish) blendTidy(was, fresh []float32) []float32 {
	for i, v := range fresh {
		if hard := float32(math.Round(float64(was[i]))); was[i] > 0 && was[i] < 1 && v == hard {
			fresh[i] = was[i] // not near the edge that was cut: as it was
		}
	}
	return fresh
}

// smoothEdge evens the edge out: the mask is blurred, and each value read back as a distance from the edge, so
// that a straight edge stays as sharp as it was.
func smoothEdge(m []float32, w, h int, sigma float64) {
	raster.Gauss(m, w, h, sigma)
	for i, v := range m {
		switch {
		case v <= 0.001:
			m[i] = 0
		case v >= 0.999:
			m[i] = 1
		default:
			// The blurred step is the normal distribution; its inverse gives the distance in sigmas.
			d := math.Sqrt2 * math.Erfinv(2*float64(v)-1) * sigma
			m[i] = float32(math.Max(0, math.Min(1, 0.5+d)))
		}
	}
}

// grown moves the edge outward by g pixels (inward below 0): each pixel near the edge reads the mask that far
// along the way to it, so that soft edges stay as soft as they were.
func grown(m []float32, w, h int, g float64) []float32 {
	reach := float32(math.Abs(g) + 12)
	const blurred = 8 // how far away a distance counts in the smoothed field, and in its slope
	d := raster.SignedDistanceWithin(func(i int) bool { return m[i] >= 0.5 }, w, h, float64(reach)+blurred)
	// Directions from a smoothed field: the raw one follows the pixels' stairs.
	raster.Gauss(d, w, h, 1.2)
	out := append([]float32(nil), m...)
	raster.Parallel(h, func(y int) {
		for x := range w {
			i := y*w + x
			if d[i] > reach || d[i] < -reach {
				continue
			}
			l, r := y*w+max(0, x-1), y*w+min(w-1, x+1)
			u, b := max(0, y-1)*w+x, min(h-1, y+1)*w+x
			gx, gy := float64(d[r]-d[l]), float64(d[b]-d[u])
			n := math.Hypot(gx, gy)
			if n < 1e-6 {
				continue
			}
			out[i] = raster.Sample(m, w, h, float64(x)+g*gx/n, float64(y)+g*gy/n)
			// On ridges the way is unclear: the distance decides.
			if g > 0 && float64(d[i])+g > 1 && d[i] < float32(-0.5) && out[i] < 0.5 && n < 0.8 {
				out[i] = max(out[i], float32(math.Max(0, math.Min(1, float64(d[i])+g))))
			}
		}
	})
	return out
}
