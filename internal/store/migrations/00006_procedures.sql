-- Procedures that instructors build. The draft is as it was last typed; changes counts
-- its saves, so that two who write at once are told apart. What was given out stands in
-- revisions and never changes.
-- +goose Up
CREATE TABLE procedures (
    id         uuid PRIMARY KEY,
    owner_id   uuid NOT NULL REFERENCES people (id),
    machine_id uuid NOT NULL REFERENCES machines (id), -- what it is looked at on
    title      text NOT NULL,                          -- the draft's, for lists
    complaint  text NOT NULL,                          -- the draft's; empty for any
    draft      jsonb NOT NULL,
    changes    integer NOT NULL DEFAULT 1,
    changed_by uuid NOT NULL REFERENCES people (id),
    changed_at timestamptz NOT NULL DEFAULT now(),
    archived   boolean NOT NULL DEFAULT false
);
CREATE TABLE procedure_revisions (
    procedure_id uuid NOT NULL REFERENCES procedures (id),
    revision     integer NOT NULL,
    body         jsonb NOT NULL,
    given_by     uuid NOT NULL REFERENCES people (id),
    given_at     timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (procedure_id, revision)
);
-- +goose StatementBegin
CREATE FUNCTION revisions_stay() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'revisions never change';
END $$;
-- +goose StatementEnd
CREATE TRIGGER revisions_stay BEFORE UPDATE OR DELETE ON procedure_revisions
    FOR EACH ROW EXECUTE FUNCTION revisions_stay();

-- +goose Down
DROP TABLE procedure_revisions, procedures;
DROP FUNCTION revisions_stay;
