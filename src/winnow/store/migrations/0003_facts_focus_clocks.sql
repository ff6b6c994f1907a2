ALTER TABLE frame ADD COLUMN serial TEXT;             -- of the body
ALTER TABLE frame ADD COLUMN lens_serial TEXT;
ALTER TABLE frame ADD COLUMN exposure_bias_ev REAL;
ALTER TABLE frame ADD COLUMN drive_mode TEXT;         -- in the camera's own words
ALTER TABLE frame ADD COLUMN focus_mode TEXT;
ALTER TABLE frame ADD COLUMN focus_x REAL;            -- where the camera focused, 0…1, upright
ALTER TABLE frame ADD COLUMN focus_y REAL;
ALTER TABLE frame ADD COLUMN latitude REAL;           -- degrees; kept, but shown only when asked for
ALTER TABLE frame ADD COLUMN longitude REAL;
ALTER TABLE frame ADD COLUMN optional_space INTEGER NOT NULL DEFAULT 0; -- DCF's, without a profile
ALTER TABLE frame ADD COLUMN described TEXT NOT NULL DEFAULT '{}'; -- XMP or IPTC in the file, as JSON
ALTER TABLE frame ADD COLUMN content_hash TEXT;       -- BLAKE3 of the shown file
-- Where the pixels come from, in the sheet and at 100 %: file, embedded, developed.
ALTER TABLE frame ADD COLUMN shown_from TEXT NOT NULL DEFAULT 'file';
ALTER TABLE frame ADD COLUMN close_from TEXT NOT NULL DEFAULT 'file';
-- The versions of the code that made pictures and focus map, and that measured the preview.
ALTER TABLE frame ADD COLUMN picture_version TEXT NOT NULL DEFAULT '';
ALTER TABLE frame ADD COLUMN figure_version TEXT NOT NULL DEFAULT '';
-- Shares of clipped pixels: red, green, blue, all three; high, then low; as JSON.
ALTER TABLE frame ADD COLUMN clipped TEXT;
-- When it was taken by the shoot's common clock: taken_at and its camera's offset.
ALTER TABLE frame ADD COLUMN shot_at REAL;
UPDATE frame SET shot_at = taken_at;

-- Wide rows of their own, so that walking the frames stays quick.
CREATE TABLE focus_map (
    frame_id INTEGER PRIMARY KEY REFERENCES frame(id) ON DELETE CASCADE,
    map BLOB NOT NULL
);

-- What is added to a camera's clock to bring the cameras of a shoot in one order, in seconds.
CREATE TABLE camera_clock (
    shoot_id INTEGER NOT NULL REFERENCES shoot(id) ON DELETE CASCADE,
    camera TEXT NOT NULL,
    serial TEXT NOT NULL,
    offset_s REAL NOT NULL,
    PRIMARY KEY (shoot_id, camera, serial)
) WITHOUT ROWID;
