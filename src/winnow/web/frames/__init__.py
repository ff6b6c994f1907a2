"""Requests about frames and their pictures."""
