package app

import (
	"bytes"
	"context"
	"image"
	"image/color"
	"image/draw"
	"image/jpeg"
	"image/png"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// laid lays what was sent over what is had, as a page does.
func laid(t *testing.T, had *image.NRGBA, s Sent, w, h int) *image.NRGBA {
	t.Helper()
	out := image.NewNRGBA(image.Rect(0, 0, w, h))
	if had != nil {
		copy(out.Pix, had.Pix)
	}
	if s.Rect.Empty() {
		assert.Empty(t, s.Body)
		return out
	}
	var p image.Image = &image.NRGBA{Pix: s.Body, Stride: 4 * s.Rect.Dx(), Rect: image.Rectangle{Max: s.Rect.Size()}}
	if s.Form == SentPNG {
		var err error
		p, err = png.Decode(bytes.NewReader(s.Body))
		require.NoError(t, err)
	} else {
		require.Len(t, s.Body, 4*s.Rect.Dx()*s.Rect.Dy())
	}
	require.Equal(t, s.Rect.Size(), p.Bounds().Size())
	draw.Draw(out, s.Rect, p, p.Bounds().Min, draw.Src)
	return out
}

// What is sent in fewer bytes is the raw view bit for bit, whole and laid over a frame that was had.
func TestALosslessViewIsTheRawOneBitForBit(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	doc := teal()
	v := View{X: 300, Y: 200, W: 900, H: 700, Width: 450, Height: 350, Show: "picture", Document: &doc}
	raw := func() []byte {
		r, err := s.Send(ctx, id, v, As{})
		require.NoError(t, err)
		assert.Equal(t, SentRaw, r.Form)
		return r.Body
	}
	first, err := s.Send(ctx, id, v, As{Form: SentPNG, Keep: true})
	require.NoError(t, err)
	shown := laid(t, nil, first, 450, 350)
	before := raw()
	require.Equal(t, before, shown.Pix)
	assert.Less(t, len(first.Body), len(before)/2)

	doc.Parts[0].Target.CSS = "#d8c8a0"
	second, err := s.Send(ctx, id, v, As{Form: SentPNG, Keep: true, Have: first.Frame})
	require.NoError(t, err)
	shown = laid(t, shown, second, 450, 350)
	require.Equal(t, raw(), shown.Pix)
	assert.Less(t, len(second.Body), len(first.Body), "only the mug changed")
	assert.NotEqual(t, image.Rect(0, 0, 450, 350), second.Rect)

	same, err := s.Send(ctx, id, v, As{Form: SentPNG, Keep: true, Have: second.Frame})
	require.NoError(t, err)
	assert.True(t, same.Rect.Empty())
	assert.Empty(t, same.Body)

	// The same bytes as rows of another length are another frame.
	s.memory.Put("frame|turned", &frame{350, 450, raw()}, 1)
	turned, err := s.Send(ctx, id, v, As{Form: SentPNG, Have: "turned"})
	require.NoError(t, err)
	assert.Equal(t, image.Rect(0, 0, 450, 350), turned.Rect)

	// A frame of another size, or one that is not known (any more), is not built on.
	v.Width, v.Height = 225, 175
	for _, have := range []string{second.Frame, "no such frame", ""} {
		whole, err := s.Send(ctx, id, v, As{Form: SentPNG, Have: have})
		require.NoError(t, err)
		assert.Equal(t, image.Rect(0, 0, 225, 175), whole.Rect)
		assert.Empty(t, whole.Frame, "nobody asked to keep it")
		require.Equal(t, raw(), laid(t, nil, whole, 225, 175).Pix)
	}
}

// A hand on a quick line is sent the pixels that differ from the last frame, as they are; the frame before that is not kept for it.
func TestOfARawViewOnlyWhatDiffersIsSent(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	doc := teal()
	v := View{X: 300, Y: 200, W: 900, H: 700, Width: 450, Height: 350, Show: "picture", Document: &doc}
	send := func(as As) Sent {
		r, err := s.Send(ctx, id, v, as)
		require.NoError(t, err)
		assert.Equal(t, SentRaw, r.Form)
		return r
	}
	first := send(As{Keep: true})
	shown := laid(t, nil, first, 450, 350)
	had := first.Frame
	for _, css := range []string{"#d8c8a0", "#74190f", "#74190f", "#101012"} {
		doc.Parts[0].Target.CSS = css
		next := send(As{Keep: true, Have: had})
		require.NotEmpty(t, next.Frame)
		shown = laid(t, shown, next, 450, 350)
		require.Equal(t, send(As{}).Body, shown.Pix, css)
		assert.Less(t, len(next.Body), len(first.Body)*9/10, "only the mug changed")
		assert.Equal(t, image.Rect(0, 0, 450, 350), send(As{Have: had}).Rect, "what was built on is forgotten")
		had = next.Frame
	}
	assert.True(t, send(As{Have: had}).Rect.Empty(), "and what was not built on is not")
}

// While a hand moves about the same is enough, in a tenth of the bytes.
func TestAViewUnderAMovingHandIsAboutTheRawOne(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	v := View{X: 300, Y: 200, W: 900, H: 700, Width: 450, Height: 350, Show: "picture"}
	raw, err := s.Send(ctx, id, v, As{})
	require.NoError(t, err)
	sizes := map[int]int{}
	for _, q := range []int{30, 75, 0} {
		r, err := s.Send(ctx, id, v, As{Form: SentJPEG, Quality: q})
		require.NoError(t, err)
		assert.Equal(t, SentJPEG, r.Form)
		sizes[q] = len(r.Body)
		img, err := jpeg.Decode(bytes.NewReader(r.Body))
		require.NoError(t, err)
		sum := 0.0
		for i := range 450 * 350 {
			c := color.NRGBAModel.Convert(img.At(i%450, i/450)).(color.NRGBA)
			for k, v := range [3]byte{c.R, c.G, c.B} {
				d := float64(v) - float64(raw.Body[4*i+k])
				sum += d * d
			}
		}
		rms := math.Sqrt(sum / (3 * 450 * 350))
		assert.Less(t, rms, map[bool]float64{true: 8, false: 4}[q == 30], "quality %d", q)
	}
	assert.Less(t, sizes[75], len(raw.Body)/10)
	assert.Less(t, sizes[30], sizes[75])
	assert.Equal(t, sizes[75], sizes[0])
}

func TestDiffersIsTheSmallestRectangle(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	for range 300 {
		w, h := 1+r.IntN(9), 1+r.IntN(9)
		a := make([]byte, 4*w*h)
		for i := range a {
			a[i] = byte(r.IntN(3))
		}
		b := bytes.Clone(a)
		want := image.Rectangle{}
		for range r.IntN(3) {
			x, y := r.IntN(w), r.IntN(h)
			b[4*(y*w+x)+r.IntN(4)] = 9
			want = want.Union(image.Rect(x, y, x+1, y+1))
		}
		require.Equal(t, want, differs(a, b, w))
	}
}
