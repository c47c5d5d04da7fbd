package e2e

import (
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/e2e/drive"
)

// A picture is looked for on the shelf, its licence is read, and it is taken; who made it stands below it, and one for practice only is
// not offered for delivery.
func TestAPictureIsTakenFromTheShelf(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.click("Lisk Street Tramway shop")
	e.click("From the picture shelf")
	e.do("shelf", e.b.Until(`document.querySelectorAll('ul[aria-label="Pictures on the shelf"] img').length >= 12`))
	e.axe("the shelf")
	field := `input[aria-label="Search the shelf"]`
	e.typed(field, "no such thing anywhere")
	e.do("nothing", e.b.Until(`document.body.textContent.includes("Nothing on the shelf has all of these words.")`))
	e.typed(field, "fur winter")
	e.do("one", e.b.Until(`document.querySelectorAll('ul[aria-label="Pictures on the shelf"] img').length === 1`))
	e.click("Conductor’s muff")
	e.do("licence", e.b.Until(`document.body.textContent.includes("Nothing made of it leaves your studio.")`))
	e.click("Take it into the job")
	e.do("taken", e.b.Until(`document.body.textContent.includes("Pell Arrand, Roundhouse picture shelf · For practice only")`))
	job := get[struct {
		Pictures []struct {
			Name   string
			Origin *struct{ Author string }
		}
	}](t, e.s.url()+"/api/jobs/"+e.jobID())
	last := job.Pictures[len(job.Pictures)-1]
	require.NotNil(t, last.Origin)
	assert.Equal(t, "Pell Arrand", last.Origin.Author)
	e.click("Deliver")
	e.do("said", e.b.Until(`document.body.textContent.includes("Not delivered, for practice only by their licence: Conductor’s muff.")`))
	offered, err := drive.Eval[bool](e.b, `[...document.querySelectorAll("[role=dialog] label")].some((l) => l.textContent.includes("muff"))`)
	require.NoError(t, err)
	assert.False(t, offered)
}
