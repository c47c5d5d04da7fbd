package resident

import (
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
)

func TestMemoryIsReadAndTheMostIsKept(t *testing.T) {
	pid := os.Getpid()
	before := Now(pid)
	assert.Greater(t, before, int64(1<<20))
	held := make([]byte, 64<<20)
	for i := range held {
		held[i] = byte(i)
	}
	assert.GreaterOrEqual(t, Now(pid), before+60<<20)
	assert.GreaterOrEqual(t, Peak(pid), before+60<<20)
	assert.NotZero(t, held[1])
	assert.Zero(t, Now(-1), "no such process")
}
