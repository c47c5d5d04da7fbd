-- +goose Up
-- Size, profile and metadata of a delivered file.
ALTER TABLE deliveries ADD COLUMN options jsonb NOT NULL DEFAULT '{}';

-- +goose Down
ALTER TABLE deliveries DROP COLUMN options;
