-- The shop's instruments, photos of what was seen at a real engine, and readings that a
-- program at the bench has posted.
-- +goose Up
CREATE TABLE instruments (
    id         uuid PRIMARY KEY,
    code       text NOT NULL UNIQUE,                    -- as it is written on it
    name       text NOT NULL,
    checked_on date NOT NULL,                           -- when it was last checked
    due_on     date NOT NULL,                           -- when it is to be checked again
    reads      jsonb NOT NULL,                          -- how much too high, by test
    gone       boolean NOT NULL DEFAULT false,          -- it is no longer in use
    revision   integer NOT NULL DEFAULT 1
);
CREATE TABLE photos (
    id         uuid PRIMARY KEY,
    attempt_id uuid NOT NULL REFERENCES attempts (id),
    note       text NOT NULL,
    image      bytea NOT NULL,                          -- JPEG, drawn anew without metadata
    by_id      uuid NOT NULL REFERENCES people (id),
    at         timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX photos_of_an_attempt ON photos (attempt_id);
CREATE TABLE device_codes (
    attempt_id uuid PRIMARY KEY REFERENCES attempts (id),
    code       text NOT NULL UNIQUE                     -- who knows it may post readings to the sheet
);
CREATE TABLE device_readings (
    id         bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    attempt_id uuid NOT NULL REFERENCES attempts (id),
    line       text NOT NULL,
    at         timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX device_readings_of_an_attempt ON device_readings (attempt_id, id);

-- +goose Down
DROP TABLE device_readings, device_codes, photos, instruments;
