//go:build !amd64

package processor

func wide() int { return 0 }
