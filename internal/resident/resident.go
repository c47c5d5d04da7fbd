// Package resident reads the resident memory of processes, for benches.
package resident

import (
	"fmt"
	"os"
	"strings"
)

// Now returns a process's resident memory in bytes, 0 where there is no such process.
func Now(pid int) int64 { return read(pid, "VmRSS") }

// Peak returns the most that it ever had. What the system says of a process that has ended begins with the memory of the one that started it;
// this does not.
func Peak(pid int) int64 { return read(pid, "VmHWM") }

func read(pid int, what string) int64 {
	data, err := os.ReadFile(fmt.Sprintf("/proc/%d/status", pid))
	if err != nil {
		return 0 // it has ended
	}
	for l := range strings.Lines(string(data)) {
		var kb int64
		if n, _ := fmt.Sscanf(l, what+": %d kB", &kb); n == 1 {
			return kb << 10
		}
	}
	return 0
}
