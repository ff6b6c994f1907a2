"""Requests about frames that are parts of one picture."""
