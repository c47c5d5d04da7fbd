package app

import (
	"context"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// A view is what its pieces are, wherever it is cut: who pans asks for what comes into sight alone. (A mask is rounded by its place in what is
// asked for: a few values may be one step apart.)
func TestAViewIsItsPieces(t *testing.T) {
	s, ctx := studio(t), context.Background()
	id := mug(t, s)
	pic, doc, err := s.picture(ctx, id, nil)
	require.NoError(t, err)
	part := doc.Parts[0].ID
	for _, show := range shows {
		for _, scale := range []float64{1, 2.3, float64(pic.Width) / 700} { // picture pixels a pixel of the view
			const w, h, cutX, cutY = 230, 190, 97, 61
			at := func(x, y, w, h int) View {
				v := View{X: (211.5 + float64(x)) * scale, Y: (120.25 + float64(y)) * scale, W: float64(w) * scale, H: float64(h) * scale, Width: w, Height: h, Show: show, Part: part}
				v.Overlay = Overlay{Tint: [3]byte{200, 10, 90}, Strength: 0.6, Ground: "checks"}
				return v
			}
			whole, err := s.Render(ctx, id, at(0, 0, w, h))
			require.NoError(t, err)
			apart, most := 0, 0
			for _, p := range [][4]int{{0, 0, cutX, h}, {cutX, 0, w - cutX, cutY}, {cutX, cutY, w - cutX, h - cutY}} {
				piece, err := s.Render(ctx, id, at(p[0], p[1], p[2], p[3]))
				require.NoError(t, err)
				for i, v := range piece {
					x, y, c := p[0]+i/4%p[2], p[1]+i/4/p[2], i%4
					if d := int(v) - int(whole[4*(y*w+x)+c]); d != 0 {
						apart++
						most = max(most, d, -d)
					}
				}
			}
			assert.LessOrEqual(t, most, 1, "%s at %.2f", show, scale)
			assert.LessOrEqual(t, apart, w*h/2000, "%s at %.2f", show, scale)
		}
	}
}
