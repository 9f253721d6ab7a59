-- Lessons of the senses: a class senses two machines, and says which of them has something.
-- +goose Up
CREATE TABLE lessons (
    id         uuid PRIMARY KEY,
    class_id   uuid NOT NULL REFERENCES classes (id),
    made_by    uuid NOT NULL REFERENCES people (id),
    sense      text NOT NULL,                    -- ear, hand or eye
    body       jsonb NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now(),
    told_at    timestamptz,                      -- when it was told which was right, which ends it
    version    bigint NOT NULL DEFAULT 0,        -- of all but the answers
    answers    bigint NOT NULL DEFAULT 0         -- how often somebody has answered
);
CREATE INDEX lessons_class ON lessons (class_id);
CREATE TABLE lesson_answers (
    lesson_id uuid NOT NULL REFERENCES lessons (id),
    person_id uuid NOT NULL REFERENCES people (id),
    side      smallint NOT NULL CHECK (side IN (0, 1)),
    PRIMARY KEY (lesson_id, person_id)
);
CREATE INDEX lesson_answers_person ON lesson_answers (person_id);
CREATE TRIGGER lesson_changed AFTER INSERT OR UPDATE ON lessons FOR EACH ROW EXECUTE FUNCTION wall_changed();

-- +goose Down
DROP TABLE lesson_answers, lessons;
