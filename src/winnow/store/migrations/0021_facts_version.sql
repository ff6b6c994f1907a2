-- Which version of the readers the facts of a frame are from.
ALTER TABLE frame ADD COLUMN facts_version TEXT NOT NULL DEFAULT '';
