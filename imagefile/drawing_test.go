package imagefile

import (
	"context"
	"fmt"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/artwork"
	"episema/core/colour"
)

func poster(t *testing.T) *artwork.Drawing {
	b, err := os.ReadFile("../demo/artwork/poster.svg")
	require.NoError(t, err)
	d, err := artwork.Parse(b)
	require.NoError(t, err)
	return d
}

// TestOnlyPickedPixelsChange: rendered by librsvg before and after, pixels differ only where the family is.
func TestOnlyPickedPixelsChange(t *testing.T) {
	d := poster(t)
	to := func(css string) map[string]colour.Lab {
		l, err := colour.ParseCSS(css)
		require.NoError(t, err)
		return map[string]colour.Lab{"#9c2a1e": l}
	}
	render := func(b []byte) []byte {
		pix, err := RenderDrawing(b, 600, 840, 0, 0, 600, 840, time.Minute)
		require.NoError(t, err)
		return pix
	}
	was, green, black := render(d.Source), render(d.Recolour(to("#00ff00"), nil).Source), render(d.Recolour(to("#000"), nil).Source)
	changed := 0
	for i := 0; i < len(was); i += 4 {
		// Where two other colours give the same pixel, the family has no share in it.
		if string(green[i:i+4]) == string(black[i:i+4]) {
			require.Equal(t, was[i:i+4], green[i:i+4], "pixel %d, %d", i/4%600, i/4/600)
		} else {
			changed++
		}
	}
	assert.Greater(t, changed, 10000)
	assert.Less(t, changed, 600*840/4)
	part, err := RenderDrawing(d.Source, 1200, 1680, 200, 300, 64, 64, time.Minute)
	require.NoError(t, err)
	whole, err := RenderDrawing(d.Source, 1200, 1680, 0, 0, 1200, 1680, time.Minute)
	require.NoError(t, err)
	off := 0
	for i, v := range part {
		row, at := i/256, i%256
		w := whole[4*((300+row)*1200+200)+at]
		require.InDelta(t, w, v, 12, "a rectangle is that of the whole, but for how its rims are rounded")
		if max(v, w)-min(v, w) > 1 {
			off++
		}
	}
	assert.Less(t, off, len(part)/50)
}

// TestPagesComeIn: a PDF made of the drawing, two pages of it, and an EPS come in as drawings with their colours.
func TestPagesComeIn(t *testing.T) {
	ctx := context.Background()
	dir := t.TempDir()
	pdf := filepath.Join(dir, "a.pdf")
	require.NoError(t, DrawingToPDF(ctx, poster(t).Source, pdf))
	assert.True(t, IsPages(pdf))
	assert.False(t, IsDrawing(pdf))
	keys := func(b []byte) (list []string, d *artwork.Drawing) {
		d, err := artwork.Parse(b)
		require.NoError(t, err)
		assert.Empty(t, d.LeftOut)
		for _, c := range d.Colours {
			list = append(list, c.Key)
		}
		return list, d
	}
	b, err := PagesToSVG(ctx, pdf)
	require.NoError(t, err)
	one, _ := keys(b)
	near := func(list []string, css string) {
		want, err := colour.ParseCSS(css)
		require.NoError(t, err)
		least := 100.0
		for _, k := range list {
			l, err := colour.ParseCSS(k)
			require.NoError(t, err)
			least = min(least, colour.DeltaE00(l, want))
		}
		assert.Less(t, least, 0.5, "%s of %v", css, list)
	}
	near(one, "#9c2a1e")
	near(one, "#d9a441")

	eps := filepath.Join(dir, "a.eps")
	out, err := exec.Command("pdftops", "-eps", pdf, eps).CombinedOutput()
	require.NoError(t, err, string(out))
	b, err = PagesToSVG(ctx, eps)
	require.NoError(t, err)
	list, _ := keys(b)
	near(list, "#9c2a1e")

	two := filepath.Join(dir, "two.pdf")
	out, err = exec.Command("pdfunite", pdf, pdf, two).CombinedOutput()
	require.NoError(t, err, string(out))
	b, err = PagesToSVG(ctx, two)
	require.NoError(t, err)
	_, d := keys(b)
	boards := d.Boards()
	require.Len(t, boards, 2)
	assert.Equal(t, "Page 2", boards[1].Name)
	ids := map[string]bool{}
	for i := range d.Elements {
		if id, ok := d.Elements[i].Attr("id"); ok {
			assert.False(t, ids[id], "the id %s is there twice", id)
			ids[id] = true
		}
	}
	png1 := filepath.Join(dir, "two.png")
	require.NoError(t, DrawingToPNG(b, 400, 280, time.Minute, png1))
	f, err := os.Open(png1)
	require.NoError(t, err)
	defer f.Close()
	img, err := png.Decode(f)
	require.NoError(t, err)
	assert.Equal(t, 400, img.Bounds().Dx())

	bad := filepath.Join(dir, "bad.pdf")
	require.NoError(t, os.WriteFile(bad, []byte("%PDF-1.7\nnothing more"), 0o644))
	_, err = PagesToSVG(ctx, bad)
	var r *Rejected
	require.ErrorAs(t, err, &r)
	require.NoError(t, os.WriteFile(eps, []byte("%!PS-Adobe-3.0 EPSF-3.0\n(/etc/passwd) (r) file 100 string readstring pop ==\n"), 0o644))
	b, err = PagesToSVG(ctx, eps)
	if err == nil {
		assert.NotContains(t, string(b), "root:", "a converter reads no files")
	}
}

// TestInksAgainstLittleCMS: the same colours through the same profile by Debian's transicc, relative colorimetric, on a grid.
func TestInksAgainstLittleCMS(t *testing.T) {
	const path = "/usr/share/color/icc/ghostscript/default_cmyk.icc"
	profile, err := os.ReadFile(path)
	require.NoError(t, err)
	require.NoError(t, CheckInkProfile(profile))
	var grid [][4]float64
	var in strings.Builder
	for n := range 81 {
		v := [4]float64{float64(n%3) / 2, float64(n/3%3) / 2, float64(n/9%3) / 2, float64(n/27) / 2}
		grid = append(grid, v)
		for _, x := range v {
			fmt.Fprintf(&in, "%g\n", 100*x)
		}
	}
	cmd := exec.Command("transicc", "-t1", "-n", "-i"+path, "-o*Lab4")
	cmd.Stdin = strings.NewReader(in.String())
	out, err := cmd.Output()
	require.NoError(t, err)
	f := strings.Fields(string(out))
	require.GreaterOrEqual(t, len(f), 3*len(grid), "%s", out)
	for i, v := range grid {
		var want colour.Lab
		for c := range want {
			want[c], err = strconv.ParseFloat(strings.Trim(f[3*i+c], `"`), 64)
			require.NoError(t, err)
		}
		got, err := InkLab(profile, v)
		require.NoError(t, err)
		assert.Less(t, colour.DeltaE00(got, want), 0.3, "%v: %v, transicc %v", v, got, want)
	}
	for _, b := range [][]byte{nil, []byte("not a profile"), profile[:2000]} {
		assert.Error(t, CheckInkProfile(b))
	}
	rgb, err := os.ReadFile("/usr/share/color/icc/ghostscript/srgb.icc")
	require.NoError(t, err)
	assert.ErrorContains(t, CheckInkProfile(rgb), "not for CMYK")
}

// TestConvertersSeeNothingElse: what converts a file from elsewhere sees that file, and neither the other files of this machine
// nor a network.
func TestConvertersSeeNothingElse(t *testing.T) {
	if !mayBeApart() {
		t.Skip("this system lets nobody make namespaces; converters run with limits only")
	}
	dir, other := t.TempDir(), t.TempDir()
	secret := filepath.Join(other, "secret")
	require.NoError(t, os.WriteFile(secret, []byte("for nobody"), 0o644))
	require.NoError(t, os.WriteFile(filepath.Join(dir, "in"), []byte("given"), 0o600))
	out, err := confined(context.Background(), dir, "cat", filepath.Join(dir, "in"))
	require.NoError(t, err, string(out))
	assert.Equal(t, "given", string(out))
	for _, path := range []string{secret, "/etc/passwd", "/proc/self/environ", "/out" + secret} {
		out, err = confined(context.Background(), dir, "cat", path)
		assert.Error(t, err, path)
		assert.NotContains(t, string(out), "for nobody")
	}
	_, err = confined(context.Background(), dir, "touch", "/usr/here")
	assert.Error(t, err)
	_, err = confined(context.Background(), dir, "umount", "/out")
	assert.Error(t, err)
	out, err = confined(context.Background(), dir, "sh", "-c", "echo made > made; for d in /*; do echo $d; done")
	require.NoError(t, err, string(out))
	assert.NotContains(t, string(out), "/home")
	b, err := os.ReadFile(filepath.Join(dir, "made"))
	require.NoError(t, err)
	assert.Equal(t, "made\n", string(b))
}
