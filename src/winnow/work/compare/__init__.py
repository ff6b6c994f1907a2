"""Frames beside each other: the same part of each, faces in rows, close-ups."""
