package imagefile

import (
	"bufio"
	"bytes"
	"encoding/binary"
	"errors"
	"fmt"
	"hash/adler32"
	"hash/crc32"
	"io"
	"os"
	"runtime"

	"github.com/klauspost/compress/flate"
	"github.com/klauspost/compress/zlib"
	"golang.org/x/sync/errgroup"
)

const (
	pngLevel  = 3         // of deflate
	pngPiece  = 512 << 10 // bytes of filtered rows that are compressed by themselves
	pngWindow = 32 << 10  // how far back deflate looks (RFC 1951)
)

var pngSignature = []byte("\x89PNG\r\n\x1a\n")

// repack copies a PNG file with its image data compressed anew, piece beside piece on all cores: libpng uses one, and takes
// longer to compress a picture than it takes to paint it. Each piece begins with what stands before it for a dictionary and ends on a
// whole byte, so that they make one stream (RFC 1950, RFC 1951). All other chunks are passed on as they are. What it reads
// comes from libvips; it holds a few pieces at a time, whatever the chunks' lengths say.
func repack(to io.Writer, from io.Reader) error {
	in := bufio.NewReaderSize(from, 256<<10)
	head := make([]byte, len(pngSignature))
	if _, err := io.ReadFull(in, head); err != nil || !bytes.Equal(head, pngSignature) {
		return errors.New("what libvips wrote is no PNG")
	}
	if _, err := to.Write(head); err != nil {
		return err
	}
	c := &pngChunks{in: in}
	for {
		kind, err := c.next()
		if err != nil {
			return err
		}
		if kind == "IDAT" {
			if err := recompress(to, &pngData{c: c}); err != nil {
				return err
			}
			continue
		}
		if _, err := to.Write(c.head[:]); err != nil {
			return err
		}
		if _, err := io.CopyN(to, in, int64(c.left)+4); err != nil { // with its check sum
			return noEOF(err)
		}
		c.left = 0
		if kind == "IEND" {
			return nil
		}
	}
}

// pngChunks reads the heads of chunks: four bytes of length, four of the kind (PNG, third edition, 5.3).
type pngChunks struct {
	in     *bufio.Reader
	head   [8]byte
	left   uint32 // of the data of the chunk that was begun
	unread string // the kind of a chunk whose head was read, but which was not taken
}

func (c *pngChunks) next() (string, error) {
	if k := c.unread; k != "" {
		c.unread = ""
		return k, nil
	}
	if _, err := io.ReadFull(c.in, c.head[:]); err != nil {
		return "", noEOF(err)
	}
	c.left = binary.BigEndian.Uint32(c.head[:])
	return string(c.head[4:]), nil
}

// pngData reads the data of IDAT chunks that follow each other, the first of which was begun.
type pngData struct{ c *pngChunks }

func (d *pngData) Read(b []byte) (int, error) {
	for d.c.left == 0 {
		if d.c.unread != "" {
			return 0, io.EOF
		}
		if _, err := d.c.in.Discard(4); err != nil {
			return 0, noEOF(err)
		}
		kind, err := d.c.next()
		if err != nil {
			return 0, err
		}
		if kind != "IDAT" {
			d.c.unread = kind
			return 0, io.EOF
		}
	}
	n, err := d.c.in.Read(b[:min(len(b), int(d.c.left))])
	d.c.left -= uint32(n)
	return n, noEOF(err)
}

func noEOF(err error) error {
	if err == io.EOF {
		return io.ErrUnexpectedEOF
	}
	return err
}

// recompress writes a zlib stream anew, as IDAT chunks of a piece each.
func recompress(to io.Writer, data *pngData) error {
	z, err := zlib.NewReader(data)
	if err != nil {
		return err
	}
	type piece struct {
		raw, dict []byte
		last      bool
		done      chan []byte
	}
	work, ordered := make(chan piece), make(chan piece, runtime.GOMAXPROCS(0))
	var g errgroup.Group
	stop := make(chan struct{}) // once nothing can be written any more
	sum := adler32.New()
	g.Go(func() error { // cuts
		defer close(work)
		defer close(ordered)
		var dict []byte
		for {
			raw := make([]byte, pngPiece)
			n, err := io.ReadFull(z, raw)
			if err == io.ErrUnexpectedEOF { // the stream's end, or one that is cut short: it says which when it is asked once more
				_, err = z.Read(make([]byte, 1))
			}
			last := err == io.EOF
			if err != nil && !last {
				return err
			}
			sum.Write(raw[:n])
			p := piece{raw[:n], dict, last, make(chan []byte, 1)}
			for _, to := range []chan piece{ordered, work} {
				select {
				case to <- p:
				case <-stop:
					return nil
				}
			}
			if last {
				// What is left of the chunk is its end; the reader has checked the stream's sum.
				_, err := io.Copy(io.Discard, data)
				return err
			}
			dict = raw[n-pngWindow:]
		}
	})
	for range runtime.GOMAXPROCS(0) {
		w, err := flate.NewWriterDict(io.Discard, pngLevel, nil)
		if err != nil {
			panic(err) // there is such a level
		}
		g.Go(func() error {
			for p := range work {
				var b bytes.Buffer
				b.Grow(len(p.raw) / 2)
				w.ResetDict(&b, p.dict)
				w.Write(p.raw) // into memory: nothing fails
				if p.last {
					w.Close()
				} else {
					w.Flush()
				}
				p.done <- b.Bytes()
			}
			return nil
		})
	}
	g.Go(func() error {
		defer close(stop)
		begin := []byte{0x78, 0x5e} // a window of 32 kB, a quick level
		for p := range ordered {
			b := append(begin, <-p.done...)
			begin = nil
			if p.last {
				b = sum.Sum(b)
			}
			if err := writeChunk(to, "IDAT", b); err != nil {
				return err
			}
		}
		return nil
	})
	return g.Wait()
}

func writeChunk(to io.Writer, kind string, data []byte) error {
	if uint64(len(data)) > 1<<31-1 {
		return fmt.Errorf("a chunk of %d bytes", len(data))
	}
	b := binary.BigEndian.AppendUint32(make([]byte, 0, len(data)+12), uint32(len(data)))
	b = append(append(b, kind...), data...)
	b = binary.BigEndian.AppendUint32(b, crc32.ChecksumIEEE(b[4:]))
	_, err := to.Write(b)
	return err
}

// throughRepack makes a PNG file of what write writes to a descriptor. What is not read is read to its end nevertheless: libvips would
// wait for it.
func throughRepack(out string, write func(fd uintptr) error) error {
	r, w, err := os.Pipe()
	if err != nil {
		return err
	}
	defer r.Close()
	f, err := os.Create(out)
	if err != nil {
		w.Close()
		return err
	}
	defer f.Close()
	packed := make(chan error, 1)
	go func() {
		err := repack(f, r)
		io.Copy(io.Discard, r)
		packed <- err
	}()
	err = write(w.Fd())
	w.Close()
	if fault := <-packed; err == nil {
		err = fault
	}
	if err != nil {
		return err
	}
	return f.Close()
}
