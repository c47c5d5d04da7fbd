-- +goose Up
-- The order of a job's pictures, which hands may change.
ALTER TABLE pictures ADD COLUMN place double precision NOT NULL DEFAULT 0;
UPDATE pictures p SET place = q.n FROM (SELECT id, row_number() OVER (PARTITION BY job ORDER BY created) AS n FROM pictures) q WHERE q.id = p.id;

-- +goose Down
ALTER TABLE pictures DROP COLUMN place;
