package app

import (
	"bytes"
	"context"
	"encoding/json"
	"image"
	"image/png"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/colour"
	"episema/core/document"
)

// A view plus the shares of a family's colours times their change is the view of the recoloured drawing, for each family of
// the poster, magnified too.
func TestSharesTellAChangeOfColours(t *testing.T) {
	s := studio(t)
	ctx := context.Background()
	id, _ := drawnPoster(t, s)
	pic, err := s.Store.Picture(ctx, id)
	require.NoError(t, err)
	var doc document.Picture
	require.NoError(t, json.Unmarshal(pic.Document, &doc))
	coded := func(css string) [3]int {
		l, err := colour.ParseCSS(css)
		require.NoError(t, err)
		c := colour.SRGB.Linear(l)
		return [3]int{int(255*colour.SRGBEncode(c[0]) + 0.5), int(255*colour.SRGBEncode(c[1]) + 0.5), int(255*colour.SRGBEncode(c[2]) + 0.5)}
	}
	changed := 0
	for k := range doc.Parts {
		for _, v := range []View{{W: 600, H: 840, Width: 300, Height: 420, Show: "picture"}, {X: 150, Y: 300, W: 100, H: 80, Width: 400, Height: 320, Show: "picture"}} {
			colours := []string{}
			for _, m := range doc.Parts[k].Family.Members {
				colours = append(colours, m.Colour)
			}
			sheet, err := s.Shares(ctx, id, doc.Parts[k].ID, colours, v)
			require.NoError(t, err)
			img, err := png.Decode(bytes.NewReader(sheet))
			require.NoError(t, err)
			require.Equal(t, image.Rect(0, 0, v.Width, v.Height*((len(colours)+2)/3)), img.Bounds())
			before, err := s.Render(ctx, id, v)
			require.NoError(t, err)

			after := doc
			after.Parts = append([]document.Part{}, doc.Parts...)
			f := *doc.Parts[k].Family
			f.Held, f.Hue, f.Lightness = false, 120, 12
			after.Parts[k].Family = &f
			becomes, err := s.Coloured(ctx, id, &after)
			require.NoError(t, err)
			v.Document = &after
			want, err := s.Render(ctx, id, v)
			require.NoError(t, err)

			sum := make([]int, 3*v.Width*v.Height)
			for n, c := range colours {
				to, ok := becomes[k].To[c]
				if !ok {
					continue
				}
				was, is := coded(c), coded(to)
				for i := range v.Width * v.Height {
					r, g, b, _ := img.At(i%v.Width, n/3*v.Height+i/v.Width).RGBA()
					share := int([3]uint32{r, g, b}[n%3] >> 8)
					for ch := range 3 {
						sum[3*i+ch] += share * (is[ch] - was[ch])
					}
				}
			}
			for i := range v.Width * v.Height {
				for ch := range 3 {
					got := float64(before[4*i+ch]) + float64(sum[3*i+ch])/255
					require.InDelta(t, want[4*i+ch], got, 3, "family %s, pixel %d, %d", doc.Parts[k].Name, i%v.Width, i/v.Width)
				}
				if !bytes.Equal(before[4*i:4*i+4], want[4*i:4*i+4]) {
					changed++
				}
			}
		}
	}
	assert.Greater(t, changed, 100000)
	_, err = s.Shares(ctx, id, "nobody", []string{"#9c2a1e"}, View{W: 10, H: 10, Width: 10, Height: 10})
	assert.ErrorContains(t, err, "no such part")
	_, err = s.Shares(ctx, id, doc.Parts[0].ID, nil, View{W: 10, H: 10, Width: 10, Height: 10})
	assert.ErrorContains(t, err, "1 to 24 colours")
	_, err = s.Shares(ctx, id, doc.Parts[0].ID, make([]string, 24), View{W: 10, H: 10, Width: 8192, Height: 8192})
	assert.ErrorContains(t, err, "smaller view")
}
