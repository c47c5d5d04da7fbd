package app

import (
	"cmp"
	"context"
	"io"
	"math"
	"os"
	"path/filepath"
	"slices"

	"github.com/google/uuid"

	"episema/core/colour"
	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/imagefile"
	"episema/internal/problem"
	"episema/store"
)

// Areas lists the separate areas of a part's mask and the holes in it, largest first, over the whole picture.
func (s *Studio) Areas(ctx context.Context, id uuid.UUID, part string, draft *document.Picture) ([]isolate.Area, error) {
	var out []isolate.Area
	err := s.selection(ctx, id, part, draft, func(d *develop.Developed, at int, _ *imagefile.Pyramid) (err error) {
		out, err = d.Parts[at].Selection.Until(d.Done).Areas(s.hands.between(ctx))
		return err
	})
	return out, err
}

// WriteMask writes a part's mask, settled among the parts, as a 16 bit grey PNG at full size.
func (s *Studio) WriteMask(ctx context.Context, id uuid.UUID, part string, w io.Writer) error {
	return s.selection(ctx, id, part, nil, func(d *develop.Developed, at int, p *imagefile.Pyramid) error {
		dir, err := os.MkdirTemp(s.derived.Making(), "mask-*")
		if err != nil {
			return err
		}
		defer os.RemoveAll(dir)
		width, height := p.Size(0)
		path := filepath.Join(dir, "mask.png")
		err = imagefile.WriteMask(path, width, height, func(r raster.Rect) (*raster.Mask, error) {
			masks, err := d.Masks(0, r)
			if err != nil || masks[at] == nil {
				return raster.NewMask(r.W(), r.H()), err
			}
			return masks[at], nil
		})
		if err != nil {
			return err
		}
		f, err := os.Open(path)
		if err != nil {
			return err
		}
		defer f.Close()
		_, err = io.Copy(w, f)
		return err
	})
}

// EdgeWalk gives the places at which a window of w x h full-size pixels is put, one after the other along the
// edge, to see all of a part's edge.
func (s *Studio) EdgeWalk(ctx context.Context, id uuid.UUID, part string, w, h float64, draft *document.Picture) ([][2]float64, error) {
	if !(w >= 16 && h >= 16) {
		return nil, problem.New("the window of an edge walk has at least 16 x 16 pixels")
	}
	var out [][2]float64
	err := s.selection(ctx, id, part, draft, func(d *develop.Developed, at int, p *imagefile.Pyramid) error {
		level := levelUpTo(p, 1200)
		lw, lh := p.Size(level)
		masks, err := d.Masks(level, raster.Rect{X1: lw, Y1: lh})
		if err != nil || masks[at] == nil {
			return err
		}
		k := float64(int(1) << level)
		out = walk(masks[at], w/k*0.8, h/k*0.8)
		for i := range out {
			out[i] = [2]float64{out[i][0] * k, out[i][1] * k}
		}
		return nil
	})
	return out, err
}

// walk covers the edge of a mask with windows: always the nearest edge that no window has shown yet.
func walk(m *raster.Mask, w, h float64) [][2]float64 {
	var edge [][2]float64
	for y := range m.H - 1 {
		for x := range m.W - 1 {
			i := y*m.W + x
			in := m.Pix[i] >= raster.Whole/2
			if in != (m.Pix[i+1] >= raster.Whole/2) || in != (m.Pix[i+m.W] >= raster.Whole/2) {
				edge = append(edge, [2]float64{float64(x) + 1, float64(y) + 1})
			}
		}
	}
	var out [][2]float64
	for len(edge) > 0 {
		next := edge[0]
		if len(out) > 0 {
			last, best := out[len(out)-1], math.Inf(1)
			for _, p := range edge {
				if d := math.Hypot(p[0]-last[0], p[1]-last[1]); d < best {
					best, next = d, p
				}
			}
		}
		// The window is moved on to the middle of the edge it will show.
		var sx, sy, n float64
		for _, p := range edge {
			if math.Abs(p[0]-next[0]) < w/2 && math.Abs(p[1]-next[1]) < h/2 {
				sx, sy, n = sx+p[0], sy+p[1], n+1
			}
		}
		c := [2]float64{sx / n, sy / n}
		kept := edge[:0]
		for _, p := range edge {
			if math.Abs(p[0]-c[0]) > w/2 || math.Abs(p[1]-c[1]) > h/2 {
				kept = append(kept, p)
			}
		}
		if len(kept) == len(edge) { // nothing new would be seen: the place itself is shown
			c = next
			kept = slices.DeleteFunc(edge, func(p [2]float64) bool {
				return math.Abs(p[0]-c[0]) <= w/2 && math.Abs(p[1]-c[1]) <= h/2
			})
		}
		edge = kept
		out = append(out, c)
	}
	return out
}

// Histogram counts a picture's pixels by hue (72 bins of CIE LCh), tone (100 bins of CIE L*) or nearness (100
// bins); the largest count is 1.
func (s *Studio) Histogram(ctx context.Context, id uuid.UUID, of string) ([]float64, error) {
	pic, err := s.Store.Picture(ctx, id)
	if err != nil {
		return nil, err
	}
	p, release, err := s.derived.Pyramid(ctx, pic.SHA)
	if err != nil {
		return nil, err
	}
	defer release()
	var bins []float64
	switch of {
	case "depth":
		if pic.Depth == nil {
			return nil, problem.New("this picture has no depth map")
		}
		m, err := s.storedMask(ctx, pic.Depth)
		if err != nil {
			return nil, err
		}
		bins = make([]float64, 100)
		for _, v := range m.Pix {
			bins[min(99, int(v)*100/raster.Whole)]++
		}
	case "hues", "tones":
		bins = make([]float64, map[string]int{"hues": 72, "tones": 100}[of])
		level := levelUpTo(p, 500)
		w, h := p.Size(level)
		px, err := p.Linear(level, raster.Rect{X1: w, Y1: h})
		if err != nil {
			return nil, err
		}
		for i := 0; i < len(px.Pix); i += 3 {
			l := p.Space.Lab(colour.RGB{float64(px.Pix[i]), float64(px.Pix[i+1]), float64(px.Pix[i+2])})
			if of == "tones" {
				bins[max(0, min(99, int(l[0])))]++
				continue
			}
			// Greys have no hue; the more a colour is one, the more it counts.
			hue := math.Atan2(l[2], l[1]) * 180 / math.Pi
			if hue < 0 {
				hue += 360
			}
			bins[min(71, int(hue/5))] += min(1, l.Chroma()/20)
		}
	default:
		return nil, problem.Inputf("there is no histogram of %q; hues, tones and depth are", of)
	}
	if top := slices.MaxFunc(bins, cmp.Compare[float64]); top > 0 {
		for i := range bins {
			bins[i] /= top
		}
	}
	return bins, nil
}

// Values counts the coded values of a part's pixels as they came in: 64 bins each of their mean, red, green and blue;
// the largest count of each is 1.
func (s *Studio) Values(ctx context.Context, id uuid.UUID, part string) ([]float64, error) {
	const bins = 64
	out := make([]float64, 4*bins)
	err := s.selection(ctx, id, part, nil, func(d *develop.Developed, at int, _ *imagefile.Pyramid) error {
		r, err := d.Overview()
		if err != nil || r.Masks[at] == nil {
			return err
		}
		bin := func(v float64) int { return max(0, min(bins-1, int(v*bins))) }
		for i, m := range r.Masks[at].Pix {
			w, mean := float64(m)/raster.Whole, 0.0
			if w == 0 {
				continue
			}
			for c := range 3 {
				v := colour.SRGBEncode(float64(r.Before.Pix[3*i+c]))
				out[(c+1)*bins+bin(v)] += w
				mean += v / 3
			}
			out[bin(mean)] += w
		}
		for c := range 4 {
			h := out[c*bins : (c+1)*bins]
			if top := slices.Max(h); top > 0 {
				for i := range h {
					h[i] /= top
				}
			}
		}
		return nil
	})
	return out, err
}

// Subject tells how sure the Subject pick is of each of its candidates on a picture, 0 to 1.
func (s *Studio) Subject(ctx context.Context, id uuid.UUID) ([]float64, error) {
	pic, err := s.Store.Picture(ctx, id)
	if err != nil {
		return nil, err
	}
	p, release, err := s.derived.Pyramid(ctx, pic.SHA)
	if err != nil {
		return nil, err
	}
	defer release()
	return isolate.Subject(isolate.Until(p, ctx.Done()), isolate.Inputs{Space: p.Space}, picked{ctx, s.memory, string(pic.SHA)})
}

// Band gives the band of hues, tones or depths that a few points of a picture span, a little widened.
func (s *Studio) Band(ctx context.Context, id uuid.UUID, of string, points [][2]float64) (from, to, soft float64, err error) {
	pic, err := s.Store.Picture(ctx, id)
	if err != nil {
		return 0, 0, 0, err
	}
	p, release, err := s.derived.Pyramid(ctx, pic.SHA)
	if err != nil {
		return 0, 0, 0, err
	}
	defer release()
	points = slices.DeleteFunc(slices.Clone(points[:min(len(points), 500)]), func(q [2]float64) bool {
		return !(q[0] >= 0 && q[1] >= 0 && q[0] < float64(pic.Width) && q[1] < float64(pic.Height)) // true for what is no number
	})
	if len(points) == 0 {
		return 0, 0, 0, problem.New("that is outside the picture")
	}
	if of == "depth" {
		return s.depths(ctx, pic, points)
	}
	return tonesOrHues(p, of == "hues", points)
}

// depths returns the band of depths that points have.
func (s *Studio) depths(ctx context.Context, pic store.Picture, points [][2]float64) (from, to, soft float64, err error) {
	if pic.Depth == nil {
		return 0, 0, 0, problem.New("this picture has no depth map")
	}
	near, err := s.storedMask(ctx, pic.Depth)
	if err != nil {
		return 0, 0, 0, err
	}
	from, to = math.Inf(1), math.Inf(-1)
	for _, q := range points {
		v := isolate.Nearness(near, (q[0]+0.5)/float64(pic.Width), (q[1]+0.5)/float64(pic.Height))
		from, to = math.Min(from, v), math.Max(to, v)
	}
	return math.Round(100*math.Max(0, from-0.03)) / 100, math.Round(100*math.Min(1, to+0.03)) / 100, 0.03, nil
}

// tonesOrHues returns the band of lightness, or of hues, that the pixels around points have.
func tonesOrHues(p *imagefile.Pyramid, hues bool, points [][2]float64) (from, to, soft float64, err error) {
	from, to = math.Inf(1), math.Inf(-1)
	first := math.NaN() // the first hue: the others are told by their turn from it
	w, h := p.Size(0)
	for _, q := range points {
		x, y := int(q[0]), int(q[1])
		px, err := p.Linear(0, raster.Rect{X0: x - 2, Y0: y - 2, X1: x + 3, Y1: y + 3}.And(raster.Rect{X1: w, Y1: h}))
		if err != nil {
			return 0, 0, 0, err
		}
		var mean colour.RGB
		for i, l := range px.Pix {
			mean[i%3] += float64(l) / float64(len(px.Pix)/3)
		}
		lab := p.Space.Lab(mean)
		v := lab[0]
		if hues {
			if lab.Chroma() < 4 {
				continue // grey has no hue
			}
			v = math.Atan2(lab[2], lab[1]) * 180 / math.Pi
			if math.IsNaN(first) {
				first = v
			}
			v = first + math.Remainder(v-first, 360)
		}
		from, to = math.Min(from, v), math.Max(to, v)
	}
	if from > to {
		return 0, 0, 0, problem.New("what was dragged over is grey and has no hue; use tones")
	}
	if hues {
		from, to = from-3, math.Min(to+3, from-3+360)
		turn := math.Floor(from/360) * 360
		return math.Round(from - turn), math.Round(math.Mod(to-turn, 360)), 12, nil
	}
	return math.Round(math.Max(0, from-2)), math.Round(math.Min(100, to+2)), 8, nil
}
