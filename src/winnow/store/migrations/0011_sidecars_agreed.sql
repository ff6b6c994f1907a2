-- How many sidecars took part when Winnow and the files last agreed. One that is gone later states nothing.
ALTER TABLE agreed ADD COLUMN sidecars INTEGER NOT NULL DEFAULT 0;
UPDATE agreed SET sidecars = (
    SELECT count(*) FROM companion WHERE companion.frame_id = agreed.frame_id AND is_sidecar
);
