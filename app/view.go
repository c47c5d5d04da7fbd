package app

import (
	"context"
	"encoding/json"
	"fmt"
	"image"
	"math"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"episema/core/develop"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/imagefile"
	"episema/internal/memo"
	"episema/internal/problem"
	"episema/store"
)

// View asks for a rectangle of a picture, in pixels of the full size, at a size in device pixels.
type View struct {
	X, Y, W, H    float64
	Width, Height int
	Show          string // before, picture, hatch, tint, mask, cutout, rest, cast or changed
	Part          string // the part at hand
	Draft         bool   // a hand is moving: quick instead of exact
	Hand          bool   // a hand is moving: what nobody waits for rests
	Ahead         bool   // nobody waits for it yet: it rests itself while a hand is moving
	Stage         bool   // somebody has the picture open and may draw on it next
	Overlay       Overlay
	Ink           string            // InkOnWhite or InkOnPaper: as the job's inks print it; empty: as the screen shows it
	InkMarks      bool              // what the inks cannot reach is marked
	Document      *document.Picture // nil: as stored
}

// picture gives a picture with its document: the stored one, or the draft that came with the request.
func (s *Studio) picture(ctx context.Context, id uuid.UUID, draft *document.Picture) (store.Picture, document.Picture, error) {
	p, err := s.Store.Head(ctx, id)
	if err != nil {
		return p, document.Picture{}, err
	}
	var doc document.Picture
	if draft != nil {
		doc, err = *draft, draft.Validate()
	} else {
		doc, err = s.document(ctx, id, p.Revision)
	}
	if err != nil {
		return p, doc, err
	}
	doc, _, err = s.inColourway(ctx, p.Content, doc, "")
	return p, doc, err
}

// Render gives a view as rows of 8 bit sRGB RGBA, exactly as the picture is at that size.
func (s *Studio) Render(ctx context.Context, id uuid.UUID, v View) ([]byte, error) {
	if err := checkView(v); err != nil {
		return nil, err
	}
	if v.Ahead {
		s.hands.giveWay(ctx, longestAhead)
	}
	leave, err := s.admit(ctx, int64(v.Width)*int64(v.Height)*bytesAPixel)
	if err != nil {
		return nil, err
	}
	defer leave()
	m, pic, _, err := s.medium(ctx, id, v.Document)
	if err != nil {
		return nil, err
	}
	if v.Hand {
		s.hands.moves()
		defer s.hands.moves()
	}
	pix, err := m.render(ctx, v)
	if err != nil || v.Ink == "" {
		return pix, err
	}
	return pix, s.intoInk(ctx, pic.Content, pix, v)
}

// longestAhead is for how long at most what nobody waits for yet rests.
const longestAhead = time.Second

// checkView says what is wrong with a view.
func checkView(v View) error {
	switch {
	case v.Width < 1 || v.Height < 1 || v.Width > 8192 || v.Height > 8192:
		return problem.New("a view is 1 to 8192 pixels wide and high")
	case !(v.W > 0 && v.H > 0 && v.W < 1e6 && v.H < 1e6 && math.Abs(v.X) < 1e6 && math.Abs(v.Y) < 1e6):
		return problem.New("the view's rectangle is empty or not a rectangle")
	case math.Abs(v.H*float64(v.Width)/v.W-float64(v.Height)) > 2+0.01*float64(v.Height):
		return problem.New("the view is scaled differently across and down; ask for width and height in the ratio of w and h")
	}
	if v.Ink != "" && v.Ink != InkOnWhite && v.Ink != InkOnPaper {
		return problem.Inputf("ink is %q; use white or paper, or leave it out", v.Ink)
	}
	if !slices.Contains(shows, v.Show) {
		return problem.Inputf("there is no view %q; use one of %s", v.Show, strings.Join(shows, ", "))
	}
	return nil
}

// shows are the ways a view is shown.
var shows = []string{"before", "picture", "hatch", "tint", "mask", "cutout", "rest", "cast", "changed"}

// bytesAPixel is what a view takes for each of its pixels: light before and after, a few masks, and what is sent.
const bytesAPixel = 48

// grid is where a view's pixels lie in a level: pixel i covers x + i*step to x + (i+1)*step.
type grid struct {
	level  int
	x, y   float64
	step   float64
	w, h   int // pixels wanted
	margin int // and more on each side
}

func (g grid) key() string {
	return fmt.Sprintf("%d %.4f %.4f %.6f %d %d %d", g.level, g.x, g.y, g.step, g.w, g.h, g.margin)
}

// gridOf gives the grid of a view; margin is how far around it somebody looks, for pixels that are step full-size pixels wide.
func gridOf(p *imagefile.Pyramid, v View, margin func(step float64) int) grid {
	full := v.W / float64(v.Width) // full-size pixels a device pixel
	g := grid{margin: margin(max(1, full))}
	if full < 1 {
		// Enlarged: the picture's own pixels are computed, and repeated afterwards.
		x0, y0 := math.Floor(v.X), math.Floor(v.Y)
		g.x, g.y, g.step = x0, y0, 1
		g.w, g.h = max(1, int(math.Round(v.W))), max(1, int(math.Round(v.H)))
		return g
	}
	for g.level < p.Levels()-1 && float64(int(2)<<g.level) <= full*1.0001 {
		g.level++
	}
	k := float64(int(1) << g.level)
	g.x, g.y, g.step, g.w, g.h = v.X/k, v.Y/k, full/k, v.Width, v.Height
	return g
}

// inner is what is wanted of the grid with its margin.
func (g grid) inner() raster.Rect {
	return raster.Rect{X0: g.margin, Y0: g.margin, X1: g.margin + g.w, Y1: g.margin + g.h}
}

// place says where the grid lies, its margin included.
func (g grid) place() raster.Place {
	k := float64(int(1) << g.level)
	m := float64(g.margin) * g.step
	return raster.Place{X: (g.x - m) * k, Y: (g.y - m) * k, Step: g.step * k}
}

// first returns where the grid begins, in its own pixels from the picture's corner. What begins a whole number of them further along lies so
// many further, whatever a step comes to: by less than a fraction that nothing has by design.
func (g grid) first() image.Point {
	at := func(v float64) int { return int(math.Floor(v/g.step + 0.0371)) }
	return image.Pt(at(g.x), at(g.y))
}

// levelUpTo is the finest level whose long side is at most so many pixels.
func levelUpTo(p *imagefile.Pyramid, long int) int {
	level := 0
	for level < p.Levels()-1 {
		if w, h := p.Size(level); max(w, h) <= long {
			break
		}
		level++
	}
	return level
}

// coarser is the same grid over the next level: pixels of it may be repeated.
func (g grid) coarser() grid {
	g.level++
	g.x, g.y, g.step = g.x/2, g.y/2, g.step/2
	return g
}

// area gives the rectangle of the level that the grid with its margin reads.
func (g grid) area(p *imagefile.Pyramid) raster.Rect {
	w, h := p.Size(g.level)
	m := float64(g.margin)
	r := raster.Rect{X0: int(math.Floor(g.x - m*g.step)), Y0: int(math.Floor(g.y - m*g.step)),
		X1: int(math.Ceil(g.x + (float64(g.w)+m)*g.step)), Y1: int(math.Ceil(g.y + (float64(g.h)+m)*g.step))}
	r = r.And(raster.Rect{X1: w, Y1: h})
	if r.Empty() { // wholly outside: the nearest corner stands for it
		r = raster.Rect{X0: w - 1, Y0: h - 1, X1: w, Y1: h}
	}
	return r
}

// shrink returns a rectangle of the level, of which read reads the rows, on the grid with its margin.
func (g grid) shrink(read raster.Rows, r raster.Rect, ch int) ([]float32, error) {
	m := float64(g.margin)
	return raster.ShrinkFrom(read, r.W(), r.H(), ch, g.x-m*g.step-float64(r.X0), g.y-m*g.step-float64(r.Y0), g.step, g.w+2*g.margin, g.h+2*g.margin)
}

// whole reports whether the grid's pixels are those of a rectangle of the level, as they are.
func (g grid) whole(r raster.Rect) bool {
	m := float64(g.margin)
	return g.step == 1 && g.x-m == float64(r.X0) && g.y-m == float64(r.Y0) && r.W() == g.w+2*g.margin && r.H() == g.h+2*g.margin
}

// light gives the picture's pixels on the grid, margin included.
func (s *Studio) light(ctx context.Context, p *imagefile.Pyramid, sha []byte, g grid) (*raster.RGB, error) {
	return memo.Get(ctx, s.memory, "light|"+string(sha)+"|"+g.key(), func(p *raster.RGB) int64 { return int64(4 * len(p.Pix)) }, func(ctx context.Context) (*raster.RGB, error) {
		r, from := g.area(p), isolate.Until(p, ctx.Done())
		if g.whole(r) {
			return from.Linear(g.level, r)
		}
		pix, err := g.shrink(func(y0, y1 int) ([]float32, error) {
			pic, err := from.Linear(g.level, raster.Rect{X0: r.X0, Y0: r.Y0 + y0, X1: r.X1, Y1: r.Y0 + y1})
			if err != nil {
				return nil, err
			}
			return pic.Pix, nil
		}, r, 3)
		return &raster.RGB{W: g.w + 2*g.margin, H: g.h + 2*g.margin, Pix: pix}, err
	})
}

// mask gives a part's mask on the grid, margin included.
func (s *Studio) mask(ctx context.Context, sha []byte, part *develop.Part, g grid) (*raster.Mask, error) {
	return memo.Get(ctx, s.memory, "mask|"+string(sha)+"|"+part.Key+"|"+g.key(), bytesOfMask, func(ctx context.Context) (*raster.Mask, error) {
		p := part.Selection.Pyramid().(*imagefile.Pyramid)
		r := g.area(p)
		m, err := part.Selection.Until(ctx.Done()).Render(g.level, r)
		if err != nil {
			return nil, err
		}
		if g.whole(r) {
			return m, nil
		}
		f, err := g.shrink(func(y0, y1 int) ([]float32, error) {
			f := make([]float32, (y1-y0)*r.W())
			for i, v := range m.Pix[y0*r.W() : y1*r.W()] {
				f[i] = float32(v)
			}
			return f, nil
		}, r, 1)
		if err != nil {
			return nil, err
		}
		o := raster.NewMask(g.w+2*g.margin, g.h+2*g.margin)
		for i, v := range f {
			o.Pix[i] = uint16(v + 0.5)
		}
		return o, nil
	})
}

// enlarge repeats pixels where more device pixels are wanted than the picture has.
func enlarge(pix []byte, w, h, ow, oh int) []byte {
	if w == ow && h == oh {
		return pix
	}
	out := make([]byte, 4*ow*oh)
	for y := range oh {
		sy := min(h-1, y*h/oh)
		for x := range ow {
			s := 4 * (sy*w + min(w-1, x*w/ow))
			copy(out[4*(y*ow+x):4*(y*ow+x)+4], pix[s:s+4])
		}
	}
	return out
}

// Cover gives the picture as it stands, in a colourway, or as it came in, its long side at most size pixels, as PNG.
func (s *Studio) Cover(ctx context.Context, id uuid.UUID, size int, colourway string, before bool) ([]byte, error) {
	pic, err := s.Store.Picture(ctx, id)
	if err != nil {
		return nil, err
	}
	img, err := s.cover(ctx, pic, size, colourway, before)
	if err != nil {
		return nil, err
	}
	return pngOf(img)
}

// QuickCover gives Cover's picture in few bytes, as JPEG: for a look at it until the exact one is there. Where the picture has
// transparency it is PNG all the same; form says which. Who steps through pictures sees the same ones again: it is remembered for as
// long as nothing that it shows is another.
func (s *Studio) QuickCover(ctx context.Context, id uuid.UUID, size int, colourway string) (b []byte, form string, err error) {
	pic, err := s.Store.Picture(ctx, id)
	if err != nil {
		return nil, "", err
	}
	key := fmt.Sprintf("look|%s|%d %d %x|%d %s", id, pic.Revision, pic.JobRevision, pic.Depth, size, colourway)
	l, err := memo.Get(ctx, s.memory, key, func(l look) int64 { return int64(len(l.bytes)) }, func(ctx context.Context) (l look, err error) {
		img, err := s.cover(ctx, pic, size, colourway, false)
		if err != nil {
			return l, err
		}
		if img.Opaque() {
			l.form = SentJPEG
			l.bytes, err = jpegOf(img, 80)
		} else {
			l.form = SentPNG
			l.bytes, err = pngOf(img)
		}
		return l, err
	})
	return l.bytes, l.form, err
}

// look is a picture in few bytes, and their form.
type look struct {
	bytes []byte
	form  string
}

func (s *Studio) cover(ctx context.Context, pic store.Picture, size int, colourway string, before bool) (*image.NRGBA, error) {
	doc, err := s.InColourway(ctx, pic, colourway)
	if err != nil {
		return nil, err
	}
	show := "picture"
	if before {
		show = "before"
	}
	k := math.Min(1, float64(size)/float64(max(pic.Width, pic.Height)))
	w, h := max(1, int(float64(pic.Width)*k)), max(1, int(float64(pic.Height)*k))
	full := float64(pic.Width) / float64(w)
	pix, err := s.Render(ctx, pic.ID, View{W: float64(w) * full, H: float64(h) * full, Width: w, Height: h, Show: show, Document: &doc})
	return &image.NRGBA{Pix: pix, Stride: 4 * w, Rect: image.Rect(0, 0, w, h)}, err
}

// InColourway gives a picture's stored document as a colourway has it; an empty id is the picture as it is set.
func (s *Studio) InColourway(ctx context.Context, pic store.Picture, colourway string) (document.Picture, error) {
	var doc document.Picture
	if err := json.Unmarshal(pic.Document, &doc); err != nil {
		return doc, err
	}
	doc, _, err := s.inColourway(ctx, pic.Content, doc, colourway)
	return doc, err
}
