package raster

import "errors"

// ErrStopped is what long work ends with once nobody waits for it any more.
var ErrStopped = errors.New("stopped: nobody waits for it any more")

// Done tells long work, once it is closed, that nobody waits for it any more. A nil Done never does.
type Done <-chan struct{}

// Check ends the work where nobody waits for it: it panics with ErrStopped, which Recover at the work's door turns into its
// error. Loops call it at least once in some ten milliseconds.
func (d Done) Check() {
	select {
	case <-d:
		panic(ErrStopped)
	default:
	}
}

// Parallel is the package's Parallel with a Check before each call of f.
func (d Done) Parallel(n int, f func(i int)) {
	Parallel(n, func(i int) {
		d.Check()
		f(i)
	})
}

// Recover is deferred at a door of long work. It turns the panic of a Check into an error; other panics go on.
func Recover(err *error) {
	switch v := recover().(type) {
	case nil:
	case error:
		if !errors.Is(v, ErrStopped) {
			panic(v)
		}
		*err = ErrStopped
	default:
		panic(v)
	}
}
