-- How loosely frames are taken together, 0…1: where the person left the slider.
ALTER TABLE shoot ADD COLUMN looseness REAL NOT NULL DEFAULT 0.5 CHECK (looseness BETWEEN 0 AND 1);

-- The number of a frame's group, from 0. Frames are listed group by group: one that was moved to
-- another group by hand stands there.
ALTER TABLE frame ADD COLUMN group_no INTEGER NOT NULL DEFAULT 0;
DROP INDEX frame_in_order;
CREATE INDEX frame_in_order ON frame (shoot_id, group_no, position);

-- What the person said of groups by hand. split: frame_id begins a group. join: frame_id and other_id,
-- and what is between them, are one group. move: frame_id is in the group of other_id, or alone where
-- that is the frame itself. Of a split other_id is the frame itself, too.
CREATE TABLE group_edit (
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    kind TEXT NOT NULL CHECK (kind IN ('split', 'join', 'move')),
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    other_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    PRIMARY KEY (shoot_id, kind, frame_id, other_id)
) WITHOUT ROWID;
CREATE INDEX group_edit_of_frame ON group_edit (frame_id);
CREATE INDEX group_edit_of_other ON group_edit (other_id);

-- A step of the history can change groups: the edits it put in and took out, as JSON.
ALTER TABLE change ADD COLUMN group_edits TEXT NOT NULL DEFAULT '';
