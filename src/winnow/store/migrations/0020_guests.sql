-- Who made a step of the history: a guest's name, "" for the owner; after which step it was made;
-- whether the owner took over what a guest did. undone: 0 made, 1 undone and
-- next to be redone, 2 on a branch that was left when something else was done; nothing of the history is ever removed.
ALTER TABLE change ADD COLUMN by TEXT NOT NULL DEFAULT '';
ALTER TABLE change ADD COLUMN parent_id INTEGER REFERENCES change(id) ON DELETE SET NULL;
ALTER TABLE change ADD COLUMN taken_over INTEGER NOT NULL DEFAULT 0;
UPDATE change SET parent_id = (
    SELECT max(before.id) FROM change AS before
    WHERE before.shoot_id = change.shoot_id AND before.id < change.id
);
DROP INDEX change_of_shoot;
CREATE INDEX change_of_shoot ON change (shoot_id, undone, id);
CREATE INDEX change_parent ON change (parent_id);
CREATE INDEX change_of_guests ON change (shoot_id, by) WHERE by != '' AND NOT taken_over;

-- Steps that another step took back for whoever made them, without going back in the history.
CREATE TABLE taken_back (
    change_id INTEGER NOT NULL REFERENCES change(id) ON DELETE CASCADE,
    by_id INTEGER NOT NULL REFERENCES change(id) ON DELETE CASCADE,
    PRIMARY KEY (change_id, by_id)
) WITHOUT ROWID;
CREATE INDEX taken_back_by ON taken_back (by_id);
