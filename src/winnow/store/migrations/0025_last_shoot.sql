-- The largest number that a shoot ever had: what is kept under the number of a forgotten shoot, here or in a browser, must not be
-- taken for that of a new one.
CREATE TABLE last_shoot (id INTEGER NOT NULL);
INSERT INTO last_shoot SELECT coalesce(max(id), 0) FROM shoot;
