package imagefile

import (
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"hash/crc32"
	"io"
	"math"
	"os"
	"path/filepath"
	"reflect"
	"unsafe"

	"episema/core/colour"
	"episema/core/raster"
)

// Pyramid is a decoded picture on disk at halved sizes, read by rectangle. It is derived data: deleting
// its folder loses nothing. Safe for concurrent use.
type Pyramid struct {
	Info  Info
	Space *colour.Space
	dir   string
	files []*os.File
	lut   *luts
}

// luts turn coded samples into light and back for one space and depth.
type luts struct {
	linear [3][]float32
	coded  [3][]uint16 // index: linear light times codedSteps
	shown  []byte      // index: a coded sample; what the screen shows of it. nil where that is not a matter of one sample
}

const codedSteps = 1 << 16

func newLUTs(s *colour.Space, bits int) *luts {
	l := &luts{}
	top := float64(int(1)<<bits - 1)
	for c := range 3 {
		if c > 0 && reflect.ValueOf(s.Decode[c]).Comparable() && s.Decode[c] == s.Decode[0] {
			l.linear[c], l.coded[c] = l.linear[0], l.coded[0]
			continue
		}
		l.linear[c] = make([]float32, int(top)+1)
		for i := range l.linear[c] {
			l.linear[c][i] = float32(s.Decode[c].Linear(float64(i) / top))
		}
		l.coded[c] = make([]uint16, codedSteps+1)
		for i := range l.coded[c] {
			v := s.Decode[c].Coded(float64(i)/codedSteps) * top
			l.coded[c][i] = uint16(math.Max(0, math.Min(top, math.Round(v))))
		}
	}
	if s == colour.SRGB {
		l.shown = make([]byte, len(l.linear[0]))
		for i, v := range l.linear[0] {
			l.shown[i] = colour.Byte(v)
		}
	}
	return l
}

// sidecar is kept beside the levels.
type sidecar struct {
	Info   Info
	Levels int
	Sums   []uint32 // CRC-32C of each level's file
}

// BuildPyramid decodes a picture file into a folder. The folder appears whole or not at all.
func BuildPyramid(original, dir string, lim Limits) (*Pyramid, error) {
	tmp, err := os.MkdirTemp(filepath.Dir(dir), "making-*")
	if err != nil {
		return nil, err
	}
	defer os.RemoveAll(tmp)
	info, err := Decode(original, filepath.Join(tmp, "0"), lim)
	if err != nil {
		return nil, err
	}
	lut := newLUTs(info.Space(), info.Bits)
	w, h := info.Width, info.Height
	level := 0
	for ; max(w, h) > 256; level++ {
		if err := halve(filepath.Join(tmp, fmt.Sprint(level)), filepath.Join(tmp, fmt.Sprint(level+1)), w, h, info, lut); err != nil {
			return nil, err
		}
		w, h = (w+1)/2, (h+1)/2
	}
	made := sidecar{Info: info, Levels: level + 1}
	for l := range made.Levels {
		f, err := os.Open(filepath.Join(tmp, fmt.Sprint(l)))
		if err != nil {
			return nil, err
		}
		sum, err := sumOf(f)
		f.Close()
		if err != nil {
			return nil, err
		}
		made.Sums = append(made.Sums, sum)
	}
	b, err := json.Marshal(made)
	if err != nil {
		return nil, err
	}
	if err := os.WriteFile(filepath.Join(tmp, "info.json"), b, 0o644); err != nil {
		return nil, err
	}
	if err := os.Rename(tmp, dir); err != nil {
		// Another worker may have been first; its levels are the same.
		if p, openErr := OpenPyramid(dir); openErr == nil {
			return p, nil
		}
		return nil, err
	}
	return OpenPyramid(dir)
}

// sumOf gives the CRC-32C of a file from its beginning.
func sumOf(f *os.File) (uint32, error) {
	h := crc32.New(crc32.MakeTable(crc32.Castagnoli))
	_, err := io.Copy(h, io.NewSectionReader(f, 0, 1<<62))
	return h.Sum32(), err
}

// OpenPyramid opens a folder that BuildPyramid made. Levels that are not as they were written are an error: the folder is made
// anew then.
func OpenPyramid(dir string) (*Pyramid, error) {
	b, err := os.ReadFile(filepath.Join(dir, "info.json"))
	if err != nil {
		return nil, err
	}
	var s sidecar
	if err := json.Unmarshal(b, &s); err != nil {
		return nil, err
	}
	if len(s.Sums) != s.Levels {
		return nil, fmt.Errorf("the decoded picture has %d sums for %d levels", len(s.Sums), s.Levels)
	}
	p := &Pyramid{Info: s.Info, Space: s.Info.Space(), dir: dir}
	p.lut = newLUTs(p.Space, s.Info.Bits)
	for l := range s.Levels {
		f, err := os.Open(filepath.Join(dir, fmt.Sprint(l)))
		if err != nil {
			p.Close()
			return nil, err
		}
		p.files = append(p.files, f)
		w, h := p.Size(l)
		if st, err := f.Stat(); err != nil || st.Size() != int64(w)*int64(h)*int64(p.stride()) {
			p.Close()
			return nil, fmt.Errorf("level %d of the decoded picture is damaged", l)
		}
		if sum, err := sumOf(f); err != nil || sum != s.Sums[l] {
			p.Close()
			return nil, fmt.Errorf("level %d of the decoded picture is not as it was written", l)
		}
	}
	return p, nil
}

// Close closes the files of the levels.
func (p *Pyramid) Close() {
	for _, f := range p.files {
		f.Close()
	}
}

func (p *Pyramid) stride() int { return p.Info.Bands * p.Info.Bits / 8 }

// Size gives the size of a level.
func (p *Pyramid) Size(level int) (int, int) {
	return raster.LevelSize(p.Info.Width, level), raster.LevelSize(p.Info.Height, level)
}

// Levels gives how many levels there are.
func (p *Pyramid) Levels() int { return len(p.files) }

// Coded reads a rectangle of a level as it is stored: interleaved samples in native byte order.
func (p *Pyramid) Coded(level int, r raster.Rect) ([]byte, error) {
	if err := p.inside(level, r); err != nil {
		return nil, err
	}
	out := make([]byte, r.W()*r.H()*p.stride())
	return out, p.read(level, r, out)
}

// inside says what is wrong with a rectangle that is not one of a level.
func (p *Pyramid) inside(level int, r raster.Rect) error {
	w, h := p.Size(level)
	if r.Empty() || r.X0 < 0 || r.Y0 < 0 || r.X1 > w || r.Y1 > h {
		return fmt.Errorf("the rectangle %v is not inside level %d (%d x %d)", r, level, w, h)
	}
	return nil
}

// read reads a rectangle that is inside into as many bytes as it has.
func (p *Pyramid) read(level int, r raster.Rect, out []byte) error {
	w, _ := p.Size(level)
	n := p.stride()
	row := r.W() * n
	if r.W() == w {
		_, err := p.files[level].ReadAt(out, int64(r.Y0)*int64(w)*int64(n))
		return err
	}
	for y := 0; y < r.H(); y++ {
		off := (int64(r.Y0+y)*int64(w) + int64(r.X0)) * int64(n)
		if _, err := p.files[level].ReadAt(out[y*row:(y+1)*row], off); err != nil {
			return err
		}
	}
	return nil
}

// Linear reads a rectangle of a level in linear light; transparency is left out.
func (p *Pyramid) Linear(level int, r raster.Rect) (*raster.RGB, error) {
	if err := p.inside(level, r); err != nil {
		return nil, err
	}
	o := raster.NewRGB(r.W(), r.H())
	return o, p.each(level, r, nil, func(b []byte, from, to int) { p.lut.decode(b, p.Info, o.Pix[3*from:3*to]) })
}

// Shown reads a rectangle of a level as a screen shows it: rows of 8 bit sRGB RGBA, transparency left out. It reports false, and reads
// nothing, where that takes more than a look at each sample: where the picture is in another space. It is raster.ErrStopped once done is closed.
func (p *Pyramid) Shown(level int, r raster.Rect, done raster.Done) (pix []byte, ok bool, err error) {
	defer raster.Recover(&err)
	if err := p.inside(level, r); err != nil || p.lut.shown == nil {
		return nil, false, err
	}
	pix = make([]byte, 4*r.W()*r.H())
	return pix, true, p.each(level, r, done, func(b []byte, from, to int) { p.lut.show(b, p.Info, pix[4*from:4*to]) })
}

// each calls f, at once for several, with some rows after the other of a rectangle that is inside, as they are coded, and the first of their pixels and the
// one after the last.
func (p *Pyramid) each(level int, r raster.Rect, done raster.Done, f func(b []byte, from, to int)) error {
	const rows = 16 // what is read is decoded while it is near
	blocks := (r.H() + rows - 1) / rows
	errs := make([]error, blocks)
	done.Parallel(blocks, func(n int) {
		q := raster.Rect{X0: r.X0, Y0: r.Y0 + n*rows, X1: r.X1, Y1: min(r.Y1, r.Y0+(n+1)*rows)}
		b := make([]byte, q.W()*q.H()*p.stride())
		if errs[n] = p.read(level, q, b); errs[n] == nil {
			from := n * rows * r.W()
			f(b, from, from+q.W()*q.H())
		}
	})
	return errors.Join(errs...)
}

func (l *luts) decode(b []byte, info Info, out []float32) {
	bands := info.Bands
	r, g, bl := l.linear[0], l.linear[1], l.linear[2]
	if info.Bits == 8 {
		for i, j := 0, 0; j+2 < len(out); i, j = i+bands, j+3 {
			out[j], out[j+1], out[j+2] = r[b[i]], g[b[i+1]], bl[b[i+2]]
		}
		return
	}
	s := Samples16(b)
	for i, j := 0, 0; j+2 < len(out); i, j = i+bands, j+3 {
		out[j], out[j+1], out[j+2] = r[s[i]], g[s[i+1]], bl[s[i+2]]
	}
}

// show is decode for a screen.
func (l *luts) show(b []byte, info Info, out []byte) {
	bands, of := info.Bands, l.shown
	if info.Bits == 8 {
		for i, j := 0, 0; j+3 < len(out); i, j = i+bands, j+4 {
			binary.LittleEndian.PutUint32(out[j:], uint32(of[b[i]])|uint32(of[b[i+1]])<<8|uint32(of[b[i+2]])<<16|0xff<<24)
		}
		return
	}
	s := Samples16(b)
	for i, j := 0, 0; j+3 < len(out); i, j = i+bands, j+4 {
		binary.LittleEndian.PutUint32(out[j:], uint32(of[s[i]])|uint32(of[s[i+1]])<<8|uint32(of[s[i+2]])<<16|0xff<<24)
	}
}

// Samples16 sees 16 bit samples in bytes.
func Samples16(b []byte) []uint16 {
	return unsafe.Slice((*uint16)(unsafe.Pointer(unsafe.SliceData(b))), len(b)/2)
}

// Encode puts linear light back into coded samples, but only where changed says so: everything else
// keeps the very samples it came with. changed is called for each pixel once, by several goroutines.
func (p *Pyramid) Encode(pic *raster.RGB, coded []byte, changed func(i int) bool) {
	raster.Parallel(pic.H, func(y int) {
		for i := y * pic.W; i < (y+1)*pic.W; i++ {
			if changed(i) {
				p.encode(pic.Pix[3*i:3*i+3], coded, i*p.Info.Bands)
			}
		}
	})
}

func (p *Pyramid) encode(light []float32, coded []byte, at int) {
	for c := range 3 {
		v := max(0, min(1, light[c]))
		if p.Info.Bits == 8 {
			coded[at+c] = byte(p.lut.coded[c][int(v*codedSteps+0.5)])
		} else {
			Samples16(coded)[at+c] = uint16(math.Round(p.Space.Decode[c].Coded(float64(v)) * 65535))
		}
	}
}

const halved = 16 // rows of the next level that are worked out at a time

// halve writes the next level, averaged in linear light.
func halve(from, to string, w, h int, info Info, lut *luts) error {
	in, err := os.Open(from)
	if err != nil {
		return err
	}
	defer in.Close()
	f, err := os.Create(to)
	if err != nil {
		return err
	}
	defer f.Close()
	ow, bytes := (w+1)/2, info.Bits/8
	row, small := w*info.Bands*bytes, ow*info.Bands*bytes
	rows, o := make([]byte, 2*halved*row), make([]byte, halved*small)
	for y := 0; y < h; y += 2 * halved {
		n := min(2*halved, h-y)
		if _, err := io.ReadFull(in, rows[:n*row]); err != nil {
			return err
		}
		out := (n + 1) / 2
		raster.Parallel(out, func(k int) {
			a := rows[2*k*row : (2*k+1)*row]
			b := a
			if 2*k+1 < n {
				b = rows[(2*k+1)*row : (2*k+2)*row]
			}
			if bytes == 1 {
				halveRow(a, b, o[k*small:(k+1)*small], w, info.Bands, lut)
			} else {
				halveRow(Samples16(a), Samples16(b), Samples16(o[k*small:(k+1)*small]), w, info.Bands, lut)
			}
		})
		if _, err := f.Write(o[:out*small]); err != nil {
			return err
		}
	}
	return f.Close()
}

// halveRow averages two rows of w pixels into one of half as many. Transparency is averaged as it is coded.
func halveRow[S uint8 | uint16](a, b, o []S, w, bands int, lut *luts) {
	for x := range (w + 1) / 2 {
		i, j := 2*x*bands, min(2*x+1, w-1)*bands
		for c := range bands {
			if c == 3 {
				o[x*bands+c] = S((int(a[i+c]) + int(a[j+c]) + int(b[i+c]) + int(b[j+c]) + 2) / 4)
				continue
			}
			l := lut.linear[c]
			m := (l[a[i+c]] + l[a[j+c]] + l[b[i+c]] + l[b[j+c]]) / 4
			o[x*bands+c] = S(lut.coded[c][int(m*codedSteps+0.5)])
		}
	}
}
