-- What was left on a card on wish: it is not safe to format then.
ALTER TABLE bringing ADD COLUMN left_out INTEGER NOT NULL DEFAULT 0;
