package app

import (
	"context"
	"fmt"

	"golang.org/x/sys/unix"

	"episema/app/derived"
	"episema/internal/problem"
)

// Budgets bound what the application takes, in bytes. What is 0 is found by the machine.
type Budgets struct {
	Memory int64 // of caches and of all views that are being rendered; at most half of the machine's, and 2.75 GiB, where not given
	Disk   int64 // of the cache folder; at most half of what is free there, and 20 GiB, where not given
}

// LeastMemory and LeastDisk are the smallest budgets that one large picture can be worked on with.
const (
	LeastMemory = 512 << 20
	LeastDisk   = 1 << 30
)

func (b Budgets) filled(dir string) (Budgets, error) {
	if b.Memory == 0 {
		var info unix.Sysinfo_t
		if err := unix.Sysinfo(&info); err != nil {
			return b, fmt.Errorf("how much memory there is: %w", err)
		}
		b.Memory = max(LeastMemory, min(2816<<20, int64(info.Totalram)*int64(info.Unit)/2))
	}
	if b.Disk == 0 {
		var fs unix.Statfs_t
		if err := unix.Statfs(dir, &fs); err != nil {
			return b, fmt.Errorf("how much of the disk is free: %w", err)
		}
		b.Disk = max(LeastDisk, min(20<<30, (int64(fs.Bavail)*fs.Bsize+derived.Size(dir))/2))
	}
	return b, nil
}

// views and caches share the memory.
func (b Budgets) views() int64  { return b.Memory * 8 / 11 }
func (b Budgets) caches() int64 { return b.Memory - b.views() }

// admit waits until so many bytes may be taken by a view; leave gives them back.
func (s *Studio) admit(ctx context.Context, bytes int64) (leave func(), err error) {
	if most := s.Budgets.views(); bytes > most {
		return nil, problem.Inputf("such a view takes %d MB, and all of them together may take %d; ask for a smaller one", bytes>>20, most>>20)
	}
	if err := s.room.Acquire(ctx, bytes); err != nil {
		return nil, err
	}
	return func() { s.room.Release(bytes) }, nil
}
