-- Minutes and base rates of the yard's own, in place of the catalogue's where they name
-- them. There is one set; changes counts its saves, so that two who write at once are
-- told apart.
-- +goose Up
CREATE TABLE own_figures (
    the_one    boolean PRIMARY KEY DEFAULT true CHECK (the_one),
    figures    jsonb NOT NULL,
    changes    integer NOT NULL,
    changed_by uuid NOT NULL REFERENCES people (id),
    changed_at timestamptz NOT NULL DEFAULT now()
);

-- +goose Down
DROP TABLE own_figures;
