-- which cells of a block are no numbers, as [place, text]; NULL for blocks nobody looked through yet
ALTER TABLE cells ADD COLUMN wrong jsonb;
