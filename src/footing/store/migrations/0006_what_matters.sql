-- columns and results that somebody wants others to see first; measured columns by their keys
ALTER TABLE sheet_column ADD COLUMN highlighted boolean NOT NULL DEFAULT false;
ALTER TABLE finding ADD COLUMN highlighted boolean NOT NULL DEFAULT false;
ALTER TABLE footage ADD COLUMN highlighted jsonb NOT NULL DEFAULT '[]';
