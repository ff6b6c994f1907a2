"""Everything that a running Winnow has: database, cache, workers, and the long work on them."""

from __future__ import annotations

import fcntl
import os
from dataclasses import dataclass
from pathlib import Path
from typing import IO

import platformdirs

from winnow.photos.cache import PictureCache
from winnow.store.db import Database
from winnow.work.deliver import Deliveries
from winnow.work.events import Events
from winnow.work.indexer import Indexer
from winnow.work.workers import Workers


@dataclass(frozen=True, slots=True)
class Places:
    """Where Winnow keeps its own files. Both can be set by environment variables."""

    data: Path
    cache: Path

    @classmethod
    def usual(cls) -> Places:
        """WINNOW_DATA and WINNOW_CACHE, or the system's usual folders for this user."""
        return cls(
            Path(os.environ.get("WINNOW_DATA") or platformdirs.user_data_dir("winnow")),
            Path(os.environ.get("WINNOW_CACHE") or platformdirs.user_cache_dir("winnow")),
        )


class AlreadyRunning(Exception):
    """Another Winnow has this database open; its address is in ``url``."""

    def __init__(self, url: str) -> None:
        super().__init__(url)
        self.url = url


class Studio:
    """One running Winnow. Raises AlreadyRunning, or DatabaseError for an unusable database."""

    def __init__(self, places: Places, workers: Workers | None = None) -> None:
        places.data.mkdir(parents=True, exist_ok=True)
        self.places = places
        self._lock = self._take_lock()
        self.db = Database(places.data / "winnow.db")
        self.cache = PictureCache(places.cache / "pictures")
        self.events = Events()
        self.workers = workers or Workers()
        self.indexer = Indexer(self.db, self.cache, self.events, self.workers)
        self.deliveries = Deliveries(self.db, self.events)

    def _take_lock(self) -> IO[str]:
        """Hold a lock for as long as this process lives: two servers on one database would each
        keep marks that the other's windows don't see."""
        path = self.places.data / "running"
        file = os.fdopen(os.open(path, os.O_RDWR | os.O_CREAT, 0o600), "r+")
        try:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            url = file.read().strip()
            file.close()
            raise AlreadyRunning(url) from None
        return file

    def announce(self, url: str) -> None:
        """Leave the address where a second start finds it (readable for this user only)."""
        self._lock.seek(0)
        self._lock.truncate()
        self._lock.write(url)
        self._lock.flush()

    def close(self) -> None:
        """Stop all work and close the database."""
        self.events.close()
        self.deliveries.close()
        self.indexer.close()
        self.db.close()
        self._lock.close()
