// Package problem tells what those who asked can mend themselves from what went wrong here.
package problem

import (
	"errors"
	"fmt"
)

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

// Input is a request that cannot be met as it stands.
type Input struct{ Problem string }

func (e *Input) Error() string { return e.Problem }

// Mendable marks it as an error that whoever asked can mend.
func (*Input) Mendable() {}

// New returns an *Input that says so.
func New(sentence string) error { return &Input{sentence} }

// Inputf returns an *Input with a sentence as fmt.Sprintf makes it.
func Inputf(format string, args ...any) error { return &Input{fmt.Sprintf(format, args...)} }
