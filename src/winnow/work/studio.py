"""Everything that a running Winnow has: database, cache, workers, and the long work on them."""

from __future__ import annotations

import fcntl
import os
import threading
from dataclasses import dataclass
from pathlib import Path
from typing import IO, Final

import platformdirs

from winnow.photos.cache import PictureCache
from winnow.photos.card import Card
from winnow.store import settings
from winnow.store.db import Database
from winnow.work.aside import Aside
from winnow.work.beside import SubjectLock
from winnow.work.bring_in import BringIns, CardAt
from winnow.work.close_ups import CloseUps
from winnow.work.deliver import Deliveries
from winnow.work.events import Events
from winnow.work.file_writer import FileWriter
from winnow.work.indexer import Indexer
from winnow.work.workers import Workers

CACHE_GB: Final = 20  # unless the person sets another limit
_CACHE_LOOK_S: Final = 300.0
# Faces are looked for when nothing else needs the processor.
_NICE_BEHIND: Final = 15


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
    """One running Winnow. Raises AlreadyRunning, or DatabaseError for an unusable database.

    ``card_at`` and ``card_places`` are for simulated cards; see ``work.bring_in``.
    """

    def __init__(
        self,
        places: Places,
        workers: Workers | None = None,
        card_at: CardAt = Card,
        card_places: tuple[Path, ...] = (),
    ) -> None:
        places.data.mkdir(parents=True, exist_ok=True)
        self.places = places
        self._lock = self._take_lock()
        self.db = Database(places.data / "winnow.db")
        self.cache = PictureCache(places.cache / "pictures")
        self.events = Events()
        self.workers = workers or Workers()
        self.indexer = Indexer(
            self.db, self.cache, self.events, self.workers, workers or Workers(nice=_NICE_BEHIND)
        )
        self.close_ups = CloseUps(self.db, self.cache, (workers,) if workers else None)
        self.subject_lock = SubjectLock(self.db, self.cache, self.close_ups)
        self.deliveries = Deliveries(self.db, self.events)
        self.aside = Aside(self.db, self.events)
        self.file_writer = FileWriter(self.db, self.cache, self.events)
        self.bring_ins = BringIns(self.db, self.events, self.indexer, card_at, card_places)
        self._closing = threading.Event()
        self._keeper = threading.Thread(target=self._keep_cache_small, name="cache", daemon=True)
        self._keeper.start()

    def _keep_cache_small(self) -> None:
        while not self._closing.wait(_CACHE_LOOK_S):
            self.trim_cache()

    def trim_cache(self) -> None:
        """Bring the picture cache under the limit that is set; not while it is being filled.

        What was removed is made again when somebody looks at it.
        """
        if not self.indexer.making_pictures():
            self.cache.trim(self.cache_limit())

    def cache_limit(self) -> int:
        """Bytes that the picture cache may take."""
        return int(settings.load(self.db).get("cache_gb", CACHE_GB) * 1_000_000_000)

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
        self._closing.set()
        self._keeper.join(5)
        self.events.close()
        self.file_writer.close()
        self.aside.close()
        self.deliveries.close()
        self.bring_ins.close()
        self.indexer.close()
        self.subject_lock.close()
        self.close_ups.close()
        self.db.close()
        self._lock.close()
