"""Requests about handing on to programs."""
