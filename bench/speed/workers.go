package main

import (
	"context"
	"fmt"
	"log/slog"
	"os"
	"os/exec"
	"path/filepath"
	"sort"
	"time"

	"github.com/google/uuid"

	"episema/app"
	"episema/core/document"
	"episema/core/isolate"
	"episema/core/raster"
	"episema/store"
	"episema/store/cluster"
)

// sharing measures an order of 24 files of 12 MP done by two worker processes over the same done by one.
func sharing(bin, dir, photo string) {
	ctx := context.Background()
	db, err := cluster.Start(ctx, filepath.Join(dir, "shared"), slog.New(slog.DiscardHandler))
	check(err)
	defer db.Stop()
	st, err := store.Open(ctx, db.URL())
	check(err)
	defer st.Close()
	check(st.Migrate(ctx))
	s, err := app.NewStudio(st, filepath.Join(dir, "shared-cache"), slog.New(slog.DiscardHandler), app.Budgets{})
	check(err)
	job, err := st.CreateJob(ctx, "Shared", []byte(`{"palette":[],"colourways":[]}`))
	check(err)
	const files = 24
	c := document.Content{Palette: []document.Swatch{}}
	var ways []string
	for n := range files {
		ways = append(ways, fmt.Sprint(n))
		c.Colourways = append(c.Colourways, document.Colourway{ID: fmt.Sprint(n), Name: fmt.Sprint("W", n), Cells: map[string]document.Cell{"Body": {Target: document.Target{CSS: fmt.Sprintf("oklch(50%% 0.1 %d)", 15*n)}}}})
	}
	_, err = s.EditJob(ctx, job, 1, "colourways", c)
	check(err)
	f, err := os.Open(photo)
	check(err)
	pic, err := s.AddPicture(ctx, job, "photo.jpg", f)
	check(err)
	check(f.Close())
	part := app.NewPart("Body")
	part.Picks = []isolate.Pick{{Kind: "brush", Join: "add", Strokes: []isolate.Stroke{{Stroke: raster.Stroke{Radius: 420, Points: [][2]float64{{1800, 1500}, {2200, 1600}, {2000, 2100}}}}}}}
	_, err = s.Edit(ctx, pic, 1, "a part", document.Picture{Parts: []document.Part{part}})
	check(err)
	queue, err := s.Queue(0)
	check(err)
	took := func(workers int) float64 {
		list, err := s.OrderFiles(ctx, queue, job, app.Order{Pictures: []uuid.UUID{pic}, Colourways: ways, Format: "png", Quality: 92})
		check(err)
		var all []*exec.Cmd
		start := time.Now()
		for n := range workers {
			w := exec.Command(bin, "worker", "--data", filepath.Join(dir, fmt.Sprint("worker", n)), "--database", db.URL())
			check(w.Start())
			all = append(all, w)
		}
		for {
			done, err := st.BatchFiles(ctx, *list[0].Batch)
			check(err)
			if len(done) == files {
				break
			}
			time.Sleep(100 * time.Millisecond)
		}
		t := time.Since(start).Seconds()
		for _, w := range all {
			check(w.Process.Signal(os.Interrupt))
			check(w.Wait())
		}
		return t
	}
	took(1)
	took(2) // both have the picture decoded now
	var r []float64
	for range 3 {
		one := took(1)
		r = append(r, took(2)/one)
	}
	sort.Float64s(r)
	fmt.Printf("24 files of 12 MP by two worker processes over one: %.2f (%.2f to %.2f)\n", r[1], r[0], r[2])
}
