"""Photo files: decoding, metadata, sidecars, the picture cache and verified copies."""
