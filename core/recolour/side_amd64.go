package recolour

import "episema/core/internal/processor"

// wide is how many pixels the loops of side.go do side by side; 0 where the processor cannot.
var wide = processor.Wide

// The loops over n pixels, which are eight times some, and at least eight.

//go:noescape
func mixWide(n int, o, in, e, h *float32, t *taken, k *mixing)

//go:noescape
func weighWide(n int, t *taken, h0, h1, h2 *float32, k *weighing)

//go:noescape
func relightWide(n int, t *taken, i0, i1, i2, e0, e1, e2, h0, h1, h2 *float32, k *relighting)

//go:noescape
func meanWide(n int, t *taken, e0, e1, e2, h0, h1, h2 *float32, part float32)

//go:noescape
func giveBackWide(n int, back, light, over *float32, dull, steep float32)

//go:noescape
func crispWide(n int, t *taken, light *float32, crisp float32)

//go:noescape
func deepenWide(n int, t *taken, shade *float32)

//go:noescape
func apartWide(n int, red, green, blue, pix *float32)

// putWide ends before eight pixels of which one does not stay within 0..1, and returns how many are done.
//
//go:noescape
func putWide(n int, dst, src, red, green, blue *float32) (done int)

//go:noescape
func endsWide(n int, red, green, blue *float32) (least, most float32)

//go:noescape
func curveWide(n int, l *float32, table *float32, scale float32)

//go:noescape
func curveWholeWide(n int, red, green, blue, table *float32, scale float32)
