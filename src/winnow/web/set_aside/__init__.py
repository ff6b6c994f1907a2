"""Requests about frames that are set aside, and deleting them."""
