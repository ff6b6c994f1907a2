"""Requests about groups."""
