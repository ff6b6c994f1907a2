-- Each file of a frame but the shown one, with its role. "companion": a film, a spoken note, another program's settings.
CREATE TABLE frame_file (
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    path BLOB NOT NULL,
    role TEXT NOT NULL CHECK (role IN ('picture', 'sidecar', 'companion')),
    look TEXT NOT NULL,                 -- size and time of last change, as on disk
    read_look TEXT NOT NULL DEFAULT '', -- the same when Winnow last read or wrote it; of sidecars
    stated TEXT,
    PRIMARY KEY (frame_id, path)
) WITHOUT ROWID;
INSERT INTO frame_file
SELECT frame_id, path, CASE WHEN is_sidecar THEN 'sidecar' ELSE 'picture' END, look, read_look, stated FROM companion;
DROP TABLE companion;

-- How many companion files a folder has, by ending.
ALTER TABLE folder ADD COLUMN companions TEXT NOT NULL DEFAULT '{}';
