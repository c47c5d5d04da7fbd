package raster

import "math"

// Sample gives a w x h plane's value between its pixels, bilinearly; x and y are in pixels from the middle of the first.
// Outside the plane the nearest value inside counts.
func Sample(p []float32, w, h int, x, y float64) float32 {
	x, y = max(0, min(float64(w-1), x)), max(0, min(float64(h-1), y))
	x0, y0 := int(x), int(y)
	x1, y1 := min(w-1, x0+1), min(h-1, y0+1)
	u, v := float32(x-float64(x0)), float32(y-float64(y0))
	a := p[y0*w+x0] + u*(p[y0*w+x1]-p[y0*w+x0])
	b := p[y1*w+x0] + u*(p[y1*w+x1]-p[y1*w+x0])
	return a + v*(b-a)
}

// ToSegment is the distance of a point to a segment.
func ToSegment(x, y float64, a, b [2]float64) float64 {
	dx, dy := b[0]-a[0], b[1]-a[1]
	t := 0.0
	if l := dx*dx + dy*dy; l > 0 {
		t = max(0, min(1, ((x-a[0])*dx+(y-a[1])*dy)/l))
	}
	return math.Hypot(x-a[0]-t*dx, y-a[1]-t*dy)
}
