-- The mount point of the disk that a delivery goes to: where that is no mount any more, the disk is gone.
ALTER TABLE delivery ADD COLUMN mount TEXT NOT NULL DEFAULT '';
