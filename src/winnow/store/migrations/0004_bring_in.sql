-- A bringing-in is its own journal: what is to be copied where is written before the first copy.
-- state: planned, running, stopped, done.
CREATE TABLE bringing (
    id INTEGER PRIMARY KEY,
    shoot_id INTEGER REFERENCES shoot(id) ON DELETE SET NULL,
    source TEXT NOT NULL,             -- the card's folder
    target TEXT NOT NULL,
    second TEXT NOT NULL,             -- where the second copies go; '' for none
    outside INTEGER NOT NULL,         -- files on the card that are not below DCIM
    made_at REAL NOT NULL,
    ended_at REAL,
    state TEXT NOT NULL,
    notice TEXT NOT NULL DEFAULT ''
);

-- state and second_state: planned, done, there (it was copied before), failed; '' where no second
-- copy is wanted.
CREATE TABLE bringing_item (
    bringing_id INTEGER NOT NULL REFERENCES bringing(id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    path BLOB NOT NULL,               -- on the card, relative to its folder
    size INTEGER NOT NULL,
    mtime_ns INTEGER NOT NULL,
    print TEXT NOT NULL,              -- names the content, by size and samples
    name BLOB NOT NULL,               -- relative to target and second place
    state TEXT NOT NULL,
    second_state TEXT NOT NULL,
    hash TEXT,                        -- BLAKE3, of what was read and of each copy read back
    notice TEXT NOT NULL DEFAULT '',
    PRIMARY KEY (bringing_id, number)
) WITHOUT ROWID;
CREATE INDEX bringing_item_by_print ON bringing_item (print);
