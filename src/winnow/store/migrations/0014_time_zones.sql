-- The time zone of a shoot's common clock, in minutes from UTC: that of most frames that state one; none where no frame does.
ALTER TABLE shoot ADD COLUMN utc_offset_min INTEGER;
CREATE INDEX frame_zone ON frame (shoot_id, utc_offset_min) WHERE utc_offset_min IS NOT NULL;
