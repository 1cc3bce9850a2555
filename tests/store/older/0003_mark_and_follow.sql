-- how a mark was made; the default of an edit from before this migration is by hand
ALTER TABLE mark ADD COLUMN quality double precision;

-- bodies that are made from others, second spots, a motion of their own, a spot in words, a size
ALTER TABLE body ADD COLUMN kind text NOT NULL DEFAULT 'marked';
ALTER TABLE body ADD CHECK (kind IN ('marked', 'centre', 'relative'));
ALTER TABLE body ADD COLUMN second_of_id integer REFERENCES body;
ALTER TABLE body ADD COLUMN first integer;
ALTER TABLE body ADD COLUMN last integer;
ALTER TABLE body ADD COLUMN stride integer CHECK (stride > 0);
ALTER TABLE body ADD COLUMN spot text;
ALTER TABLE body ADD COLUMN size text;
ALTER TABLE body ADD COLUMN size_unit text;
CREATE TABLE member (
    body_id integer NOT NULL REFERENCES body,
    other_id integer NOT NULL REFERENCES body,
    study_id integer NOT NULL REFERENCES study,
    place integer NOT NULL,
    PRIMARY KEY (body_id, other_id)
);
CREATE INDEX ON member (study_id);

-- frames in which a body is hidden, and frames that following left open
CREATE TABLE hidden_frame (
    body_id integer NOT NULL REFERENCES body,
    frame integer NOT NULL,
    study_id integer NOT NULL REFERENCES study,
    PRIMARY KEY (body_id, frame)
);
CREATE INDEX ON hidden_frame (study_id);
CREATE TABLE doubt (
    body_id integer NOT NULL REFERENCES body,
    frame integer NOT NULL,
    study_id integer NOT NULL REFERENCES study,
    x double precision,
    y double precision,
    quality double precision NOT NULL,
    PRIMARY KEY (body_id, frame)
);
CREATE INDEX ON doubt (study_id);

-- edits that belong together, and the following that makes them
ALTER TABLE edit ADD COLUMN run text;
CREATE TABLE follow (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    footage_id integer NOT NULL,
    teacher_id integer REFERENCES teacher,
    student_id integer REFERENCES student,
    bodies integer[] NOT NULL,
    first integer NOT NULL,
    last integer NOT NULL,
    stop_level double precision NOT NULL,
    over_hand boolean NOT NULL,
    reach integer,
    search integer,
    state text NOT NULL CHECK (state IN ('waiting', 'running', 'paused', 'stopped', 'done')),
    at integer,
    said text,
    asked_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX ON follow (study_id);
