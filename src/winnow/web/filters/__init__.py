"""Requests about filters."""
