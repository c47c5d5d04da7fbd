package colour_test

import (
	"math"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
)

func TestByteIsTheCodedLightRounded(t *testing.T) {
	for v := 0.0; v <= 1; v += 1.0 / 40_000 {
		require.InDelta(t, colour.SRGBEncode(v)*255, colour.Byte(float32(v)), 0.53, "%v", v)
	}
	for v, want := range map[float64]byte{0: 0, 1: 255, -1e-9: 0, -0.4: 0, 1.00001: 255, 7: 255, 1e30: 255, -1e30: 0, math.Inf(1): 255, math.Inf(-1): 0, math.NaN(): 0} {
		assert.Equal(t, want, colour.Byte(float32(v)), "%v", v)
	}
}
