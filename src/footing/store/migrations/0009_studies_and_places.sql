-- studies know when they were begun, and are removed in two steps
ALTER TABLE study ADD COLUMN made_at timestamptz NOT NULL DEFAULT now();
ALTER TABLE study ADD COLUMN removed_at timestamptz;
UPDATE study SET made_at = first.at
    FROM (SELECT study_id, min(made_at) AS at FROM edit GROUP BY study_id) AS first
    WHERE first.study_id = study.id;

-- where somebody left a study off
CREATE TABLE study_place (
    id serial PRIMARY KEY,
    study_id integer NOT NULL REFERENCES study ON DELETE CASCADE,
    teacher_id integer REFERENCES teacher ON DELETE CASCADE,
    student_id integer REFERENCES student ON DELETE CASCADE,
    step text NOT NULL,
    source text,
    frame integer,
    body integer
);
CREATE UNIQUE INDEX study_place_of_teacher ON study_place (study_id, teacher_id)
    WHERE teacher_id IS NOT NULL;
CREATE UNIQUE INDEX study_place_of_student ON study_place (study_id, student_id)
    WHERE student_id IS NOT NULL;

-- how many digits the numbers of a fit are shown with; as the uncertainty has them if empty
ALTER TABLE fit ADD COLUMN digits integer;
