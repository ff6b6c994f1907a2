"""What files say of frames, and what people write: texts, lists, profiles, templates, names, and
the merge."""
