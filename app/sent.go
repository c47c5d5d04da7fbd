package app

import (
	"bytes"
	"context"
	"image"
	"image/jpeg"
	"image/png"

	"github.com/google/uuid"

	"episema/internal/memo"
)

// Forms that a view is sent in.
const (
	SentRaw  = "raw"  // rows of 8 bit sRGB RGBA: the quickest where the line is
	SentPNG  = "png"  // the same pixels in fewer bytes
	SentJPEG = "jpeg" // about the same pixels in a tenth of them, while a hand moves
)

// As says how a view shall be sent.
type As struct {
	Form    string // SentRaw, SentPNG or SentJPEG; empty is raw
	Quality int    // of JPEG, 1..100; 0 is 75
	Keep    bool   // but for JPEG: the frame is remembered, so that a later one need not be sent whole
	Have    string // but for JPEG: a frame that whoever asks still has; where it is known, only what differs from it is sent. Raw, it is forgotten then
}

// Sent is a view on its way.
type Sent struct {
	Body  []byte
	Form  string
	Frame string // names it for As.Have; empty where it was not remembered
	// Rect is the part of the view that Body holds; everything else is as in the frame that was had. It may be empty, and so is Body
	// then.
	Rect image.Rectangle
}

// frame is a view that was sent.
type frame struct {
	w, h int
	pix  []byte
}

// Send renders a view, exactly as Render does, in the form that is wanted.
func (s *Studio) Send(ctx context.Context, id uuid.UUID, v View, as As) (Sent, error) {
	pix, err := s.Render(ctx, id, v)
	if err != nil {
		return Sent{}, err
	}
	whole := image.Rect(0, 0, v.Width, v.Height)
	img := &image.NRGBA{Pix: pix, Stride: 4 * v.Width, Rect: whole}
	out := Sent{Form: as.Form, Rect: whole}
	switch {
	case as.Form == SentJPEG && img.Opaque():
		out.Body, err = jpegOf(img, as.Quality)
	case as.Form == SentJPEG || as.Form == SentPNG: // a JPEG has no transparency
		out.Form = SentPNG
		s.since(&out, as, &frame{v.Width, v.Height, pix})
		if !out.Rect.Empty() {
			out.Body, err = pngOf(img.SubImage(out.Rect))
		}
	default:
		out.Form = SentRaw
		s.since(&out, as, &frame{v.Width, v.Height, pix})
		out.Body = rowsOf(img, out.Rect)
		if as.Keep && as.Have != "" {
			s.memory.Forget("frame|" + as.Have) // a hand asks for one after the other, 2 MB each
		}
	}
	if err == nil {
		err = ctx.Err()
	}
	return out, err
}

// since finds out what of a frame is sent to who has another, and remembers it where that is asked for.
func (s *Studio) since(out *Sent, as As, f *frame) {
	if had, ok := memo.Look[*frame](s.memory, "frame|"+as.Have); ok && had.w == f.w && had.h == f.h {
		out.Rect = differs(had.pix, f.pix, f.w)
	}
	if as.Keep {
		out.Frame = uuid.NewString()
		s.memory.Put("frame|"+out.Frame, f, int64(len(f.pix)))
	}
}

// rowsOf returns the rows of a rectangle of a picture.
func rowsOf(img *image.NRGBA, r image.Rectangle) []byte {
	if r == img.Rect || r.Empty() {
		return img.Pix[:4*r.Dx()*r.Dy()]
	}
	out := make([]byte, 0, 4*r.Dx()*r.Dy())
	for y := r.Min.Y; y < r.Max.Y; y++ {
		i := img.PixOffset(r.Min.X, y)
		out = append(out, img.Pix[i:i+4*r.Dx()]...)
	}
	return out
}

// pngOf packs a picture without loss, quickly.
func pngOf(img image.Image) ([]byte, error) {
	var b bytes.Buffer
	err := (&png.Encoder{CompressionLevel: png.BestSpeed}).Encode(&b, img)
	return b.Bytes(), err
}

func jpegOf(img *image.NRGBA, quality int) ([]byte, error) {
	if quality == 0 {
		quality = 75
	}
	var b bytes.Buffer
	// The encoder has a quick way for this type; the pixels are opaque, so that both mean the same.
	err := jpeg.Encode(&b, &image.RGBA{Pix: img.Pix, Stride: img.Stride, Rect: img.Rect}, &jpeg.Options{Quality: quality})
	return b.Bytes(), err
}

// differs returns the smallest rectangle outside of which two views of one size, width pixels wide, are the same.
func differs(a, b []byte, width int) image.Rectangle {
	row := 4 * width
	y0, y1 := 0, len(b)/row
	for y0 < y1 && bytes.Equal(a[y0*row:(y0+1)*row], b[y0*row:(y0+1)*row]) {
		y0++
	}
	for y1 > y0 && bytes.Equal(a[(y1-1)*row:y1*row], b[(y1-1)*row:y1*row]) {
		y1--
	}
	// Most rows are the same outside of what differs in those before: that much is compared at once.
	x0, x1 := row, 0 // in bytes
	for y := y0; y < y1; y++ {
		p, q := a[y*row:(y+1)*row], b[y*row:(y+1)*row]
		if !bytes.Equal(p[:x0], q[:x0]) {
			for x0 = 0; p[x0] == q[x0]; x0++ {
			}
		}
		if !bytes.Equal(p[x1:], q[x1:]) {
			for x1 = row; p[x1-1] == q[x1-1]; x1-- {
			}
		}
	}
	x0, x1 = x0/4, (x1+3)/4
	if x0 >= x1 {
		return image.Rectangle{}
	}
	return image.Rect(x0, y0, x1, y1)
}
