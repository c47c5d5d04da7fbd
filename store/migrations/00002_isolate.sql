-- +goose Up
-- A grey picture, white near, for the Depth pick.
ALTER TABLE pictures ADD COLUMN depth bytea REFERENCES blobs;
-- Masks that were brought into a picture; documents name them by the hash of their file.
CREATE TABLE picture_masks (
    picture uuid NOT NULL REFERENCES pictures ON DELETE CASCADE,
    sha     bytea NOT NULL REFERENCES blobs,
    name    text NOT NULL,
    created timestamptz NOT NULL DEFAULT clock_timestamp(),
    PRIMARY KEY (picture, sha)
);

-- +goose Down
DROP TABLE picture_masks;
ALTER TABLE pictures DROP COLUMN depth;
