"""Requests about memory cards, and bringing in."""
