// Package testdb gives tests a PostgreSQL of their own.
package testdb

import (
	"context"
	"fmt"
	"log/slog"
	"os"
	"testing"

	"episema/store"
	"episema/store/cluster"
)

// URL is the address of the cluster that Main started.
var URL string

// Main starts a cluster for a package's tests and stops it after them.
func Main(m *testing.M) {
	os.Exit(run(m))
}

func run(m *testing.M) int {
	dir, err := Dir()
	if err != nil {
		fmt.Fprintln(os.Stderr, err)
		return 1
	}
	defer os.RemoveAll(dir)
	c, err := cluster.Start(context.Background(), dir+"/postgres", slog.New(slog.DiscardHandler))
	if err != nil {
		fmt.Fprintln(os.Stderr, "the tests' database:", err)
		return 1
	}
	defer c.Stop()
	URL = c.URL()
	return m.Run()
}

// Dir makes a folder that the database's user may pass, also where root runs the tests.
func Dir() (string, error) {
	dir, err := os.MkdirTemp("", "episema-test-*")
	if err != nil {
		return "", err
	}
	return dir, os.Chmod(dir, 0o755)
}

// Store opens the cluster with the schema in place.
func Store(t testing.TB) *store.Store {
	t.Helper()
	s, err := store.Open(context.Background(), URL)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(s.Close)
	if err := s.Migrate(context.Background()); err != nil {
		t.Fatal(err)
	}
	return s
}
