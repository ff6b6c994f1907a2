-- Files that were set aside, and the journal of that: each is written down before it is moved.
-- state: going (about to be moved there, or moved), held, coming (about to be brought back).
CREATE TABLE held_file (
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    source BLOB NOT NULL,             -- absolute: where it was, and comes back to
    place BLOB NOT NULL,              -- absolute: where it is held
    size INTEGER NOT NULL,
    state TEXT NOT NULL CHECK (state IN ('going', 'held', 'coming')),
    PRIMARY KEY (frame_id, source)
) WITHOUT ROWID;
