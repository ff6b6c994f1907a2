-- How many frames the person means to keep of a shoot; NULL when not set.
ALTER TABLE shoot ADD COLUMN keep_target INTEGER CHECK (keep_target > 0);
