package derived

import (
	"bytes"
	"context"
	"crypto/sha256"
	"errors"
	"image"
	"image/color"
	"image/png"
	"io"
	"log/slog"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/raster"
	"episema/imagefile"
)

// files are originals by the SHA-256 of their bytes.
type files map[string][]byte

func (f files) BlobSize(_ context.Context, sha []byte) (int64, error) {
	b, ok := f[string(sha)]
	if !ok {
		return 0, errors.New("no such file")
	}
	return int64(len(b)), nil
}

func (f files) Blob(_ context.Context, sha []byte) (io.Reader, error) {
	return bytes.NewReader(f[string(sha)]), nil
}

// picture makes a picture's file that no other seed makes.
func (f files) picture(t *testing.T, seed uint8) (sha []byte) {
	t.Helper()
	img := image.NewNRGBA(image.Rect(0, 0, 300, 200))
	for i := range 300 * 200 {
		img.SetNRGBA(i%300, i/300, color.NRGBA{uint8(i), uint8(i / 300), seed, 255})
	}
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, img))
	sum := sha256.Sum256(b.Bytes())
	f[string(sum[:])] = b.Bytes()
	return sum[:]
}

func folder(t *testing.T, dir string, from Originals) *Folder {
	t.Helper()
	f, err := Open(dir, from, 1<<30, slog.New(slog.DiscardHandler))
	require.NoError(t, err)
	t.Cleanup(f.Close)
	return f
}

// corner reads some pixels of a picture.
func corner(t *testing.T, f *Folder, sha []byte) []byte {
	t.Helper()
	p, release, err := f.Pyramid(context.Background(), sha)
	require.NoError(t, err)
	defer release()
	b, err := p.Coded(0, raster.Rect{X1: 40, Y1: 30})
	require.NoError(t, err)
	return b
}

func TestAllOfTheFolderMayGoButWhatIsUsed(t *testing.T) {
	from, ctx := files{}, context.Background()
	first, second := from.picture(t, 1), from.picture(t, 2)
	dir := t.TempDir()
	f := folder(t, dir, from)
	before := corner(t, f, first)
	corner(t, f, second)
	_, release, err := f.Pyramid(ctx, second)
	require.NoError(t, err)
	path, done, err := f.Original(ctx, first)
	require.NoError(t, err)

	f.budget = 1
	f.Trim()
	assert.NoDirExists(t, f.pictureDir(first), "nobody looks at it")
	assert.DirExists(t, f.pictureDir(second), "somebody looks at it")
	assert.FileExists(t, path, "a delivery reads it")
	release()
	done()
	f.Trim()
	left, err := os.ReadDir(filepath.Join(dir, "pictures"))
	require.NoError(t, err)
	assert.Empty(t, left)
	assert.Equal(t, before, corner(t, f, first), "it is made again")
}

func TestTheLongestUnusedGoesFirst(t *testing.T) {
	from := files{}
	first, second := from.picture(t, 1), from.picture(t, 2)
	f := folder(t, t.TempDir(), from)
	corner(t, f, first)
	corner(t, f, second)
	corner(t, f, first)
	for _, sha := range [][]byte{first, second} { // of what is read again only the decoded levels count here
		require.NoError(t, os.Remove(f.pictureDir(sha)+".original"))
	}
	f.budget = Size(f.pictureDir(first)) + Size(f.Making())
	f.Trim()
	assert.DirExists(t, f.pictureDir(first))
	assert.NoDirExists(t, f.pictureDir(second))
}

// A disk that lost what it was told to keep: the size is right, the bytes are not. Another process opens it.
func TestALevelThatIsNotAsItWasWrittenIsMadeAnew(t *testing.T) {
	from := files{}
	sha := from.picture(t, 1)
	dir := t.TempDir()
	f := folder(t, dir, from)
	before := corner(t, f, sha)
	levels, err := os.ReadDir(f.pictureDir(sha))
	require.NoError(t, err)
	for _, l := range levels {
		if l.Name() == "info.json" {
			continue
		}
		i, err := l.Info()
		require.NoError(t, err)
		require.NoError(t, os.WriteFile(filepath.Join(f.pictureDir(sha), l.Name()), make([]byte, i.Size()), 0o644))
	}
	require.NoError(t, os.WriteFile(f.pictureDir(sha)+".original", nil, 0o644))
	assert.Equal(t, before, corner(t, folder(t, dir, from), sha))
}

func TestAStreamThatIsTooLongLeavesNothing(t *testing.T) {
	f := folder(t, t.TempDir(), files{})
	path, done, err := f.Spool(strings.NewReader("as long as it may be"), "test-*", 20)
	require.NoError(t, err)
	b, err := os.ReadFile(path)
	require.NoError(t, err)
	assert.Equal(t, "as long as it may be", string(b))
	done()
	_, _, err = f.Spool(strings.NewReader("as long as it may be!"), "test-*", 20)
	var tooLong *imagefile.Rejected
	require.ErrorAs(t, err, &tooLong)
	left, err := os.ReadDir(f.Making())
	require.NoError(t, err)
	assert.Empty(t, left)
}
