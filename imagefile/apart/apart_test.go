package apart_test

import (
	"context"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/sys/unix"

	"episema/imagefile"
	"episema/imagefile/apart"
)

func picture(t testing.TB, w, h int) string {
	t.Helper()
	img := image.NewNRGBA(image.Rect(0, 0, w, h))
	for i := range w * h {
		img.Set(i%w, i/w, color.NRGBA{uint8(i), uint8(i / w), 90, 255})
	}
	path := filepath.Join(t.TempDir(), "p.png")
	f, err := os.Create(path)
	require.NoError(t, err)
	defer f.Close()
	require.NoError(t, (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(f, img))
	return path
}

func TestAPictureIsReadApartAsItIsInPlace(t *testing.T) {
	path, dir := picture(t, 700, 500), t.TempDir()
	p, err := pool(t).BuildPyramid(context.Background(), path, filepath.Join(dir, "a"), imagefile.DefaultLimits())
	require.NoError(t, err)
	defer p.Close()
	q, err := imagefile.BuildPyramid(path, filepath.Join(dir, "b"), imagefile.DefaultLimits())
	require.NoError(t, err)
	defer q.Close()
	for l := range q.Levels() {
		a, err := os.ReadFile(filepath.Join(dir, "a", fmt.Sprint(l)))
		require.NoError(t, err)
		b, err := os.ReadFile(filepath.Join(dir, "b", fmt.Sprint(l)))
		require.NoError(t, err)
		require.Equal(t, b, a)
	}
	m, err := pool(t).ReadMask(context.Background(), path, 700, 500)
	require.NoError(t, err)
	n, err := imagefile.ReadMask(path)
	require.NoError(t, err)
	assert.Equal(t, n, m)
	left, err := os.ReadDir(dir)
	require.NoError(t, err)
	assert.Len(t, left, 2, "nothing is left beside")
}

func TestAMaskOfAnotherSizeIsRefusedBeforeItIsDecoded(t *testing.T) {
	_, err := pool(t).ReadMask(context.Background(), picture(t, 300, 200), 400, 200)
	assert.ErrorContains(t, err, "300 x 200 pixels, the picture 400 x 200")
}

func TestADamagedFileIsNamedWithoutTheServersPaths(t *testing.T) {
	path := picture(t, 300, 200)
	b, err := os.ReadFile(path)
	require.NoError(t, err)
	require.NoError(t, os.WriteFile(path, b[:len(b)/2], 0o600))
	_, err = pool(t).BuildPyramid(context.Background(), path, filepath.Join(t.TempDir(), "a"), imagefile.DefaultLimits())
	var r *imagefile.Rejected
	require.ErrorAs(t, err, &r)
	assert.NotContains(t, err.Error(), filepath.Dir(path))
}

// A priority is a thread's own on Linux: what libvips and Go start beside the first one gives way as well.
func TestEveryThreadOfAReaderGivesWay(t *testing.T) {
	p, err := pool(t).BuildPyramid(context.Background(), picture(t, 2000, 1500), filepath.Join(t.TempDir(), "a"), imagefile.DefaultLimits())
	require.NoError(t, err)
	defer p.Close()
	// One that has just been started, to be there for the next file, is not that far yet.
	assert.EventuallyWithT(t, func(t *assert.CollectT) {
		lists, err := filepath.Glob("/proc/self/task/*/children")
		require.NoError(t, err)
		threads := 0
		for _, list := range lists {
			b, err := os.ReadFile(list)
			if err != nil {
				continue // that thread has ended
			}
			for _, child := range strings.Fields(string(b)) {
				tasks, err := filepath.Glob("/proc/" + child + "/task/*")
				require.NoError(t, err)
				for _, task := range tasks {
					id, err := strconv.Atoi(filepath.Base(task))
					require.NoError(t, err)
					if at, err := unix.Getpriority(unix.PRIO_PROCESS, id); err == nil {
						assert.LessOrEqual(t, at, 20-10, "thread %d of %s", id, child) // 20 less what it is nice
						threads++
					}
				}
			}
		}
		assert.Greater(t, threads, 2)
	}, 20*time.Second, 50*time.Millisecond)
}

func pool(t testing.TB) *apart.Pool {
	o := apart.NewPool(t.TempDir())
	t.Cleanup(o.Close)
	return o
}

func drawing(body string) []byte {
	return []byte(`<svg xmlns="http://www.w3.org/2000/svg" width="200" height="200">` + body + `</svg>`)
}

func TestADrawingThatEndsItsReaderCostsOneSentence(t *testing.T) {
	kernel := strings.TrimSpace(strings.Repeat("1 ", 21*21))
	svg := drawing(`<filter id="f"><feConvolveMatrix order="21" kernelMatrix="` + kernel + `"/></filter><rect width="200" height="200" filter="url(#f)"/>`)
	r, err := pool(t).OpenDrawing(context.Background(), svg)
	if err == nil {
		_, err = r.RGBA(context.Background(), 200, 200, 0, 0, 200, 200, 5*time.Second)
	}
	if err != nil { // the library here may be one that bears it
		var rejected *imagefile.Rejected
		require.ErrorAs(t, err, &rejected)
	}
	r, err = pool(t).OpenDrawing(context.Background(), drawing(`<rect width="100" height="200" fill="#ff0000"/>`))
	require.NoError(t, err)
	pix, err := r.RGBA(context.Background(), 200, 200, 0, 0, 200, 200, 5*time.Second)
	require.NoError(t, err)
	assert.Equal(t, []byte{255, 0, 0, 255}, pix[:4])
}

func TestASlowDrawingEndsAtItsTimeAndIsReadAnew(t *testing.T) {
	svg := drawing(`<filter id="f" x="0" y="0" width="1" height="1"><feTurbulence baseFrequency="0.9" numOctaves="2000000"/></filter><rect width="200" height="200" filter="url(#f)"/><rect width="9" height="9" fill="#00f"/>`)
	r, err := pool(t).OpenDrawing(context.Background(), svg)
	require.NoError(t, err)
	start := time.Now()
	_, err = r.RGBA(context.Background(), 200, 200, 0, 0, 200, 200, time.Second)
	require.ErrorContains(t, err, "longer than 1s")
	assert.Less(t, time.Since(start), 20*time.Second)
	// And one who leaves is not worked for.
	ctx, stop := context.WithCancel(context.Background())
	time.AfterFunc(100*time.Millisecond, stop)
	_, err = r.RGBA(ctx, 200, 200, 0, 0, 200, 200, time.Hour)
	require.ErrorIs(t, err, context.Canceled)
}

func TestAProcessApartReachesNoOtherFile(t *testing.T) {
	if !apart.FilesAreConfined() {
		t.Skip("this kernel has no rules for files of a process (Landlock)")
	}
	secret := picture(t, 20, 20)
	assert.Error(t, pool(t).Peek(context.Background(), secret), "a file that was not handed over")
	_, err := pool(t).ReadMask(context.Background(), secret, 0, 0)
	assert.NoError(t, err, "one that was")
}

func BenchmarkPyramid(b *testing.B) {
	path, o := picture(b, 6000, 4000), pool(b)
	for _, how := range []string{"in place", "apart"} {
		b.Run(how, func(b *testing.B) {
			for b.Loop() {
				dir := filepath.Join(b.TempDir(), "p")
				var p *imagefile.Pyramid
				var err error
				if how == "apart" {
					p, err = o.BuildPyramid(context.Background(), path, dir, imagefile.DefaultLimits())
				} else {
					p, err = imagefile.BuildPyramid(path, dir, imagefile.DefaultLimits())
				}
				require.NoError(b, err)
				p.Close()
			}
		})
	}
}
