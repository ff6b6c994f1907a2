"""What frames’ files say: read, merged, written, and lists out and in."""
