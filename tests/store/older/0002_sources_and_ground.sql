-- what a file is, and what looking through all of it found
ALTER TABLE media ADD COLUMN kind text NOT NULL DEFAULT 'video';
ALTER TABLE media ALTER COLUMN kind DROP DEFAULT;
ALTER TABLE media ADD CHECK (kind IN ('video', 'picture'));
ALTER TABLE media ADD COLUMN survey jsonb;

-- turn and mirror, up and height, clock, and the two errors that phones bring
ALTER TABLE ground ADD COLUMN quarter integer NOT NULL DEFAULT 0 CHECK (quarter IN (0, 90, 180, 270));
ALTER TABLE ground ADD COLUMN mirror boolean NOT NULL DEFAULT false;
ALTER TABLE ground ADD COLUMN up double precision NOT NULL DEFAULT pi() / 2;
ALTER TABLE ground ADD COLUMN levelled text;
ALTER TABLE ground ADD COLUMN height_x double precision;
ALTER TABLE ground ADD COLUMN height_y double precision;
ALTER TABLE ground ADD COLUMN clock text NOT NULL DEFAULT 'file';
ALTER TABLE ground ADD COLUMN clock_typed text;
ALTER TABLE ground ADD COLUMN clock_first integer;
ALTER TABLE ground ADD COLUMN clock_last integer;
ALTER TABLE ground ADD COLUMN readout text;
ALTER TABLE ground ADD COLUMN camera_distance text;
ALTER TABLE ground ADD CHECK (clock IN ('file', 'capture', 'moments'));
ALTER TABLE ground ALTER COLUMN quarter DROP DEFAULT, ALTER COLUMN mirror DROP DEFAULT,
    ALTER COLUMN up DROP DEFAULT, ALTER COLUMN clock DROP DEFAULT;

ALTER TABLE known_length ADD COLUMN hidden boolean NOT NULL DEFAULT false;
ALTER TABLE known_length ALTER COLUMN hidden DROP DEFAULT;
ALTER TABLE known_length ADD COLUMN nearer text;

-- a spot of the background is marked like a body, and taken away from the others
ALTER TABLE body ADD COLUMN background boolean NOT NULL DEFAULT false;
ALTER TABLE body ALTER COLUMN background DROP DEFAULT;

-- an oblique view: a rectangle, its sides, and further points with their places
CREATE TABLE plane (
    footage_id integer PRIMARY KEY REFERENCES footage,
    study_id integer NOT NULL REFERENCES study,
    frame integer NOT NULL,
    across text,
    along text,
    unit text NOT NULL
);
CREATE TABLE plane_point (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    plane_id integer NOT NULL REFERENCES plane,
    place integer NOT NULL,
    x double precision NOT NULL,
    y double precision NOT NULL,
    across text,
    along text
);
CREATE INDEX ON plane_point (study_id);

-- the unit in which a study shows its lengths
CREATE TABLE study_unit (
    study_id integer PRIMARY KEY REFERENCES study,
    length text NOT NULL
);

-- a graph belongs to a source, because a picture has other columns than footage
ALTER TABLE graph ADD COLUMN footage_id integer REFERENCES footage;
UPDATE graph SET footage_id = (SELECT min(id) FROM footage WHERE footage.study_id = graph.study_id);
DELETE FROM graph WHERE footage_id IS NULL;
ALTER TABLE graph DROP CONSTRAINT graph_pkey;
ALTER TABLE graph ADD PRIMARY KEY (footage_id);
CREATE INDEX ON graph (study_id);

-- arriving files, and the links by which phones may send them
CREATE TABLE phone_link (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    teacher_id integer REFERENCES teacher,
    student_id integer REFERENCES student,
    expires timestamptz NOT NULL,
    revoked boolean NOT NULL,
    CHECK (num_nonnulls(teacher_id, student_id) = 1)
);
CREATE INDEX ON phone_link (study_id);
CREATE TABLE upload (
    id varchar(255) PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    teacher_id integer REFERENCES teacher,
    student_id integer REFERENCES student,
    link_id integer REFERENCES phone_link,
    name text NOT NULL,
    size bigint NOT NULL,
    replaces integer,
    state text NOT NULL,
    reason text,
    made integer,
    started_at timestamptz NOT NULL DEFAULT now(),
    CHECK (num_nonnulls(teacher_id, student_id) = 1),
    CHECK (state IN ('arriving', 'used', 'refused'))
);
CREATE INDEX ON upload (study_id);

-- with what links are signed, and how a teacher signs in
CREATE TABLE signing_key (
    id serial PRIMARY KEY,
    key text NOT NULL
);
ALTER TABLE teacher ADD COLUMN password_hash text;
