-- How the files of a delivery get there: copied, moved, or as further names of the same files (hard links).
ALTER TABLE delivery ADD COLUMN how TEXT NOT NULL DEFAULT 'copy' CHECK (how IN ('copy', 'move', 'link'));
UPDATE saved_set SET content = json_remove(
    json_set(content, '$.how', CASE WHEN json_extract(content, '$.links') THEN 'link' ELSE 'copy' END), '$.links'
) WHERE kind = 'recipes';

-- Files that are elsewhere: set aside, or, where delivery_id is not NULL, moved out by that delivery.
-- state: going (about to be moved there, or moved), held, coming (about to be brought back), leaving (about to
-- be deleted for good, or put in the system's trash).
CREATE TABLE file_elsewhere (
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    source BLOB NOT NULL,             -- absolute: where it was, and comes back to
    place BLOB NOT NULL,              -- absolute: where it is
    size INTEGER NOT NULL,
    state TEXT NOT NULL CHECK (state IN ('going', 'held', 'coming', 'leaving')),
    delivery_id INTEGER REFERENCES delivery(id) ON DELETE SET NULL,
    PRIMARY KEY (frame_id, source)
) WITHOUT ROWID;
INSERT INTO file_elsewhere SELECT *, NULL FROM held_file;
DROP TABLE held_file;
ALTER TABLE file_elsewhere RENAME TO held_file;

-- Frames that were deleted for good. Their rows are gone; the funnel still counts what was shot.
CREATE TABLE deletion (
    id INTEGER PRIMARY KEY,
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    made_at REAL NOT NULL,
    trashed INTEGER NOT NULL,         -- put in the system's trash instead
    frames INTEGER NOT NULL,
    files INTEGER NOT NULL,
    size INTEGER NOT NULL
);

-- Files that get other names where they are. state: planned, running, undoing, done, undone, stopped (could
-- neither be finished nor undone).
CREATE TABLE renaming (
    id INTEGER PRIMARY KEY,
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    made_at REAL NOT NULL,
    template TEXT NOT NULL,
    frames INTEGER NOT NULL,
    state TEXT NOT NULL,
    notice TEXT NOT NULL DEFAULT ''
);

-- Each step, in order: one file. A name that is taken by a later step’s file
-- is reached by way of a free one, in two steps.
CREATE TABLE renaming_step (
    renaming_id INTEGER NOT NULL REFERENCES renaming(id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    frame_id INTEGER NOT NULL,
    old BLOB NOT NULL,                -- absolute
    new BLOB NOT NULL,
    alone INTEGER NOT NULL,           -- no other step has to do with these names
    state TEXT NOT NULL CHECK (state IN ('planned', 'done')),
    PRIMARY KEY (renaming_id, number)
) WITHOUT ROWID;

-- Proofs for a client: which frame is which number there, and what came back.
CREATE TABLE proof (
    id INTEGER PRIMARY KEY,
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    token TEXT NOT NULL UNIQUE,       -- names the proof in its gallery and in answers
    kind TEXT NOT NULL CHECK (kind IN ('pdf', 'gallery')),
    title TEXT NOT NULL,
    place TEXT NOT NULL,              -- the file or folder it was made as
    made_at REAL NOT NULL
);
CREATE TABLE proof_frame (
    proof_id INTEGER NOT NULL REFERENCES proof(id) ON DELETE CASCADE,
    number INTEGER NOT NULL,
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    PRIMARY KEY (proof_id, number)
) WITHOUT ROWID;
CREATE INDEX proof_frame_of_frame ON proof_frame (frame_id);
CREATE TABLE proof_answer (
    id INTEGER PRIMARY KEY,
    proof_id INTEGER NOT NULL REFERENCES proof(id) ON DELETE CASCADE,
    client TEXT NOT NULL,
    note TEXT NOT NULL,
    read_at REAL NOT NULL,
    picks TEXT NOT NULL,              -- JSON: numbers
    comments TEXT NOT NULL            -- JSON: comment by number
);

CREATE TABLE set_kept (
    kind TEXT NOT NULL CHECK (kind IN ('labels', 'keys', 'texts', 'profiles', 'recipes', 'programs')),
    name TEXT NOT NULL,
    content TEXT NOT NULL,
    PRIMARY KEY (kind, name)
) WITHOUT ROWID;
INSERT INTO set_kept SELECT * FROM saved_set;
DROP TABLE saved_set;
ALTER TABLE set_kept RENAME TO saved_set;

-- What the receiver of a picture is told (IPTC Core: Instructions), and what clients say of proofs.
ALTER TABLE text ADD COLUMN instructions TEXT NOT NULL DEFAULT '';
DROP TRIGGER words_of_new;
DROP TRIGGER words_written;
DROP TRIGGER words_taken_out;
DROP TABLE words;
CREATE VIRTUAL TABLE words USING fts5 (
    name, title, caption, keywords, creators, rights, place, instructions,
    tokenize = 'trigram case_sensitive 1'
);
INSERT INTO words (rowid, name, title, caption, keywords, creators, rights, place, instructions)
    SELECT id, fold(name), fold(coalesce(title, '')), fold(coalesce(caption, '')), fold(coalesce(keywords, '')),
        fold(coalesce(creators, '')), fold(coalesce(rights, '')),
        CASE WHEN text.frame_id IS NULL THEN '' ELSE
            fold(location || char(10) || city || char(10) || text.state || char(10) || country) END, ''
    FROM frame LEFT JOIN text ON text.frame_id = frame.id;
CREATE TRIGGER words_of_new AFTER INSERT ON frame BEGIN
    INSERT INTO words (rowid, name, title, caption, keywords, creators, rights, place, instructions)
        VALUES (new.id, fold(new.name), '', '', '', '', '', '', '');
END;
CREATE TRIGGER words_written AFTER INSERT ON text BEGIN
    UPDATE words SET title = fold(new.title), caption = fold(new.caption), keywords = fold(new.keywords),
        creators = fold(new.creators), rights = fold(new.rights),
        place = fold(new.location || char(10) || new.city || char(10) || new.state || char(10) || new.country),
        instructions = fold(new.instructions)
        WHERE rowid = new.frame_id;
END;
CREATE TRIGGER words_taken_out AFTER DELETE ON text BEGIN
    UPDATE words SET title = '', caption = '', keywords = '', creators = '', rights = '', place = '',
        instructions = '' WHERE rowid = old.frame_id;
END;
