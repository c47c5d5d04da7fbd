package colour

import "golang.org/x/sys/cpu"

// wide is how many pixels Bytes does side by side; 0 where the processor cannot.
var wide = func() int {
	if cpu.X86.HasAVX2 {
		return 8
	}
	return 0
}()

// codeWide is Bytes over n pixels, which are eight times some, and at least eight, to the same bits.
//
//go:noescape
func codeWide(n int, to *byte, row *float32, table *byte)
