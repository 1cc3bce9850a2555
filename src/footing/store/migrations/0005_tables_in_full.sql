-- which cells of a block are no numbers, as [place, text]; NULL for blocks nobody looked through yet
ALTER TABLE cells ADD COLUMN wrong jsonb;

-- why a mark was set aside
ALTER TABLE mark ADD COLUMN reason text;

-- digits of measured columns, chosen for a source
ALTER TABLE footage ADD COLUMN digits jsonb NOT NULL DEFAULT '{}';

-- own axis titles, a curve that was sketched before the data were shown, the legend
ALTER TABLE graph ADD COLUMN x_title text;
ALTER TABLE graph ADD COLUMN y_title text;
ALTER TABLE graph ADD COLUMN sketch jsonb NOT NULL DEFAULT '{}';
ALTER TABLE graph ADD COLUMN legend boolean NOT NULL DEFAULT true;

-- colour of a fit, and where its result box is
ALTER TABLE fit ADD COLUMN colour text;
ALTER TABLE fit ADD COLUMN box jsonb;
