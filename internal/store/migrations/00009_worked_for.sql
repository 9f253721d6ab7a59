-- What a scenario's level and minutes were worked out for: the model, the yard's own
-- figures, its machine and its draft as they were then; null where they never were.
-- +goose Up
ALTER TABLE papers ADD COLUMN worked_for text;

-- +goose Down
ALTER TABLE papers DROP COLUMN worked_for;
