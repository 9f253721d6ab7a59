-- What people do to an assessment is kept as they did it, one act after the other, and
-- never changed. What lists show of an attempt stands beside its assessment.
-- +goose Up
CREATE TABLE review_acts (
    attempt_id uuid NOT NULL REFERENCES attempts (id),
    seq        integer NOT NULL,
    by_id      uuid NOT NULL REFERENCES people (id),
    at         timestamptz NOT NULL DEFAULT now(),
    kind       text NOT NULL,
    body       jsonb NOT NULL,
    PRIMARY KEY (attempt_id, seq)
);
-- +goose StatementBegin
CREATE FUNCTION review_acts_stay() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'review acts never change';
END $$;
-- +goose StatementEnd
CREATE TRIGGER review_acts_stay BEFORE UPDATE OR DELETE ON review_acts
    FOR EACH ROW EXECUTE FUNCTION review_acts_stay();
ALTER TABLE attempts ADD COLUMN outcome text;                       -- as it stands now
ALTER TABLE attempts ADD COLUMN doubt double precision;             -- how much a person's look is wanted, 0 to 1
ALTER TABLE attempts ADD COLUMN signed boolean NOT NULL DEFAULT false;
ALTER TABLE attempts ADD COLUMN appealed boolean NOT NULL DEFAULT false; -- another look is asked for, and not answered
ALTER TABLE attempts ADD COLUMN awaits uuid REFERENCES people (id); -- who is to mark second
ALTER TABLE jobs ADD COLUMN practice boolean NOT NULL DEFAULT false; -- somebody took it to practise
CREATE INDEX attempts_to_review ON attempts (appealed DESC, doubt DESC NULLS LAST) WHERE state = 'handed-over' AND NOT signed;

-- +goose Down
DROP TABLE review_acts;
DROP FUNCTION review_acts_stay;
ALTER TABLE attempts DROP COLUMN outcome, DROP COLUMN doubt, DROP COLUMN signed, DROP COLUMN appealed, DROP COLUMN awaits;
ALTER TABLE jobs DROP COLUMN practice;
