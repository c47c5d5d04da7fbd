package store

import (
	"context"

	"github.com/jackc/pgx/v5/pgxpool"
)

// workerLocks sets the locks of workers apart from any other advisory lock.
const workerLocks = 20114

// Presence says that a worker is alive: a lock that PostgreSQL lets go of by itself when the worker's connection ends,
// however it ended.
type Presence struct{ conn *pgxpool.Conn }

// Attend says that the worker of the id is alive, until Leave or the end of the process.
func (s *Store) Attend(ctx context.Context, id string) (*Presence, error) {
	conn, err := s.Pool.Acquire(ctx)
	if err != nil {
		return nil, err
	}
	if _, err := conn.Exec(ctx, `SELECT pg_advisory_lock(hashtextextended($1, $2))`, id, workerLocks); err != nil {
		conn.Release()
		return nil, err
	}
	return &Presence{conn}, nil
}

// Holds says whether the connection that holds the lock is there still.
func (p *Presence) Holds(ctx context.Context) bool { return p.conn.Ping(ctx) == nil }

// Leave gives the lock back with its connection.
func (p *Presence) Leave(ctx context.Context) {
	c := p.conn.Hijack()
	_ = c.Close(ctx) // it goes either way
}

// ReleaseInterrupted gives back to the queue what workers were on that are not alive any more; how often does not count as
// a try, since the file was not to blame. It gives how many there were.
func (s *Store) ReleaseInterrupted(ctx context.Context) (int64, error) {
	t, err := s.Pool.Exec(ctx, `UPDATE river_job SET state = 'available', scheduled_at = now(), attempt = greatest(attempt - 1, 0)
		WHERE state = 'running' AND NOT EXISTS (SELECT FROM pg_locks l WHERE l.locktype = 'advisory' AND l.objsubid = 1 AND l.granted
			AND l.database = (SELECT oid FROM pg_database WHERE datname = current_database())
			AND (l.classid::bigint << 32 | l.objid::bigint) = hashtextextended(attempted_by[array_upper(attempted_by, 1)], $1))`, workerLocks)
	return t.RowsAffected(), err
}
