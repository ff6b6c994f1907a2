-- What the camera's own small picture looks like, known from the first look at a file: frames fall
-- into groups by it, before and after they are analysed. None where there is none, or where it
-- shows something else than the picture.
ALTER TABLE frame ADD COLUMN first_likeness BLOB;
