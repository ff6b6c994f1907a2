CREATE TABLE shoot (
    id INTEGER PRIMARY KEY,
    name TEXT NOT NULL,
    made_at REAL NOT NULL,            -- seconds since 1970, UTC
    opened_at REAL NOT NULL,
    filter TEXT NOT NULL DEFAULT '{}' -- the last one, as JSON
);

CREATE TABLE folder (
    id INTEGER PRIMARY KEY,
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    path TEXT NOT NULL,
    notice TEXT NOT NULL DEFAULT '',  -- why it can't be read now, in words
    others TEXT NOT NULL DEFAULT '{}',-- the other files: number by ending, as JSON
    UNIQUE (shoot_id, path)
);

-- One exposure. state: 0 found, 1 facts read, 2 done, 3 failed. picture: 0 none yet, 1 the camera's
-- own thumbnail, 2 thumbnail and preview.
CREATE TABLE frame (
    id INTEGER PRIMARY KEY,
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    folder_id INTEGER NOT NULL REFERENCES folder(id) ON DELETE CASCADE,
    path BLOB NOT NULL,               -- of the shown file, relative to the folder, as the disk has it
    name TEXT NOT NULL,               -- the same file's stem, to show
    kind TEXT NOT NULL,
    files TEXT NOT NULL,              -- how the frame's files look on disk, to notice changes
    state INTEGER NOT NULL DEFAULT 0,
    picture INTEGER NOT NULL DEFAULT 0,
    missing INTEGER NOT NULL DEFAULT 0,
    notice TEXT NOT NULL DEFAULT '',
    key TEXT,                         -- names the content of the shown file in the picture cache
    position INTEGER NOT NULL DEFAULT 0,
    taken_at REAL,                    -- seconds, the camera's own clock
    utc_offset_min INTEGER,
    camera TEXT,
    lens TEXT,
    focal_mm REAL,
    aperture REAL,
    shutter_s REAL,
    iso INTEGER,
    flash INTEGER,
    orientation INTEGER NOT NULL DEFAULT 1,
    width INTEGER,                    -- px, upright
    height INTEGER,
    likeness BLOB,
    clipped_high REAL,
    clipped_low REAL,
    brightness_ev REAL,
    UNIQUE (folder_id, path)
);
CREATE INDEX frame_in_order ON frame (shoot_id, position);

-- A frame's files beyond the shown one, and its sidecars.
CREATE TABLE companion (
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    path BLOB NOT NULL,
    is_sidecar INTEGER NOT NULL,
    look TEXT NOT NULL,               -- size and time of last change, as on disk
    read_look TEXT NOT NULL DEFAULT '', -- the same when Winnow last read or wrote it
    PRIMARY KEY (frame_id, path)
) WITHOUT ROWID;

-- Narrow, so that thousands of marks are one short write.
CREATE TABLE mark (
    frame_id INTEGER PRIMARY KEY REFERENCES frame(id) ON DELETE CASCADE,
    decision TEXT NOT NULL DEFAULT 'undecided',
    stars INTEGER NOT NULL DEFAULT 0 CHECK (stars BETWEEN 0 AND 5),
    label TEXT
);

-- The mark that the frame's sidecar and Winnow last agreed on.
CREATE TABLE agreed (
    frame_id INTEGER PRIMARY KEY REFERENCES frame(id) ON DELETE CASCADE,
    decision TEXT NOT NULL,
    stars INTEGER NOT NULL,
    label TEXT
);

-- The history. Steps that were undone stay until the next change, to be redone.
CREATE TABLE change (
    id INTEGER PRIMARY KEY AUTOINCREMENT,
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    made_at REAL NOT NULL,
    sentence TEXT NOT NULL,
    undone INTEGER NOT NULL DEFAULT 0
);
CREATE INDEX change_of_shoot ON change (shoot_id, id);

CREATE TABLE change_step (
    change_id INTEGER NOT NULL REFERENCES change(id) ON DELETE CASCADE,
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    decision_before TEXT NOT NULL,
    stars_before INTEGER NOT NULL,
    label_before TEXT,
    decision_after TEXT NOT NULL,
    stars_after INTEGER NOT NULL,
    label_after TEXT,
    PRIMARY KEY (change_id, frame_id)
) WITHOUT ROWID;
CREATE INDEX change_step_of_frame ON change_step (frame_id);

CREATE TABLE label (
    letter TEXT PRIMARY KEY,
    position INTEGER NOT NULL,
    name TEXT NOT NULL,
    meaning TEXT NOT NULL,
    shape TEXT NOT NULL,
    colour TEXT NOT NULL,
    written_as TEXT NOT NULL
);

CREATE TABLE setting (
    name TEXT PRIMARY KEY,
    value TEXT NOT NULL               -- JSON
);

-- A delivery is its own journal: what is to be copied where is written before the first copy.
-- state: planned, running, stopped, done.
CREATE TABLE delivery (
    id INTEGER PRIMARY KEY,
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    target TEXT NOT NULL,
    made_at REAL NOT NULL,
    ended_at REAL,
    state TEXT NOT NULL,
    notice TEXT NOT NULL DEFAULT ''
);

-- kind: copy, sidecar. state: planned, done, there (an equal file was there already), failed.
CREATE TABLE delivery_item (
    delivery_id INTEGER NOT NULL REFERENCES delivery(id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    frame_id INTEGER NOT NULL,
    kind TEXT NOT NULL,
    source BLOB NOT NULL,             -- absolute
    name BLOB NOT NULL,               -- in the target folder
    size INTEGER NOT NULL,
    state TEXT NOT NULL DEFAULT 'planned',
    hash TEXT,
    notice TEXT NOT NULL DEFAULT '',
    PRIMARY KEY (delivery_id, number)
) WITHOUT ROWID;
