package cluster

import (
	"errors"
	"fmt"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"syscall"
)

// InUseError is returned where another process owns the folder already: it is told whose it is, and nothing of it is touched.
type InUseError struct {
	Dir string
	PID int // 0 where it is not known
}

// Error says who has the folder and what to do.
func (e *InUseError) Error() string {
	who := "another episema process"
	if e.PID > 0 {
		who += fmt.Sprintf(" (process %d)", e.PID)
	}
	return fmt.Sprintf("%s is in use by %s; end that one first, or name another folder with --data", e.Dir, who)
}

// own takes the folder's lock for as long as the process lives or until the file is closed. The kernel lets go of it with
// the process, however that ends.
func own(dir string) (*os.File, error) {
	f, err := os.OpenFile(filepath.Join(dir, "owner"), os.O_RDWR|os.O_CREATE|syscall.O_CLOEXEC, 0o600)
	if err != nil {
		return nil, err
	}
	if err := syscall.Flock(int(f.Fd()), syscall.LOCK_EX|syscall.LOCK_NB); err != nil {
		defer f.Close()
		if !errors.Is(err, syscall.EWOULDBLOCK) {
			return nil, err
		}
		b := make([]byte, 32)
		n, _ := f.ReadAt(b, 0) // an empty file: not known
		pid, _ := strconv.Atoi(strings.TrimSpace(string(b[:n])))
		return nil, &InUseError{dir, pid}
	}
	if err := f.Truncate(0); err != nil {
		f.Close()
		return nil, err
	}
	if _, err := f.WriteAt([]byte(strconv.Itoa(os.Getpid())+"\n"), 0); err != nil {
		f.Close()
		return nil, err
	}
	return f, nil
}
