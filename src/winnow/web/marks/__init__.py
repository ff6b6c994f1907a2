"""Requests about marks and the history."""
