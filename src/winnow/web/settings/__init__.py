"""Requests about settings, labels and keys."""
