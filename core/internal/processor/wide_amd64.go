package processor

import "golang.org/x/sys/cpu"

func wide() int {
	if cpu.X86.HasAVX2 {
		return 8
	}
	return 0
}
