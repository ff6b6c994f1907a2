"""Requests about lists."""
