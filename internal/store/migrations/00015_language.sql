-- The language that somebody reads in.
-- +goose Up
ALTER TABLE people ADD COLUMN language text NOT NULL DEFAULT '';  -- empty for never chosen

-- +goose Down
ALTER TABLE people DROP COLUMN language;
