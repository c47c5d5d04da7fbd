package imagefile

import (
	"bytes"
	"encoding/json"
	"encoding/xml"
	"image"
	"image/jpeg"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

var rights = Rights{Creator: "Mira Tolland & Co", Notice: "© Mira Tolland, \"Roundhouse\"", Terms: "No resale. <It> is not sold on.", Web: "https://licences.example/roundhouse/no-resale"}

// exiftool reads a file's metadata with exiftool, which knows the standards better than we do.
func exiftool(t *testing.T, path string) map[string]any {
	t.Helper()
	out, err := exec.Command("exiftool", "-json", "-G1", path).CombinedOutput()
	require.NoError(t, err, string(out))
	var list []map[string]any
	require.NoError(t, json.Unmarshal(out, &list))
	return list[0]
}

// Whose a picture is stands in every format of pixels, in XMP and, where the format has it, in Exif; whatever becomes of its other
// metadata, and beside XMP that was there.
func TestRightsAreReadBack(t *testing.T) {
	var plain bytes.Buffer
	require.NoError(t, jpeg.Encode(&plain, image.NewNRGBA(image.Rect(0, 0, 64, 48)), nil))
	const had = `<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:xmp="http://ns.adobe.com/xap/1.0/" xmp:Label="depot"/></rdf:RDF></x:xmpmeta>`
	body := append([]byte("http://ns.adobe.com/xap/1.0/\x00"), had...)
	seg := append([]byte{0xff, 0xe1, byte((len(body) + 2) >> 8), byte(len(body) + 2)}, body...)
	labelled := append(append([]byte{0xff, 0xd8}, seg...), plain.Bytes()[2:]...)
	for name, jpg := range map[string][]byte{"plain": plain.Bytes(), "labelled": labelled} {
		src := file(t, name+".jpg", jpg)
		dir := t.TempDir()
		p, err := BuildPyramid(src, filepath.Join(dir, "p"), DefaultLimits())
		require.NoError(t, err)
		defer p.Close()
		for format, ending := range Formats {
			for _, metadata := range []string{"", "no-gps", "drop"} {
				out := filepath.Join(dir, "out"+ending)
				require.NoError(t, Encode(filepath.Join(dir, "p", "0"), p.Info, src, format, 90, Options{Metadata: metadata, Rights: rights}, out), format)
				m := exiftool(t, out)
				what := name + " " + format + " " + metadata
				assert.Equal(t, rights.Notice, m["XMP-dc:Rights"], what)
				assert.Equal(t, rights.Creator, m["XMP-dc:Creator"], what)
				assert.Equal(t, rights.Web, m["XMP-xmpRights:WebStatement"], what)
				assert.Equal(t, rights.Terms, m["XMP-xmpRights:UsageTerms"], what)
				assert.Equal(t, true, m["XMP-xmpRights:Marked"], what)
				if !strings.HasPrefix(format, "tiff") && !strings.HasPrefix(format, "png") { // libvips writes no new Exif into these
					assert.Equal(t, `(c) Mira Tolland, "Roundhouse"`, m["IFD0:Copyright"], what)
					assert.Equal(t, rights.Creator, m["IFD0:Artist"], what)
				}
				if name == "labelled" && metadata == "" {
					assert.Equal(t, "depot", m["XMP-xmp:Label"], "what was there stays")
				}
			}
		}
	}
}

// A drawing has them in a metadata element at its beginning, and is the same file otherwise.
func TestRightsInADrawing(t *testing.T) {
	const svg = "<?xml version=\"1.0\"?>\n<!-- a <svg> in a comment -->\n<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"8\" height=\"8\" data-x=\"a>b\"><title>T</title></svg>\n"
	out := rights.InSVG([]byte(svg))
	at := strings.Index(svg, "<title>")
	require.True(t, strings.HasPrefix(string(out), svg[:at]))
	require.True(t, strings.HasSuffix(string(out), svg[at:]))
	require.NoError(t, xml.Unmarshal(out, new(struct{})))
	path := filepath.Join(t.TempDir(), "d.svg")
	require.NoError(t, os.WriteFile(path, out, 0o644))
	m := exiftool(t, path)
	assert.Equal(t, rights.Notice, m["XMP-dc:Rights"])
	assert.Equal(t, rights.Web, m["XMP-xmpRights:WebStatement"])
	for _, same := range []string{"", "<svg/>", "no drawing"} {
		assert.Equal(t, same, string(rights.InSVG([]byte(same))))
	}
	assert.Equal(t, svg, string(Rights{}.InSVG([]byte(svg))))
}
