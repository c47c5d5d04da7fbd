// Package pattern lays a repeating pattern on a thing: which of the pattern's colours covers how much of a pixel, where the pattern is
// turned, scaled, seen in perspective and bent with the thing's folds.
package pattern

import (
	"errors"
	"fmt"
	"math"
	"regexp"
	"slices"
	"strings"
)

// Pattern is how a tile lies on a thing; its places are those of the picture, and on a copy those of its original.
type Pattern struct {
	Tile string `json:"tile"` // one of Tiles, or TileDrawn
	// File names the picture of a tile that somebody drew: the SHA-256 of a mask that has its figures one below the other.
	File    string `json:"file,omitempty"`
	Figures int    `json:"figures,omitempty"` // how many it has, 1 to MostColours
	// Credit is the line that goes with what is delivered of it, where the licence of the picture it was taken from asks for one.
	Credit string `json:"credit,omitempty"`
	// Share is how much of the tile its figures take, 1..99 percent; checks always take half.
	Share  float64 `json:"share"`
	Repeat string  `json:"repeat,omitempty"` // one of Repeats; empty is straight
	Size   float64 `json:"size"`             // of one repeat, in pixels of the full size, 2..20000; with corners in thousandths of their square
	Angle  float64 `json:"angle,omitempty"`  // degrees, clockwise
	// Offset is where a repeat's corner lies, in pixels of the full size; with corners in thousandths of their square.
	Offset [2]float64 `json:"offset"`
	// Corners are where the corners of a square of cloth lie in the picture, clockwise from its upper left one; nil for cloth that is
	// seen from the front.
	Corners *[4][2]float64 `json:"corners,omitempty"`
	// Grid, with corners, are where the other nodes of a grid of four by four over the square lie in the picture, row by row; nil where
	// the perspective has them. Cubics through the nodes bend the cloth between them.
	Grid *[12][2]float64 `json:"grid,omitempty"`
	// Round, with corners, is how far the cloth lies round an upright thing between the square's sides, 0..100: 100 is as good as half
	// around it.
	Round float64 `json:"round,omitempty"`
	// Above is from how far above a round thing is seen, -100..100 percent of straight from above; below nought from below.
	Above    float64 `json:"above,omitempty"`
	Pushes   []Push  `json:"pushes,omitempty"` // by hand, one after the other
	Folds    float64 `json:"folds,omitempty"`  // 0..100: how far it bends with the folds that the shading shows
	Lean     float64 `json:"lean,omitempty"`   // -100..100: how far the folds are seen from the side the light comes from; 0 from the front
	Strength float64 `json:"strength"`         // 0..100 percent of its colours
	Print    bool    `json:"print,omitempty"`  // printed over the ground, which shows through, instead of woven in its place
}

// Tiles are the figures there are: across a repeat runs one for each colour.
var Tiles = []string{"stripes", "dots", "checks", "zigzag"}

// TileDrawn is a tile that somebody drew; it is in a file.
const TileDrawn = "drawn"

// Repeats are the ways in which tiles lie beside each other.
var Repeats = []string{"half-drop", "brick", "mirrored"}

// MostColours is how many colours a pattern has at most.
const MostColours = 4

// Validate says what is wrong with a pattern.
func (p *Pattern) Validate() error {
	if err := p.validateTile(); err != nil {
		return err
	}
	if p.Repeat != "" && !slices.Contains(Repeats, p.Repeat) {
		return fmt.Errorf("the repeat %q is not known; use one of %s, or leave it out", p.Repeat, strings.Join(Repeats, ", "))
	}
	for _, n := range []struct {
		v, from, to float64
		says        string
	}{
		{p.Share, 1, 99, "the share of a pattern's figures runs from 1 to 99"},
		{p.Size, 2, 20000, "a repeat of a pattern has 2 to 20000 pixels"},
		{p.Angle, -360, 360, "a pattern is turned by -360 to 360 degrees"},
		{p.Folds, 0, 100, "folds run from 0 to 100"},
		{p.Lean, -100, 100, "the lean of folds runs from -100 to 100"},
		{p.Round, 0, 100, "how round a pattern lies runs from 0 to 100"},
		{p.Above, -100, 100, "how far from above a round thing is seen runs from -100 to 100"},
		{p.Strength, 0, 100, "the strength of a pattern runs from 0 to 100"},
	} {
		if !(n.v >= n.from && n.v <= n.to) { // true for what is no number
			return errors.New(n.says)
		}
	}
	if offPicture(p.Offset) {
		return errors.New("the offset of a pattern is not made of numbers within a million")
	}
	if err := validatePushes(p.Pushes); err != nil {
		return err
	}
	return p.validateCorners()
}

func (p *Pattern) validateTile() error {
	switch drawn := p.Tile == TileDrawn; {
	case drawn && (!tileFile.MatchString(p.File) || p.Figures < 1 || p.Figures > MostColours):
		return fmt.Errorf("a tile that is drawn names its file and has 1 to %d figures; take it from a picture first", MostColours)
	case len(p.Credit) > mostCredit:
		return fmt.Errorf("the credit of a tile has over %d bytes", mostCredit)
	case !drawn && (p.File != "" || p.Figures != 0 || p.Credit != ""):
		return fmt.Errorf("the tile %q needs no file; leave it out", p.Tile)
	case !drawn && !slices.Contains(Tiles, p.Tile):
		return fmt.Errorf("the tile %q is not known; use one of %s", p.Tile, strings.Join(Tiles, ", "))
	}
	return nil
}

func (p *Pattern) validateCorners() error {
	if p.Corners == nil {
		if p.Round > 0 {
			return errors.New("a pattern lies round between the sides of a square; give its corners, or leave round out")
		}
		if p.Grid != nil {
			return errors.New("the grid of a pattern lies over a square; give its corners, or leave grid out")
		}
		return nil
	}
	if slices.ContainsFunc(p.Corners[:], offPicture) {
		return errors.New("a corner of a pattern is not made of numbers within a million")
	}
	m, ok := unproject(*p.Corners)
	if !ok {
		return errors.New("the corners of a pattern lie on a line or cross; pull them apart")
	}
	if p.Grid == nil {
		return nil
	}
	if slices.ContainsFunc(p.Grid[:], offPicture) {
		return errors.New("a node of a pattern's grid is not made of numbers within a million")
	}
	return validateGrid(&m, p.Grid)
}

// toSquare brings a place of the picture to the square that m unprojects; ok is false for what lies past the horizon.
func toSquare(m *[9]float64, x, y float64) (s, t float64, ok bool) {
	w := m[6]*x + m[7]*y + m[8]
	// The adjoint's sign is that of the determinant, so that what is before the eye is where w has it.
	if w*(m[0]*m[4]-m[1]*m[3]) <= 0 {
		return 0, 0, false
	}
	return (m[0]*x + m[1]*y + m[2]) / w, (m[3]*x + m[4]*y + m[5]) / w, true
}

// offPicture reports whether a point is not made of numbers within a million.
func offPicture(q [2]float64) bool { return !(math.Abs(q[0]) <= 1e6 && math.Abs(q[1]) <= 1e6) }

const mostCredit = 2000

var tileFile = regexp.MustCompile(`^[0-9a-f]{64}$`)

// unproject returns the projective map from a picture to the unit square whose corners lie at q; false where there is none, or where
// the four are no convex figure, of which part would lie behind the eye. (Heckbert, Fundamentals of Texture Mapping, 1989, 2.2.3.)
func unproject(q [4][2]float64) (m [9]float64, ok bool) {
	turn := 0.0
	for i := range q {
		a, b, c := q[i], q[(i+1)%4], q[(i+2)%4]
		cross := (b[0]-a[0])*(c[1]-b[1]) - (b[1]-a[1])*(c[0]-b[0])
		if math.Abs(cross) < 1e-6 || turn*cross < 0 {
			return m, false
		}
		turn = cross
	}
	dx1, dx2, sx := q[1][0]-q[2][0], q[3][0]-q[2][0], q[0][0]-q[1][0]+q[2][0]-q[3][0]
	dy1, dy2, sy := q[1][1]-q[2][1], q[3][1]-q[2][1], q[0][1]-q[1][1]+q[2][1]-q[3][1]
	d := dx1*dy2 - dx2*dy1
	g, h := (sx*dy2-dx2*sy)/d, (dx1*sy-sx*dy1)/d
	f := [9]float64{q[1][0] - q[0][0] + g*q[1][0], q[3][0] - q[0][0] + h*q[3][0], q[0][0],
		q[1][1] - q[0][1] + g*q[1][1], q[3][1] - q[0][1] + h*q[3][1], q[0][1], g, h, 1}
	return [9]float64{f[4]*f[8] - f[5]*f[7], f[2]*f[7] - f[1]*f[8], f[1]*f[5] - f[2]*f[4],
		f[5]*f[6] - f[3]*f[8], f[0]*f[8] - f[2]*f[6], f[2]*f[3] - f[0]*f[5],
		f[3]*f[7] - f[4]*f[6], f[1]*f[6] - f[0]*f[7], f[0]*f[4] - f[1]*f[3]}, true
}
