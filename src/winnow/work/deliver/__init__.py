"""Handing on and bringing in: deliveries, cards, programs, proofs and answers."""
