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

// mostEnds is how many workers may end while they are on one file before it is set aside: by then it is likely to be what
// ends them.
const mostEnds = 2

// ReleaseInterrupted gives back to the queue what workers were on that are not alive any more; that does not count as a try,
// since most often the file was not to blame. A file on which several ended is set aside with its reason, so that the others go
// on. It gives how many were given back.
func (s *Store) ReleaseInterrupted(ctx context.Context) (int64, error) {
	t, err := s.Pool.Exec(ctx, `WITH ended AS (
			UPDATE river_job SET scheduled_at = now(), attempt = greatest(attempt - 1, 0),
				metadata = metadata || jsonb_build_object('ended', coalesce((metadata->>'ended')::int, 0) + 1),
				state = CASE WHEN coalesce((metadata->>'ended')::int, 0) + 1 >= $2 THEN 'discarded'::river_job_state ELSE 'available' END,
				finalized_at = CASE WHEN coalesce((metadata->>'ended')::int, 0) + 1 >= $2 THEN now() END
			WHERE state = 'running' AND NOT EXISTS (SELECT FROM pg_locks l WHERE l.locktype = 'advisory' AND l.objsubid = 1 AND l.granted
			AND l.database = (SELECT oid FROM pg_database WHERE datname = current_database())
			AND (l.classid::bigint << 32 | l.objid::bigint) = hashtextextended(attempted_by[array_upper(attempted_by, 1)], $1))
			RETURNING state, args)
		, aside AS (
			UPDATE deliveries d SET state = 'failed', problem = $3
			FROM ended e WHERE e.state = 'discarded' AND d.id = (e.args->>'delivery')::uuid AND d.state IN ('waiting', 'running'))
		SELECT FROM ended WHERE state = 'available'`, workerLocks, mostEnds,
		"what works on deliveries ended twice while it was on this file, which is set aside; deliver it again, smaller or in another format")
	return t.RowsAffected(), err
}
