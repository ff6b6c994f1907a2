-- How sharp a frame is against its group, at the part that matters: NULL until it is judged. With it, matters_px is NULL where
-- there is no edge to measure. times: its blur by that of the sharpest; tied: with how many others it can't be told apart.
ALTER TABLE frame ADD COLUMN standing TEXT;
ALTER TABLE frame ADD COLUMN times REAL;
ALTER TABLE frame ADD COLUMN tied INTEGER;
-- The levels of its light: see core.measure.exposure.
ALTER TABLE frame ADD COLUMN levels TEXT;
-- How it stands in its group: place from 1, the same for those that are tied; best, usable: 0 or 1; words: the reasons.
CREATE TABLE verdict (
    frame_id INTEGER PRIMARY KEY REFERENCES frame(id) ON DELETE CASCADE,
    place INTEGER NOT NULL,
    among INTEGER NOT NULL,
    best INTEGER NOT NULL,
    usable INTEGER NOT NULL,
    words TEXT NOT NULL
);
-- Which version of the rules hints and verdicts are from.
ALTER TABLE shoot ADD COLUMN hints_version TEXT NOT NULL DEFAULT '';
