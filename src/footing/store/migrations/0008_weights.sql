-- the points of a fit may be weighed by uncertainties of their own
ALTER TABLE fit ADD COLUMN weights text NOT NULL DEFAULT 'equal'
    CHECK (weights IN ('equal', 'stated'));
