-- Scenarios are kept as procedures are: a draft as it was last typed, and revisions that
-- never change. Both are papers. A job may come from a scenario's revision.
-- +goose Up
ALTER TABLE procedures RENAME TO papers;
ALTER TABLE papers ADD COLUMN kind text NOT NULL DEFAULT 'procedure' CHECK (kind IN ('procedure', 'scenario'));
ALTER TABLE papers ALTER COLUMN kind DROP DEFAULT;
ALTER TABLE procedure_revisions RENAME TO paper_revisions;
ALTER TABLE paper_revisions RENAME COLUMN procedure_id TO paper_id;
ALTER TABLE papers ADD COLUMN level integer;             -- of a scenario, as it was last worked out
ALTER TABLE papers ADD COLUMN minutes double precision;  -- and what somebody competent takes
ALTER TABLE jobs ADD COLUMN paper_id uuid REFERENCES papers (id);
ALTER TABLE jobs ADD COLUMN opens_at timestamptz;    -- from when it can be seen; null for at once
ALTER TABLE jobs ADD COLUMN closes_at timestamptz;   -- from when nothing more is done on it; null for never
ALTER TABLE jobs ADD COLUMN debrief_at timestamptz;  -- from when its debriefs can be read; null for at once
CREATE INDEX jobs_of_a_paper ON jobs (paper_id) WHERE paper_id IS NOT NULL;

-- +goose Down
ALTER TABLE jobs DROP COLUMN paper_id, DROP COLUMN opens_at, DROP COLUMN closes_at, DROP COLUMN debrief_at;
ALTER TABLE paper_revisions RENAME COLUMN paper_id TO procedure_id;
ALTER TABLE paper_revisions RENAME TO procedure_revisions;
DELETE FROM papers WHERE kind <> 'procedure';
ALTER TABLE papers DROP COLUMN kind, DROP COLUMN level, DROP COLUMN minutes;
ALTER TABLE papers RENAME TO procedures;
