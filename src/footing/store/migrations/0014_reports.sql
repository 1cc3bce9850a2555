-- blocks of the report of a study
CREATE TABLE report_block (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    place double precision NOT NULL,
    kind text NOT NULL,
    about text NOT NULL DEFAULT '',
    words text NOT NULL DEFAULT '',
    caption text NOT NULL DEFAULT '',
    columns text[] NOT NULL DEFAULT '{}',
    first integer,
    last integer,
    shows text[] NOT NULL DEFAULT '{}',
    every integer NOT NULL DEFAULT 1
);
CREATE INDEX ON report_block (study_id);
