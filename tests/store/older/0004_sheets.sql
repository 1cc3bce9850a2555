-- sheets: columns of numbers, typed or computed
CREATE TABLE sheet (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    footage_id integer REFERENCES footage,
    kind text NOT NULL CHECK (kind IN ('typed', 'eye', 'bodies')),
    name text NOT NULL,
    rows integer NOT NULL CHECK (rows >= 0)
);
CREATE INDEX ON sheet (study_id);
CREATE UNIQUE INDEX ON sheet (footage_id) WHERE kind = 'bodies';
CREATE TABLE sheet_column (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    sheet_id integer NOT NULL REFERENCES sheet,
    place integer NOT NULL,
    name text NOT NULL,
    symbol text NOT NULL,
    unit text NOT NULL,
    formula text,
    digits integer,
    digits_as text CHECK (digits_as IN ('decimals', 'significant')),
    uncertainty text,
    scatter text,
    seed integer,
    blocks text[] NOT NULL
);
CREATE INDEX ON sheet_column (study_id);
CREATE INDEX ON sheet_column (sheet_id);
CREATE TABLE row_aside (
    sheet_id integer NOT NULL REFERENCES sheet,
    row integer NOT NULL,
    study_id integer NOT NULL REFERENCES study,
    reason text NOT NULL,
    PRIMARY KEY (sheet_id, row)
);
CREATE INDEX ON row_aside (study_id);
CREATE TABLE cells (
    key text PRIMARY KEY,
    texts bytea NOT NULL
);

-- quantities of the study that formulas can name
CREATE TABLE study_quantity (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    symbol text NOT NULL,
    name text NOT NULL,
    typed text NOT NULL,
    unit text NOT NULL,
    UNIQUE (study_id, symbol)
);

-- passages of sheets
ALTER TABLE passage ALTER COLUMN footage_id DROP NOT NULL;
ALTER TABLE passage ADD COLUMN sheet_id integer REFERENCES sheet;
ALTER TABLE passage ADD CHECK (num_nonnulls(footage_id, sheet_id) = 1);

-- several graphs of a source, with several series
ALTER TABLE graph DROP CONSTRAINT graph_pkey;
ALTER TABLE graph ADD COLUMN id serial PRIMARY KEY;
ALTER TABLE graph ALTER COLUMN footage_id DROP NOT NULL;
ALTER TABLE graph ADD COLUMN sheet_id integer REFERENCES sheet;
ALTER TABLE graph ADD CHECK (num_nonnulls(footage_id, sheet_id) = 1);
ALTER TABLE graph ADD COLUMN place integer NOT NULL DEFAULT 0;
ALTER TABLE graph ADD COLUMN ys text[];
UPDATE graph SET ys = ARRAY[y];
ALTER TABLE graph ALTER COLUMN ys SET NOT NULL;
ALTER TABLE graph DROP COLUMN y;
ALTER TABLE graph ADD COLUMN title text;
ALTER TABLE graph ADD COLUMN x_low double precision;
ALTER TABLE graph ADD COLUMN x_high double precision;
ALTER TABLE graph ADD COLUMN y_low double precision;
ALTER TABLE graph ADD COLUMN y_high double precision;
ALTER TABLE graph ADD COLUMN error_bars boolean NOT NULL DEFAULT false;
ALTER TABLE graph ADD COLUMN hidden integer[] NOT NULL DEFAULT '{}';
ALTER TABLE graph ADD COLUMN looks jsonb NOT NULL DEFAULT '{}';
CREATE INDEX ON graph (footage_id);
CREATE INDEX ON graph (sheet_id);

-- fits of sheets, by own formulas, over several passages or selected points
ALTER TABLE fit ALTER COLUMN body_id DROP NOT NULL;
ALTER TABLE fit ADD COLUMN sheet_id integer REFERENCES sheet;
ALTER TABLE fit ADD CHECK (num_nonnulls(body_id, sheet_id) = 1);
ALTER TABLE fit ADD COLUMN formula text;
ALTER TABLE fit ADD COLUMN passages integer[] NOT NULL DEFAULT '{}';
UPDATE fit SET passages = ARRAY[passage_id] WHERE passage_id IS NOT NULL;
ALTER TABLE fit DROP COLUMN passage_id;
ALTER TABLE fit ADD COLUMN points integer[];
ALTER TABLE fit ADD COLUMN given jsonb NOT NULL DEFAULT '{}';
ALTER TABLE fit ADD COLUMN label text;
ALTER TABLE fit ADD COLUMN dashed boolean NOT NULL DEFAULT false;

-- findings by a formula, means of a column, two results compared
ALTER TABLE finding ALTER COLUMN fit_id DROP NOT NULL;
ALTER TABLE finding ALTER COLUMN reading DROP NOT NULL;
ALTER TABLE finding ADD COLUMN formula text;
ALTER TABLE finding ADD COLUMN symbol text;
ALTER TABLE finding ADD COLUMN unit text;
ALTER TABLE finding ADD COLUMN column_id integer REFERENCES sheet_column;
ALTER TABLE finding ADD COLUMN other_id integer REFERENCES finding;

-- what a teacher lays down: how points are drawn in a class, whether fits of a lab say what they mean
ALTER TABLE school_class ADD COLUMN series_look jsonb NOT NULL DEFAULT '{}';
ALTER TABLE lab ADD COLUMN tells_meanings boolean NOT NULL DEFAULT true;
