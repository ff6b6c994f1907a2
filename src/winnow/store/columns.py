"""The marks of shoots' frames as arrays in memory, in the order of the sheet: filters with counts
in a few ms.

SQLite needs a tenth of a second to order and count 50,000 frames anew. The arrays are read once and
follow every transaction: triggers of the writing connection say which marks changed, and when
frames came, went or moved.
"""

from __future__ import annotations

import sqlite3
import threading
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from winnow.core.filters.filter import Filter
from winnow.core.marks import Mark, mark_of

# How many shoots are kept in memory.
MOST_SHOOTS: Final = 4
_TRIGGERS: Final = """
    CREATE TEMP TRIGGER seen_mark AFTER UPDATE OF decision, stars, label ON main.mark
        BEGIN SELECT seen_mark(NEW.frame_id, NEW.decision, NEW.stars, NEW.label); END;
    CREATE TEMP TRIGGER seen_new AFTER INSERT ON main.frame
        BEGIN SELECT seen_frame(NEW.shoot_id); END;
    CREATE TEMP TRIGGER seen_gone AFTER DELETE ON main.frame
        BEGIN SELECT seen_frame(OLD.shoot_id); END;
    CREATE TEMP TRIGGER seen_moved AFTER UPDATE OF shoot_id, group_no, position ON main.frame
        BEGIN SELECT seen_frame(OLD.shoot_id), seen_frame(NEW.shoot_id); END;
"""


@dataclass(frozen=True, slots=True)
class Columns:
    """``ids`` of the frames in order, int64 (n); ``codes``, uint16 (n): their marks, as places in
    ``marks``.

    ``sorted_ids`` and ``at``: the ids by size, and where each stands in ``ids``.
    """

    ids: NDArray[np.int64]
    codes: NDArray[np.uint16]
    marks: tuple[Mark, ...]
    sorted_ids: NDArray[np.int64]
    at: NDArray[np.int64]

    def tally(self, within: NDArray[np.bool_] | None = None) -> dict[Mark, int]:
        """How many frames have each mark; only those within a mask (n), if there is one."""
        codes = self.codes if within is None else self.codes[within]
        numbers = np.bincount(codes, minlength=len(self.marks))
        return {mark: int(n) for mark, n in zip(self.marks, numbers, strict=True) if n}

    def passing(self, wanted: Filter, within: NDArray[np.bool_] | None = None) -> list[int]:
        """Ids of the frames whose marks pass a filter, in order, without what is written."""
        passes = np.array([wanted.passes(mark) for mark in self.marks], np.bool_)
        mask = passes[self.codes] if len(self.codes) else np.zeros(0, np.bool_)
        ids: list[int] = self.ids[mask if within is None else mask & within].tolist()
        return ids

    def mask(self, ids: NDArray[np.int64]) -> NDArray[np.bool_]:
        """Which of the frames are among these ids (any order); ids of others are passed over."""
        mask = np.zeros(len(self.ids), np.bool_)
        mask[self._places(ids)[0]] = True
        return mask

    def marks_of(self, ids: Sequence[int]) -> dict[int, Mark]:
        """The marks of these frames, in the order asked; ids of others are left out."""
        asked = np.array(ids, np.int64)
        places, known = self._places(asked)
        codes = self.codes[places].tolist()
        return {
            frame: self.marks[code]
            for frame, code in zip(asked[known].tolist(), codes, strict=True)
        }

    def with_marks(self, changed: Mapping[int, Mark]) -> Columns:
        """The same with other marks; ids of others are passed over."""
        places, known = self._places(np.fromiter(changed, np.int64, len(changed)))
        if not len(places):
            return self
        code_of = {mark: code for code, mark in enumerate(self.marks)}
        marks = [mark for mark, here in zip(changed.values(), known, strict=True) if here]
        codes = self.codes.copy()
        codes[places] = [code_of.setdefault(mark, len(code_of)) for mark in marks]
        return replace(self, codes=codes, marks=tuple(code_of))

    def _places(self, ids: NDArray[np.int64]) -> tuple[NDArray[np.int64], NDArray[np.bool_]]:
        if not len(self.ids):
            return np.zeros(0, np.int64), np.zeros(len(ids), np.bool_)
        near = np.minimum(np.searchsorted(self.sorted_ids, ids), len(self.ids) - 1)
        known: NDArray[np.bool_] = self.sorted_ids[near] == ids
        return self.at[near[known]], known


def read(conn: sqlite3.Connection, shoot_id: int) -> Columns:
    """The columns of a shoot as they are stored."""
    code_of: dict[tuple[str, int, str | None], int] = {}
    ids, codes = [], []
    for frame, decision, stars, label in conn.execute(
        """
        SELECT frame.id, decision, stars, label FROM frame JOIN mark ON mark.frame_id = frame.id
        WHERE shoot_id = ? ORDER BY group_no, position, frame.id
        """,
        (shoot_id,),
    ):
        ids.append(frame)
        codes.append(code_of.setdefault((decision, stars, label), len(code_of)))
    in_order = np.array(ids, np.int64)
    at = np.argsort(in_order)
    marks = tuple(mark_of(*parts) for parts in code_of)
    return Columns(in_order, np.array(codes, np.uint16), marks, in_order[at], at)


class Kept:
    """The columns of the shoots that were read last, kept current."""

    def __init__(self, writer: sqlite3.Connection) -> None:
        self._lock = threading.Lock()
        self._of: dict[int, Columns] = {}
        self._changes = 0
        self._marked: dict[int, Mark] = {}
        self._stale: set[int] = set()
        writer.create_function("seen_mark", 4, self._see_mark)
        writer.create_function("seen_frame", 1, self._stale.add)
        writer.executescript(_TRIGGERS)

    def _see_mark(self, frame: int, decision: str, stars: int, label: str | None) -> None:
        self._marked[frame] = mark_of(decision, stars, label)

    def committed(self) -> None:
        """What was seen in the transaction is stored now."""
        if not self._marked and not self._stale:
            return
        with self._lock:
            self._changes += 1
            for shoot in self._stale:
                self._of.pop(shoot, None)
            if self._marked:
                self._of = {s: columns.with_marks(self._marked) for s, columns in self._of.items()}
        self.rolled_back()

    def rolled_back(self) -> None:
        """What was seen in the transaction is not stored."""
        self._marked.clear()
        self._stale.clear()

    def of(self, conn: sqlite3.Connection, shoot_id: int) -> Columns:
        """A shoot's columns; ``conn`` reads them if they aren't kept."""
        with self._lock:
            columns = self._of.get(shoot_id)
            before = self._changes
        if columns is not None:
            return columns
        columns = read(conn, shoot_id)
        with self._lock:
            # What changed while it was read may be missing in it: then it is good for this once.
            if self._changes == before:
                self._of = dict([*self._of.items(), (shoot_id, columns)][-MOST_SHOOTS:])
        return columns
