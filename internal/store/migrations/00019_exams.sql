-- Practical exams: people who rotate over engines.
-- +goose Up
CREATE TABLE exams (
    id        uuid PRIMARY KEY,
    title     text NOT NULL,
    starts_at timestamptz NOT NULL,
    minutes   integer NOT NULL,                          -- of a turn
    rest      integer NOT NULL,                          -- minutes from one turn to the next
    people    jsonb NOT NULL,                            -- their ids, in the order of the plan
    by_id     uuid NOT NULL REFERENCES people (id),
    at        timestamptz NOT NULL DEFAULT now()
);
CREATE TABLE exam_engines (
    exam_id uuid NOT NULL REFERENCES exams (id),
    place   integer NOT NULL,                            -- in the plan, from 0
    bug_id  uuid NOT NULL UNIQUE REFERENCES bugs (id),
    job_id  uuid NOT NULL UNIQUE REFERENCES jobs (id),
    PRIMARY KEY (exam_id, place)
);

-- +goose Down
DROP TABLE exam_engines, exams;
