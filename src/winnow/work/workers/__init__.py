"""Worker processes: the pool, what is fed to it, what it does, and the room it has."""
