-- A frame with texts and no place has no place: not three empty lines.
UPDATE words SET place = trim(place, char(10));
DROP TRIGGER words_written;
CREATE TRIGGER words_written AFTER INSERT ON text BEGIN
    UPDATE words SET title = fold(new.title), caption = fold(new.caption), keywords = fold(new.keywords),
        creators = fold(new.creators), rights = fold(new.rights),
        place = trim(
            fold(new.location || char(10) || new.city || char(10) || new.state || char(10) || new.country),
            char(10)
        ),
        instructions = fold(new.instructions)
        WHERE rowid = new.frame_id;
END;
