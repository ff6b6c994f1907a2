"""Requests about what frames’ files say, and writing them."""
