package e2e

import (
	"io"
	"net/http"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/core/document"
)

// A recipe is chosen and works at once on what is swept; a part's own way is kept under a name, put on another part, given out as a
// file and brought in again; a wrong file is refused and nothing is lost.
func TestARecipeIsPutOnKeptAndGivenOut(t *testing.T) {
	t.Parallel()
	e := openBench(t)
	e.click("With recipe")
	e.click("Faded cloth, back")
	require.Eventually(t, func() bool { p := e.parts(); return len(p) == 1 && p[0].Name == "Faded cloth, back" }, 10*time.Second, 50*time.Millisecond)
	e.drag(0, [2]float64{620, 600}, [2]float64{1000, 640})
	require.Eventually(t, func() bool { p := e.parts(); return len(p) == 1 && len(p[0].Picks) == 1 }, 10*time.Second, 50*time.Millisecond, "the stroke goes into the part that has the recipe")
	var faded document.Recipe
	for _, r := range document.ShippedRecipes() {
		if r.Name == "Faded cloth, back" {
			faded = r
		}
	}
	assert.Equal(t, faded.Target.CSS, e.parts()[0].Target.CSS)

	// Its own way is kept.
	e.click("Colour")
	e.do("from the mug's own colour", e.b.Until(`!!document.querySelector("[aria-label='Choose by eye: Target colour'] [fill^='#']:not([fill^='#000'])")`))
	e.click("Keep this one")
	e.do("name", e.b.Do(chromedp.WaitVisible(chromedp.CSS(`input[aria-label="Name of the recipe"]`)), chromedp.KeyEvent("Our mugs\r"))) // the name that is offered is selected
	job := e.s.url() + "/api/jobs/" + e.jobID()
	type content struct{ Recipes []document.Recipe }
	recipes := func() []document.Recipe { return get[content](t, job).Recipes }
	require.Eventually(t, func() bool {
		r := recipes()
		return len(r) == 1 && r[0].Name == "Our mugs" && r[0].Target.CSS == faded.Target.CSS
	}, 10*time.Second, 50*time.Millisecond)

	// Another part gets it.
	e.click("New part")
	e.click("Colour")
	e.click("Put one on")
	e.axe("menu of recipes")
	e.click("Our mugs")
	require.Eventually(t, func() bool { p := e.parts(); return len(p) == 2 && p[1].Target.CSS == faded.Target.CSS }, 10*time.Second, 50*time.Millisecond)

	// Out as a file, and in again under a name of its own.
	res, err := http.Get(job + "/recipe-file")
	require.NoError(t, err)
	defer res.Body.Close()
	b, err := io.ReadAll(res.Body)
	require.NoError(t, err)
	dir := t.TempDir()
	file, wrong := filepath.Join(dir, "ours.json"), filepath.Join(dir, "wrong.json")
	require.NoError(t, os.WriteFile(file, b, 0o644))
	require.NoError(t, os.WriteFile(wrong, []byte(`{"recipes":[{"name":"a","target":{"css":"#12"},"settings":{}}]}`), 0o644))
	e.click("Put one on")
	e.click("Recipes of this job…")
	input := `[role=dialog] input[type=file]`
	e.do("wrong", e.b.Do(chromedp.SetUploadFiles(chromedp.CSS(input), []string{wrong})))
	e.do("refused", e.b.Until(`document.body.textContent.includes("Nothing of it was taken")`))
	assert.Len(t, recipes(), 1)
	e.do("file", e.b.Do(chromedp.SetUploadFiles(chromedp.CSS(input), []string{file})))
	require.Eventually(t, func() bool {
		r := recipes()
		return len(r) == 2 && r[1].Name == "Our mugs 2" && r[1].Target == r[0].Target
	}, 10*time.Second, 50*time.Millisecond)
	e.axe("recipes of a job")
	e.click("Take out Our mugs")
	require.Eventually(t, func() bool { r := recipes(); return len(r) == 1 && r[0].Name == "Our mugs 2" }, 10*time.Second, 50*time.Millisecond)
}
