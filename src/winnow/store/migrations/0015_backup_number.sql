-- How many backups were made of this database: which of two copies is the later one, whatever the clock said.
CREATE TABLE backup_number (number INTEGER NOT NULL);
INSERT INTO backup_number VALUES (0);
