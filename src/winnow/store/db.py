"""One SQLite database: a single connection writes, under a lock; each thread reads on its own.

Every write is one transaction, durable when it returns (WAL, synchronous = FULL).
"""

from __future__ import annotations

import sqlite3
import threading
import weakref
from collections.abc import Iterator
from contextlib import contextmanager
from importlib.resources import files
from pathlib import Path

from winnow.core.texts import fold
from winnow.say import say
from winnow.store.columns import Kept


class DatabaseError(Exception):
    """A database that Winnow can't use, with the reason in words."""


class _Reader:
    """A thread's connection. It ends with its thread: threads come and go all day, and each connection has a cache."""

    def __init__(self, connection: sqlite3.Connection) -> None:
        self.connection = connection

    def __del__(self) -> None:
        self.connection.close()


class Database:
    """The database in a file. Open it once for each process."""

    def __init__(self, path: Path) -> None:
        path.parent.mkdir(parents=True, exist_ok=True)
        self.path = path
        self._lock = threading.RLock()
        self._local = threading.local()
        # How many transactions were stored since it was opened.
        self.commits = 0
        self._readers: weakref.WeakSet[_Reader] = weakref.WeakSet()
        try:
            self._writer = self._connect()
            self._migrate()
            self.columns = Kept(self._writer)
        except sqlite3.DatabaseError as error:
            raise DatabaseError(
                say("The database {path} can't be used: {error}.", path=path, error=error)
            ) from error

    def _connect(self) -> sqlite3.Connection:
        connection = sqlite3.connect(
            self.path, timeout=10, isolation_level=None, check_same_thread=False
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

    def _migrate(self) -> None:
        steps = sorted(
            (entry for entry in files("winnow.store.migrations").iterdir() if ".sql" in entry.name),
            key=lambda entry: entry.name,
        )
        version = self._writer.execute("PRAGMA user_version").fetchone()[0]
        if version > len(steps):
            self._writer.close()
            raise DatabaseError(
                say(
                    "The database {path} was made by a newer Winnow. Use that one to open it.",
                    path=self.path,
                )
            )
        for number, step in enumerate(steps[version:], version + 1):
            self._writer.executescript(
                f"BEGIN IMMEDIATE; {step.read_text('utf-8')} PRAGMA user_version = {number}; COMMIT;"
            )

    @contextmanager
    def write(self) -> Iterator[sqlite3.Connection]:
        """A write transaction: all of it is stored, or nothing."""
        with self._lock:
            self._writer.execute("BEGIN IMMEDIATE")
            try:
                yield self._writer
                self._writer.execute("COMMIT")
            except BaseException:
                self.columns.rolled_back()
                # A full disk has taken it back by itself.
                if self._writer.in_transaction:
                    self._writer.execute("ROLLBACK")
                raise
            self.commits += 1
            self.columns.committed()

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

    @property
    def changes(self) -> int:
        """Grows with every row that is written."""
        return self._writer.total_changes

    def close(self) -> None:
        """Close every connection. No other thread may be using one."""
        with self._lock:
            for reader in list(self._readers):
                reader.connection.close()
            self._writer.close()
