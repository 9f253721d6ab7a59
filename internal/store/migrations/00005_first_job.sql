-- A first job is a lesson that somebody takes by themselves: no list of others' work
-- shows it.
-- +goose Up
ALTER TABLE jobs ADD COLUMN first boolean NOT NULL DEFAULT false;

-- +goose Down
SELECT 1;
