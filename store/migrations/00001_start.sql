-- +goose Up
CREATE TABLE blobs (
    sha     bytea PRIMARY KEY,
    size    bigint NOT NULL,
    created timestamptz NOT NULL DEFAULT now()
);
-- Files are kept in pieces, so that they stream in and out and one dump is a whole backup.
CREATE TABLE blob_pieces (
    sha  bytea NOT NULL REFERENCES blobs ON DELETE CASCADE,
    n    integer NOT NULL,
    data bytea NOT NULL,
    PRIMARY KEY (sha, n)
);
ALTER TABLE blob_pieces ALTER COLUMN data SET STORAGE EXTERNAL;

CREATE TABLE jobs (
    id      uuid PRIMARY KEY,
    name    text NOT NULL,
    palette jsonb NOT NULL DEFAULT '[]',
    created timestamptz NOT NULL DEFAULT now()
);
CREATE TABLE pictures (
    id       uuid PRIMARY KEY,
    job      uuid NOT NULL REFERENCES jobs ON DELETE CASCADE,
    name     text NOT NULL,
    sha      bytea NOT NULL REFERENCES blobs,
    width    integer NOT NULL,
    height   integer NOT NULL,
    bits     integer NOT NULL,
    format   text NOT NULL,
    -- step is where in the history the document stands; revision rises with every change, undo too.
    step     bigint NOT NULL DEFAULT 0,
    revision bigint NOT NULL DEFAULT 1,
    created  timestamptz NOT NULL DEFAULT clock_timestamp(),
    removed  timestamptz
);
CREATE INDEX pictures_by_job ON pictures (job, created);
-- One row a step: the whole document after it. Step 0 is the picture as it came in.
CREATE TABLE steps (
    picture  uuid NOT NULL REFERENCES pictures ON DELETE CASCADE,
    step     bigint NOT NULL,
    label    text NOT NULL,
    document jsonb NOT NULL,
    made     timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (picture, step)
);
CREATE TABLE deliveries (
    id       uuid PRIMARY KEY,
    picture  uuid NOT NULL REFERENCES pictures ON DELETE CASCADE,
    name     text NOT NULL,
    document jsonb NOT NULL,
    format   text NOT NULL,
    quality  integer NOT NULL,
    state    text NOT NULL DEFAULT 'waiting',
    progress real NOT NULL DEFAULT 0,
    problem  text NOT NULL DEFAULT '',
    sha      bytea REFERENCES blobs,
    created  timestamptz NOT NULL DEFAULT clock_timestamp()
);
CREATE INDEX deliveries_by_picture ON deliveries (picture, created);

-- +goose Down
DROP TABLE deliveries, steps, pictures, jobs, blob_pieces, blobs;
