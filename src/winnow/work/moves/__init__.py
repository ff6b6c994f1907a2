"""Journalled steps with files: moved, set aside, renamed, deleted, found again."""
