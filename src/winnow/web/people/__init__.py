"""Requests about who is in which frame."""
