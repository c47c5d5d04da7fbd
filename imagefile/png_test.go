package imagefile

import (
	"bytes"
	"encoding/binary"
	"errors"
	"image"
	"image/png"
	"io"
	"math/rand"
	"path/filepath"
	"syscall"
	"testing"
	"testing/iotest"
	"time"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// noisy is a PNG file of a picture that has four rows of noise again and again in no order, so that pieces refer to what stands before them
// and a piece that took other bytes for those would refer to the wrong ones.
func noisy(t testing.TB, w, h int) ([]byte, *image.NRGBA) {
	img := image.NewNRGBA(image.Rect(0, 0, w, h))
	rnd := rand.New(rand.NewSource(int64(w*7919 + h)))
	rows := make([]byte, 4*4*w)
	rnd.Read(rows)
	for y := range h {
		copy(img.Pix[y*img.Stride:], rows[4*w*rnd.Intn(4):][:4*w])
	}
	var b bytes.Buffer
	require.NoError(t, (&png.Encoder{CompressionLevel: png.NoCompression}).Encode(&b, img))
	return b.Bytes(), img
}

// The pixels are the same, whatever the size: less than a piece, several, and none over; and all other chunks stand where they stood.
func TestRepackedPNGIsTheSamePicture(t *testing.T) {
	for _, size := range [][2]int{{1, 1}, {3, 700}, {127, 1032}, {611, 800}, {1024, 1024}} {
		file, img := noisy(t, size[0], size[1])
		head, body := file[:33], file[33:] // behind IHDR
		var note bytes.Buffer
		require.NoError(t, writeChunk(&note, "tEXt", []byte("Comment\x00a note before")))
		end := len(body) - 12
		withNotes := bytes.Join([][]byte{head, note.Bytes(), body[:end], note.Bytes(), body[end:]}, nil)
		var out bytes.Buffer
		require.NoError(t, repack(&out, iotest.HalfReader(bytes.NewReader(withNotes))))
		got, err := png.Decode(bytes.NewReader(out.Bytes()))
		require.NoError(t, err)
		assert.Equal(t, img.Pix, got.(*image.NRGBA).Pix, size)
		assert.Equal(t, append(append([]byte{}, head...), note.Bytes()...), out.Bytes()[:33+note.Len()])
		assert.Equal(t, append(append([]byte{}, note.Bytes()...), body[end:]...), out.Bytes()[out.Len()-12-note.Len():])
	}
}

// A file that ends too soon, anywhere, is an error and not half a picture; so is one whose data do not hold together.
func TestRepackSaysWhatIsCutShortOrDamaged(t *testing.T) {
	file, _ := noisy(t, 41, 30)
	for n := 0; n < len(file); n += 1 + n/60 {
		err := repack(io.Discard, bytes.NewReader(file[:n]))
		assert.Error(t, err, n)
		assert.NotEqual(t, io.EOF, err, n)
	}
	at := bytes.Index(file, []byte("IDAT")) + 4
	for i := at; i < at+7; i++ { // the stream's head, its first block's
		damaged := bytes.Clone(file)
		damaged[i] ^= 0x55
		assert.Error(t, repack(io.Discard, bytes.NewReader(damaged)), i)
	}
}

// A stream that is cut short inside a file that is whole is no picture's.
func TestRepackTakesNoStreamThatIsCutShort(t *testing.T) {
	file, _ := noisy(t, 41, 30)
	at := bytes.Index(file, []byte("IDAT")) - 4
	data := file[at+8 : at+8+int(binary.BigEndian.Uint32(file[at:]))]
	for n := range len(data) {
		var cut bytes.Buffer
		cut.Write(file[:at])
		require.NoError(t, writeChunk(&cut, "IDAT", data[:n]))
		cut.Write(file[len(file)-12:])
		assert.Error(t, repack(io.Discard, &cut), n)
	}
}

type full struct{ left int }

func (f *full) Write(b []byte) (int, error) {
	if f.left -= len(b); f.left < 0 {
		return 0, errors.New("no room is left")
	}
	return len(b), nil
}

// Where the disk is full, that is said, whoever still waits to write.
func TestRepackEndsWhereNothingCanBeWritten(t *testing.T) {
	file, _ := noisy(t, 1024, 1024)
	for _, room := range []int{0, 20, 100, 600_000} {
		assert.ErrorContains(t, repack(&full{room}, bytes.NewReader(file)), "no room is left")
	}
	ended := make(chan error, 1)
	go func() {
		ended <- throughRepack("/dev/full", func(fd uintptr) error {
			for b := file; len(b) > 0; {
				n, err := syscall.Write(int(fd), b)
				if err != nil {
					return err
				}
				b = b[n:]
			}
			return nil
		})
	}()
	select {
	case err := <-ended:
		require.Error(t, err)
	case <-time.After(30 * time.Second):
		require.Fail(t, "whoever writes waits for ever")
	}
	assert.ErrorContains(t, throughRepack(filepath.Join(t.TempDir(), "out.png"), func(uintptr) error { return errors.New("the picture is torn") }), "torn")
}

func FuzzRepack(f *testing.F) {
	file, _ := noisy(f, 9, 5)
	f.Add(file)
	f.Add(append(bytes.Clone(file[:8]), "\xff\xff\xff\xffIDAT\x78\x01"...))
	f.Fuzz(func(t *testing.T, b []byte) {
		if len(b) > 1<<16 {
			return
		}
		var out bytes.Buffer
		if repack(&out, bytes.NewReader(b)) != nil {
			return
		}
		was, err := png.Decode(bytes.NewReader(b))
		if err != nil {
			return // its other chunks make no picture; nor do they now
		}
		is, err := png.Decode(bytes.NewReader(out.Bytes()))
		require.NoError(t, err)
		require.Equal(t, was, is)
	})
}
