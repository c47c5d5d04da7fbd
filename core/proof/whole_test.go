package proof

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/develop"
	"episema/core/raster"
)

// The match point meets its target by construction: that must not be enough. Each of these results is wrong on purpose.
func TestAResultThatIsWrongDoesNotMeetItsTolerance(t *testing.T) {
	d, _ := planted(t, 0)
	w, h := d.Size(0)
	render := func() *develop.Rendered {
		r, err := d.Render(0, raster.Rect{X1: w, Y1: h})
		require.NoError(t, err)
		return r
	}
	good := whole(d, render(), 0)
	assert.True(t, good.Meets(DefaultTolerance), "%+v", good)
	for name, spoil := range map[string]func(i int, px []float32){
		"half covered": func(i int, px []float32) {
			if i/w > h/2 {
				px[0], px[1], px[2] = 0.4, 0.05, 0.03
			}
		},
		"tinted":       func(_ int, px []float32) { px[0] += 0.06 },
		"clipped":      func(_ int, px []float32) { px[0], px[1], px[2] = 1, 1, 1 },
		"crushed":      func(_ int, px []float32) { px[0], px[1], px[2] = 0, 0, 0 },
		"far too dark": func(_ int, px []float32) { px[0], px[1], px[2] = px[0]/3, px[1]/3, px[2]/3 },
		"another hue":  func(_ int, px []float32) { px[1], px[2] = px[2], px[1]*0.5 },
		"burned in places": func(i int, px []float32) {
			if i%w%20 == 0 {
				px[0], px[1], px[2] = 1, 1, 1
			}
		},
	} {
		r := render()
		for i, m := range r.Masks[0].Pix {
			if m == raster.Whole {
				spoil(i, r.After.Pix[3*i:3*i+3])
			}
		}
		bad := whole(d, r, 0)
		assert.False(t, bad.Meets(DefaultTolerance), "%s: %+v", name, bad)
	}
}

// What shade there is in the picture is no difference.
func TestShadeIsTakenOut(t *testing.T) {
	d, _ := planted(t, 0)
	parts, _, err := Measure(d)
	require.NoError(t, err)
	assert.Equal(t, "within", parts[0].State)
	assert.Less(t, parts[0].Whole.Median, 1.0)
	assert.Greater(t, parts[0].Share, 0.0)
}

// Where nothing could be measured nothing is said to be right, and a thin part is measured by what there is of it.
func TestNothingMeasuredMeetsNothing(t *testing.T) {
	d, _ := planted(t, 0)
	w, h := d.Size(0)
	r, err := d.Render(0, raster.Rect{X1: w, Y1: h})
	require.NoError(t, err)
	thin, none := raster.NewMask(w, h), raster.NewMask(w, h)
	for i, m := range r.Masks[0].Pix {
		if m == raster.Whole {
			thin.Pix[i] = raster.Whole / 3
		}
	}
	r.Masks[0] = none
	assert.False(t, whole(d, r, 0).Meets(DefaultTolerance))
	r.Masks[0] = thin
	assert.True(t, whole(d, r, 0).Meets(DefaultTolerance))
	for i := range r.After.Pix {
		r.After.Pix[i] = 0.5
	}
	assert.False(t, whole(d, r, 0).Meets(DefaultTolerance))
}

// Each figure may be as much as is allowed and no more.
func TestAPartMeetsItsToleranceUpToEachLimit(t *testing.T) {
	limit := Whole{Median: 2, Most: 6, Burned: 1, Crushed: 1, Tinted: 5, Held: 25}
	assert.True(t, limit.Meets(2))
	assert.True(t, Whole{}.Meets(0))
	for what, more := range map[string]func(w *Whole){
		"median": func(w *Whole) { w.Median += 0.01 }, "most": func(w *Whole) { w.Most += 0.01 }, "burned": func(w *Whole) { w.Burned += 0.01 },
		"crushed": func(w *Whole) { w.Crushed += 0.01 }, "tinted": func(w *Whole) { w.Tinted += 0.01 }, "held": func(w *Whole) { w.Held += 0.01 },
	} {
		w := limit
		more(&w)
		assert.False(t, w.Meets(2), what)
	}
}
