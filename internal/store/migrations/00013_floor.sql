-- The floor: a class that is watched while it works.
-- +goose Up
ALTER TABLE attempts ADD COLUMN glance jsonb;               -- what the floor shows of it, as its last act left it
ALTER TABLE attempts ADD COLUMN paused_at timestamptz;      -- nothing is done on it while this is set
ALTER TABLE attempts ADD COLUMN hinted integer NOT NULL DEFAULT 0;
ALTER TABLE attempts ADD COLUMN version bigint NOT NULL DEFAULT 0;
-- What is said between a bench and who watches it. The place is that of the ledger.
CREATE TABLE hints (
    id         uuid PRIMARY KEY,
    attempt_id uuid NOT NULL REFERENCES attempts (id),
    by_id      uuid NOT NULL REFERENCES people (id),
    at         timestamptz NOT NULL DEFAULT now(),
    seq        integer NOT NULL,
    question   boolean NOT NULL,                            -- the apprentice's
    words      text NOT NULL
);
CREATE INDEX hints_attempt ON hints (attempt_id, at);
-- Whoever watches is told that an attempt is another than before: its id and that of its
-- class, and nothing else. The version counts, so that a notice that comes twice is seen to
-- say nothing new, and one that was missed is seen to be missing.
-- +goose StatementBegin
CREATE FUNCTION attempt_changed() RETURNS trigger LANGUAGE plpgsql AS $$
DECLARE class uuid;
BEGIN
    NEW.version := NEW.version + 1;
    SELECT class_id INTO class FROM jobs WHERE id = NEW.job_id;
    PERFORM pg_notify('zanjero_changes', NEW.id || ' ' || coalesce(class::text, ''));
    RETURN NEW;
END $$;
-- +goose StatementEnd
CREATE TRIGGER attempt_changed BEFORE INSERT OR UPDATE OF events, state, paused_at, hinted, mark, outcome, signed ON attempts
    FOR EACH ROW EXECUTE FUNCTION attempt_changed();

-- +goose Down
DROP TRIGGER attempt_changed ON attempts;
DROP FUNCTION attempt_changed;
DROP TABLE hints;
ALTER TABLE attempts DROP COLUMN glance, DROP COLUMN paused_at, DROP COLUMN hinted, DROP COLUMN version;
