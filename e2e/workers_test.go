package e2e

import (
	"context"
	"encoding/hex"
	"flag"
	"fmt"
	"log/slog"
	"math/rand/v2"
	"os"
	"os/exec"
	"path/filepath"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/app"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/internal/testdb"
	"episema/store"
	"episema/store/cluster"
)

var (
	manyFiles = flag.Int("files", 18, "files that the workers of the test share")
	manyKills = flag.Int("kills", 4, "how often one of them is killed")
)

// TestWorkersShareTheWorkAndSurvive: two worker processes share an order through PostgreSQL alone, neither renders what
// the other has; killed at random moments nothing is lost, nothing comes out twice, and the files are those of an
// undisturbed run.
func TestWorkersShareTheWorkAndSurvive(t *testing.T) {
	t.Parallel()
	ctx := context.Background()
	dir, err := testdb.Dir()
	require.NoError(t, err)
	t.Cleanup(func() { os.RemoveAll(dir) })
	db, err := cluster.Start(ctx, filepath.Join(dir, "postgres"), slog.New(slog.DiscardHandler))
	require.NoError(t, err)
	t.Cleanup(db.Stop)
	st, err := store.Open(ctx, db.URL())
	require.NoError(t, err)
	defer st.Close()
	require.NoError(t, st.Migrate(ctx))
	s, err := app.NewStudio(st, filepath.Join(dir, "cache"), slog.New(slog.DiscardHandler), app.Budgets{})
	require.NoError(t, err)
	t.Cleanup(s.Close)
	content := document.Content{Palette: []document.Swatch{}}
	var ways []string
	for n := range *manyFiles {
		id := fmt.Sprint(n)
		ways = append(ways, id)
		content.Colourways = append(content.Colourways, document.Colourway{ID: id, Name: "W" + id, Cells: map[string]document.Cell{"Body": {Target: document.Target{CSS: fmt.Sprintf("oklch(50%% 0.1 %d)", 360*n / *manyFiles)}}}})
	}
	job, err := st.CreateJob(ctx, "Many", []byte(`{"palette":[],"colourways":[]}`))
	require.NoError(t, err)
	_, err = s.EditJob(ctx, job, 1, "colourways", content)
	require.NoError(t, err)
	f, err := os.Open("../demo/pictures/depot-mug.png")
	require.NoError(t, err)
	pic, err := s.AddPicture(ctx, job, "mug.png", f)
	f.Close()
	require.NoError(t, err)
	part := app.NewPart("Body")
	part.Picks = []isolate.Pick{{Kind: "brush", Join: "add", Strokes: []isolate.Stroke{{Stroke: raster.Stroke{Radius: 150, Points: [][2]float64{{700, 600}, {1000, 640}}}}}}}
	_, err = s.Edit(ctx, pic, 1, "a part", document.Picture{Parts: []document.Part{part}})
	require.NoError(t, err)

	queue, err := s.Queue(0)
	require.NoError(t, err)
	worker := func(n int) *exec.Cmd {
		c := exec.Command(binary, "worker", "--data", filepath.Join(dir, fmt.Sprint("worker", n)), "--database", db.URL())
		require.NoError(t, c.Start())
		return c
	}
	order := func() []store.Delivery {
		list, err := s.OrderFiles(ctx, queue, job, app.Order{Pictures: []uuid.UUID{pic}, Colourways: ways, Format: "png8", Quality: 92})
		require.NoError(t, err)
		return list
	}
	done := func(batch uuid.UUID) []store.Delivery {
		list, err := st.BatchFiles(ctx, batch)
		require.NoError(t, err)
		return list
	}
	workers := []*exec.Cmd{worker(0), worker(1)}
	defer func() {
		for _, w := range workers {
			_ = w.Process.Kill()
			_ = w.Wait()
		}
	}()

	first := *order()[0].Batch
	require.Eventually(t, func() bool { return len(done(first)) == *manyFiles }, 5*time.Minute, 100*time.Millisecond)
	files := map[string]string{}
	for _, d := range done(first) {
		files[d.Name] = hex.EncodeToString(d.SHA)
	}
	require.Len(t, files, *manyFiles)
	// Attempts are given back when a worker ends, so that they count less than there were: who took a job is noted each time.
	var starts int
	require.NoError(t, st.Pool.QueryRow(ctx, `SELECT sum(cardinality(attempted_by)) FROM river_job WHERE kind = 'deliver'`).Scan(&starts))
	assert.Equal(t, *manyFiles, starts, "each is started once")
	var tries, by int
	require.NoError(t, st.Pool.QueryRow(ctx, `SELECT max(attempt), count(DISTINCT attempted_by[1]) FROM river_job WHERE kind = 'deliver'`).Scan(&tries, &by))
	assert.Equal(t, 1, tries, "each rendered once")
	assert.Equal(t, 2, by, "by both")

	r := rand.New(rand.NewPCG(1, uint64(*manyKills)))
	second := *order()[0].Batch
	for range *manyKills {
		time.Sleep(time.Duration(300+r.IntN(1500)) * time.Millisecond)
		n := r.IntN(2)
		require.NoError(t, workers[n].Process.Kill())
		_ = workers[n].Wait()
		workers[n] = worker(n)
	}
	require.Eventually(t, func() bool { return len(done(second)) == *manyFiles }, 5*time.Minute, 100*time.Millisecond, "all are delivered")
	for _, d := range done(second) {
		assert.Equal(t, files[d.Name], hex.EncodeToString(d.SHA), "%s is that of the undisturbed run", d.Name)
	}
	var twice int
	require.NoError(t, st.Pool.QueryRow(ctx, `SELECT count(*) FROM (SELECT args->>'delivery' FROM river_job WHERE state = 'completed' GROUP BY 1 HAVING count(*) > 1) q`).Scan(&twice))
	assert.Zero(t, twice)
}
