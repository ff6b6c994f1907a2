"""Everything that a running Winnow has: database, cache, workers, and the long work on them."""

from __future__ import annotations

import contextlib
import errno
import logging
import os
import sqlite3
import threading
import time
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Final

import platformdirs
from filelock import FileLock, Timeout

from winnow.core import backups as backups_core
from winnow.photos import refusals
from winnow.photos.cache import PictureCache
from winnow.photos.card import Card
from winnow.photos.refusals import CopyError
from winnow.say import say
from winnow.store import backups, opening, settings
from winnow.store.backups import Backup, BackupError
from winnow.store.db import GoneError
from winnow.store.opening import Restored
from winnow.store.soundness import in_words
from winnow.work.compare.close_ups import CloseUps
from winnow.work.compare.subject_lock import SubjectLock
from winnow.work.deliver.card_import import BringIns
from winnow.work.deliver.card_plan import CardAt
from winnow.work.deliver.programs import HandOvers
from winnow.work.deliver.proofs import Proofs
from winnow.work.deliver.run import Deliveries
from winnow.work.events import Events
from winnow.work.files.auto_write import FileWriter
from winnow.work.found import Answers
from winnow.work.index.indexer import Indexer
from winnow.work.moves import journal
from winnow.work.moves.delete import Deletions
from winnow.work.moves.rename import Renamings
from winnow.work.moves.set_aside import Aside
from winnow.work.workers.pool import Workers

log = logging.getLogger(__name__)
_CACHE_LOOK_S: Final = 300.0
_BACKUP_AT_END_S: Final = 600.0  # a younger one is enough when Winnow ends
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


def _told(restored: Restored) -> str:
    """What the person must know of a restore."""
    if restored.made_at is None:
        return say(
            "The database was damaged, and there was no backup: Winnow begins anew. Marks in "
            "sidecars come back when their folders are opened. The damaged file is kept as "
            "{damaged}.",
            damaged=restored.put_aside,
        )
    made = time.strftime("%Y-%m-%d %H:%M", time.localtime(restored.made_at))
    why = {
        "damaged": say("The database was damaged."),
        "gone": say("The database was gone, or empty."),
        "older": say("The database was older than its last backup: a part of it was lost."),
    }[restored.why]
    words = say(
        "{why} The backup of {made} took its place: marks made after that are missing, unless "
        "they are in sidecars.",
        why=why,
        made=made,
    )
    if restored.put_aside is None:
        return words
    return f"{words} {say('What was there is kept as {file}.', file=restored.put_aside)}"


def running_at(places: Places) -> str:
    """The address of the server that runs on this database, or that didn't end well; "" where there
    is none."""
    try:
        return (places.data / "running").read_text("utf-8").strip()
    except FileNotFoundError:
        return ""


class AlreadyRunning(Exception):
    """Another Winnow has this database open; its address is in ``url``."""

    def __init__(self, url: str) -> None:
        super().__init__(url)
        self.url = url


class Runtime:
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
        path = places.data / "winnow.db"
        try:
            # What is in it is nobody else's; a folder that was there before is somebody's choice.
            places.data.mkdir(mode=0o700, parents=True, exist_ok=True)
            self.places = places
            self._lock = self._take_lock()
        except OSError as error:
            raise in_words(path, error) from error
        self.db, restored = opening.open_sound(path, ended_badly=self._ended_badly)
        # What the person must know of this start, in words.
        self.start_notices = [_told(restored)] if restored else []
        # What is wrong with the database or its backups now, in words, until it is well.
        self.trouble = ""
        self.db.when_gone = self._rescue
        self._backed_up = self.db.changes
        self.cache = PictureCache(places.cache / "pictures")
        self.events = Events()
        self.answers = Answers()
        self.workers = workers or Workers()
        self.indexer = Indexer(
            self.db, self.cache, self.events, self.workers, workers or Workers(nice=_NICE_BEHIND)
        )
        self.close_ups = CloseUps(self.db, self.cache, (workers,) if workers else None)
        self.subject_lock = SubjectLock(self.db, self.cache, self.close_ups)
        journal.recover(self.db)
        self.renamings = Renamings(self.db, self.events)
        self.deliveries = Deliveries(self.db, self.events)
        self.aside = Aside(self.db, self.events)
        self.deletions = Deletions(self.db, self.events)
        self.hand_overs = HandOvers(self.db, self.events)
        self.proofs = Proofs(self.db, self.cache, self.indexer, self.events)
        self.file_writer = FileWriter(self.db, self.cache, self.events)
        self.bring_ins = BringIns(self.db, self.events, self.indexer, card_at, card_places)
        self._closing = threading.Event()
        self._keeper = threading.Thread(target=self._keep_cache_small, name="cache", daemon=True)
        self._keeper.start()

    def _keep_cache_small(self) -> None:
        while not self._closing.wait(_CACHE_LOOK_S):
            self.trim_cache()
            self.back_up(backups_core.HOUR_S)

    @property
    def notices(self) -> list[str]:
        """What the person must know of this start, and of the database now."""
        return [*self.start_notices, *([self.trouble] if self.trouble else [])]

    def _rescue(self) -> None:
        """The database's file went away while it is open: all of it is written as a backup at
        once."""
        rescued = opening.rescue(self.db, self.places.data)
        self.trouble = say(
            "Winnow’s database {path} is gone: nothing more can be stored. Start Winnow again.",
            path=self.db.path,
        )
        if rescued is not None:
            self.trouble += " " + say(
                "All that was stored is in {file}, and comes back.", file=rescued
            )
        log.error("%s", self.trouble)

    def back_up(self, oldest_s: float) -> None:
        """Make a backup if something changed and the newest one is older than so many seconds."""
        if self.db.changes == self._backed_up:
            return
        last = next(iter(backups.all_of(self.places.data)), None)
        if last and 0 <= time.time() - last.made_at < oldest_s:
            return
        changes = self.db.changes
        try:
            backup = backups.make(self.db, self.places.data)
            # It is counted in the database itself.
            self._backed_up = changes + 1
            self.trouble = self._copied_to_second(backup)
        except GoneError:
            return
        except (OSError, sqlite3.Error, BackupError) as error:
            log.exception("there is no new backup")
            self.trouble = say(
                "There is no new backup of your marks: {why} See that its disk is there and has "
                "room.",
                why=str(error).rstrip(".") + ".",
            )

    def _copied_to_second(self, backup: Backup) -> str:
        """Copy a backup to the second place, if one is set; returns why it is not there, in
        words."""
        second = settings.load(self.db).backup_place
        if not second:
            return ""
        try:
            backups.copy_to_second(backup, Path(second))
        except (CopyError, OSError) as error:
            log.exception("the backup is not in the second place")
            why = refusals.reason(error, second)
            return say("The last backup of your marks is not in the second place. {why}", why=why)
        return ""

    def check_backup_place(self, typed: str) -> None:
        """See whether backups can be copied to a folder. Raises BackupError."""
        place = Path(typed)
        if not place.is_absolute():
            raise BackupError(say("Give the whole path of the folder, beginning with “/”."))
        if place.resolve() == self.places.data.resolve():
            raise BackupError(
                say("The backups are there already. Choose a folder on another disk.")
            )
        if not place.is_dir() or not os.access(place, os.W_OK | os.X_OK):
            raise BackupError(
                say("There is no folder “{folder}” that this user may write to.", folder=place)
            )

    def trim_cache(self) -> None:
        """Bring the picture cache under the limit that is set; not while it is being filled.

        What was removed is made again when somebody looks at it.
        """
        if not self.indexer.making_pictures():
            self.cache.trim(self.cache_limit())

    def cache_limit(self) -> int:
        """Bytes that the picture cache may take."""
        return settings.load(self.db).cache_gb * 1_000_000_000

    def _take_lock(self) -> FileLock:
        """Hold a lock for as long as this process lives: two servers on one database would each
        keep marks that the other's windows don't see."""
        lock = FileLock(self.places.data / "running.lock", mode=0o600, thread_local=False)
        try:
            lock.acquire(timeout=0)
        except Timeout:
            raise AlreadyRunning(running_at(self.places)) from None
        except NotImplementedError as error:  # some network disks
            raise OSError(errno.ENOLCK, os.strerror(errno.ENOLCK), lock.lock_file) from error
        # The address is taken out at the end.
        self._ended_badly = bool(running_at(self.places))
        return lock

    def announce(self, url: str) -> None:
        """Leave the address where a second start finds it (readable for this user only)."""
        path = self.places.data / "running"
        with open(path, "w", encoding="utf-8", opener=partial(os.open, mode=0o600)) as file:
            file.write(url)

    def close(self) -> None:
        """Stop all work and close the database; once closed, nothing more happens."""
        if self._closing.is_set():
            return
        self._closing.set()
        self._keeper.join(5)
        self.events.close()
        self.file_writer.close()
        self.proofs.close()
        self.aside.close()
        self.deletions.close()
        self.renamings.close()
        self.deliveries.close()
        self.bring_ins.close()
        self.indexer.close()
        self.subject_lock.close()
        self.close_ups.close()
        self.back_up(_BACKUP_AT_END_S)
        self.db.close()
        with contextlib.suppress(OSError):
            self.announce("")
        self._lock.release()
