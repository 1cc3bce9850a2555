-- teachers of a class: whoever made it, and those who were invited
CREATE TABLE co_teacher (
    id serial PRIMARY KEY,
    school_class_id integer NOT NULL REFERENCES school_class ON DELETE CASCADE,
    teacher_id integer NOT NULL REFERENCES teacher ON DELETE CASCADE,
    UNIQUE (school_class_id, teacher_id)
);
CREATE INDEX ON co_teacher (teacher_id);
CREATE VIEW teaches AS
    SELECT id AS school_class_id, teacher_id FROM school_class
    UNION ALL SELECT school_class_id, teacher_id FROM co_teacher;

-- by which an account is made, once; without a teacher who invites it is that of the first start
CREATE TABLE invitation (
    id serial PRIMARY KEY,
    token_hash text NOT NULL UNIQUE,
    teacher_id integer REFERENCES teacher ON DELETE CASCADE,
    school_class_id integer REFERENCES school_class ON DELETE CASCADE,
    expires timestamptz NOT NULL,
    used_at timestamptz
);

-- students belong to a class, and to a group of it or to none
ALTER TABLE student ADD COLUMN school_class_id integer REFERENCES school_class;
UPDATE student SET school_class_id = student_group.school_class_id
    FROM student_group WHERE student_group.id = student.group_id;
ALTER TABLE student ALTER COLUMN school_class_id SET NOT NULL, ALTER COLUMN group_id DROP NOT NULL;
ALTER TABLE student ADD COLUMN secret_hash text;
ALTER TABLE student ADD COLUMN secret_kind text CHECK (secret_kind IN ('pin', 'pictures'));
ALTER TABLE student ADD COLUMN joined_at timestamptz;
CREATE INDEX ON student (school_class_id);
CREATE INDEX ON student (group_id);
CREATE UNIQUE INDEX student_name ON student (school_class_id, lower(name));
ALTER TABLE student_group ADD COLUMN dissolved_at timestamptz;
ALTER TABLE student_group ADD COLUMN hand_at timestamptz;
CREATE INDEX ON student_group (school_class_id);

-- who worked on a study, whatever group they are in later
CREATE TABLE study_member (
    study_id integer NOT NULL REFERENCES study ON DELETE CASCADE,
    student_id integer NOT NULL REFERENCES student ON DELETE CASCADE,
    PRIMARY KEY (study_id, student_id)
);
CREATE INDEX ON study_member (student_id);
INSERT INTO study_member
    SELECT DISTINCT study_id, student_id FROM edit WHERE student_id IS NOT NULL
    UNION SELECT study_id, student_id FROM study_place WHERE student_id IS NOT NULL;

-- a removed student's deeds stay, without the student
ALTER TABLE edit DROP CONSTRAINT edit_student_id_fkey,
    ADD FOREIGN KEY (student_id) REFERENCES student ON DELETE SET NULL;
ALTER TABLE sign_in DROP CONSTRAINT sign_in_student_id_fkey,
    ADD FOREIGN KEY (student_id) REFERENCES student ON DELETE CASCADE;
ALTER TABLE phone_link DROP CONSTRAINT phone_link_student_id_fkey,
    ADD FOREIGN KEY (student_id) REFERENCES student ON DELETE SET NULL;
ALTER TABLE upload DROP CONSTRAINT upload_student_id_fkey,
    ADD FOREIGN KEY (student_id) REFERENCES student ON DELETE SET NULL;
ALTER TABLE follow DROP CONSTRAINT follow_student_id_fkey,
    ADD FOREIGN KEY (student_id) REFERENCES student ON DELETE SET NULL;

-- how a class is joined, and what it sees
ALTER TABLE school_class ADD COLUMN joining boolean NOT NULL DEFAULT true;
ALTER TABLE school_class ADD COLUMN joining_until timestamptz;
ALTER TABLE school_class ADD COLUMN own_groups boolean NOT NULL DEFAULT true;
ALTER TABLE school_class ADD COLUMN hides_names boolean NOT NULL DEFAULT false;
ALTER TABLE school_class ADD COLUMN shown_study_id integer REFERENCES study ON DELETE SET NULL;

-- what a lab gives and asks for
ALTER TABLE lab ADD COLUMN instructions text NOT NULL DEFAULT '';
ALTER TABLE lab ADD COLUMN due timestamptz;
ALTER TABLE lab ADD COLUMN follows boolean NOT NULL DEFAULT true;
ALTER TABLE lab ADD COLUMN sketch_first boolean NOT NULL DEFAULT false;
ALTER TABLE lab ADD COLUMN start_id integer REFERENCES study ON DELETE SET NULL;
ALTER TABLE lab ADD COLUMN removed_at timestamptz;
CREATE INDEX ON lab (school_class_id);
CREATE TABLE lab_finding (
    id serial PRIMARY KEY,
    lab_id integer NOT NULL REFERENCES lab ON DELETE CASCADE,
    name text NOT NULL,
    quantity text NOT NULL DEFAULT '',
    unit text NOT NULL DEFAULT '',
    accepted text,
    tolerance text,
    shown boolean NOT NULL DEFAULT true
);
CREATE INDEX ON lab_finding (lab_id);
CREATE TABLE lab_question (
    id serial PRIMARY KEY,
    lab_id integer NOT NULL REFERENCES lab ON DELETE CASCADE,
    words text NOT NULL,
    removed_at timestamptz
);
CREATE INDEX ON lab_question (lab_id);
CREATE TABLE answer (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study,
    question_id integer NOT NULL REFERENCES lab_question,
    words text NOT NULL
);
CREATE UNIQUE INDEX ON answer (study_id, question_id);
CREATE INDEX ON study (lab_id);
CREATE INDEX ON study (group_id);

-- a name is free again when the group of yesterday that had it is no more
ALTER TABLE student_group DROP CONSTRAINT student_group_school_class_id_name_key;
CREATE UNIQUE INDEX student_group_name ON student_group (school_class_id, name)
    WHERE dissolved_at IS NULL;
