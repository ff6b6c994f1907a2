-- Where names that count go on: behind those that were given last.
ALTER TABLE shoot ADD COLUMN seq_next INTEGER NOT NULL DEFAULT 1;
