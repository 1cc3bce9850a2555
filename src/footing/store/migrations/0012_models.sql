-- predicted motions, leg by leg, and the air that they are in
CREATE TABLE motion_model (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    footage_id integer REFERENCES footage,
    body_id integer REFERENCES body,
    name text NOT NULL,
    shown boolean NOT NULL DEFAULT true,
    common jsonb NOT NULL DEFAULT '{}'
);
CREATE INDEX ON motion_model (study_id);
CREATE INDEX ON motion_model (footage_id);
CREATE INDEX ON motion_model (body_id);

CREATE TABLE motion_leg (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    model_id integer NOT NULL REFERENCES motion_model,
    place integer NOT NULL,
    law text NOT NULL,
    passage_id integer REFERENCES passage,
    lasts text,
    goes_on text NOT NULL DEFAULT 'both' CHECK (goes_on IN ('both', 'position', 'velocity', 'free')),
    hits boolean NOT NULL DEFAULT false,
    normal text NOT NULL DEFAULT '90',
    along_x text NOT NULL DEFAULT '',
    along_y text NOT NULL DEFAULT '',
    own jsonb NOT NULL DEFAULT '{}'
);
CREATE INDEX ON motion_leg (study_id);
CREATE INDEX ON motion_leg (model_id);
CREATE INDEX ON motion_leg (passage_id);

CREATE TABLE weather (
    study_id integer PRIMARY KEY REFERENCES study,
    temperature text NOT NULL,
    temperature_unit text NOT NULL,
    pressure text NOT NULL,
    pressure_unit text NOT NULL,
    damp text NOT NULL,
    damp_is text NOT NULL CHECK (damp_is IN ('dew point', 'relative humidity'))
);

ALTER TABLE finding ADD COLUMN model_id integer REFERENCES motion_model;
CREATE INDEX ON finding (model_id);
