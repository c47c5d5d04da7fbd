package imagefile

import (
	"fmt"
	"os"
	"os/exec"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
)

const pressProfile = "/usr/share/color/icc/ghostscript/default_cmyk.icc"

// seenBy asks Debian's transicc (LittleCMS's calculator, liblcms2-utils) what colours look like proofed through the profile: 8 bit
// sRGB in, numbers from 0 to 255 out.
func seenBy(t *testing.T, colours [][3]int, flags ...string) [][3]float64 {
	t.Helper()
	var in strings.Builder
	for _, c := range colours {
		fmt.Fprintf(&in, "%d\n%d\n%d\n", c[0], c[1], c[2])
	}
	cmd := exec.Command("transicc", append([]string{"-n", "-c0", "-i*sRGB", "-p" + pressProfile, "-b", "-t1"}, flags...)...)
	cmd.Stdin = strings.NewReader(in.String())
	b, err := cmd.Output()
	require.NoError(t, err)
	f := strings.Fields(string(b))
	require.GreaterOrEqual(t, len(f), 3*len(colours), string(b))
	out := make([][3]float64, len(colours))
	for i := range 3 * len(colours) {
		out[i/3][i%3], err = strconv.ParseFloat(f[i], 64)
		require.NoError(t, err, f[i])
	}
	return out
}

func TestWhatInkLooksLikeAgainstLittleCMS(t *testing.T) {
	profile, err := os.ReadFile(pressProfile)
	require.NoError(t, err)
	table, err := InkTable(profile)
	require.NoError(t, err)
	var grid [][3]int // off the table's own points, which are 8 codes apart
	for r := 0; r < 256; r += 42 {
		for g := 3; g < 256; g += 42 {
			for b := 1; b < 256; b += 42 {
				grid = append(grid, [3]int{r, g, b})
			}
		}
	}
	coded := func(c [3]int) colour.RGB {
		return colour.RGB{float64(c[0]) / 255, float64(c[1]) / 255, float64(c[2]) / 255}
	}
	for paper, intent := range map[bool]string{false: "-m1", true: "-m3"} {
		want := seenBy(t, grid, "-o*sRGB", intent)
		sum, most := 0.0, 0.0
		for i, c := range grid {
			got := table.See(coded(c), paper)
			w := colour.RGB{want[i][0] / 255, want[i][1] / 255, want[i][2] / 255}
			for k := range w {
				w[k] = max(0, min(1, w[k]))
			}
			d := colour.DeltaE00(colour.SRGB.Lab(colour.SRGB.LinearOf(w)), colour.SRGB.Lab(colour.SRGB.LinearOf(got)))
			sum, most = sum+d, max(most, d)
		}
		t.Logf("on paper %v: mean CIEDE2000 %.3f, most %.2f of %d colours", paper, sum/float64(len(grid)), most, len(grid))
		assert.Less(t, sum/float64(len(grid)), 0.25)
		assert.Less(t, most, 2.0)
	}
	// A paper that is not white is seen as it is on it alone.
	white := colour.RGB{1, 1, 1}
	for k := range 3 {
		assert.InDelta(t, 1, table.See(white, false)[k], 0.005)
	}
	assert.NotEqual(t, table.See(white, false), table.See(white, true))
	// Greys and a dull brown can be printed; the screen's own green and blue cannot.
	for css, missed := range map[string]bool{"#808080": false, "#ffffff": false, "#000000": false, "#7a5a46": false, "#00ff00": true, "#0000ff": true, "#00ffff": true} {
		l, err := colour.ParseCSS(css)
		require.NoError(t, err)
		m := table.Missed(colour.SRGB.Coded(colour.SRGB.Linear(l)))
		assert.Equal(t, missed, m > colour.InkMissed, "%s: %.2f", css, m)
	}
}

func TestAnInkTableOfWhatIsNoneIsRefused(t *testing.T) {
	profile, err := os.ReadFile(pressProfile)
	require.NoError(t, err)
	rgb, err := os.ReadFile("/usr/share/color/icc/ghostscript/srgb.icc")
	require.NoError(t, err)
	for _, b := range [][]byte{nil, []byte("x"), profile[:3000], rgb} {
		_, err := InkTable(b)
		var no *Rejected
		assert.ErrorAs(t, err, &no)
	}
}
