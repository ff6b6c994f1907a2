"""What the measures say of a frame in its group: what matters in it, how sharp it is there, and
hints."""
