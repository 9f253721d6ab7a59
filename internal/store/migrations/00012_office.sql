-- Who is taught in what classes. The roster's own records are kept as they came; people,
-- classes and members are what the application needs of them, and follow them.
-- +goose Up
CREATE TABLE roster_records (
    kind     text NOT NULL,                    -- a table of the roster, 'users'
    id       text NOT NULL,                    -- the school's id
    record   jsonb NOT NULL,
    has_left boolean NOT NULL DEFAULT false,
    own      boolean NOT NULL DEFAULT false,   -- made here: no file makes it leave by not naming it
    PRIMARY KEY (kind, id)
);
INSERT INTO counters VALUES ('roster', 0);
ALTER TABLE people ADD COLUMN sourced_id text UNIQUE;                       -- null for who was added here
ALTER TABLE people ADD COLUMN must_change boolean NOT NULL DEFAULT false;   -- the password, before anything else
ALTER TABLE people ADD COLUMN left_at timestamptz;                          -- who has left cannot sign in
ALTER TABLE people ADD COLUMN erased_at timestamptz;                        -- nothing is kept of them but nameless attempts
-- What people wrote of somebody who is erased is blanked; nothing else of an act changes.
-- +goose StatementBegin
CREATE OR REPLACE FUNCTION review_acts_stay() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF TG_OP = 'UPDATE' AND current_setting('zanjero.erasing', true) = 'on' AND (NEW.body - 'text') = (OLD.body - 'text') THEN
        RETURN NEW;
    END IF;
    RAISE EXCEPTION 'review acts never change';
END $$;
-- +goose StatementEnd
CREATE TABLE classes (
    id         uuid PRIMARY KEY,
    sourced_id text NOT NULL UNIQUE,
    title      text NOT NULL,
    term       text NOT NULL,                  -- the titles of its terms
    starts     date NOT NULL,
    ends       date NOT NULL,
    has_left   boolean NOT NULL DEFAULT false
);
CREATE TABLE class_members (
    class_id  uuid NOT NULL REFERENCES classes (id),
    person_id uuid NOT NULL REFERENCES people (id),
    sourced_id text NOT NULL UNIQUE,           -- the enrolment's
    role      text NOT NULL,
    PRIMARY KEY (class_id, person_id, sourced_id)
);
CREATE INDEX class_members_person ON class_members (person_id);
-- What was given to a class in one act: jobs that are variants of one another have the
-- same giving.
ALTER TABLE jobs ADD COLUMN class_id uuid REFERENCES classes (id);
ALTER TABLE jobs ADD COLUMN giving uuid;
UPDATE jobs SET giving = id;
CREATE INDEX jobs_class ON jobs (class_id);
-- The outside training standard that the yard holds records against.
CREATE TABLE standard (
    the_one    boolean PRIMARY KEY DEFAULT true CHECK (the_one),
    body       jsonb NOT NULL,
    changes    integer NOT NULL,
    changed_by uuid NOT NULL REFERENCES people (id),
    changed_at timestamptz NOT NULL DEFAULT now()
);
-- Who looked at and changed what of others; it is never changed.
CREATE TABLE audit (
    id     bigint GENERATED ALWAYS AS IDENTITY PRIMARY KEY,
    at     timestamptz NOT NULL DEFAULT now(),
    by_id  uuid NOT NULL,
    act    text NOT NULL,                      -- a code, 'person-changed'
    about  text NOT NULL                       -- the id of what it was done to, empty for none
);
CREATE INDEX audit_by ON audit (by_id, id);
-- +goose StatementBegin
CREATE FUNCTION audit_stays() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'the audit never changes';
END $$;
-- +goose StatementEnd
CREATE TRIGGER audit_stays BEFORE UPDATE OR DELETE ON audit FOR EACH ROW EXECUTE FUNCTION audit_stays();
-- How an attempt stood when a record store was last told of it, by which statement, and why
-- the store said no, if it did.
ALTER TABLE attempts ADD COLUMN told text;
ALTER TABLE attempts ADD COLUMN told_by uuid;
ALTER TABLE attempts ADD COLUMN told_no text;
CREATE INDEX attempts_marked ON attempts (apprentice_id, handed_at) WHERE state = 'handed-over';

-- +goose Down
DROP TABLE standard, audit;
DROP FUNCTION audit_stays;
ALTER TABLE attempts DROP COLUMN told, DROP COLUMN told_by, DROP COLUMN told_no;
ALTER TABLE jobs DROP COLUMN class_id, DROP COLUMN giving;
DROP TABLE class_members, classes, roster_records;
DELETE FROM counters WHERE name = 'roster';
ALTER TABLE people DROP COLUMN sourced_id, DROP COLUMN must_change, DROP COLUMN left_at, DROP COLUMN erased_at;
