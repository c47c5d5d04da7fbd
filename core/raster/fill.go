package raster

import (
	"image"
	"image/draw"

	"golang.org/x/image/vector"
)

// FillPath returns the share of each of w x h pixels, which lie in the picture at place, that is in a closed path (non-zero
// winding), 0..1. The path is in pixels of the full size.
func FillPath(path [][2]float64, place Place, w, h int) []float32 {
	out := make([]float32, w*h)
	if len(path) == 0 {
		return out
	}
	k := 1 / place.Scale()
	// In squares: where the path does not run, all of a square is in or out.
	const square = 256
	across, down := (w+square-1)/square, (h+square-1)/square
	Parallel(across*down, func(n int) {
		x0, y0 := n%across*square, n/across*square
		x1, y1 := min(w, x0+square), min(h, y0+square)
		z := vector.NewRasterizer(x1-x0, y1-y0)
		z.DrawOp = draw.Src
		to := func(p [2]float64) (float32, float32) {
			return float32((p[0]-place.X)*k - float64(x0)), float32((p[1]-place.Y)*k - float64(y0))
		}
		z.MoveTo(to(path[0]))
		for _, p := range path[1:] {
			z.LineTo(to(p))
		}
		z.ClosePath()
		a := image.NewAlpha(image.Rect(0, 0, x1-x0, y1-y0))
		z.Draw(a, a.Bounds(), image.Opaque, image.Point{})
		for y := range y1 - y0 {
			to := out[(y+y0)*w+x0:]
			for x, v := range a.Pix[y*a.Stride : y*a.Stride+x1-x0] {
				to[x] = float32(v) / 255
			}
		}
	})
	return out
}
