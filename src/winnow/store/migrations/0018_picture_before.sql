-- What a marked frame showed before its file got other content: the mark was made for that. Gone with the next mark.
CREATE TABLE picture_before (
    frame_id INTEGER PRIMARY KEY REFERENCES frame(id) ON DELETE CASCADE,
    taken_at REAL,
    likeness BLOB NOT NULL
);
