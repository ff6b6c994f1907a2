-- Where no frame of a group shows everybody with open eyes: the frames that together do, ids as JSON.
ALTER TABLE verdict ADD COLUMN together TEXT NOT NULL DEFAULT '[]';

-- link: frame_id and other_id are parts of one picture that is put together later; that changes no group.
CREATE TABLE hand_edit (
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    kind TEXT NOT NULL CHECK (kind IN ('split', 'join', 'move', 'link')),
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    other_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    PRIMARY KEY (shoot_id, kind, frame_id, other_id)
) WITHOUT ROWID;
INSERT INTO hand_edit SELECT * FROM group_edit;
DROP TABLE group_edit;
ALTER TABLE hand_edit RENAME TO group_edit;
CREATE INDEX group_edit_of_frame ON group_edit (frame_id);
CREATE INDEX group_edit_of_other ON group_edit (other_id);
