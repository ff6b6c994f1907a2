-- Texts are found in memory (store.text_index): no index of words is kept.
DROP TRIGGER words_of_new;
DROP TRIGGER words_of_renamed;
DROP TRIGGER words_of_gone;
DROP TRIGGER words_written;
DROP TRIGGER words_taken_out;
DROP TABLE words;
