-- Whether the file says when it was taken. Where it doesn't, the time of its last change stands in, for the order alone.
ALTER TABLE frame ADD COLUMN dated INTEGER NOT NULL DEFAULT 1;
