"""SQLite, by plain SQL. One module a resource; returns core's data classes."""
