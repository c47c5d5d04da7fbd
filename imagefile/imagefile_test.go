package imagefile

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"hash/crc32"
	"image"
	"image/color"
	"image/gif"
	"image/jpeg"
	"image/png"
	"math"
	"math/rand"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
	"golang.org/x/image/tiff"

	"episema/core/colour"
	"episema/core/raster"
)

func ramp16(w, h int) *image.NRGBA64 {
	m := image.NewNRGBA64(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			m.SetNRGBA64(x, y, color.NRGBA64{uint16(x * 65535 / w), uint16(y * 65535 / h), uint16((x*7 + y*13) * 37), 65535})
		}
	}
	return m
}

func ramp8(w, h int) *image.NRGBA {
	m := image.NewNRGBA(image.Rect(0, 0, w, h))
	for y := range h {
		for x := range w {
			m.SetNRGBA(x, y, color.NRGBA{uint8(x * 255 / w), uint8(y * 255 / h), uint8(x*7 + y*13), 255})
		}
	}
	return m
}

func file(t *testing.T, name string, b []byte) string {
	t.Helper()
	p := filepath.Join(t.TempDir(), name)
	require.NoError(t, os.WriteFile(p, b, 0o644))
	return p
}

func encoded(t *testing.T, f func(*bytes.Buffer) error) []byte {
	t.Helper()
	var b bytes.Buffer
	require.NoError(t, f(&b))
	return b.Bytes()
}

func TestFormatsDecodeToTheirSamples(t *testing.T) {
	for name, c := range map[string]struct {
		data []byte
		bits int
	}{
		"png8":   {encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, ramp8(301, 200)) }), 8},
		"png16":  {encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, ramp16(301, 200)) }), 16},
		"tiff8":  {encoded(t, func(b *bytes.Buffer) error { return tiff.Encode(b, ramp8(301, 200), nil) }), 8},
		"tiff16": {encoded(t, func(b *bytes.Buffer) error { return tiff.Encode(b, ramp16(301, 200), nil) }), 16},
	} {
		t.Run(name, func(t *testing.T) {
			p, err := BuildPyramid(file(t, "wrong-name.jpg", c.data), filepath.Join(t.TempDir(), "p"), DefaultLimits())
			require.NoError(t, err)
			defer p.Close()
			assert.Equal(t, c.bits, p.Info.Bits)
			w, h := p.Size(0)
			assert.Equal(t, [2]int{301, 200}, [2]int{w, h})
			b, err := p.Coded(0, raster.Rect{X0: 100, Y0: 50, X1: 102, Y1: 51})
			require.NoError(t, err)
			if c.bits == 8 {
				want := ramp8(301, 200).NRGBAAt(100, 50)
				assert.Equal(t, []byte{want.R, want.G, want.B}, b[:3])
			} else {
				want := ramp16(301, 200).NRGBA64At(100, 50)
				assert.Equal(t, []uint16{want.R, want.G, want.B}, Samples16(b)[:3])
			}
			_, err = p.Coded(0, raster.Rect{X0: 300, Y0: 0, X1: 302, Y1: 1})
			assert.Error(t, err, "outside the level")
		})
	}
}

func chunk(kind string, data []byte) []byte {
	b := binary.BigEndian.AppendUint32(nil, uint32(len(data)))
	b = append(append(b, kind...), data...)
	return binary.BigEndian.AppendUint32(b, crc32.ChecksumIEEE(b[4:]))
}

// cmyk is the start of a JPEG with four components.
func cmyk() []byte {
	b := []byte{0xff, 0xd8, 0xff, 0xee, 0, 14, 'A', 'd', 'o', 'b', 'e', 0, 100, 0, 0, 0, 0, 0}
	b = append(b, 0xff, 0xc0, 0, 20, 8, 0, 8, 0, 8, 4, 1, 0x11, 0, 2, 0x11, 0, 3, 0x11, 0, 4, 0x11, 0)
	return append(b, 0xff, 0xda, 0, 14, 4, 1, 0, 2, 0, 3, 0, 4, 0, 0, 63, 0, 0, 0xff, 0xd9)
}

// pages makes a TIFF of so many pages, each of one grey pixel (TIFF 6.0, section 3).
func pages(n int) []byte {
	b := []byte("II*\x00\x08\x00\x00\x00")
	for i := range n {
		tags := [][3]uint32{{256, 4, 1}, {257, 4, 1}, {258, 3, 8}, {259, 3, 1}, {262, 3, 1}, {273, 4, 4}, {277, 3, 1}, {278, 4, 1}, {279, 4, 1}}
		b = binary.LittleEndian.AppendUint16(b, uint16(len(tags)))
		for _, t := range tags {
			b = binary.LittleEndian.AppendUint16(b, uint16(t[0]))
			b = binary.LittleEndian.AppendUint16(b, uint16(t[1]))
			b = binary.LittleEndian.AppendUint32(b, 1)
			b = binary.LittleEndian.AppendUint32(b, t[2])
		}
		next := uint32(0)
		if i < n-1 {
			next = uint32(len(b)) + 4
		}
		b = binary.LittleEndian.AppendUint32(b, next)
	}
	return b
}

func TestBadFilesAreRejectedWithAReason(t *testing.T) {
	good := encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, ramp8(400, 300)) })
	jpg := encoded(t, func(b *bytes.Buffer) error { return jpeg.Encode(b, ramp8(400, 300), nil) })
	bomb := append([]byte("\x89PNG\r\n\x1a\n"), chunk("IHDR", []byte{0, 1, 0x86, 0xa0, 0, 1, 0x86, 0xa0, 8, 2, 0, 0, 0})...)
	bomb = append(append(bomb, chunk("IDAT", []byte{0x78, 0x9c, 3, 0, 0, 0, 0, 1})...), chunk("IEND", nil)...)
	anim := encoded(t, func(b *bytes.Buffer) error {
		f := image.NewPaletted(image.Rect(0, 0, 9, 9), color.Palette{color.Black, color.White})
		return gif.EncodeAll(b, &gif.GIF{Image: []*image.Paletted{f, f}, Delay: []int{1, 1}})
	})
	// A small JPEG whose frame header says that it is 12000 x 10000 (ITU-T T.81, B.2.2).
	hollow := bytes.Clone(jpg)
	at := bytes.Index(hollow, []byte{0xff, 0xc0})
	copy(hollow[at+5:], []byte{10000 >> 8, 10000 & 255, 12000 >> 8, 12000 & 255})
	for name, c := range map[string]struct {
		data []byte
		want string
	}{
		"empty":          {nil, "empty"},
		"truncated png":  {good[:len(good)/2], "damaged"},
		"truncated jpeg": {jpg[:len(jpg)/2], "damaged"},
		"text":           {[]byte("hello, I am a JPEG"), "none of JPEG"},
		"only a header":  {jpg[:3], "damaged"},
		"bomb":           {bomb, "megapixels"},
		"gif":            {anim, "GIF"},
		"svg":            {[]byte("<svg xmlns='http://www.w3.org/2000/svg'/>"), "drawing"},
		"cmyk":           {cmyk(), "CMYK"},
		"hollow jpeg":    {hollow, "holds too little"},
		"two pages":      {pages(2), "2 pages"},
	} {
		t.Run(name, func(t *testing.T) {
			dir := filepath.Join(t.TempDir(), "p")
			_, err := BuildPyramid(file(t, "f", c.data), dir, DefaultLimits())
			var r *Rejected
			require.ErrorAs(t, err, &r)
			assert.Contains(t, err.Error(), c.want)
			left, err := os.ReadDir(filepath.Dir(dir))
			require.NoError(t, err)
			assert.Empty(t, left, "nothing half-made is left")
		})
	}
	lim := DefaultLimits()
	lim.Bytes = 100
	_, err := Inspect(file(t, "f", good), lim)
	assert.ErrorContains(t, err, "at most")
	lim = DefaultLimits()
	lim.Time = time.Nanosecond
	_, err = Decode(file(t, "f", encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, ramp8(3000, 3000)) })), filepath.Join(t.TempDir(), "raw"), lim)
	assert.ErrorContains(t, err, "longer than")
}

// exif is a minimal orientation tag in an APP1 segment, put behind the start of a JPEG.
func exif(jpg []byte, orientation byte) []byte {
	tiff := []byte("Exif\x00\x00MM\x00*\x00\x00\x00\x08\x00\x01\x01\x12\x00\x03\x00\x00\x00\x01\x00")
	tiff = append(tiff, orientation, 0, 0, 0, 0, 0, 0)
	seg := binary.BigEndian.AppendUint16([]byte{0xff, 0xe1}, uint16(len(tiff)+2))
	return append(append(append([]byte{}, jpg[:2]...), append(seg, tiff...)...), jpg[2:]...)
}

func TestOrientationIsObeyed(t *testing.T) {
	m := image.NewNRGBA(image.Rect(0, 0, 64, 32))
	for y := range 32 {
		for x := range 64 {
			c := color.NRGBA{20, 20, 20, 255}
			if x < 32 {
				c = color.NRGBA{230, 20, 20, 255}
			}
			m.SetNRGBA(x, y, c)
		}
	}
	jpg := encoded(t, func(b *bytes.Buffer) error { return jpeg.Encode(b, m, &jpeg.Options{Quality: 95}) })
	p, err := BuildPyramid(file(t, "f", exif(jpg, 6)), filepath.Join(t.TempDir(), "p"), DefaultLimits())
	require.NoError(t, err)
	defer p.Close()
	w, h := p.Size(0)
	assert.Equal(t, [2]int{32, 64}, [2]int{w, h}, "turned by a quarter")
	top, err := p.Coded(0, raster.Rect{X0: 16, Y0: 5, X1: 17, Y1: 6})
	require.NoError(t, err)
	low, err := p.Coded(0, raster.Rect{X0: 16, Y0: 60, X1: 17, Y1: 61})
	require.NoError(t, err)
	assert.Greater(t, top[0], byte(200))
	assert.Less(t, low[0], byte(50))
}

func TestAnUnchangedPictureIsDeliveredBitForBit(t *testing.T) {
	for name, c := range map[string]struct {
		m    image.Image
		bits int
	}{"8 bit": {ramp8(310, 222), 8}, "16 bit": {ramp16(310, 222), 16}} {
		t.Run(name, func(t *testing.T) {
			src := file(t, "f", encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, c.m) }))
			dir := t.TempDir()
			p, err := BuildPyramid(src, filepath.Join(dir, "p"), DefaultLimits())
			require.NoError(t, err)
			defer p.Close()
			out := filepath.Join(dir, "out.png")
			require.NoError(t, Encode(filepath.Join(dir, "p", "0"), p.Info, src, "png", 0, Options{}, out))
			q, err := BuildPyramid(out, filepath.Join(dir, "q"), DefaultLimits())
			require.NoError(t, err)
			defer q.Close()
			assert.Equal(t, c.bits, q.Info.Bits)
			whole := raster.Rect{X1: 310, Y1: 222}
			a, err := p.Coded(0, whole)
			require.NoError(t, err)
			b, err := q.Coded(0, whole)
			require.NoError(t, err)
			assert.Equal(t, a, b)
		})
	}
}

func TestDecodingAndEncodingASampleGivesItBack(t *testing.T) {
	src := file(t, "f", encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, ramp8(256, 256)) }))
	p, err := BuildPyramid(src, filepath.Join(t.TempDir(), "p"), DefaultLimits())
	require.NoError(t, err)
	defer p.Close()
	r := raster.Rect{X1: 256, Y1: 256}
	lin, err := p.Linear(0, r)
	require.NoError(t, err)
	want, err := p.Coded(0, r)
	require.NoError(t, err)
	got := make([]byte, len(want))
	p.Encode(lin, got, func(int) bool { return true })
	assert.Equal(t, want, got)
}

// located puts an Exif block into a JPEG: a description, and a GPS directory with a datum.
func located(jpg []byte, description, datum string) []byte {
	var t bytes.Buffer
	w := func(v any) { _ = binary.Write(&t, binary.LittleEndian, v) } // a buffer takes everything
	t.WriteString("II*\x00")
	w(uint32(8))
	const ifd0, gps = 8, 8 + 2 + 2*12 + 4
	text := uint32(gps + 2 + 12 + 4)
	w(uint16(2))
	for _, e := range [2][4]uint32{{0x010E, 2, uint32(len(description) + 1), text}, {0x8825, 4, 1, gps}} {
		w(uint16(e[0]))
		w(uint16(e[1]))
		w(e[2])
		w(e[3])
	}
	w(uint32(0))
	w(uint16(1))
	w(uint16(0x12))
	w(uint16(2))
	w(uint32(len(datum) + 1))
	w(text + uint32(len(description)+1))
	w(uint32(0))
	t.WriteString(description + "\x00" + datum + "\x00")
	body := append([]byte("Exif\x00\x00"), t.Bytes()...)
	head := []byte{0xff, 0xd8, 0xff, 0xe1, byte((len(body) + 2) >> 8), byte(len(body) + 2)}
	return append(append(head, body...), jpg[2:]...)
}

func TestEveryFormatIsReadBackAndSaysNoMoreThanItMay(t *testing.T) {
	const description, datum = "EPISEMA-DESCRIPTION", "EPISEMA-DATUM"
	m := image.NewNRGBA(image.Rect(0, 0, 240, 160))
	for i := range 240 * 160 {
		copy(m.Pix[4*i:], []byte{200, 30, 30, 255})
	}
	src := file(t, "f.jpg", located(encoded(t, func(b *bytes.Buffer) error { return jpeg.Encode(b, m, &jpeg.Options{Quality: 98}) }), description, datum))
	dir := t.TempDir()
	p, err := BuildPyramid(src, filepath.Join(dir, "p"), DefaultLimits())
	require.NoError(t, err)
	defer p.Close()
	write := func(format string, o Options) (*Pyramid, []byte) {
		t.Helper()
		out := filepath.Join(t.TempDir(), "out"+Formats[format])
		require.NoError(t, Encode(filepath.Join(dir, "p", "0"), p.Info, src, format, 95, o, out), format)
		b, err := os.ReadFile(out)
		require.NoError(t, err)
		if format == "avif" { // written, not taken in
			return nil, b
		}
		q, err := BuildPyramid(out, filepath.Join(t.TempDir(), "q"), DefaultLimits())
		require.NoError(t, err, format)
		t.Cleanup(func() { q.Close() })
		return q, b
	}
	middle := func(q *Pyramid) []byte {
		w, h := q.Size(0)
		v, err := q.Coded(0, raster.Rect{X0: w / 2, Y0: h / 2, X1: w/2 + 1, Y1: h/2 + 1})
		require.NoError(t, err)
		return v
	}
	was := middle(p)
	for format := range Formats {
		q, b := write(format, Options{})
		assert.NotEmpty(t, b)
		if q == nil {
			assert.Contains(t, string(b[4:16]), "ftypavif")
			continue
		}
		w, h := q.Size(0)
		assert.Equal(t, [2]int{240, 160}, [2]int{w, h}, format)
		for c, v := range middle(q)[:3] {
			assert.InDelta(t, was[c], v, 3, format)
		}
		if small, _ := write(format, Options{Longest: 120}); small != nil {
			w, h := small.Size(0)
			assert.Equal(t, [2]int{120, 80}, [2]int{w, h}, format)
		}
	}
	for metadata, want := range map[string][2]bool{"": {true, true}, "no-gps": {true, false}, "drop": {false, false}} {
		_, b := write("jpeg", Options{Metadata: metadata})
		assert.Equal(t, want, [2]bool{bytes.Contains(b, []byte(description)), bytes.Contains(b, []byte(datum))}, "metadata %q", metadata)
	}
	// sRGB (200, 30, 30) is Display P3 (184, 50, 41) by the matrices of CSS Color 4.
	wide, _ := write("png", Options{Profile: "p3"})
	for c, v := range []byte{184, 50, 41} {
		assert.InDelta(t, v, middle(wide)[c], 1.5, "converted to Display P3")
	}
	for _, bad := range []Options{{Longest: 3}, {Profile: "cmyk"}, {Metadata: "some"}} {
		var r *Rejected
		assert.ErrorAs(t, Encode("x", p.Info, src, "png", 90, bad, filepath.Join(dir, "none")), &r)
	}
}

func FuzzDecode(f *testing.F) {
	var b bytes.Buffer
	if err := png.Encode(&b, ramp8(20, 10)); err != nil {
		f.Fatal(err)
	}
	f.Add(b.Bytes())
	b.Reset()
	if err := jpeg.Encode(&b, ramp8(20, 10), nil); err != nil {
		f.Fatal(err)
	}
	f.Add(bytes.Clone(b.Bytes()))
	b.Reset()
	if err := tiff.Encode(&b, ramp16(20, 10), nil); err != nil {
		f.Fatal(err)
	}
	f.Add(bytes.Clone(b.Bytes()))
	f.Add(cmyk())
	f.Fuzz(func(t *testing.T, data []byte) {
		dir := t.TempDir()
		path := filepath.Join(dir, "f")
		if err := os.WriteFile(path, data, 0o644); err != nil {
			t.Fatal(err)
		}
		lim := Limits{Bytes: 1 << 20, Pixels: 1 << 20, Time: 5 * time.Second}
		p, err := BuildPyramid(path, filepath.Join(dir, "p"), lim)
		if err == nil {
			p.Close()
		}
	})
}

// What a file says of its colours is believed: the same colours, written in another space, are the same colours.
func TestAnEmbeddedProfileIsRead(t *testing.T) {
	m := image.NewNRGBA(image.Rect(0, 0, 120, 80))
	for i := range 120 * 80 {
		copy(m.Pix[4*i:], []byte{200, 60, 30, 255})
	}
	src := file(t, "f.png", encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, m) }))
	dir := t.TempDir()
	p, err := BuildPyramid(src, filepath.Join(dir, "p"), DefaultLimits())
	require.NoError(t, err)
	defer p.Close()
	out := filepath.Join(dir, "wide.png")
	require.NoError(t, Encode(filepath.Join(dir, "p", "0"), p.Info, src, "png", 95, Options{Profile: "p3"}, out))
	q, err := BuildPyramid(out, filepath.Join(dir, "q"), DefaultLimits())
	require.NoError(t, err)
	defer q.Close()
	at := func(p *Pyramid) (colour.Lab, []byte) {
		r := raster.Rect{X0: 60, Y0: 40, X1: 61, Y1: 41}
		l, err := p.Linear(0, r)
		require.NoError(t, err)
		c, err := p.Coded(0, r)
		require.NoError(t, err)
		return p.Space.Lab(colour.RGB{float64(l.Pix[0]), float64(l.Pix[1]), float64(l.Pix[2])}), c
	}
	was, a := at(p)
	is, b := at(q)
	assert.NotEqual(t, a[:3], b[:3], "other numbers")
	assert.Less(t, colour.DeltaE00(was, is), 0.7, "of the same colour")
}

// Half of the light is half of the light: levels are averaged in linear light (common practice), so that fine black and white
// stripes are as light from afar as they are from near.
func TestLevelsAreAveragedInLight(t *testing.T) {
	const w, h = 640, 320
	m := image.NewNRGBA(image.Rect(0, 0, w, h))
	for i := range w * h {
		v := byte(0)
		if (i%w+i/w)%2 == 0 {
			v = 255
		}
		copy(m.Pix[4*i:], []byte{v, v, v, 255})
	}
	p, err := BuildPyramid(file(t, "f.png", encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, m) })), filepath.Join(t.TempDir(), "p"), DefaultLimits())
	require.NoError(t, err)
	defer p.Close()
	require.Greater(t, p.Levels(), 1)
	for level := 1; level < p.Levels(); level++ {
		lw, lh := p.Size(level)
		l, err := p.Linear(level, raster.Rect{X0: lw / 2, Y0: lh / 2, X1: lw/2 + 4, Y1: lh/2 + 4})
		require.NoError(t, err)
		for _, v := range l.Pix {
			require.InDelta(t, 0.5, v, 0.01, "level %d", level)
		}
	}
}

func TestQualityIsOfTheFile(t *testing.T) {
	m := image.NewNRGBA(image.Rect(0, 0, 320, 240))
	r := rand.New(rand.NewSource(4))
	for i := range 320 * 240 {
		v := byte(128 + 40*math.Sin(float64(i%320)/9) + 20*r.NormFloat64())
		copy(m.Pix[4*i:], []byte{v, byte(r.Intn(60)), 255 - v, 255})
	}
	src := file(t, "f.png", encoded(t, func(b *bytes.Buffer) error { return png.Encode(b, m) }))
	dir := t.TempDir()
	p, err := BuildPyramid(src, filepath.Join(dir, "p"), DefaultLimits())
	require.NoError(t, err)
	defer p.Close()
	for _, format := range []string{"jpeg", "webp"} {
		last, lastOff := 0, math.Inf(1)
		for _, quality := range []int{25, 60, 90, 98} {
			out := filepath.Join(dir, fmt.Sprint(format, quality, Formats[format]))
			require.NoError(t, Encode(filepath.Join(dir, "p", "0"), p.Info, src, format, quality, Options{}, out))
			b, err := os.ReadFile(out)
			require.NoError(t, err)
			q, err := BuildPyramid(out, filepath.Join(dir, fmt.Sprint(format, quality)), DefaultLimits())
			require.NoError(t, err)
			got, err := q.Coded(0, raster.Rect{X1: 320, Y1: 240})
			require.NoError(t, err)
			off := 0.0
			for i := range 320 * 240 {
				for c := range 3 {
					off += math.Abs(float64(got[q.Info.Bands*i+c]) - float64(m.Pix[4*i+c]))
				}
			}
			q.Close()
			assert.Greater(t, len(b), last*11/10, "%s of %d is larger than of less", format, quality)
			assert.Less(t, off, lastOff, "and nearer to the picture")
			last, lastOff = len(b), off
		}
	}
}
