package raster

import "math"

// Along calls f for every pixel of a rectangle whose middle lies within reach of a polyline: once for each of its segments that it is
// near to, with the number of the point the segment ends at and the distance to it. Points are in pixels, the first pixel's middle at
// 0.5; a single point is a segment, too. reach is asked for each segment.
func Along(points [][2]float64, reach func(end int) float64, r Rect, done Done, f func(end, x, y int, d float64)) {
	for n, b := range points {
		a, most := points[max(0, n-1)], reach(n)
		box := Rect{X0: floor(min(a[0], b[0]) - most - 0.5), Y0: floor(min(a[1], b[1]) - most - 0.5),
			X1: floor(max(a[0], b[0])+most+0.5) + 1, Y1: floor(max(a[1], b[1])+most+0.5) + 1}.And(r)
		for y := box.Y0; y < box.Y1; y++ {
			done.Check()
			for x := box.X0; x < box.X1; x++ {
				if d := ToSegment(float64(x)+0.5, float64(y)+0.5, a, b); d <= most {
					f(n, x, y, d)
				}
			}
		}
	}
}

// floor is for pixels that may lie far outside of any picture.
func floor(v float64) int { return int(math.Floor(max(-1e9, min(1e9, v)))) }
