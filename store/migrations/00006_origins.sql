-- +goose Up
-- Where a picture was taken from, and its licence; null where somebody brought it in from their own files.
ALTER TABLE pictures ADD COLUMN origin jsonb;

-- +goose Down
ALTER TABLE pictures DROP COLUMN origin;
