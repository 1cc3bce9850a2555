-- columns that are computed for every body of a footage are no sheet; keys stay as they were, and no
-- key is that of two columns
CREATE TABLE body_column (
    id integer PRIMARY KEY DEFAULT nextval('sheet_column_id_seq'),
    study_id integer NOT NULL REFERENCES study,
    footage_id integer NOT NULL REFERENCES footage,
    place integer NOT NULL,
    name text NOT NULL,
    symbol text NOT NULL,
    unit text NOT NULL,
    formula text,
    digits integer,
    digits_as text CHECK (digits_as IN ('decimals', 'significant')),
    scatter text,
    seed integer,
    highlighted boolean NOT NULL DEFAULT false
);
CREATE INDEX ON body_column (study_id);
CREATE INDEX ON body_column (footage_id);

-- every such sheet that there is or was, with its footage
CREATE TEMPORARY TABLE of_bodies ON COMMIT DROP AS
    SELECT id, footage_id FROM sheet WHERE kind = 'bodies'
    UNION
    SELECT (row->>'id')::integer, (row->>'footage')::integer
        FROM edit, jsonb_array_elements(changes) AS change,
            coalesce(nullif(change->'after', 'null'), change->'before') AS row
        WHERE change->>'table' = 'sheet' AND row->>'kind' = 'bodies';
CREATE TEMPORARY TABLE moved ON COMMIT DROP AS
    SELECT sheet_column.id, of_bodies.footage_id
        FROM sheet_column JOIN of_bodies ON of_bodies.id = sheet_column.sheet_id
    UNION
    SELECT (row->>'id')::integer, of_bodies.footage_id
        FROM edit, jsonb_array_elements(changes) AS change,
            coalesce(nullif(change->'after', 'null'), change->'before') AS row, of_bodies
        WHERE change->>'table' = 'sheet_column' AND (row->>'sheet')::integer = of_bodies.id;

INSERT INTO body_column (id, study_id, footage_id, place, name, symbol, unit, formula, digits,
        digits_as, scatter, seed, highlighted)
    SELECT id, study_id, moved.footage_id, place, name, symbol, unit, formula, digits,
        digits_as, scatter, seed, highlighted
    FROM sheet_column JOIN moved USING (id);
-- a mean of such a column was none of any body, and never had a value
UPDATE finding SET other_id = NULL WHERE other_id IN
    (SELECT id FROM finding WHERE column_id IN (SELECT id FROM moved));
DELETE FROM finding WHERE column_id IN (SELECT id FROM moved);
DELETE FROM sheet_column WHERE id IN (SELECT id FROM moved);
DELETE FROM sheet WHERE kind = 'bodies';

-- the history says it as it is kept now, so that edits from before can still be taken back
UPDATE edit SET changes = coalesce(
    (
        SELECT jsonb_agg(
            CASE WHEN moved.id IS NULL THEN change ELSE jsonb_build_object(
                'table', 'body_column',
                'before', CASE WHEN change->'before' = 'null' THEN 'null' ELSE
                    (change->'before') - '{sheet,uncertainty,blocks}'::text[]
                    || jsonb_build_object('footage', moved.footage_id) END,
                'after', CASE WHEN change->'after' = 'null' THEN 'null' ELSE
                    (change->'after') - '{sheet,uncertainty,blocks}'::text[]
                    || jsonb_build_object('footage', moved.footage_id) END
            ) END
            ORDER BY place
        )
        FROM jsonb_array_elements(changes) WITH ORDINALITY AS made (change, place)
        CROSS JOIN LATERAL (
            SELECT (coalesce(nullif(change->'after', 'null'), change->'before')->>'id')::integer
        ) AS row (id)
        LEFT JOIN moved ON change->>'table' = 'sheet_column' AND moved.id = row.id
        LEFT JOIN of_bodies ON change->>'table' = 'sheet' AND of_bodies.id = row.id
        WHERE of_bodies.id IS NULL
    ), '[]'),
    touched = ARRAY(
        SELECT DISTINCT regexp_replace(
            CASE WHEN of_bodies.id IS NULL THEN name
                ELSE regexp_replace(name, '^sheet:\d+', 'footage:' || of_bodies.footage_id) END,
            '\msheet_column:' || coalesce(moved.id, 0) || '\M', 'body_column:' || coalesce(moved.id, 0)
        )
        FROM unnest(touched) AS name
        LEFT JOIN of_bodies ON name ~ ('^sheet:' || of_bodies.id || '\.')
        LEFT JOIN moved ON name ~ ('\msheet_column:' || moved.id || '\M')
        WHERE name NOT IN (SELECT 'sheet:' || id FROM of_bodies)
    )
    WHERE changes @> '[{"table": "sheet"}]' OR changes @> '[{"table": "sheet_column"}]';

DROP INDEX sheet_footage_id_idx;
ALTER TABLE sheet DROP CONSTRAINT sheet_kind_check;
ALTER TABLE sheet ADD CHECK (kind IN ('typed', 'eye'));
