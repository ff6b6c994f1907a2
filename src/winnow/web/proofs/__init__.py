"""Requests about proofs and answers."""
