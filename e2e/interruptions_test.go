package e2e

import (
	"flag"
	"fmt"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/chromedp/chromedp"
	"github.com/stretchr/testify/require"

	"episema/core/document"
	"episema/e2e/drive"
)

var (
	interruptions    = flag.Int("interruptions", 10, "how often a scripted hand is interrupted")
	interruptionSeed = flag.Uint64("interruption-seed", 1, "of what interrupts it, and when")
)

// TestNoInterruptionLosesAnEdit: a hand colours on while the server is killed, the line is cut, tabs are closed, opened and
// reloaded and another tab edits. Whatever it did last is there in the end, in the page and on the server, and nobody is told of a
// conflict that is none. At the end the history holds every edit that the page had said is saved.
func TestNoInterruptionLosesAnEdit(t *testing.T) {
	t.Parallel()
	s := newServer(t)
	root := open(t)
	b, err := root.Tab()
	require.NoError(t, err)
	id := openMug(t, b, s)
	address := s.url() + "/pictures/" + id
	now := func() document.Picture { return get[picture](t, s.url()+"/api/pictures/"+id).Document }
	require.NoError(t, b.Stroke(w, h, 0, [2]float64{620, 600}, [2]float64{1000, 640}))
	require.NoError(t, b.Settled())
	require.NoError(t, b.Click("Colour"))
	colours := []struct{ name, id string }{{"Harbour teal", "harbour"}, {"Lamp amber", "lamp"}, {"Rail night", "night"}, {"Depot red", "depot"}, {"Slate blue", "slate"}}
	r := rand.New(rand.NewPCG(*interruptionSeed, 7))
	var last string
	colour := func() {
		c := colours[r.IntN(len(colours))]
		for c.id == last {
			c = colours[r.IntN(len(colours))]
		}
		require.NoError(t, b.Click(c.name))
		last = c.id
	}
	line := func(cut bool) {
		require.NoError(t, b.Do(drive.Line(cut, 0, -1, -1)))
	}
	saved := func() bool {
		v, err := drive.Eval[bool](b, `document.querySelector("[data-saving]")?.dataset.saving === "saved"`)
		require.NoError(t, err)
		return v
	}
	some := func(most int) { time.Sleep(time.Duration(r.IntN(most)) * time.Millisecond) }
	shown := 0
	count := map[string]int{}
	for n := range *interruptions {
		what := []string{"server killed", "line cut", "reloaded", "tab closed", "another tab"}[r.IntN(5)]
		count[what]++
		before := last
		colour()
		some(60)
		if saved() {
			shown++
			before = last // the page said so: it may never be lost from here on
		}
		switch what {
		case "server killed":
			s.kill()
			colour()
			some(400)
			s.start()
		case "line cut":
			line(true)
			colour()
			colour()
			some(2500)
			line(false)
		case "reloaded":
			colour()
			some(120)
			require.NoError(t, b.Do(chromedp.Reload()))
			require.NoError(t, b.Settled())
			require.NoError(t, b.Click("Colour"))
		case "tab closed":
			colour()
			some(120)
			b.Close()
			b, err = root.Tab()
			require.NoError(t, err)
			require.NoError(t, b.Do(chromedp.Navigate(address)))
			require.NoError(t, b.Settled())
			require.NoError(t, b.Click("Colour"))
		case "another tab":
			require.Eventually(t, saved, 30*time.Second, 20*time.Millisecond)
			other, err := root.Tab()
			require.NoError(t, err)
			require.NoError(t, other.Do(chromedp.Navigate(address)))
			require.NoError(t, other.Settled())
			require.NoError(t, other.Click("Colour"))
			mine := b
			b = other
			colour()
			require.Eventually(t, saved, 30*time.Second, 20*time.Millisecond)
			b = mine
			other.Close()
			// The first tab hears of it before its hand goes on.
			require.Eventually(t, func() bool {
				rev, err := drive.Eval[string](b, `document.querySelector("[data-revision]").dataset.revision`)
				require.NoError(t, err)
				return rev == revision(t, s, id)
			}, 30*time.Second, 50*time.Millisecond)
		}
		require.Eventually(t, saved, 40*time.Second, 20*time.Millisecond, "%d: %s", n, what)
		require.Eventually(t, func() bool { p := now(); return len(p.Parts) == 1 && p.Parts[0].Target.PaletteID == last }, 10*time.Second, 50*time.Millisecond,
			"%d: %s: what the hand did last is %s, before it %s; the server has %+v", n, what, last, before, now().Parts)
		said, err := drive.Eval[[]string](b, noAlerts)
		require.NoError(t, err)
		require.Empty(t, said, "%d: %s", n, what)
	}
	t.Logf("%d interruptions %v; %d edits were shown as saved before one", *interruptions, count, shown)
}

func revision(t *testing.T, s *server, id string) string {
	t.Helper()
	return fmt.Sprint(get[picture](t, s.url()+"/api/pictures/"+id).Revision)
}
