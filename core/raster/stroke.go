package raster

import "math"

// Stroke is a drag of a round tip: a polyline, in pixels of the full size. A single point is a dab.
type Stroke struct {
	Radius float64      `json:"radius"`
	Points [][2]float64 `json:"points"`
}

// At returns the stroke's points in pixels of a plane that lies at a place.
func (s Stroke) At(place Place) [][2]float64 {
	points, step := make([][2]float64, len(s.Points)), place.Scale()
	for i, p := range s.Points {
		points[i] = [2]float64{(p[0] - place.X) / step, (p[1] - place.Y) / step}
	}
	return points
}

// Box returns the rectangle of a plane at a place that the tip comes within margin pixels of; a stroke of no points has an empty one.
func (s Stroke) Box(place Place, margin float64) Rect {
	reach := s.Radius/place.Scale() + margin
	x0, y0, x1, y1 := math.Inf(1), math.Inf(1), math.Inf(-1), math.Inf(-1)
	for _, p := range s.At(place) {
		x0, y0, x1, y1 = min(x0, p[0]-reach), min(y0, p[1]-reach), max(x1, p[0]+reach), max(y1, p[1]+reach)
	}
	return Rect{X0: floor(x0), Y0: floor(y0), X1: -floor(-x1), Y1: -floor(-y1)}
}
