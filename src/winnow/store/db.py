"""One SQLite database: a single connection writes, under a lock; each thread reads on its own.

Every write is one transaction, durable when it returns (WAL, synchronous = FULL).
"""

from __future__ import annotations

import contextlib
import os
import sqlite3
import stat
import threading
import weakref
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from importlib.resources import files
from pathlib import Path

from winnow.core.files.texts import fold
from winnow.say import say
from winnow.store.columns import Kept
from winnow.store.soundness import DatabaseError, in_words
from winnow.store.text_index import TextIndex

_STEPS = sorted(
    (entry for entry in files("winnow.store.migrations").iterdir() if ".sql" in entry.name),
    key=lambda entry: entry.name,
)
LATEST = len(_STEPS)  # the version of the tables that this Winnow knows


class GoneError(sqlite3.OperationalError):
    """The database's file is not there any more, or another one is: nothing can be stored."""


class _Reader:
    """A thread's connection.

    It ends with its thread: threads come and go all day, and each connection has a cache.
    """

    def __init__(self, connection: sqlite3.Connection) -> None:
        self.connection = connection

    def __del__(self) -> None:
        self.connection.close()


def _folder_of(path: bytes) -> str:
    """The folder of a stored path, relative to the shoot's own; "" at its top."""
    return os.fsdecode(path).rpartition("/")[0].encode("utf-8", "replace").decode()


class Readable:
    """A database in a file, as it is read: each thread on a connection of its own.

    Worker processes read one that the server writes.
    """

    def __init__(self, path: Path) -> None:
        self.path = path
        self._lock = threading.RLock()
        self._local = threading.local()
        self._readers: weakref.WeakSet[_Reader] = weakref.WeakSet()

    @property
    def read(self) -> sqlite3.Connection:
        """This thread's own connection for reading."""
        reader: _Reader | None = getattr(self._local, "reader", None)
        if reader is None:
            reader = _Reader(self._connect())
            reader.connection.execute("PRAGMA query_only = ON")
            self._local.reader = reader
            with self._lock:
                self._readers.add(reader)
        return reader.connection

    def close(self) -> None:
        """Close every connection. No other thread may be using one."""
        with self._lock:
            for reader in list(self._readers):
                reader.connection.close()

    def _connect(self, mode: str = "rw") -> sqlite3.Connection:
        # Only the first one makes a new file: a reader never begins empty.
        connection = sqlite3.connect(
            f"{self.path.absolute().as_uri()}?mode={mode}",
            uri=True,
            timeout=10,
            isolation_level=None,
            check_same_thread=False,
        )
        connection.row_factory = sqlite3.Row
        try:
            self._prepare(connection)
        except sqlite3.DatabaseError:
            connection.close()
            raise
        return connection

    @staticmethod
    def _prepare(connection: sqlite3.Connection) -> None:
        for pragma in (
            "journal_mode = WAL",
            "synchronous = FULL",
            "foreign_keys = ON",
            "cache_size = -65536",
        ):
            connection.execute(f"PRAGMA {pragma}")
        # SQLite's own lower() knows ASCII only.
        connection.create_function("fold", 1, fold, deterministic=True)
        connection.create_function("folder_of", 1, _folder_of, deterministic=True)


class Database(Readable):
    """The database in a file. Open it once for each process."""

    def __init__(self, path: Path) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        super().__init__(path)
        # How many transactions were stored since it was opened.
        self.commits = 0
        # Told once when the file goes away.
        self.when_gone: Callable[[], None] = lambda: None
        self._gone = False
        try:
            _own(path)
            self._writer = self._connect("rwc")
            self._migrate()
            self.columns = Kept(self._writer)
            self.texts = TextIndex(self._writer)
            self._file = _identity(path)
        except (sqlite3.DatabaseError, OSError) as error:
            raise in_words(path, error) from error

    def _migrate(self) -> None:
        version = self._writer.execute("PRAGMA user_version").fetchone()[0]
        if version > LATEST:
            self._writer.close()
            raise DatabaseError(
                say(
                    "The database {path} was made by a newer Winnow. Use that one to open it.",
                    path=self.path,
                )
            )
        for number, step in enumerate(_STEPS[version:], version + 1):
            self._writer.executescript(
                f"BEGIN IMMEDIATE; {step.read_text('utf-8')} PRAGMA user_version = {number}; "
                f"COMMIT;"
            )

    @contextmanager
    def write(self) -> Iterator[sqlite3.Connection]:
        """A write transaction: all of it is stored, or nothing."""
        with self._lock:
            self._check_there()
            self._writer.execute("BEGIN IMMEDIATE")
            try:
                yield self._writer
                self._writer.execute("COMMIT")
            except BaseException:
                self.columns.rolled_back()
                self.texts.rolled_back()
                # A full disk has taken it back by itself.
                if self._writer.in_transaction:
                    self._writer.execute("ROLLBACK")
                raise
            self.commits += 1
            self.columns.committed()
            self.texts.committed()

    def _check_there(self) -> None:
        """What is stored in a file without a name is lost when Winnow ends. Raises GoneError."""
        if not self._gone and _identity(self.path) == self._file:
            return
        if not self._gone:
            self._gone = True
            self.when_gone()
        raise GoneError(say("its file is gone, or another one has taken its place"))

    def copy_to(self, copy: sqlite3.Connection, *, gone: bool = False) -> None:
        """Copy all of it into another database, and count that.

        ``gone``: its file is not there any more.
        """
        if gone:
            with self._lock:
                self._writer.execute("UPDATE backup_number SET number = number + 1")
                self._writer.backup(copy)
            return
        with self.write() as conn:
            conn.execute("UPDATE backup_number SET number = number + 1")
        self.read.backup(copy)

    @property
    def changes(self) -> int:
        """Grows with every row that is written."""
        return self._writer.total_changes

    def close(self) -> None:
        """Close every connection. No other thread may be using one."""
        with self._lock:
            super().close()
            self._writer.close()


def _own(path: Path) -> None:
    """Let nobody else read a database, nor what SQLite puts beside it with the same permissions."""
    with contextlib.suppress(FileExistsError):
        os.close(os.open(path, os.O_RDWR | os.O_CREAT | os.O_EXCL, 0o600))
    # Whose it is not may not change that, and whoever opens one that is not there is told by
    # SQLite.
    with contextlib.suppress(OSError):
        if stat.S_IMODE(path.stat().st_mode) & 0o077:
            path.chmod(0o600)


def _identity(path: Path) -> tuple[int, int] | None:
    """Which file has this name: its device and number; None where there is none.

    OperationalError where the disk doesn't say.
    """
    try:
        looked = path.stat()
    except (FileNotFoundError, NotADirectoryError):
        return None
    except OSError as error:
        raise sqlite3.OperationalError(error.strerror) from error
    return looked.st_dev, looked.st_ino
