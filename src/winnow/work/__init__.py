"""Long work: indexing, sidecars, deliveries. Progress, cancelling, resuming."""
