-- What a column for all bodies was when 0009 was the latest migration: one of a sheet of its own kind.
INSERT INTO sheet (study_id, footage_id, kind, name, rows) VALUES (1, 1, 'bodies', 'sled.mp4', 0);
INSERT INTO sheet (study_id, kind, name, rows) VALUES (1, 'typed', 'weights', 0);
INSERT INTO sheet_column (study_id, sheet_id, place, name, symbol, unit, formula, digits, digits_as, blocks, highlighted) VALUES
    (1, 2, 0, 'load', 'load', 'g', NULL, NULL, NULL, '{}', false),
    (1, 1, 0, 'twice', 'dd', 'm', '2*x', 2, 'significant', '{}', true);
UPDATE graph SET ys = '{c2}' WHERE study_id = 1;
INSERT INTO finding (study_id, name, column_id, as_size) VALUES (1, 'mean of twice', 2, false);
INSERT INTO edit (study_id, seq, student_id, person_name, kind, label, payload, changes, touched, based_on, standing, token) VALUES
    (1, 4, 1, 'Ottilie', 'add_column', 'column “gone”', '{}',
     '[{"table": "sheet", "before": null, "after": {"id": 1, "study": 1, "footage": 1, "kind": "bodies", "name": "sled.mp4", "rows": 0}},
       {"table": "sheet_column", "before": null, "after": {"id": 3, "study": 1, "sheet": 1, "place": 0, "name": "gone", "symbol": "gone", "unit": "", "formula": "x", "digits": null, "digits_as": null, "uncertainty": null, "scatter": null, "seed": null, "blocks": [], "highlighted": false}}]',
     '{sheet:1,study:1.by.sheet:1,footage:1.by.sheet:1,sheet_column:3,sheet:1.by.sheet_column:3}', 3, false, 'token-four'),
    (1, 5, 1, 'Ottilie', 'remove_column', 'removing a column', '{}',
     '[{"table": "sheet_column", "after": null, "before": {"id": 3, "study": 1, "sheet": 1, "place": 0, "name": "gone", "symbol": "gone", "unit": "", "formula": "x", "digits": null, "digits_as": null, "uncertainty": null, "scatter": null, "seed": null, "blocks": [], "highlighted": false}}]',
     '{sheet_column:3,sheet:1.by.sheet_column:3}', 4, true, 'token-five'),
    (1, 6, 1, 'Ottilie', 'change_column', 'column “twice”', '{}',
     '[{"table": "sheet_column", "before": {"id": 2, "name": "double"}, "after": {"id": 2, "name": "twice"}}]',
     '{sheet_column:2.name}', 5, true, 'token-six');
UPDATE study SET seq = 6 WHERE id = 1;
SELECT setval('sheet_column_id_seq', 3);
