package cluster_test

import (
	"context"
	"fmt"
	"log/slog"
	"os"
	"path/filepath"
	"syscall"
	"testing"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"episema/internal/testdb"
	"episema/store/cluster"
)

func TestAClusterSurvivesStopsKillsAndStaleLocks(t *testing.T) {
	dir, err := testdb.Dir()
	require.NoError(t, err)
	defer os.RemoveAll(dir)
	ctx, log := context.Background(), slog.New(slog.DiscardHandler)
	dir = filepath.Join(dir, "db")
	exec := func(c *cluster.Cluster, sql string) {
		conn, err := pgx.Connect(ctx, c.URL())
		require.NoError(t, err)
		defer conn.Close(ctx)
		_, err = conn.Exec(ctx, sql)
		require.NoError(t, err)
	}
	c, err := cluster.Start(ctx, dir, log)
	require.NoError(t, err)
	exec(c, "CREATE TABLE kept (n int)")
	c.Stop()
	assert.Error(t, syscall.Kill(c.PID(), 0), "nothing is left running")

	// A power cut: the process is gone, the lock is not; its number is somebody else's now.
	lock := filepath.Join(dir, "cluster", "postmaster.pid")
	require.NoError(t, os.WriteFile(lock, fmt.Appendf(nil, "%d\n%s\n0\n5432\n", os.Getpid(), filepath.Join(dir, "cluster")), 0o600))
	c, err = cluster.Start(ctx, dir, log)
	require.NoError(t, err)
	exec(c, "INSERT INTO kept VALUES (1)")

	// Somebody else wants the folder: refused, and the database goes on.
	_, err = cluster.Start(ctx, dir, log)
	var inUse *cluster.InUseError
	require.ErrorAs(t, err, &inUse)
	assert.Equal(t, os.Getpid(), inUse.PID)
	assert.Contains(t, err.Error(), "--data")
	exec(c, "SELECT count(*) FROM kept")

	// The server was killed, the database was not: it is taken over.
	c.Forget()
	again, err := cluster.Start(ctx, dir, log)
	require.NoError(t, err)
	assert.Equal(t, c.PID(), again.PID())
	exec(again, "INSERT INTO kept VALUES (2)")

	// The database was killed in the middle.
	again.Forget()
	require.NoError(t, syscall.Kill(c.PID(), syscall.SIGKILL))
	require.Eventually(t, func() bool { return syscall.Kill(c.PID(), 0) != nil }, 10*time.Second, 20*time.Millisecond)
	c, err = cluster.Start(ctx, dir, log)
	require.NoError(t, err)
	defer c.Stop()
	exec(c, "DO $$ BEGIN ASSERT (SELECT count(*) FROM kept) = 2; END $$")

	// It is killed under a server that goes on: it is started again, at the same address, and has what was kept.
	for range 2 {
		url, pid := c.URL(), c.PID()
		require.NoError(t, syscall.Kill(pid, syscall.SIGKILL))
		require.Eventually(t, func() bool {
			conn, err := pgx.Connect(ctx, url)
			if err != nil {
				return false
			}
			defer conn.Close(ctx)
			_, err = conn.Exec(ctx, "DO $$ BEGIN ASSERT (SELECT count(*) FROM kept) = 2; END $$")
			return err == nil && c.PID() != pid
		}, 20*time.Second, 50*time.Millisecond)
	}
}
