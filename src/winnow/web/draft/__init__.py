"""Requests about the draft."""
