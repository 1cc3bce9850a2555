-- moments that no derivative crosses, and the accounts of energy and momentum
CREATE TABLE impact (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    footage_id integer NOT NULL REFERENCES footage,
    body_id integer REFERENCES body,
    at double precision NOT NULL,
    kind text NOT NULL DEFAULT 'impact' CHECK (kind IN ('impact', 'begins', 'ends'))
);
CREATE INDEX ON impact (study_id);
CREATE INDEX ON impact (footage_id);
CREATE INDEX ON impact (body_id);

CREATE TABLE energy_ledger (
    footage_id integer PRIMARY KEY REFERENCES footage,
    study_id integer NOT NULL REFERENCES study,
    left_out integer[] NOT NULL DEFAULT '{}',
    columns integer[] NOT NULL DEFAULT '{}',
    spring_body_id integer REFERENCES body,
    spring_constant text,
    spring_unit text NOT NULL DEFAULT 'N/m',
    rest_length text,
    rest_unit text NOT NULL DEFAULT 'm',
    fixed_x double precision,
    fixed_y double precision,
    start integer,
    top integer,
    finish integer,
    from_above boolean NOT NULL DEFAULT false,
    against text NOT NULL DEFAULT 't' CHECK (against IN ('t', 'h')),
    verdict text
);
CREATE INDEX ON energy_ledger (study_id);
CREATE INDEX ON energy_ledger (spring_body_id);

CREATE TABLE momentum_ledger (
    impact_id integer PRIMARY KEY REFERENCES impact,
    study_id integer NOT NULL REFERENCES study,
    before_id integer REFERENCES passage,
    after_id integer REFERENCES passage,
    left_out integer[] NOT NULL DEFAULT '{}',
    resting_before integer[] NOT NULL DEFAULT '{}',
    resting_after integer[] NOT NULL DEFAULT '{}',
    unit text NOT NULL DEFAULT 'kg*m/s',
    blank boolean NOT NULL DEFAULT false,
    entries jsonb NOT NULL DEFAULT '{}',
    verdict text
);
CREATE INDEX ON momentum_ledger (study_id);
CREATE INDEX ON momentum_ledger (before_id);
CREATE INDEX ON momentum_ledger (after_id);

-- how a body resists turning: by its shape, or as typed in kg m²
ALTER TABLE body ADD COLUMN inertia_shape text;
ALTER TABLE body ADD COLUMN inertia text;

-- through how many marks a velocity is taken
ALTER TABLE ground ADD COLUMN velocity_window integer NOT NULL DEFAULT 3
    CHECK (velocity_window IN (3, 5, 7, 9));

-- whether ledgers say whether something is conserved, or students do
ALTER TABLE lab ADD COLUMN tells_verdicts boolean NOT NULL DEFAULT true;
