package develop

import (
	"errors"
	"sync"

	"episema/core/document"
	"episema/core/isolate"
	"episema/core/pattern"
	"episema/core/raster"
)

// patterns lays patterns on the parts that have one: where a figure covers a pixel, the pixel is what repainting the thing in the
// figure's colour makes of it, so that light, shine and edges are as on any repainted thing.
type patterns struct {
	d    *Developed
	lays []*pattern.Lay // a part each; nil for none
}

func readyPatterns(d *Developed, _ document.Picture) (step, error) {
	s := &patterns{d, make([]*pattern.Lay, len(d.Parts))}
	laid := false
	for i := range d.Parts {
		p := &d.Parts[i]
		if len(p.figures) == 0 {
			continue
		}
		found, err := d.foundFor(p)
		if err != nil {
			return nil, err
		}
		s.lays[i] = pattern.NewLay(p.Pattern.Lay, len(p.figures), found)
		if p.Copy != nil {
			s.lays[i] = s.lays[i].Moved(p.Copy.Move()) // it lies on the thing, wherever that is set
		}
		laid = true
	}
	if !laid {
		return nil, nil
	}
	return s, nil
}

// foundFor works out what a part's pattern needs beforehand, or remembers it.
func (d *Developed) foundFor(p *Part) (found pattern.Found, err error) {
	lay := &p.Pattern.Lay
	if lay.Folds > 0 {
		if found.Bend, err = d.bend(p); err != nil {
			return found, err
		}
	}
	if lay.Tile == pattern.TileDrawn {
		m := d.Source.Masks[lay.File]
		if m == nil {
			return found, wrong(p.Part, errors.New("the tile of its pattern is not there; take it from a picture again"))
		}
		v, err := d.memo.Do(keyOf("tile", lay.File, lay.Figures), func(raster.Done) (any, error) { return pattern.NewDrawn(m, lay.Figures) })
		if err != nil {
			return found, wrong(p.Part, err)
		}
		found.Drawn = v.(*pattern.Drawn)
	}
	if len(lay.Pushes) > 0 {
		v, err := d.memo.Do(keyOf("pushed", lay.Pushes), func(done raster.Done) (any, error) { return pattern.NewPushed(lay.Pushes, done), nil })
		if err != nil {
			return found, err
		}
		found.Pushed = v.(*pattern.Pushed)
	}
	if lay.Grid != nil {
		v, err := d.memo.Do(keyOf("grid", lay.Corners, lay.Grid), func(done raster.Done) (any, error) { return pattern.NewGrid(lay, done), nil })
		if err != nil {
			return found, err
		}
		found.Grid = v.(*pattern.Grid)
	}
	return found, nil
}

// bend tells from the shading of a part, as the picture came in, how its surface goes to and fro. A copy has the folds of its original,
// in the original's places.
func (d *Developed) bend(p *Part) (*pattern.Bend, error) {
	if p.Copy != nil && p.Copy.Cut != nil {
		thing, err := d.thing(p.Copy.Cut)
		if err != nil {
			return nil, err
		}
		return d.bendOf(keyOf("bend", p.Copy.Cut), func() (*raster.RGB, *raster.Mask, float64, error) {
			pic, share, scale := thing.Small(learnAt)
			return pic, share, scale, nil
		})
	}
	if p.Copy != nil {
		for i := range d.Parts {
			if d.Parts[i].ID == p.Copy.Of {
				p = &d.Parts[i]
				break
			}
		}
	}
	return d.bendOf(keyOf("bend", p.ID, d.claimed), func() (*raster.RGB, *raster.Mask, float64, error) {
		pic, err := d.LearningPicture(d.memo)
		return pic, p.mask, float64(int(1) << d.LearnLevel()), err
	})
}

// bendOf remembers the bend of what look finds: a picture, the mask of the thing in it, and how many full-size pixels one of its is wide.
func (d *Developed) bendOf(key string, look func() (*raster.RGB, *raster.Mask, float64, error)) (*pattern.Bend, error) {
	v, err := d.memo.Do(key, func(raster.Done) (any, error) {
		pic, mask, scale, err := look()
		if err != nil {
			return nil, err
		}
		light := make([]float32, pic.W*pic.H)
		for i := range light {
			light[i] = 0.25*pic.Pix[3*i] + 0.6*pic.Pix[3*i+1] + 0.15*pic.Pix[3*i+2]
		}
		return pattern.FindBend(light, mask, scale), nil
	})
	if err != nil {
		return nil, err
	}
	return v.(*pattern.Bend), nil
}

func (*patterns) margin(float64) int { return 0 }

func (s *patterns) apply(c *canvas, area raster.Rect) {
	for i, lay := range s.lays {
		if lay == nil || c.Masks[i] == nil {
			continue
		}
		if c.err = s.lay(c, area, lay, &s.d.Parts[i], c.Masks[i]); c.err != nil {
			return
		}
	}
}

// lay paints the figures of a part's pattern over its ground.
func (s *patterns) lay(c *canvas, area raster.Rect, lay *pattern.Lay, p *Part, mask *raster.Mask) error {
	cover, err := s.cover(c, area, lay, p, mask)
	if err != nil {
		return err
	}
	w := c.Before.W
	c.done.Parallel(area.H(), func(row int) {
		for i := (area.Y0+row)*w + area.X0; i < (area.Y0+row)*w+area.X1; i++ {
			ground := cover.ground(i)
			if ground == 1 {
				continue
			}
			for q := range 3 {
				c.After.Pix[3*i+q] *= ground
			}
		}
	})
	for k, plan := range p.figures {
		plan = plan.Until(c.done).Adding(cover.of[k])
		if remembered(mask, len(p.figures)) { // any other cover is another in the next step
			plan = plan.Seeing(c.sights.sight(p.ID, k+1))
		}
		plan.Apply(c.Before, c.After, mask, c.place, area)
	}
	return nil
}

// underFigures tells which pixels of a part the figures of its pattern cover wholly, so that its own colour need not be worked out there;
// nil where that is not asked about a moving hand, in which case the part's own colours are counted everywhere.
func (d *Developed) underFigures(c *canvas, area raster.Rect, part int) ([]bool, error) {
	if d.effort != isolate.Quick || c.Masks[part] == nil {
		return nil, nil
	}
	for _, s := range d.steps {
		if s, ok := s.(*patterns); ok && s.lays[part] != nil && remembered(c.Masks[part], len(d.Parts[part].figures)) {
			cover, err := s.cover(c, area, s.lays[part], &d.Parts[part], c.Masks[part])
			if err != nil {
				return nil, err
			}
			return cover.hidden, nil
		}
	}
	return nil, nil
}

// covered is how much of each pixel the figures of a pattern cover.
type covered struct {
	of     [][]float32 // of each figure
	hidden []bool      // by all of them together, wholly
}

// ground returns how much of a pixel they leave.
func (v *covered) ground(i int) float32 {
	left := float32(1)
	for _, of := range v.of {
		left -= of[i]
	}
	return left
}

// lastCover is how much of each pixel of what was rendered last the figures of a part's pattern covered. While a hand changes a colour, or
// how it is painted, that stays.
type lastCover struct {
	mu    sync.Mutex
	key   string
	cover *covered
}

// mostCover is what a part's last cover takes at most, in bytes; what takes more is not remembered.
const mostCover = 12 << 20

// Bytes returns what it takes in memory at most.
func (*lastCover) Bytes() int { return mostCover }

// remembered reports whether the last cover of a part with so many figures is remembered.
func remembered(mask *raster.Mask, figures int) bool { return len(mask.Pix)*(1+4*figures) <= mostCover }

// cover returns how much of each pixel of an area the figures cover.
func (s *patterns) cover(c *canvas, area raster.Rect, lay *pattern.Lay, p *Part, mask *raster.Mask) (*covered, error) {
	if !remembered(mask, len(p.figures)) {
		return coverOf(c, area, lay, len(p.figures), mask), nil
	}
	v, err := s.d.memo.Do(keyOf("last cover", p.ID), func(raster.Done) (any, error) { return &lastCover{}, nil })
	if err != nil {
		return nil, err
	}
	last := v.(*lastCover)
	key := keyOf("cover", p.Pattern.Lay, len(p.figures), p.Copy, s.d.claimed, c.place, area, mask.W, mask.H)
	last.mu.Lock()
	defer last.mu.Unlock()
	if last.key != key {
		last.cover = coverOf(c, area, lay, len(p.figures), mask)
		last.key = key
	}
	return last.cover, nil
}

// laidRows is how many rows are laid together: each row's places are those below the row above it.
const laidRows = 16

func coverOf(c *canvas, area raster.Rect, lay *pattern.Lay, figures int, mask *raster.Mask) *covered {
	cover := &covered{make([][]float32, figures), make([]bool, len(mask.Pix))}
	for k := range cover.of {
		cover.of[k] = make([]float32, len(mask.Pix))
	}
	c.done.Parallel((area.H()+laidRows-1)/laidRows, func(n int) {
		rows := raster.Rect{X0: area.X0, X1: area.X1, Y0: area.Y0 + n*laidRows, Y1: min(area.Y1, area.Y0+(n+1)*laidRows)}
		x0, x1 := span(mask, rows)
		if x0 > x1 {
			return
		}
		line := lay.Line(c.place, x0, x1+1, rows.Y0)
		for y := rows.Y0; y < rows.Y1; y++ {
			next := lay.Line(c.place, x0, x1+1, y+1)
			for x := x0; x <= x1; x++ {
				i := y*mask.W + x
				if mask.Pix[i] == 0 {
					continue
				}
				all := lay.CoverOf(line[x-x0], line[x-x0+1], next[x-x0])
				for k, of := range cover.of {
					of[i] = all[k]
				}
				cover.hidden[i] = cover.ground(i) == 0
			}
			line = next
		}
	})
	return cover
}

// span returns the first and the last column of a rectangle in which a mask has any share.
func span(m *raster.Mask, r raster.Rect) (x0, x1 int) {
	x0, x1 = r.X1, r.X0-1
	for y := r.Y0; y < r.Y1; y++ {
		row := m.Pix[y*m.W : (y+1)*m.W]
		for x := r.X0; x < x0; x++ {
			if row[x] > 0 {
				x0 = x
			}
		}
		for x := r.X1 - 1; x > x1; x-- {
			if row[x] > 0 {
				x1 = x
			}
		}
	}
	return x0, x1
}

// Ground returns the same without patterns: what their figures cover has colours of its own, which are not the part's target.
func (d *Developed) Ground() *Developed {
	g := *d
	g.steps = nil
	for _, s := range d.steps {
		if _, ok := s.(*patterns); !ok {
			g.steps = append(g.steps, s)
		}
	}
	return &g
}
