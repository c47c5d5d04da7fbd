package develop

import (
	"sync"

	"episema/core/colour"
	"episema/core/document"
	"episema/core/raster"
	"episema/core/recolour"
)

// step is one thing that is done to the pixels of a picture, after those before it.
//
// A step sees a rectangle of a level and must do to it what it would do to the whole: what it looks at around a pixel is its
// margin, and what it needs to know of the whole picture it finds out when it is made ready, from the learning level. What that
// costs it remembers under a key made (by keyOf) of all the values that it follows from.
type step interface {
	// margin is how far around a rectangle it looks, in pixels that are step full-size pixels wide.
	margin(step float64) int
	// apply does it to an area of the canvas.
	apply(c *canvas, area raster.Rect)
}

// steps lists what can be done, in its order. Each is made ready for a document; nil is returned where the document does not
// ask for it. The steps before it are those of d then.
var steps = []func(d *Developed, doc document.Picture) (step, error){
	readyStanding,
	readyRepaint, // this and the next change the parts alone; all others may change what is outside of them
	readyPatterns,
	readyCasts,
	readyMends,
}

// inParts reports whether a step changes nothing outside of the parts. What copies change, the shadows they throw among it, is told apart
// by what they leave as the picture before.
func inParts(s step) bool {
	switch s.(type) {
	case *standing, *repaint, *patterns:
		return true
	}
	return false
}

// canvas is a rectangle of the picture on its way from before to after.
type canvas struct {
	*Rendered
	place raster.Place // of the rectangle in the picture
	inner raster.Rect  // what is wanted of it; the rest is there to be looked at
	done  raster.Done
	all   *raster.Mask
	err   error // what a step could not do

	sights *sights // of the rectangle; nil for none
}

// whole is all of the rectangle.
func (c *canvas) whole() raster.Rect { return raster.Rect{X1: c.Before.W, Y1: c.Before.H} }

// parts returns the share that all parts together have of each pixel; nil for none.
func (c *canvas) parts() *raster.Mask {
	if c.all == nil {
		c.all = union(c.Masks)
	}
	return c.all
}

// around is how far around a rectangle the steps from the one at k on look.
func (d *Developed) around(k int, step float64) int {
	m := 0
	for _, s := range d.steps[min(k, len(d.steps)):] {
		m += s.margin(step)
	}
	return m
}

// Untouched reports whether nothing of the document changes a pixel.
func (d *Developed) Untouched() bool { return len(d.steps) == 0 }

// Paint recolours a rectangle of pixels that somebody read or resampled, with a mask a part (nil: none). place is where it lies
// in the picture, inner what is wanted of it; the Margin around that is there to be looked at.
// An error is one of reading pixels from elsewhere in the picture, or raster.ErrStopped.
func (d *Developed) Paint(pic *raster.RGB, masks []*raster.Mask, place raster.Place, inner raster.Rect) (out *Rendered, err error) {
	defer raster.Recover(&err)
	c := newCanvas(d, pic, masks, place, inner, d.Done)
	after := c.After
	var parts []float32 // how the parts left it
	for k, s := range d.steps {
		if parts == nil && !inParts(s) {
			parts = append(parts, after.Pix...)
		}
		s.apply(c, inner.Grow(d.around(k+1, place.Scale())).And(c.whole()))
		if c.err != nil {
			return nil, c.err
		}
	}
	if parts != nil || c.Before != pic {
		c.Meant = make([]bool, pic.W*pic.H)
		for i := range c.Meant {
			c.Meant[i] = differs(pic, c.Before.Pix, i) || parts != nil && differs(after, parts, i)
		}
		intoGamut(d.Space, after, c.Meant)
	}
	return c.Rendered, nil
}

func newCanvas(d *Developed, pic *raster.RGB, masks []*raster.Mask, place raster.Place, inner raster.Rect, done raster.Done) *canvas {
	after := borrowed(pic.W, pic.H)
	raster.Parallel(pic.H, func(y int) { copy(after.Pix[3*pic.W*y:3*pic.W*(y+1)], pic.Pix[3*pic.W*y:]) })
	return &canvas{Rendered: &Rendered{Given: pic, Before: pic, After: after, Masks: masks, Stats: make([]recolour.Stats, len(d.Parts))}, place: place, inner: inner, done: done}
}

// pool lends out the pixels of pictures that were painted: who drags asks for one after the other, and memory that is new is emptied first. It keeps
// none that are larger than a screen's, which small ones would hold on to.
var pool sync.Pool

const lent = 3 * 4096 * 2304 // values at most

func borrowed(w, h int) *raster.RGB {
	if p, ok := pool.Get().(*raster.RGB); ok && cap(p.Pix) >= 3*w*h {
		return &raster.RGB{W: w, H: h, Pix: p.Pix[:3*w*h]}
	}
	return raster.NewRGB(w, h)
}

// Release gives the memory of After back: nobody may look at it any more.
func (r *Rendered) Release() {
	if cap(r.After.Pix) <= lent {
		pool.Put(r.After)
	}
	r.After = nil
}

// differs reports whether a pixel has another colour in a picture than in pix.
func differs(p *raster.RGB, pix []float32, i int) bool {
	return p.Pix[3*i] != pix[3*i] || p.Pix[3*i+1] != pix[3*i+1] || p.Pix[3*i+2] != pix[3*i+2]
}

// intoGamut brings what was changed back into what the picture's space holds.
func intoGamut(space *colour.Space, p *raster.RGB, where []bool) {
	for i, w := range where {
		q := p.Pix[3*i : 3*i+3]
		if w && (q[0] < 0 || q[1] < 0 || q[2] < 0 || q[0] > 1 || q[1] > 1 || q[2] > 1) {
			c := space.MapToGamut(colour.RGB{float64(q[0]), float64(q[1]), float64(q[2])})
			for k := range q {
				q[k] = float32(c[k])
			}
		}
	}
}

// union returns the share that all masks have of each pixel together; nil for none.
func union(masks []*raster.Mask) *raster.Mask {
	var all *raster.Mask
	for _, m := range masks {
		if m == nil {
			continue
		}
		if all == nil {
			all = &raster.Mask{W: m.W, H: m.H, Pix: append([]uint16(nil), m.Pix...)}
			continue
		}
		for i, v := range m.Pix {
			all.Pix[i] = uint16(min(raster.Whole, uint32(all.Pix[i])+uint32(v)))
		}
	}
	return all
}
