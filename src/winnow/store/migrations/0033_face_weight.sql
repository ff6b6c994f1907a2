-- How much a face counts, as somebody said it: the one at a place of a frame, 0…1. everywhere: said for the whole shoot, of
-- somebody who is told apart there.
CREATE TABLE face_weight (
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    x REAL NOT NULL,
    y REAL NOT NULL,
    weight TEXT NOT NULL CHECK (weight IN ('most', 'none')),
    everywhere INTEGER NOT NULL DEFAULT 0,
    PRIMARY KEY (frame_id, x, y)
) WITHOUT ROWID;
