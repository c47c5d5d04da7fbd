package e2e

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"net/http"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

// The demo job comes with one photo that is finished in three colourways: the matrix and the sheet have something in them, and every part
// meets its target.
func TestTheDemoComesWithAFinishedPhoto(t *testing.T) {
	t.Parallel()
	s := newServerOf(t, finished)
	b := open(t)
	require.NoError(t, b.Do(chromedp.Navigate(s.url())))
	require.NoError(t, b.Click("Lisk Street Tramway shop"))
	for _, row := range []string{"Tram body", "Tram waist", "Tram roof"} {
		require.NoError(t, b.Until(fmt.Sprintf(`[...document.querySelectorAll("tbody th")].some((h) => h.textContent.includes(%q))`, row)), row)
	}
	for _, way := range []string{"Harbour line", "Lamp line", "Night line"} {
		require.NoError(t, b.Until(fmt.Sprintf(`[...document.querySelectorAll("thead th input")].some((i) => i.value === %q)`, way)), way)
	}
	jobs := get[[]struct{ ID string }](t, s.url()+"/api/jobs")
	job := get[struct {
		Pictures   []struct{ ID, Name string }
		Colourways []struct{ ID, Name string }
	}](t, s.url()+"/api/jobs/"+jobs[0].ID)
	require.Len(t, job.Colourways, 3)
	for _, p := range job.Pictures {
		if p.Name != "Tram at the depot" {
			continue
		}
		for _, w := range job.Colourways {
			body, err := json.Marshal(map[string]string{"colourway": w.ID})
			require.NoError(t, err)
			res, err := http.Post(s.url()+"/api/pictures/"+p.ID+"/proof", "application/json", bytes.NewReader(body))
			require.NoError(t, err)
			defer res.Body.Close()
			said, err := io.ReadAll(res.Body)
			require.NoError(t, err)
			var proof struct {
				Parts          []struct{ Name, State string }
				ChangedOutside int `json:"changed_outside"`
			}
			require.NoError(t, json.Unmarshal(said, &proof), string(said))
			require.Len(t, proof.Parts, 3)
			assert.Zero(t, proof.ChangedOutside)
			for _, q := range proof.Parts {
				assert.Equal(t, "within", q.State, "%s in %s: %s", q.Name, w.Name, said)
			}
		}
		return
	}
	t.Fatal("the tram is not in the demo")
}
