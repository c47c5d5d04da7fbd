// Package problem tells what those who asked can mend themselves from what went wrong here.
package problem

import "errors"

// Mendable is an error that whoever asked can mend: its text says what is wrong and what to do, in a sentence that is shown as it
// stands. An error type joins by having the method; no list of such types is kept anywhere.
type Mendable interface {
	error
	Mendable()
}

// IsMendable reports whether an error, or one that it wraps, is Mendable.
func IsMendable(err error) bool {
	var m Mendable
	return errors.As(err, &m)
}
