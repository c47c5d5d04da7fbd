package copies

import (
	"math"

	"episema/core/raster"
)

// solid is what a silhouette tells of a thing that stands on a floor that is seen from above: a pile of slices, one over the other,
// each of which is an ellipse as wide as the silhouette is at its height. How deep they are for their width is read off the foot,
// whose near half is the lower end of the silhouette: bowed for what is round, straight for what is seen from its front.
type solid struct {
	mask   *raster.Mask
	box    raster.Rect
	slant  float64 // how far the floor's line falls for each pixel to the right, about the middle column
	middle float64
	depth  float64 // of a slice, for its width
	// foot and top are the rows of the middles of the lowest and the highest slice, where the floor's line is level. The silhouette goes
	// on below and above them by half a slice.
	foot, top int
}

const (
	// stands is how far above the lowest end of the silhouette, of its height, a column ends that is still its foot.
	stands = 0.2
	// leastSlant is what counts as no slant, and mostSlant how much is believed.
	leastSlant, mostSlant = 0.03, 0.5
	// half is the depth of half a foot, of the thing's height, that is looked for at most, deepest that of a slice for its width (a floor is
	// seldom seen from higher than 30 degrees; a ball would be taken for a dish), and bowed how far, of its width, the lower end of the
	// silhouette may be off an ellipse's.
	half, deepest, bowed = 0.3, 0.5, 0.05
	// thin is how much less deep for its width what juts out is.
	thin = 0.3
)

func solidOf(mask *raster.Mask) *solid {
	t := &solid{mask: mask, box: raster.Rect{X0: mask.W, Y0: mask.H}}
	base := make([]int, mask.W) // the lowest row of each column; -1: none
	for x := range base {
		base[x] = -1
	}
	for y := range mask.H {
		for x, v := range mask.Pix[y*mask.W : (y+1)*mask.W] {
			if v >= raster.Whole/2 {
				base[x] = y
				t.box = raster.Rect{X0: min(t.box.X0, x), Y0: min(t.box.Y0, y), X1: max(t.box.X1, x+1), Y1: y + 1}
			}
		}
	}
	if t.box.Empty() {
		return t
	}
	t.lean(base)
	if t.slant != 0 { // from now on all is where the floor's line is level
		rise := int(math.Ceil(math.Abs(t.slant) * float64(mask.W)))
		t.box.Y0, t.box.Y1 = t.box.Y0-rise, t.box.Y1+rise
		for t.box.Y0 < t.box.Y1 && len(t.runs(t.box.Y0)) == 0 {
			t.box.Y0++
		}
		for t.box.Y0 < t.box.Y1 && len(t.runs(t.box.Y1-1)) == 0 {
			t.box.Y1--
		}
	}
	t.slices()
	return t
}

// height is that of the highest slice above the lowest, in pixels.
func (t *solid) height() float64 { return float64(t.foot - t.top) }

// thrown is the rectangle that has the shadows of all slices, each thrown by so much for its height, before and after the floor's line is
// brought back to its slant.
func (t *solid) thrown(across, down float64) raster.Rect {
	x, y := across*t.height(), down*t.height()
	deep := t.depth * float64(t.box.W()) / 2 // of the widest slice
	rise := int(math.Ceil(math.Abs(t.slant) * (float64(t.box.W()) + math.Abs(x))))
	at := float64(t.foot) + 0.5
	return raster.Rect{X0: t.box.X0 + int(math.Floor(min(0, x))), X1: t.box.X1 + int(math.Ceil(max(0, x))),
		Y0: int(math.Floor(at+min(0, y)-deep)) - rise, Y1: int(math.Ceil(at+max(0, y)+deep)) + rise}
}

// lean finds the slant of the line on which the thing stands: the straight one that fits its foot best.
func (t *solid) lean(base []int) {
	least := float64(t.box.Y1-1) - stands*float64(t.box.H())
	var n, sx, sy, sxx, sxy float64
	for x, b := range base {
		if b >= 0 && float64(b) >= least {
			u, v := float64(x)+0.5, float64(b)
			n, sx, sy, sxx, sxy = n+1, sx+u, sy+v, sxx+u*u, sxy+u*v
		}
	}
	t.middle = sx / n
	if d := n*sxx - sx*sx; d > 0 {
		t.slant = max(-mostSlant, min(mostSlant, (n*sxy-sx*sy)/d))
	}
	if math.Abs(t.slant) < leastSlant {
		t.slant = 0
	}
}

// slices finds the depth of the slices, and the lowest and the highest.
func (t *solid) slices() {
	h := t.box.H()
	wide := make([]float64, h) // of each row, from the lowest up
	for d := range wide {
		for _, r := range t.runs(t.box.Y1 - 1 - d) {
			wide[d] += r[1] - r[0]
		}
	}
	near, best := 0, bowed // how far down the near half of the foot goes: what fits an ellipse best; in fewer rows than three anything does
	for b := 3; b <= int(half*float64(h)); b++ {
		if 2*float64(b) > deepest*wide[b] {
			continue
		}
		off := 0.0
		for d := range b {
			q := float64(b-d) / (float64(b) + 0.5)
			off += math.Abs(wide[d]-wide[b]*math.Sqrt(1-q*q)) / float64(b)
		}
		if off /= wide[b]; off <= best {
			near, best = b, off
		}
	}
	t.foot = t.box.Y1 - 1 - near
	if near > 0 {
		t.depth = 2 * float64(near) / wide[near]
	}
	// The highest slice is the lowest whose far edge is the upper end of the silhouette, give or take a pixel.
	t.top = t.box.Y0
	for d := h - 1; d > near; d-- {
		y := t.box.Y1 - 1 - d
		widest := 0.0
		for _, r := range t.runs(y) {
			widest = max(widest, r[1]-r[0])
		}
		if float64(y)-t.depth*widest/2 > float64(t.box.Y0)+1 {
			break
		}
		t.top = y
	}
}

// slicesOf returns the slices at the height of a row, over the foot: as far as the thing is even about the middle of its foot they are
// as deep as that; what juts out on one side, a handle or an arm, is thin.
func (t *solid) slicesOf(y int) (out []ellipse) {
	add := func(from, to, depth float64) {
		if to > from {
			out = append(out, ellipse{(from + to) / 2, float64(t.foot) + 0.5, (to - from) / 2, depth * (to - from) / 2})
		}
	}
	for _, r := range t.runs(y) {
		even := min(t.middle-r[0], r[1]-t.middle)
		if even <= 0 {
			add(r[0], r[1], thin*t.depth)
			continue
		}
		add(t.middle-even, t.middle+even, t.depth)
		add(r[0], t.middle-even+1, thin*t.depth)
		add(t.middle+even-1, r[1], thin*t.depth)
	}
	return out
}

// runs returns what a row has of the thing, from where to where, where the floor's line is level.
func (t *solid) runs(y int) (out [][2]float64) {
	open := false
	for x := t.box.X0; x < t.box.X1; x++ {
		row := y
		if t.slant != 0 {
			row += int(math.Round(t.slant * (float64(x) + 0.5 - t.middle)))
		}
		in := row >= 0 && row < t.mask.H && t.mask.Pix[row*t.mask.W+x] >= raster.Whole/2
		switch {
		case in && !open:
			out = append(out, [2]float64{float64(x), float64(x + 1)})
		case in:
			out[len(out)-1][1] = float64(x + 1)
		}
		open = in
	}
	return out
}
