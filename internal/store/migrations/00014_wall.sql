-- The wall: a class finds a fault together, and votes for each test.
-- +goose Up
CREATE TABLE walls (
    id         uuid PRIMARY KEY,
    class_id   uuid NOT NULL REFERENCES classes (id),
    made_by    uuid NOT NULL REFERENCES people (id),
    scenario   jsonb NOT NULL,
    seed       bigint NOT NULL,
    created_at timestamptz NOT NULL DEFAULT now(),
    told_at    timestamptz,                      -- when what is hidden was told, which ends it
    version    bigint NOT NULL DEFAULT 0,        -- of all but the votes
    votes      bigint NOT NULL DEFAULT 0         -- how often somebody has voted
);
CREATE INDEX walls_class ON walls (class_id);
CREATE TABLE wall_rounds (
    wall_id uuid NOT NULL REFERENCES walls (id),
    round   integer NOT NULL,
    worths  jsonb,                               -- of every test then, once the vote is closed
    test    text,                                -- that was made, once one was
    told    jsonb,                               -- what it showed
    board   jsonb,                               -- what the evidence marks after it
    minutes double precision,
    PRIMARY KEY (wall_id, round)
);
CREATE TABLE wall_votes (
    wall_id   uuid NOT NULL,
    round     integer NOT NULL,
    person_id uuid NOT NULL REFERENCES people (id),
    test      text NOT NULL,
    PRIMARY KEY (wall_id, round, person_id),
    FOREIGN KEY (wall_id, round) REFERENCES wall_rounds (wall_id, round)
);
-- +goose StatementBegin
CREATE FUNCTION wall_changed() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    PERFORM pg_notify('zanjero_changes', NEW.id || ' ' || NEW.class_id);
    RETURN NEW;
END $$;
-- +goose StatementEnd
CREATE TRIGGER wall_changed AFTER INSERT OR UPDATE ON walls FOR EACH ROW EXECUTE FUNCTION wall_changed();

-- +goose Down
DROP TABLE wall_votes, wall_rounds, walls;
DROP FUNCTION wall_changed;
