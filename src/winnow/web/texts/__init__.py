"""Requests about titles, captions, keywords and the rest."""
