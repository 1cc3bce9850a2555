-- A small study as it was stored when 0003 was the latest migration.
INSERT INTO teacher (name) VALUES ('Ms Tarnwick');
INSERT INTO school_class (teacher_id, name, code) VALUES (1, '9K Physics', 'LARK-9K');
INSERT INTO student_group (school_class_id, name) VALUES (1, 'Heron');
INSERT INTO student (group_id, name) VALUES (1, 'Ottilie');
INSERT INTO study (school_class_id, group_id, title, seq) VALUES (1, 1, 'Sled run', 3);
INSERT INTO media (content, size, frames, width, height, kind, index) VALUES ('abc', 9, 4, 320, 180, 'video',
    '{"pts": [0, 1, 2, 3], "tick": 0.04, "keys": [0], "width": 320, "height": 180, "rotation": 0, "codec": "h264", "notes": [], "kind": "video", "capture_rate": null}');
INSERT INTO footage (study_id, content, name, first, last, stride) VALUES (1, 'abc', 'sled.mp4', 0, 3, 1);
INSERT INTO ground (footage_id, study_id, zero_x, zero_y, zero_placed, angle, flip_x, flip_y, zero_frame, pixel_uncertainty, quarter, mirror, up, clock)
    VALUES (1, 1, 0, 0, false, 0, false, false, 0, 0.5, 0, false, 1.5707963, 'file');
INSERT INTO body (study_id, footage_id, name, look, background) VALUES (1, 1, 'sled', 0, false);
INSERT INTO mark (body_id, frame, study_id, x, y) VALUES (1, 0, 1, 10, 20), (1, 1, 1, 14, 20), (1, 2, 1, 18, 20);
INSERT INTO graph (study_id, footage_id, x, y, include_zero) VALUES (1, 1, 't', 'x', false);
INSERT INTO edit (study_id, seq, student_id, person_name, kind, label, payload, changes, touched, based_on, standing, token) VALUES
    (1, 1, 1, 'Ottilie', 'set_graph', 'what the graph shows', '{}',
     '[{"table": "graph", "before": null, "after": {"footage": 1, "study": 1, "x": "t", "y": "x", "include_zero": false}}]',
     '{graph:1}', 0, true, 'token-one'),
    (1, 2, 1, 'Ottilie', 'remove_mark', 'removing the mark in frame 3', '{}',
     '[{"table": "mark", "before": {"body": 1, "frame": 3, "study": 1, "x": 22.0, "y": 20.0}, "after": null}]',
     '{mark:1/3}', 1, true, 'token-two'),
    (1, 3, 1, 'Ottilie', 'place_mark', 'mark in frame 2', '{}',
     '[{"table": "mark", "before": null, "after": {"body": 1, "frame": 2, "study": 1, "x": 18.0, "y": 20.0}}]',
     '{mark:1/2}', 2, true, 'token-three');
