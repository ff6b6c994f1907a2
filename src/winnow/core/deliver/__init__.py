"""Rules of handing on and bringing in: names, the order of renaming, cards, proofs, command
lines."""
