"""The texts of shoots' frames in memory, each distinct one once and folded: filters over texts in a
few ms, whatever they leave.

They are read once and follow every transaction: triggers of the writing connection say of which
frames to read them anew.
"""

from __future__ import annotations

import json
import sqlite3
import threading
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass, replace
from typing import Final

import numpy as np
from numpy.typing import NDArray

from winnow.core.files.texts import fold
from winnow.core.filters.conditions import FACTS, LISTED, TEXTS, Compare
from winnow.store.columns import MOST_SHOOTS

# By column of a fact: its text in SQL.
_IN_SQL: Final = {
    fact.column: fact.column
    for fact in FACTS.values()
    if fact.kind == "text" and fact.column not in ("text", "day")
} | {
    "subfolder": "folder_of(frame.path)",
    "place": "location || char(10) || city || char(10) || text.state || char(10) || country",
}
# What of a frame itself stands in it; its folder is in its path.
_OF_FRAMES: Final = ", ".join(
    ["path", "name", *(name for name in _IN_SQL if name not in (*TEXTS, "subfolder"))]
)
_TRIGGERS: Final = f"""
    CREATE TEMP TRIGGER seen_text AFTER INSERT ON main.text
        BEGIN SELECT seen_text(NEW.frame_id); END;
    CREATE TEMP TRIGGER seen_text_changed AFTER UPDATE ON main.text
        BEGIN SELECT seen_text(NEW.frame_id); END;
    CREATE TEMP TRIGGER seen_text_gone AFTER DELETE ON main.text
        BEGIN SELECT seen_text(OLD.frame_id); END;
    CREATE TEMP TRIGGER seen_name AFTER INSERT ON main.frame
        BEGIN SELECT seen_text(NEW.id); END;
    CREATE TEMP TRIGGER seen_renamed AFTER UPDATE OF shoot_id, {_OF_FRAMES} ON main.frame
        BEGIN SELECT seen_text(NEW.id); END;
    CREATE TEMP TRIGGER seen_name_gone AFTER DELETE ON main.frame
        BEGIN SELECT seen_text(OLD.id); END;
"""
# With more of a shoot's frames to read anew, it is read whole.
_MANY: Final = 5_000


def columns_of(asked: Compare) -> tuple[str, ...]:
    """The columns of the index in which a comparison looks; none where it is with something
    else."""
    column = FACTS[asked.fact].column
    return TEXTS if column == "text" else (column,) if column in _IN_SQL else ()


@dataclass(frozen=True, slots=True)
class Column:
    """One text of each frame: ``codes``, int32 (n), are places in ``folded``."""

    codes: NDArray[np.int32]
    folded: list[str]

    def saying(self, says: Callable[[str], bool]) -> NDArray[np.bool_]:
        """Of which frames the text passes a test, (n)."""
        passes = np.fromiter(map(says, self.folded), np.bool_, len(self.folded))
        mask: NDArray[np.bool_] = passes[self.codes]
        return mask


@dataclass(frozen=True, slots=True)
class Written:
    """``ids`` of a shoot's frames by size, int64 (n), and the texts that were asked, by the facts'
    columns."""

    ids: NDArray[np.int64]
    columns: dict[str, Column]

    def meeting(self, asked: Compare) -> NDArray[np.int64]:
        """Ids of the frames of which a comparison with an indexed text is true."""
        wanted, columns = fold(str(asked.value)), columns_of(asked)
        if columns == TEXTS and asked.operator == "=" and not wanted:
            # Nothing is written: every frame has a name.
            return self.ids[
                np.logical_and.reduce([self._saying(name, "=", "") for name in TEXTS[1:]])
            ]
        says = [self._saying(name, asked.operator, wanted) for name in columns]
        return self.ids[np.logical_or.reduce(says)]

    def _saying(self, column: str, operator: str, wanted: str) -> NDArray[np.bool_]:
        if operator == "~":
            return self.columns[column].saying(lambda text: wanted in text)
        if column in LISTED and wanted:
            entry = f"\n{wanted}\n"
            return self.columns[column].saying(lambda text: entry in f"\n{text}\n")
        return self.columns[column].saying(wanted.__eq__)

    def without(self, gone: Iterable[int]) -> Written:
        """The same without some frames."""
        stays = ~np.isin(self.ids, np.fromiter(gone, np.int64))
        return Written(
            self.ids[stays],
            {name: replace(own, codes=own.codes[stays]) for name, own in self.columns.items()},
        )

    def joined(self, other: Written) -> Written:
        """The frames of both; none may be in both."""
        ids = np.concatenate([self.ids, other.ids])
        at = np.argsort(ids)
        columns = {}
        for name, own in self.columns.items():
            more = other.columns[name]
            codes = np.concatenate([own.codes, more.codes + np.int32(len(own.folded))])[at]
            columns[name] = Column(codes, own.folded + more.folded)
        return Written(ids[at], columns)

    def is_worn(self) -> bool:
        """Whether it holds many more texts than its frames have."""
        most = max(len(column.folded) for column in self.columns.values())
        return most > 2 * len(self.ids) + _MANY


def read(
    conn: sqlite3.Connection,
    shoot_id: int,
    columns: Iterable[str],
    only: Iterable[int] | None = None,
) -> Written:
    """Some columns of the texts of a shoot's frames as they are stored; ``only`` of these
    frames."""
    wanted = sorted(columns)
    within, values = "", [shoot_id]  # type: str, list[object]
    if only is not None:
        within = " AND frame.id IN (SELECT value FROM json_each(?))"
        values.append(json.dumps(list(only)))
    cursor = conn.cursor()
    cursor.row_factory = None
    rows = cursor.execute(
        f"""
        SELECT frame.id, {", ".join(_IN_SQL[name] for name in wanted)}
        FROM frame LEFT JOIN text ON text.frame_id = frame.id
        WHERE shoot_id = ?{within} ORDER BY frame.id
        """,
        values,
    ).fetchall()
    ids, *texts = zip(*rows, strict=True) if rows else ((),) * (len(wanted) + 1)
    return Written(
        np.array(ids, np.int64),
        {name: _column(name, own) for name, own in zip(wanted, texts, strict=True)},
    )


def _column(name: str, values: Sequence[str | None]) -> Column:
    distinct = dict.fromkeys(values)
    code_of = dict(zip(distinct, range(len(distinct)), strict=True))
    texts = (text or "" for text in distinct)
    if name == "place":
        # Of its parts, only those that are said.
        texts = ("\n".join(filter(None, text.split("\n"))) for text in texts)
    codes = np.fromiter(map(code_of.__getitem__, values), np.int32, len(values))
    return Column(codes, [fold(text) for text in texts])


class TextIndex:
    """The texts of the shoots that were asked last, kept current."""

    def __init__(self, writer: sqlite3.Connection) -> None:
        self._lock = threading.Lock()
        self._of: dict[int, Written] = {}
        # Frames to read anew before a shoot's texts are right, by shoot.
        self._behind: dict[int, set[int]] = {}
        self._changes = 0
        self._seen: set[int] = set()
        writer.create_function("seen_text", 1, self._seen.add)
        writer.executescript(_TRIGGERS)

    def committed(self) -> None:
        """What was seen in the transaction is stored now."""
        if not self._seen:
            return
        with self._lock:
            self._changes += 1
            for behind in self._behind.values():
                behind |= self._seen
        self._seen.clear()

    def rolled_back(self) -> None:
        """What was seen in the transaction is not stored."""
        self._seen.clear()

    def of(self, conn: sqlite3.Connection, shoot_id: int, columns: Sequence[str]) -> Written:
        """Some columns of a shoot's texts, and what is kept beside; ``conn`` reads what isn't."""
        with self._lock:
            kept = self._of.get(shoot_id)
            behind = set(self._behind.get(shoot_id, ()))
            before = self._changes
        if kept is not None and not behind and kept.columns.keys() >= set(columns):
            return kept
        known = _brought_up(conn, shoot_id, kept, behind, columns)
        with self._lock:
            # What changed while it was read may be missing in it: then it is good for this once.
            if self._changes == before:
                self._of = dict([*self._of.items(), (shoot_id, known)][-MOST_SHOOTS:])
                self._behind = {shoot: self._behind.get(shoot, set()) for shoot in self._of}
                self._behind[shoot_id] = set()
        return known


def _brought_up(
    conn: sqlite3.Connection,
    shoot_id: int,
    kept: Written | None,
    behind: set[int],
    columns: Sequence[str],
) -> Written:
    """What is kept of a shoot, right again for the frames ``behind``, with these columns, too."""
    if kept is None or len(behind) > _MANY or kept.is_worn():
        return read(conn, shoot_id, {*columns, *(kept.columns if kept else ())})
    if behind:
        kept = kept.without(behind).joined(read(conn, shoot_id, kept.columns, behind))
    missing = {*columns} - kept.columns.keys()
    if not missing:
        return kept
    more = read(conn, shoot_id, missing)
    if not np.array_equal(more.ids, kept.ids):  # frames came or went meanwhile
        return read(conn, shoot_id, {*columns, *kept.columns})
    return Written(kept.ids, {**kept.columns, **more.columns})
