-- +goose Up
-- A job's palette and colourways are one content with a history of its own, like a picture's document.
ALTER TABLE jobs ADD COLUMN step bigint NOT NULL DEFAULT 0, ADD COLUMN revision bigint NOT NULL DEFAULT 1,
    ADD COLUMN archived timestamptz, ADD COLUMN removed timestamptz;
CREATE TABLE job_steps (
    job     uuid NOT NULL REFERENCES jobs ON DELETE CASCADE,
    step    bigint NOT NULL,
    label   text NOT NULL,
    content jsonb NOT NULL,
    made    timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (job, step)
);
INSERT INTO job_steps (job, step, label, content) SELECT id, 0, '', jsonb_build_object('palette', palette, 'colourways', '[]'::jsonb) FROM jobs;
ALTER TABLE jobs DROP COLUMN palette;
-- Deliveries of one order belong together.
ALTER TABLE deliveries ADD COLUMN batch uuid, ADD COLUMN colourway text NOT NULL DEFAULT '';
CREATE INDEX deliveries_by_batch ON deliveries (batch, created);

-- +goose Down
DROP INDEX deliveries_by_batch;
ALTER TABLE deliveries DROP COLUMN batch, DROP COLUMN colourway;
ALTER TABLE jobs ADD COLUMN palette jsonb NOT NULL DEFAULT '[]';
UPDATE jobs j SET palette = s.content->'palette' FROM job_steps s WHERE s.job = j.id AND s.step = j.step;
DROP TABLE job_steps;
ALTER TABLE jobs DROP COLUMN step, DROP COLUMN revision, DROP COLUMN archived, DROP COLUMN removed;
