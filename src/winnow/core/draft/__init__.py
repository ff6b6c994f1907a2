"""The draft: what to keep of a shoot, proposed group by group, for a person to decide."""
