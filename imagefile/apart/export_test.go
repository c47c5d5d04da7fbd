package apart

import (
	"context"
	"time"

	"golang.org/x/sys/unix"

	"episema/imagefile"
)

// Peek has a process look at a file that was not handed to it.
func (o *Pool) Peek(ctx context.Context, path string) error {
	p, err := o.take()
	if err != nil {
		return err
	}
	defer p.kill()
	lim := imagefile.DefaultLimits()
	a, err := p.ask(ctx, call{Op: "mask", Path: path, Limits: lim, Memory: room, CPU: time.Minute}, time.Minute, 0)
	if err != nil {
		return err
	}
	return a.err()
}

// FilesAreConfined asks the kernel for its version of Landlock.
func FilesAreConfined() bool {
	version, _, errno := unix.Syscall(unix.SYS_LANDLOCK_CREATE_RULESET, 0, 0, unix.LANDLOCK_CREATE_RULESET_VERSION)
	return errno == 0 && version >= 1
}
