-- Of the faces that count: how many smile, and of how many it can be told where they look.
ALTER TABLE frame ADD COLUMN smiles INTEGER NOT NULL DEFAULT 0;
ALTER TABLE frame ADD COLUMN gazes INTEGER NOT NULL DEFAULT 0;
