package imagefile

import (
	"bytes"
	"encoding/binary"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"os"
	"path/filepath"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/raster"
)

// withDepth is a JPEG in the layout a phone writes: the picture, its XMP, and the depth map behind it.
func withDepth(t *testing.T, uri string, cut int) string {
	t.Helper()
	code := func(m image.Image) []byte {
		var b bytes.Buffer
		require.NoError(t, jpeg.Encode(&b, m, &jpeg.Options{Quality: 95}))
		return b.Bytes()
	}
	photo := image.NewRGBA(image.Rect(0, 0, 64, 48))
	depth := image.NewGray(image.Rect(0, 0, 32, 24))
	for i := range depth.Pix {
		depth.Pix[i] = 255 // far
		if i%32 < 16 {
			depth.Pix[i] = 0 // near
		}
	}
	photo.Set(1, 1, color.White)
	map1, map2 := code(depth), code(image.NewGray(image.Rect(0, 0, 8, 8)))
	xmp := fmt.Sprintf(`<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description xmlns:Container="urn:container" xmlns:Item="urn:item" xmlns:DepthMap="urn:depth" DepthMap:DepthURI="%s">
		<Container:Directory><rdf:Seq><rdf:li><Container:Item Item:Mime="image/jpeg" Item:Length="0" Item:DataURI="primary_image"/></rdf:li>
		<rdf:li><Container:Item Item:Mime="image/jpeg" Item:Length="%d" Item:DataURI="depth/map"/></rdf:li>
		<rdf:li><Container:Item Item:Mime="image/jpeg" Item:Length="%d" Item:DataURI="other"/></rdf:li></rdf:Seq></Container:Directory></rdf:Description></rdf:RDF></x:xmpmeta>`, uri, len(map1)-cut, len(map2))
	seg := append([]byte("http://ns.adobe.com/xap/1.0/\x00"), xmp...)
	head := []byte{0xff, 0xd8, 0xff, 0xe1, 0, 0}
	binary.BigEndian.PutUint16(head[4:], uint16(len(seg)+2))
	file := append(append(head, seg...), code(photo)[2:]...)
	file = append(append(file, map1...), map2...)
	path := filepath.Join(t.TempDir(), "phone.jpg")
	require.NoError(t, os.WriteFile(path, file, 0o644))
	return path
}

func TestDepthInsideAPhonesPicture(t *testing.T) {
	m, err := EmbeddedDepth(withDepth(t, "depth/map", 0))
	require.NoError(t, err)
	require.NotNil(t, m)
	assert.Equal(t, []int{32, 24}, []int{m.W, m.H})
	assert.Greater(t, m.Pix[12*32+4], uint16(raster.Whole*9/10), "near is white here")
	assert.Less(t, m.Pix[12*32+28], uint16(raster.Whole/10))
	assert.True(t, SameProportions(m, 64, 48))
	for _, path := range []string{withDepth(t, "elsewhere", 0), withDepth(t, "depth/map", 1<<20), withDepth(t, "depth/map", 40), "../demo/pictures/depot-mug.png"} {
		m, err := EmbeddedDepth(path)
		assert.NoError(t, err)
		assert.Nil(t, m, "no map, or one that is damaged, is no map")
	}
}

// TestDepthIsTurnedWithItsPicture: however a phone was held, the map lies on the picture as libvips shows it.
func TestDepthIsTurnedWithItsPicture(t *testing.T) {
	phone, err := os.ReadFile(withDepth(t, "depth/map", 0))
	require.NoError(t, err)
	for o := byte(1); o <= 8; o++ {
		// The same picture as the map, turned by the decoder.
		grey := image.NewRGBA(image.Rect(0, 0, 32, 24))
		for i := range 32 * 24 {
			v := uint8(20)
			if i%32 < 16 {
				v = 230 // near
			}
			grey.Set(i%32, i/32, color.RGBA{v, v, v, 255})
		}
		var b bytes.Buffer
		require.NoError(t, jpeg.Encode(&b, grey, &jpeg.Options{Quality: 95}))
		dir := t.TempDir()
		path, like := filepath.Join(dir, "phone.jpg"), filepath.Join(dir, "like.jpg")
		require.NoError(t, os.WriteFile(path, exif(phone, o), 0o644))
		require.NoError(t, os.WriteFile(like, exif(b.Bytes(), o), 0o644))
		m, err := EmbeddedDepth(path)
		require.NoError(t, err)
		want, err := ReadMask(like)
		require.NoError(t, err)
		require.Equal(t, []int{want.W, want.H}, []int{m.W, m.H}, "orientation %d", o)
		for i, v := range m.Pix {
			require.Equal(t, want.Pix[i] > raster.Whole/2, v > raster.Whole/2, "orientation %d, pixel %d", o, i)
		}
	}
}

func FuzzDepthItem(f *testing.F) {
	f.Add([]byte(`<a DepthURI="d"><Item Length="3" DataURI="p"/><Item Length="9" Padding="1" DataURI="d"/></a>`), int64(100))
	f.Fuzz(func(t *testing.T, xmp []byte, size int64) {
		if s, ok := depthItem(xmp, size); ok && (s.start < 0 || s.length <= 0 || s.start+s.length > size) {
			t.Fatalf("%+v of %d", s, size)
		}
	})
}
