-- Roles to come, people who can be disabled, and sessions that can be ended for
-- a person: a session counts only while it carries the person's present epoch.
-- +goose Up
ALTER TABLE people DROP CONSTRAINT people_role_check;
ALTER TABLE people ADD CONSTRAINT people_role_check CHECK (role IN ('apprentice', 'instructor', 'assessor', 'coordinator'));
ALTER TABLE people ADD COLUMN disabled boolean NOT NULL DEFAULT false;
ALTER TABLE people ADD COLUMN session_epoch integer NOT NULL DEFAULT 1;

-- Tries to sign in are counted before the password is looked at, in one row a
-- subject, so that many at once count as many.
DROP TABLE sign_in_failures;
CREATE TABLE sign_in_tries (
    subject text PRIMARY KEY,        -- 'name:…', 'address:…', 'pair:…' or 'device:…'
    since   timestamptz NOT NULL DEFAULT now(),
    tries   integer NOT NULL DEFAULT 1
);

-- Job numbers without gaps: a sequence skips some after a crash.
CREATE TABLE counters (
    name  text PRIMARY KEY,
    value bigint NOT NULL
);
INSERT INTO counters SELECT 'job', coalesce(max(number), 0) FROM jobs;
ALTER TABLE jobs ALTER COLUMN number DROP IDENTITY;
ALTER TABLE jobs ADD CONSTRAINT jobs_number_unique UNIQUE (number);

-- What lists show stands in columns, so that no list reads an assessment.
ALTER TABLE attempts DROP CONSTRAINT attempts_state_check;
ALTER TABLE attempts ADD CONSTRAINT attempts_state_check
    CHECK (state IN ('new', 'in-hand', 'marking', 'handed-over', 'frozen', 'closed'));
ALTER TABLE attempts ADD COLUMN class text;
ALTER TABLE attempts ADD COLUMN mark double precision;
ALTER TABLE attempts ADD COLUMN mark_of double precision;
-- Why it is frozen, as a code and its parameters.
ALTER TABLE attempts ADD COLUMN frozen jsonb;
UPDATE attempts SET
    class = assessment ->> 'class',
    mark = (SELECT round(sum((s ->> 'mark')::numeric), 1) FROM jsonb_array_elements(assessment -> 'sections') s),
    mark_of = (SELECT sum((s ->> 'of')::numeric) FROM jsonb_array_elements(assessment -> 'sections') s)
    WHERE assessment IS NOT NULL;
-- A closed attempt makes room for another of the same job.
ALTER TABLE attempts DROP CONSTRAINT attempts_job_id_apprentice_id_key;
CREATE UNIQUE INDEX attempts_one_open ON attempts (job_id, apprentice_id) WHERE state <> 'closed';
CREATE INDEX attempts_created ON attempts (created_at DESC, id);
CREATE INDEX jobs_number ON jobs (number DESC);

-- +goose Down
SELECT 1;
