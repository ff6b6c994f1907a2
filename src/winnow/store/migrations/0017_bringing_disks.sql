-- The mount points of the disks that are copied to; and whether every file of the card is read a second time.
ALTER TABLE bringing ADD COLUMN mount TEXT NOT NULL DEFAULT '';
ALTER TABLE bringing ADD COLUMN second_mount TEXT NOT NULL DEFAULT '';
ALTER TABLE bringing ADD COLUMN twice INTEGER NOT NULL DEFAULT 0;
