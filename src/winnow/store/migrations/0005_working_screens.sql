-- How the first pass is done: "" not chosen yet, "pick_in", "weed_out".
ALTER TABLE shoot ADD COLUMN way TEXT NOT NULL DEFAULT '' CHECK (way IN ('', 'pick_in', 'weed_out'));

-- Quarter turns to the right that the person gave a frame on screen; its file is not changed.
ALTER TABLE frame ADD COLUMN turned INTEGER NOT NULL DEFAULT 0 CHECK (turned BETWEEN 0 AND 3);

CREATE TABLE saved_filter (
    name TEXT PRIMARY KEY,
    filter TEXT NOT NULL              -- JSON
);

-- Whole sets under a name, to be used again: label sets and key sets, as JSON.
CREATE TABLE saved_set (
    kind TEXT NOT NULL CHECK (kind IN ('labels', 'keys')),
    name TEXT NOT NULL,
    content TEXT NOT NULL,
    PRIMARY KEY (kind, name)
) WITHOUT ROWID;

-- The blur of a frame's sharpest part, in px at 100 %; NULL until it is measured.
ALTER TABLE frame ADD COLUMN blur_px REAL;
