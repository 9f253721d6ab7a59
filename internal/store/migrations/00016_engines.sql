-- The shop: real engines, and the cards of the faults that were put into them.
-- +goose Up
CREATE TABLE engines (
    machine_id uuid PRIMARY KEY REFERENCES machines (id),   -- whose sheet it has
    serial     text NOT NULL UNIQUE,
    note       text NOT NULL DEFAULT ''
);
CREATE TABLE bugs (
    id         uuid PRIMARY KEY,
    machine_id uuid NOT NULL REFERENCES engines (machine_id),
    body       jsonb NOT NULL,
    open       boolean NOT NULL DEFAULT true,               -- until it is released
    job_id     uuid REFERENCES jobs (id)                    -- that it was given out with
);
-- An engine has one fault at a time, and is fit again before the next.
CREATE UNIQUE INDEX bugs_one_open ON bugs (machine_id) WHERE open;
CREATE UNIQUE INDEX bugs_of_a_job ON bugs (job_id);
CREATE TABLE bug_acts (
    bug_id uuid NOT NULL REFERENCES bugs (id),
    seq    integer NOT NULL,
    kind   text NOT NULL,
    body   jsonb NOT NULL,
    by_id  uuid NOT NULL REFERENCES people (id),
    at     timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (bug_id, seq)
);
-- +goose StatementBegin
CREATE FUNCTION bug_acts_stay() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP = 'UPDATE' AND current_setting('zanjero.erasing', true) = 'on' AND (NEW.body - 'initials') = (OLD.body - 'initials') THEN
        RETURN NEW;
    END IF;
    RAISE EXCEPTION 'acts of a card never change';
END $$;
-- +goose StatementEnd
CREATE TRIGGER bug_acts_stay BEFORE UPDATE OR DELETE ON bug_acts FOR EACH ROW EXECUTE FUNCTION bug_acts_stay();

-- +goose Down
DROP TABLE bug_acts, bugs, engines;
DROP FUNCTION bug_acts_stay;
