-- Whether the owner has looked at a frame: it was the active one for a moment, or large on the screen.
ALTER TABLE frame ADD COLUMN seen INTEGER NOT NULL DEFAULT 0;
