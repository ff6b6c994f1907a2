-- What is written about a frame (core.texts); no row where nothing is. Lists have one entry a line.
CREATE TABLE text (
    frame_id INTEGER PRIMARY KEY REFERENCES frame(id) ON DELETE CASCADE,
    title TEXT NOT NULL,
    caption TEXT NOT NULL,
    keywords TEXT NOT NULL,
    creators TEXT NOT NULL,
    rights TEXT NOT NULL,
    location TEXT NOT NULL,
    city TEXT NOT NULL,
    state TEXT NOT NULL,
    country TEXT NOT NULL
);

-- Texts before and after a change of the history, as JSON.
CREATE TABLE text_step (
    change_id INTEGER NOT NULL REFERENCES change(id) ON DELETE CASCADE,
    frame_id INTEGER NOT NULL REFERENCES frame(id) ON DELETE CASCADE,
    before TEXT NOT NULL,
    after TEXT NOT NULL,
    PRIMARY KEY (change_id, frame_id)
) WITHOUT ROWID;
CREATE INDEX text_step_of_frame ON text_step (frame_id);

-- The words of a frame, folded, to be found by any part of them; rowid is the frame's id.
CREATE VIRTUAL TABLE words USING fts5 (
    name, title, caption, keywords, creators, rights, place, tokenize = 'trigram case_sensitive 1'
);
INSERT INTO words (rowid, name, title, caption, keywords, creators, rights, place)
    SELECT id, fold(name), '', '', '', '', '', '' FROM frame;
CREATE TRIGGER words_of_new AFTER INSERT ON frame BEGIN
    INSERT INTO words (rowid, name, title, caption, keywords, creators, rights, place)
        VALUES (new.id, fold(new.name), '', '', '', '', '', '');
END;
CREATE TRIGGER words_of_renamed AFTER UPDATE OF name ON frame WHEN old.name != new.name BEGIN
    UPDATE words SET name = fold(new.name) WHERE rowid = new.id;
END;
CREATE TRIGGER words_of_gone AFTER DELETE ON frame BEGIN
    DELETE FROM words WHERE rowid = old.id;
END;
CREATE TRIGGER words_written AFTER INSERT ON text BEGIN
    UPDATE words SET title = fold(new.title), caption = fold(new.caption), keywords = fold(new.keywords),
        creators = fold(new.creators), rights = fold(new.rights),
        place = fold(new.location || char(10) || new.city || char(10) || new.state || char(10) || new.country)
        WHERE rowid = new.frame_id;
END;
CREATE TRIGGER words_taken_out AFTER DELETE ON text BEGIN
    UPDATE words SET title = '', caption = '', keywords = '', creators = '', rights = '', place = ''
        WHERE rowid = old.frame_id;
END;

-- What Winnow and the files last agreed on, with the texts, and what the files stated then, as JSON; NULL
-- where that was not kept.
ALTER TABLE agreed ADD COLUMN texts TEXT NOT NULL DEFAULT '{}';
ALTER TABLE agreed ADD COLUMN stated TEXT;

-- What a sidecar states, as JSON, as of read_look; NULL where it could not be read.
ALTER TABLE companion ADD COLUMN stated TEXT;

-- Whether the frame's files state something that is not taken over: 0 no, 1 the picture file was not read
-- yet, 2 changed outside and offered, 3 in conflict with what is said here.
ALTER TABLE frame ADD COLUMN says_more INTEGER NOT NULL DEFAULT 0;
UPDATE frame SET says_more = 1 WHERE described != '{}';

-- Whole sets under a name: templates of texts, profiles and recipes of deliveries, too.
CREATE TABLE set_saved (
    kind TEXT NOT NULL CHECK (kind IN ('labels', 'keys', 'texts', 'profiles', 'recipes')),
    name TEXT NOT NULL,
    content TEXT NOT NULL,
    PRIMARY KEY (kind, name)
) WITHOUT ROWID;
INSERT INTO set_saved SELECT * FROM saved_set;
DROP TABLE saved_set;
ALTER TABLE set_saved RENAME TO saved_set;

-- Whether something was said of the frame since its files were written, or last agreed.
ALTER TABLE mark ADD COLUMN unwritten INTEGER NOT NULL DEFAULT 0;
UPDATE mark SET unwritten = 1 WHERE decision != 'undecided' OR stars OR label IS NOT NULL;
CREATE INDEX mark_unwritten ON mark (frame_id) WHERE unwritten;

UPDATE frame SET described = json_remove(
    json_set(described, '$.creators', json_array(json_extract(described, '$.creator'))), '$.creator'
) WHERE json_extract(described, '$.creator') IS NOT NULL;
