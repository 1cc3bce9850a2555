CREATE TABLE teacher (
    id serial PRIMARY KEY,
    name text NOT NULL
);
CREATE TABLE school_class (
    id serial PRIMARY KEY,
    teacher_id integer NOT NULL REFERENCES teacher,
    name text NOT NULL,
    code varchar(255) NOT NULL UNIQUE
);
CREATE TABLE student_group (
    id serial PRIMARY KEY,
    school_class_id integer NOT NULL REFERENCES school_class,
    name text NOT NULL,
    UNIQUE (school_class_id, name)
);
CREATE TABLE student (
    id serial PRIMARY KEY,
    group_id integer NOT NULL REFERENCES student_group,
    name text NOT NULL
);
CREATE TABLE lab (
    id serial PRIMARY KEY,
    school_class_id integer NOT NULL REFERENCES school_class,
    title text NOT NULL,
    task text NOT NULL
);
CREATE TABLE sign_in (
    token_hash varchar(255) PRIMARY KEY,
    teacher_id integer REFERENCES teacher,
    student_id integer REFERENCES student,
    expires timestamptz NOT NULL,
    CHECK (num_nonnulls(teacher_id, student_id) = 1)
);
CREATE TABLE study (
    id serial PRIMARY KEY,
    school_class_id integer NOT NULL REFERENCES school_class,
    lab_id integer REFERENCES lab,
    group_id integer REFERENCES student_group,
    title text NOT NULL,
    seq integer NOT NULL
);
CREATE TABLE media (
    content varchar(255) PRIMARY KEY,
    size bigint NOT NULL,
    frames integer NOT NULL CHECK (frames > 0),
    width integer NOT NULL,
    height integer NOT NULL,
    index jsonb NOT NULL
);
CREATE TABLE edit (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    seq integer NOT NULL,
    teacher_id integer REFERENCES teacher,
    student_id integer REFERENCES student,
    person_name text NOT NULL,
    kind text NOT NULL,
    label text NOT NULL,
    payload jsonb NOT NULL,
    changes jsonb NOT NULL,
    touched text[] NOT NULL,
    based_on integer NOT NULL,
    target integer,
    standing boolean NOT NULL,
    token text NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    UNIQUE (study_id, seq),
    UNIQUE (study_id, token)
);
CREATE TABLE footage (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    content varchar(255) NOT NULL REFERENCES media,
    name text NOT NULL,
    first integer NOT NULL,
    last integer NOT NULL CHECK (last >= first),
    stride integer NOT NULL CHECK (stride > 0)
);
CREATE TABLE ground (
    footage_id integer PRIMARY KEY REFERENCES footage,
    study_id integer NOT NULL REFERENCES study,
    zero_x double precision NOT NULL,
    zero_y double precision NOT NULL,
    zero_placed boolean NOT NULL,
    angle double precision NOT NULL,
    flip_x boolean NOT NULL,
    flip_y boolean NOT NULL,
    zero_frame integer NOT NULL,
    pixel_uncertainty double precision NOT NULL CHECK (pixel_uncertainty > 0)
);
CREATE TABLE known_length (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    footage_id integer NOT NULL REFERENCES footage,
    frame integer NOT NULL,
    start_x double precision NOT NULL,
    start_y double precision NOT NULL,
    end_x double precision NOT NULL,
    end_y double precision NOT NULL,
    typed text,
    unit text
);
CREATE TABLE body (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    footage_id integer NOT NULL REFERENCES footage,
    name text NOT NULL,
    look integer NOT NULL,
    mass text,
    mass_unit text
);
CREATE TABLE mark (
    body_id integer NOT NULL REFERENCES body,
    frame integer NOT NULL,
    study_id integer NOT NULL REFERENCES study,
    x double precision NOT NULL,
    y double precision NOT NULL,
    PRIMARY KEY (body_id, frame)
);
CREATE TABLE passage (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    footage_id integer NOT NULL REFERENCES footage,
    name text NOT NULL,
    first double precision NOT NULL,
    last double precision NOT NULL CHECK (last > first)
);
CREATE TABLE graph (
    study_id integer PRIMARY KEY REFERENCES study,
    x text NOT NULL,
    y text NOT NULL,
    include_zero boolean NOT NULL
);
CREATE TABLE fit (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    body_id integer NOT NULL REFERENCES body,
    passage_id integer REFERENCES passage,
    x text NOT NULL,
    y text NOT NULL,
    curve text NOT NULL
);
CREATE TABLE finding (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    fit_id integer NOT NULL REFERENCES fit,
    reading text NOT NULL,
    name text NOT NULL,
    as_size boolean NOT NULL,
    accepted text,
    accepted_uncertainty text
);

CREATE INDEX ON school_class (teacher_id);
CREATE INDEX ON study (school_class_id);
CREATE INDEX ON footage (study_id);
CREATE INDEX ON known_length (study_id);
CREATE INDEX ON body (study_id);
CREATE INDEX ON mark (study_id);
CREATE INDEX ON passage (study_id);
CREATE INDEX ON fit (study_id);
CREATE INDEX ON finding (study_id);
