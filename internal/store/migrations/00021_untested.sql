-- Attempts that ended without a test that could tell anything, which lists show.
-- +goose Up
ALTER TABLE attempts ADD COLUMN untested boolean NOT NULL DEFAULT false;

-- +goose Down
ALTER TABLE attempts DROP COLUMN untested;
