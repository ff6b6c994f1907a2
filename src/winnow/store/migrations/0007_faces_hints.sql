-- Which code looked for the faces of a frame: "" where none did yet; and how many of them count.
ALTER TABLE frame ADD COLUMN face_version TEXT NOT NULL DEFAULT '';
ALTER TABLE frame ADD COLUMN faces INTEGER;
-- Blur at the part that matters, px at 100 %, once the frame was judged.
ALTER TABLE frame ADD COLUMN matters_px REAL;

-- The faces themselves, as core.faces packs them.
CREATE TABLE face_list (
    frame_id INTEGER PRIMARY KEY REFERENCES frame(id) ON DELETE CASCADE,
    faces TEXT NOT NULL
);

-- A frame beside the others of its group, as core.judging judged it (JSON). group_key names the frames that
-- were compared, and all that this was made from.
CREATE TABLE judged (
    frame_id INTEGER PRIMARY KEY REFERENCES frame(id) ON DELETE CASCADE,
    group_key TEXT NOT NULL,
    judged TEXT NOT NULL
);

-- What was noticed: a figure for each kind, and the reason. Whether a frame is named depends on the threshold.
CREATE TABLE hint (
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    kind TEXT NOT NULL,
    figure REAL NOT NULL,
    words TEXT NOT NULL,
    PRIMARY KEY (frame_id, kind)
) WITHOUT ROWID;

-- Thresholds that the person moved in a shoot.
CREATE TABLE hint_threshold (
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    kind TEXT NOT NULL,
    threshold REAL NOT NULL,
    PRIMARY KEY (shoot_id, kind)
) WITHOUT ROWID;

-- Whether something that hints are made from changed since they were made.
ALTER TABLE shoot ADD COLUMN hints_stale INTEGER NOT NULL DEFAULT 1;

-- The kinds of hint by which a change was made in bulk, with commas between them; "" for all others.
ALTER TABLE change ADD COLUMN by_hints TEXT NOT NULL DEFAULT '';
