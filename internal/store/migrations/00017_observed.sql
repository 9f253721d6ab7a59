-- What somebody who teaches has seen at a real engine: hold points with their initials, and
-- skills of the hand.
-- +goose Up
CREATE TABLE observed (
    attempt_id uuid NOT NULL REFERENCES attempts (id),
    kind       text NOT NULL,                           -- hold or skill
    item       text NOT NULL,
    initials   text NOT NULL,
    by_id      uuid NOT NULL REFERENCES people (id),
    at         timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (attempt_id, kind, item)
);

-- +goose Down
DROP TABLE observed;
