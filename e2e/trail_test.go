package e2e

import (
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/e2e/drive"
)

// A bar's names are whole where there is room, and the name of what is shown stays so beside a long one.
func TestTheNameOfWhatIsShownIsWhole(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	cut := func(what string) bool {
		e.do("there", e.b.Until(`document.querySelector("nav `+what+`")?.textContent.length > 2`))
		v, err := drive.Eval[bool](e.b, `(() => { const n = document.querySelector("nav `+what+`"); return n.scrollWidth > n.clientWidth })()`)
		require.NoError(t, err)
		return v
	}
	assert.False(t, cut("h1"), "the picture's")
	assert.False(t, cut("a"), "the job's")
	send(t, "PATCH", e.s.url()+"/api/jobs/"+e.jobID(), `{"name":"Lisk Street Tramway shop"}`)
	job := e.s.url() + "/jobs/" + e.jobID()
	e.do("the job", e.b.Do(chromedp.Navigate(job)))
	assert.False(t, cut("h1"), "the job's on its own page")
	send(t, "PATCH", e.s.url()+"/api/jobs/"+e.jobID(), `{"name":"Lisk Street Tramway shop, autumn range with the conductor's things, second proof after the remarks of Tuesday"}`)
	e.do("the picture", e.b.Do(chromedp.Navigate(e.s.url()+"/pictures/"+e.id)))
	e.settled()
	assert.False(t, cut("h1"), "the picture's")
	assert.True(t, cut("a"), "it gives way")
}
