-- Two people who change one sheet must not overwrite each other.
-- +goose Up
ALTER TABLE machines ADD COLUMN revision integer NOT NULL DEFAULT 1;

-- +goose Down
ALTER TABLE machines DROP COLUMN revision;
