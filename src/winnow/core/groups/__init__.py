"""Groups of neighbouring frames that show the same thing, and edits of them by hand."""
