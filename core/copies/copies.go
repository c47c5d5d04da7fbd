// Package copies sets a thing of a picture elsewhere in it: its own colours without what was behind it, the light on it from the other
// side if that is wanted, and the shadow it throws there.
package copies

import (
	"errors"
	"fmt"
	"math"

	"episema/core/colour"
	"episema/core/raster"
)

// Copy is how a copy stands. The part that it is a copy of stays as it is.
type Copy struct {
	Of  string `json:"of,omitempty"`  // the id of the part
	Cut *Cut   `json:"cut,omitempty"` // or what was cut out of another picture; its own pixels are those of the original then
	// About is a point of the original, At where that lies in the copy, in pixels of the full size: the copy is turned and scaled
	// around it.
	About [2]float64 `json:"about"`
	At    [2]float64 `json:"at"`
	Turn  float64    `json:"turn,omitempty"`  // degrees, clockwise
	Scale float64    `json:"scale,omitempty"` // 0.05..10; 0 is 1
	Flip  bool       `json:"flip,omitempty"`  // left and right are swapped
	// Relit lets the light on it come from the other side.
	Relit  bool    `json:"relit,omitempty"`
	Shadow *Shadow `json:"shadow,omitempty"` // nil: it throws none
}

// Shadow is what a copy throws on what is below it. It begins where the thing stands, and is hard there.
type Shadow struct {
	Direction float64 `json:"direction"`        // degrees: 0 falls to the right, 90 towards the viewer, 180 to the left, 270 away
	Length    float64 `json:"length"`           // of the thing's height, 0..4
	Softness  float64 `json:"softness"`         // of its far end, in pixels of the full size, 0..500
	Strength  float64 `json:"strength"`         // 0..100 percent of the light is taken away
	Colour    string  `json:"colour,omitempty"` // CSS: what is left of white light in a shadow of full strength; empty is black
}

// Validate says what is wrong with a copy.
func (c *Copy) Validate() error {
	if c == nil {
		return nil
	}
	near := func(q [2]float64) bool { return math.Abs(q[0]) <= 1e6 && math.Abs(q[1]) <= 1e6 } // false for what is no number
	switch {
	case (c.Of == "") == (c.Cut == nil):
		return errors.New("a copy names the part that it is one of, or has what was cut out of another picture")
	case !near(c.About) || !near(c.At):
		return errors.New("where a copy stands is not made of numbers within a million")
	case !(c.Turn >= -360 && c.Turn <= 360):
		return errors.New("a copy is turned by -360 to 360 degrees")
	case c.Scale != 0 && !(c.Scale >= 0.05 && c.Scale <= 10):
		return errors.New("a copy is scaled by 0.05 to 10")
	}
	if c.Cut != nil {
		if err := c.Cut.validate(); err != nil {
			return err
		}
	}
	return c.Shadow.validate()
}

func (s *Shadow) validate() error {
	if s == nil {
		return nil
	}
	for _, v := range []struct {
		what        string
		value       float64
		least, most float64
	}{{"direction", s.Direction, -360, 360}, {"length", s.Length, 0, 4}, {"softness", s.Softness, 0, 500}, {"strength", s.Strength, 0, 100}} {
		if !(v.value >= v.least && v.value <= v.most) {
			return fmt.Errorf("the %s of a shadow runs from %g to %g", v.what, v.least, v.most)
		}
	}
	if s.Colour == "" {
		return nil
	}
	_, err := colour.ParseCSS(s.Colour)
	return err
}

// Move is how what the part has comes to where the copy stands.
func (c *Copy) Move() raster.Move { return raster.NewMove(c.About, c.At, c.Turn, c.Scale, c.Flip) }
