-- Databases that had 0002, 0003 or 0004 before these were changed lack what was added to them then.
ALTER TABLE mark ADD COLUMN IF NOT EXISTS aside boolean NOT NULL DEFAULT false;
ALTER TABLE graph ADD COLUMN IF NOT EXISTS others jsonb NOT NULL DEFAULT '[]';
ALTER TABLE ground ALTER COLUMN quarter SET DEFAULT 0, ALTER COLUMN mirror SET DEFAULT false,
    ALTER COLUMN up SET DEFAULT pi() / 2, ALTER COLUMN clock SET DEFAULT 'file';
ALTER TABLE known_length ALTER COLUMN hidden SET DEFAULT false;
ALTER TABLE body ALTER COLUMN background SET DEFAULT false;

-- a session also ends when nobody uses it
ALTER TABLE sign_in ADD COLUMN used_at timestamptz NOT NULL DEFAULT now();

-- sign-ins that failed, by which guessing is slowed down in all processes together
CREATE TABLE failed_sign_in (
    id bigserial PRIMARY KEY,
    name text NOT NULL,
    address text NOT NULL,
    at timestamptz NOT NULL DEFAULT now()
);
CREATE INDEX failed_sign_in_at ON failed_sign_in (at);

-- blocks of cells that nothing names are removed once they are old
ALTER TABLE cells ADD COLUMN made_at timestamptz NOT NULL DEFAULT now();
