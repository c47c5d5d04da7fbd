package apart

import (
	"os"
	"os/exec"
	"runtime"
	"unsafe"

	"golang.org/x/sys/unix"
)

// system is what programs, libraries and fonts need.
var system = []string{"/usr", "/lib", "/lib64", "/bin", "/etc/fonts", "/etc/ld.so.cache", "/var/cache/fontconfig", "/dev/null", "/dev/urandom", "/proc/self", "/sys/devices/system/cpu"}

// startConfined starts a process that may use no files but the system's and those given: such rules are a thread's, and
// inherited by what it starts. Where the kernel has none the process is started all the same.
func startConfined(cmd *exec.Cmd, read, write []string) error {
	done := make(chan error, 1)
	go func() {
		runtime.LockOSThread() // and never let go: the thread ends with its rules
		if unix.Prctl(unix.PR_SET_NO_NEW_PRIVS, 1, 0, 0, 0) == nil {
			_ = onlyFiles(read, write) // an older kernel
		}
		done <- cmd.Start()
	}()
	return <-done
}

// onlyFiles gives up, for this thread and what it executes, all files but the system's and those given (Landlock, Linux 5.13).
func onlyFiles(read, write []string) error {
	const reading = unix.LANDLOCK_ACCESS_FS_READ_FILE | unix.LANDLOCK_ACCESS_FS_READ_DIR | unix.LANDLOCK_ACCESS_FS_EXECUTE
	const all = unix.LANDLOCK_ACCESS_FS_MAKE_SYM<<1 - 1 // what the first version knows
	attr := unix.LandlockRulesetAttr{Handled_access_fs: all}
	fd, _, errno := unix.Syscall(unix.SYS_LANDLOCK_CREATE_RULESET, uintptr(unsafe.Pointer(&attr)), 8, 0)
	if errno != 0 {
		return errno
	}
	defer unix.Close(int(fd))
	allow := func(path string, access uint64) error {
		at, err := unix.Open(path, unix.O_PATH|unix.O_CLOEXEC, 0)
		if err != nil {
			return nil // it is not there
		}
		defer unix.Close(at)
		if st, err := os.Stat(path); err == nil && !st.IsDir() {
			access &= unix.LANDLOCK_ACCESS_FS_READ_FILE | unix.LANDLOCK_ACCESS_FS_WRITE_FILE | unix.LANDLOCK_ACCESS_FS_EXECUTE
		}
		rule := unix.LandlockPathBeneathAttr{Allowed_access: access, Parent_fd: int32(at)}
		if _, _, errno := unix.Syscall6(unix.SYS_LANDLOCK_ADD_RULE, fd, unix.LANDLOCK_RULE_PATH_BENEATH, uintptr(unsafe.Pointer(&rule)), 0, 0, 0); errno != 0 {
			return errno
		}
		return nil
	}
	for _, p := range append(system, read...) {
		if err := allow(p, reading); err != nil {
			return err
		}
	}
	for _, p := range write {
		if err := allow(p, all); err != nil {
			return err
		}
	}
	if _, _, errno := unix.Syscall(unix.SYS_LANDLOCK_RESTRICT_SELF, fd, 0, 0); errno != 0 {
		return errno
	}
	return nil
}
