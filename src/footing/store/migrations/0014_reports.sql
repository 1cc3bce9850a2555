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

-- a copy of a study as it was handed in; nobody changes it, in whatever way they ask
ALTER TABLE study ADD COLUMN frozen_from_id integer REFERENCES study;
CREATE INDEX ON study (frozen_from_id);
CREATE FUNCTION refuse_change_of_frozen() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    RAISE EXCEPTION 'what was handed in does not change';
END $$;
CREATE FUNCTION refuse_edit_of_frozen() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
    IF NEW.seq > 1 AND EXISTS (
        SELECT FROM study WHERE id = NEW.study_id AND frozen_from_id IS NOT NULL
    ) THEN
        RAISE EXCEPTION 'what was handed in does not change';
    END IF;
    RETURN NEW;
END $$;
CREATE TRIGGER frozen BEFORE INSERT ON edit FOR EACH ROW EXECUTE FUNCTION refuse_edit_of_frozen();

CREATE TABLE hand_in (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study ON DELETE CASCADE,
    copy_id integer NOT NULL UNIQUE REFERENCES study ON DELETE CASCADE,
    number integer NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    teacher_id integer REFERENCES teacher ON DELETE SET NULL,
    student_id integer REFERENCES student ON DELETE SET NULL,
    person_name text NOT NULL,
    names text[] NOT NULL DEFAULT '{}',
    title text NOT NULL,
    late boolean NOT NULL DEFAULT false,
    version text NOT NULL,
    blocks jsonb NOT NULL DEFAULT '[]',
    numbers jsonb NOT NULL DEFAULT '[]',
    returned_at timestamptz,
    returned_by text NOT NULL DEFAULT '',
    again boolean NOT NULL DEFAULT false,
    points jsonb NOT NULL DEFAULT '{}',
    grade text NOT NULL DEFAULT '',
    words text NOT NULL DEFAULT '',
    UNIQUE (study_id, number)
);
CREATE TRIGGER frozen BEFORE UPDATE ON hand_in FOR EACH ROW
    WHEN ((OLD.study_id, OLD.copy_id, OLD.number, OLD.made_at, OLD.late, OLD.version, OLD.title)
        IS DISTINCT FROM
        (NEW.study_id, NEW.copy_id, NEW.number, NEW.made_at, NEW.late, NEW.version, NEW.title)
        OR OLD.blocks IS DISTINCT FROM NEW.blocks OR OLD.numbers IS DISTINCT FROM NEW.numbers)
    EXECUTE FUNCTION refuse_change_of_frozen();
CREATE TABLE comment (
    id serial PRIMARY KEY,
    hand_in_id integer NOT NULL REFERENCES hand_in ON DELETE CASCADE,
    answers_id integer REFERENCES comment ON DELETE CASCADE,
    about text NOT NULL DEFAULT '',
    quote text NOT NULL DEFAULT '',
    words text NOT NULL,
    teacher_id integer REFERENCES teacher ON DELETE SET NULL,
    student_id integer REFERENCES student ON DELETE SET NULL,
    person_name text NOT NULL,
    made_at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX ON comment (hand_in_id);
CREATE INDEX ON comment (teacher_id);
CREATE TABLE criterion (
    id serial PRIMARY KEY,
    lab_id integer NOT NULL REFERENCES lab ON DELETE CASCADE,
    name text NOT NULL,
    most double precision NOT NULL
);
CREATE INDEX ON criterion (lab_id);

-- links by which a study can be looked at
CREATE TABLE study_link (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study ON DELETE CASCADE,
    teacher_id integer REFERENCES teacher ON DELETE SET NULL,
    student_id integer REFERENCES student ON DELETE SET NULL,
    made_at timestamptz NOT NULL DEFAULT now(),
    closed_at timestamptz
);
CREATE INDEX ON study_link (study_id);
ALTER TABLE sign_in ADD COLUMN study_link_id integer REFERENCES study_link ON DELETE CASCADE;
ALTER TABLE sign_in DROP CONSTRAINT sign_in_check,
    ADD CHECK (num_nonnulls(teacher_id, student_id, study_link_id) = 1);

-- a student who is removed leaves links and uploads without a person
ALTER TABLE phone_link DROP CONSTRAINT phone_link_check,
    ADD CHECK (num_nonnulls(teacher_id, student_id) <= 1);
ALTER TABLE upload DROP CONSTRAINT upload_check,
    ADD CHECK (num_nonnulls(teacher_id, student_id) <= 1);
