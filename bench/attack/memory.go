package main

import (
	"fmt"
	"os"
	"strconv"
	"strings"

	"episema/internal/resident"
)

// memory is what processes took at most so far, in bytes.
type memory struct{ server, reader int64 }

// look reads the peaks of the server and of its children that read files.
func (m *memory) look(pid int) {
	m.server = max(m.server, resident.Peak(pid))
	tasks, _ := os.ReadDir(fmt.Sprintf("/proc/%d/task", pid)) // a process that is gone has none
	for _, t := range tasks {
		b, _ := os.ReadFile(fmt.Sprintf("/proc/%d/task/%s/children", pid, t.Name()))
		for _, c := range strings.Fields(string(b)) {
			child, _ := strconv.Atoi(c)
			if env, err := os.ReadFile(fmt.Sprintf("/proc/%d/environ", child)); err == nil && strings.Contains(string(env), "EPISEMA_APART=") {
				m.reader = max(m.reader, resident.Peak(child))
			}
		}
	}
}
