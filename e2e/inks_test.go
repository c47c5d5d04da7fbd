package e2e

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/isolate"
	"episema/e2e/drive"
)

// With an ink profile in the job the stage is seen in ink, on white and on its paper, with what the inks miss marked; the proof
// counts it; and a file in CMYK can be ordered. Without one the bench says where to bring one in.
func TestTheStageIsSeenInInk(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	disabled, err := drive.Eval[bool](e.b, `[...document.querySelector('select[aria-label="Seen in ink"]').options].slice(1).every((o) => o.disabled) && /bring one in/.test(document.querySelector('select[aria-label="Seen in ink"]').title)`)
	require.NoError(t, err)
	assert.True(t, disabled)

	profile, err := os.ReadFile("/usr/share/color/icc/ghostscript/default_cmyk.icc")
	require.NoError(t, err)
	url := e.s.url() + "/api/jobs/" + e.jobID()
	call(t, "PUT", fmt.Sprintf("%s/inks?name=press.icc&base=%d", url, get[struct{ Revision int64 }](t, url).Revision), "application/octet-stream", bytes.NewReader(profile))
	e.do("again", e.b.Do(chromedp.Reload()))
	e.do("heard of", e.b.Until(`!!document.querySelector('select[aria-label="Seen in ink"] option[value=paper]:not(:disabled)')`))

	e.key("s")
	e.drag(0, [2]float64{620, 600}, [2]float64{1000, 640})
	e.pick(0, func(p isolate.Pick) bool { return p.Kind == "sweep" })
	e.click("Colour")
	e.do("target", e.b.Do(chromedp.SendKeys(chromedp.CSS(`input[aria-label="Target colour"]`), "#0040ff"+kb.Enter)))
	e.settled()
	stage := func() []byte {
		e.settled()
		b, err := drive.Eval[string](e.b, `(() => { const c = document.querySelector("canvas"), d = c.getContext("2d").getImageData(c.width / 4 | 0, c.height / 3 | 0, c.width / 4 | 0, 60).data; let s = ""; for (const v of d) s += String.fromCharCode(v); return btoa(s) })()`)
		require.NoError(t, err)
		return []byte(b)
	}
	choose := func(v string) {
		_, err := drive.Eval[bool](e.b, `(() => { const s = document.querySelector('select[aria-label="Seen in ink"]'); Object.getOwnPropertyDescriptor(HTMLSelectElement.prototype, "value").set.call(s, `+string(must(json.Marshal(v)))+`); s.dispatchEvent(new Event("change", { bubbles: true })); return true })()`)
		require.NoError(t, err)
		e.paced()
	}
	e.click("Choose by eye: Target colour")
	e.do("the planes show what the inks reach", e.b.Until(`/[&]job=.*[&]inks=[0-9a-f]{64}/.test(document.querySelector("[data-plane] img")?.src ?? "") && document.body.textContent.includes("Dotted: Press")`))
	e.do("closed", e.b.Do(chromedp.KeyEvent(kb.Escape)))
	e.do("closed", e.b.Until(`!document.querySelector("[data-plane]")`))
	seen := map[string][]byte{"": stage()}
	for _, v := range []string{"white", "marks", "paper", ""} {
		choose(v)
		var now []byte
		require.Eventually(t, func() bool {
			now = stage()
			for other, was := range seen {
				if other != v && bytes.Equal(was, now) {
					return false
				}
			}
			return v != "" || bytes.Equal(now, seen[""])
		}, 20*time.Second, 100*time.Millisecond, "seen as %q", v)
		seen[v] = now
	}
	e.click("Proof")
	e.do("counted", e.b.Until(`/Missed by the inks\s*[1-9][0-9.]* %/.test(document.body.innerText) && /nearest to the target that they reach is #/.test(document.body.innerText)`))
	e.axe("in ink")
}

func must[T any](v T, err error) T {
	if err != nil {
		panic(err)
	}
	return v
}
