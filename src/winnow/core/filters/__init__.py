"""Filters: conditions on marks, facts and texts, written and clicked."""
