package e2e

import (
	"bytes"
	"image"
	"image/png"
	"os"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"

	"episema/core/isolate"
)

// A picture's depth map says what a part is: where somebody else brings another, all of the stage is as that has it, what lies around included.
func TestAnotherDepthMapIsSeenOnTheStage(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	depth := func(body []byte) {
		call(t, "PUT", e.s.url()+"/api/pictures/"+e.id+"/depth", "application/octet-stream", bytes.NewReader(body))
	}
	map1, err := os.ReadFile("../demo/truth/mug-depth.png")
	require.NoError(t, err)
	depth(map1)
	e.do("again", e.b.Do(chromedp.Reload()))
	e.settled()
	e.key("d")
	e.at(800, 800, 0)
	d := e.pick(0, func(p isolate.Pick) bool { return p.Kind == "depth" })
	require.Greater(t, d.From, 0.2)
	e.click("Mask")
	require.NotEqual(t, "0 0 0 255", e.pixel(800, 800))
	far := image.NewGray(image.Rect(0, 0, 90, 60)) // all of it
	var b bytes.Buffer
	require.NoError(t, png.Encode(&b, far))
	depth(b.Bytes())
	require.Eventually(t, func() bool { return e.pixel(800, 800) == "0 0 0 255" }, 20*time.Second, 50*time.Millisecond, "nothing is near")
	e.do("what is measured follows", e.b.Until(`document.querySelector("section[aria-label=Parts]").textContent.includes("· 0.0 %")`))
	near := image.NewGray(far.Rect)
	for i := range near.Pix {
		near.Pix[i] = uint8(255 * (d.From + d.To) / 2)
	}
	b.Reset()
	require.NoError(t, png.Encode(&b, near))
	depth(b.Bytes())
	require.Eventually(t, func() bool { return e.pixel(100, 100) == "255 255 255 255" }, 20*time.Second, 50*time.Millisecond, "all of it is")
}
