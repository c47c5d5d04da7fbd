package api_test

import (
	"context"
	"encoding/json"
	"fmt"
	"image/png"
	"net/http"
	"os"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/api"
)

// The planes of a hue are pictures of the size that was asked for, and no larger than somebody looks at.
func TestAPlaneOfAHueIsAPicture(t *testing.T) {
	s, _ := serve(t)
	res, err := http.Get(s.URL + "/api/plane?hue=187&width=64&height=40")
	require.NoError(t, err)
	defer res.Body.Close()
	require.Equal(t, 200, res.StatusCode)
	p, err := png.Decode(res.Body)
	require.NoError(t, err)
	assert.Equal(t, [2]int{64, 40}, [2]int{p.Bounds().Dx(), p.Bounds().Dy()})
	_, _, _, a := p.At(0, 20).RGBA()
	assert.EqualValues(t, 0xffff, a, "a grey can be shown")
	_, _, _, a = p.At(63, 20).RGBA()
	assert.Zero(t, a, "so vivid a teal cannot")
	for _, q := range []string{"hue=361&width=64&height=40", "hue=NaN&width=64&height=40", "hue=1&width=4&height=40", "hue=1&width=64&height=40000", "width=64&height=40", "hue=1&width=64&height=40&size=3"} {
		res, err := http.Get(s.URL + "/api/plane?" + q)
		require.NoError(t, err)
		res.Body.Close()
		assert.True(t, res.StatusCode >= 400 && res.StatusCode < 500, "%s: %d", q, res.StatusCode)
	}
}

func TestAColourIsReadInEveryForm(t *testing.T) {
	s, _ := serve(t)
	res, err := http.Get(s.URL + "/api/colour?css=oklch(50%25%2025%25%20187)")
	require.NoError(t, err)
	defer res.Body.Close()
	var c api.Colour
	require.NoError(t, json.NewDecoder(res.Body).Decode(&c))
	assert.Equal(t, "oklch(50% 25% 187)", c.Css)
	for k, want := range []float64{0.5, 0.1, 187} {
		assert.InDelta(t, want, c.Oklch[k], 1e-3, fmt.Sprint(k))
	}
	assert.False(t, c.InSrgb)
}

// A colour that starts from a thing's own is read with it, and refused without.
func TestARelativeColourNeedsAThing(t *testing.T) {
	s, _ := serve(t)
	const css = "/api/colour?css=oklch(from%20currentcolor%20calc(l%20*%200.5)%200%20h)"
	res, err := http.Get(s.URL + css + "&own=%23ffffff")
	require.NoError(t, err)
	defer res.Body.Close()
	var c api.Colour
	require.NoError(t, json.NewDecoder(res.Body).Decode(&c))
	assert.InDelta(t, 0.5, c.Oklch[0], 1e-3)
	for _, wrong := range []string{css, css + "&own=%2312"} {
		res, err := http.Get(s.URL + wrong)
		require.NoError(t, err)
		res.Body.Close()
		assert.Equal(t, 422, res.StatusCode, wrong)
	}
}

// How vivid a photo is near a colour: the mug is red, and nothing near it is blue.
func TestAPhotoSaysHowVividItIs(t *testing.T) {
	s, studio := serve(t)
	ctx := context.Background()
	job, err := studio.NewJob(ctx, "One")
	require.NoError(t, err)
	f, err := os.Open("../demo/pictures/depot-mug.png")
	require.NoError(t, err)
	defer f.Close()
	id, err := studio.AddPicture(ctx, job, "mug.png", f)
	require.NoError(t, err)
	vivid := func(q string) (c float64, status int) {
		res, err := http.Get(s.URL + "/api/pictures/" + id.String() + "/vivid?" + q)
		require.NoError(t, err)
		defer res.Body.Close()
		var a struct{ Chroma float64 }
		require.NoError(t, json.NewDecoder(res.Body).Decode(&a))
		return a.Chroma, res.StatusCode
	}
	red, status := vivid("lightness=0.5&hue=30")
	require.Equal(t, 200, status)
	assert.InDelta(t, 0.18, red, 0.03, "enamel, lit")
	blue, _ := vivid("lightness=0.5&hue=260")
	assert.Zero(t, blue)
	for _, q := range []string{"lightness=2&hue=30", "hue=30", "lightness=0.5&hue=NaN"} {
		_, status := vivid(q)
		assert.True(t, status >= 400 && status < 500, q)
	}
}
