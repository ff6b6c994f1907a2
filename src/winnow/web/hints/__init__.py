"""Requests about hints and faces."""
