-- A job that was given as a resit names the attempt that it repeats.
-- +goose Up
ALTER TABLE jobs ADD COLUMN resit_of uuid REFERENCES attempts (id);
UPDATE jobs SET resit_of = r.attempt_id FROM review_acts r JOIN attempts a ON a.id = (r.body ->> 'attempt')::uuid
    WHERE r.kind = 'resit' AND a.job_id = jobs.id;

-- +goose Down
ALTER TABLE jobs DROP COLUMN resit_of;
