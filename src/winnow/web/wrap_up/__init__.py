"""Requests about the cull in numbers."""
