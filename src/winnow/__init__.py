"""Winnow: cull a shoot. Compare, decide, and hand the keepers on."""

__version__ = "0.1.0"
