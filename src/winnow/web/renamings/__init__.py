"""Requests about renaming in place."""
