-- The exposure program, as Exif names it.
ALTER TABLE frame ADD COLUMN program TEXT;
