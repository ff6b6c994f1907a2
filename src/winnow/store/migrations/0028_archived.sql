-- A shoot that is done with is listed only on wish.
ALTER TABLE shoot ADD COLUMN archived INTEGER NOT NULL DEFAULT 0;
