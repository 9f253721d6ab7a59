-- +goose Up
CREATE TABLE people (
    id            uuid PRIMARY KEY,
    name          text NOT NULL UNIQUE,
    display_name  text NOT NULL,
    role          text NOT NULL CHECK (role IN ('instructor', 'apprentice')),
    password_hash text NOT NULL,
    demo          boolean NOT NULL DEFAULT false
);
CREATE TABLE sign_in_failures (
    subject text NOT NULL,           -- 'name:…' or 'address:…'
    at      timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX sign_in_failures_subject ON sign_in_failures (subject, at);
-- The layout that the session store asks for.
CREATE TABLE sessions (
    token  text PRIMARY KEY,
    data   bytea NOT NULL,
    expiry timestamptz NOT NULL
);
CREATE INDEX sessions_expiry ON sessions (expiry);
CREATE TABLE machines (
    id     uuid PRIMARY KEY,
    name   text NOT NULL,
    code   text NOT NULL UNIQUE,
    family text NOT NULL,
    duty   text NOT NULL,
    sheet  jsonb NOT NULL
);
CREATE TABLE jobs (
    id         uuid PRIMARY KEY,
    number     bigint GENERATED ALWAYS AS IDENTITY,
    machine_id uuid NOT NULL REFERENCES machines (id),
    set_by     uuid NOT NULL REFERENCES people (id),
    scenario   jsonb NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now()
);
CREATE TABLE attempts (
    id            uuid PRIMARY KEY,
    job_id        uuid NOT NULL REFERENCES jobs (id),
    apprentice_id uuid NOT NULL REFERENCES people (id),
    seed          bigint NOT NULL,
    model_version text NOT NULL,
    state         text NOT NULL DEFAULT 'new' CHECK (state IN ('new', 'in-hand', 'handed-over')),
    minutes       double precision NOT NULL DEFAULT 0,
    -- how many events it has: moving it on is what puts an event in its place
    events        integer NOT NULL DEFAULT 0,
    draft         jsonb,
    assessment    jsonb,
    created_at    timestamptz NOT NULL DEFAULT now(),
    handed_at     timestamptz,
    UNIQUE (job_id, apprentice_id)
);
CREATE INDEX attempts_apprentice ON attempts (apprentice_id);
-- The truth of an attempt: append-only, in order.
CREATE TABLE events (
    attempt_id uuid NOT NULL REFERENCES attempts (id),
    seq        integer NOT NULL,
    client_id  uuid NOT NULL,
    body       jsonb NOT NULL,
    -- what an instrument or look showed, quantised as it was seen
    observed   jsonb,
    at         timestamptz NOT NULL DEFAULT now(),
    PRIMARY KEY (attempt_id, seq),
    UNIQUE (attempt_id, client_id)
);
-- +goose StatementBegin
CREATE FUNCTION events_stay() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'events are append-only';
END $$;
-- +goose StatementEnd
CREATE TRIGGER events_stay BEFORE UPDATE OR DELETE ON events
    FOR EACH ROW EXECUTE FUNCTION events_stay();
-- Secrets that the server makes once for itself.
CREATE TABLE secrets (
    name  text PRIMARY KEY,
    value bytea NOT NULL
);

-- +goose Down
DROP TABLE secrets, events, attempts, jobs, machines, sessions, sign_in_failures, people;
DROP FUNCTION events_stay;
