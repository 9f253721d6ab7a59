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
CREATE INDEX jobs_of_a_paper ON jobs (paper_id) WHERE paper_id IS NOT NULL;

-- +goose Down
ALTER TABLE jobs DROP COLUMN paper_id;
ALTER TABLE paper_revisions RENAME COLUMN paper_id TO procedure_id;
ALTER TABLE paper_revisions RENAME TO procedure_revisions;
DELETE FROM papers WHERE kind <> 'procedure';
ALTER TABLE papers DROP COLUMN kind, DROP COLUMN level, DROP COLUMN minutes;
ALTER TABLE papers RENAME TO procedures;
