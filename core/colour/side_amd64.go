package colour

import "episema/core/internal/processor"

// wide is how many pixels Bytes does side by side; 0 where the processor cannot.
var wide = processor.Wide

// codeWide is Bytes over n pixels, which are eight times some, and at least eight, to the same bits.
//
//go:noescape
func codeWide(n int, to *byte, row *float32, table *byte)
