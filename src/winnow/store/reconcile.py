"""What a look at a folder found, compared with what is known: added, changed, gone, come back,
renamed."""

from __future__ import annotations

import json
import os
import sqlite3
from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import TypeVar

from winnow.core.frames import FoundFrame, kind_of, split_name
from winnow.store import moved_files
from winnow.store.db import Database
from winnow.store.frame_files import parts_of_look, sidecar_look

T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class Difference:
    """What a look at the disk changed: numbers of frames."""

    added: int = 0
    changed: int = 0
    removed: int = 0
    returned: int = 0
    moved: int = 0

    @property
    def any(self) -> bool:
        """Whether anything is different."""
        return bool(self.added or self.changed or self.removed or self.returned or self.moved)


def _look(frame: FoundFrame) -> str:
    """How a frame's picture files look on disk; another text means that one of them changed."""
    return json.dumps([[f.path, f.size, f.mtime_ns] for f in frame.files])


# The content of a file, by its path relative to the source folder; None where it can't be read.
Digest = Callable[[str], str | None]


def reconcile(
    db: Database,
    shoot_id: int,
    folder_id: int,
    present: Sequence[FoundFrame],
    unread: Sequence[str],
    digest: Digest = lambda path: None,
) -> Difference:
    """Bring the stored frames of a folder in line with what is on disk.

    Frames whose files are gone keep their marks and are noted as missing; what lies in a part of
    the folder that could not be read (``unread``, relative paths) is left as it was. What a frame
    is goes by its files before it goes by their names: a frame is followed with its marks to where
    its files are now, also where another frame's files have its old name.
    """
    known, aside = _known(db, folder_id)
    # What is set aside is not missing; a file that came back by another hand waits until it is
    # known why.
    present = [frame for frame in present if os.fsencode(frame.shown.path) not in aside]
    known_beside = _known_beside(db, folder_id)
    sorted_out = _sorted_out(present, known, digest)
    beside = [
        (row["id"], frame)
        for row, frame in sorted_out.paired
        if known_beside.get(row["id"], {}) != _beside(frame)
    ]
    removed = [
        row["id"]
        for path, row in sorted_out.gone.items()
        if not row["missing"]
        and not any((text := os.fsdecode(path)) == u or text.startswith(f"{u}/") for u in unread)
    ]
    returned = [row["id"] for row, _ in sorted_out.paired if row["missing"]]
    moved, changed, added = sorted_out.moved, sorted_out.changed, sorted_out.added
    # Most looks find nothing new, and marks wait for nothing then.
    if added or changed or moved or returned or beside or removed:
        with db.write() as conn:
            _follow(conn, moved, sorted_out.gone)
            _keep_before(conn, changed)
            conn.executemany(
                "UPDATE frame SET files = ?, state = 0 WHERE id = ?",
                [(_look(frame), row["id"]) for row, frame in changed],
            )
            for ids, missing in ((returned, 0), (removed, 1)):
                conn.executemany(
                    "UPDATE frame SET missing = ? WHERE id = ?", [(missing, frame) for frame in ids]
                )
            beside += [(_insert(conn, shoot_id, folder_id, frame), frame) for frame in added]
            for frame_id, frame in beside:
                _keep_beside(conn, frame_id, known_beside.get(frame_id, {}), _beside(frame))
    returned_in_place = len(returned) - sum(bool(row["missing"]) for row, _ in (*moved, *changed))
    return Difference(len(added), len(changed), len(removed), returned_in_place, len(moved))


Known = dict[bytes, sqlite3.Row]  # by path


Pairs = list[tuple[sqlite3.Row, FoundFrame]]


def _known(db: Database, folder_id: int) -> tuple[Known, set[bytes]]:
    """The stored frames of a folder; and the paths of those that are set aside, or moved out."""
    known, aside = {}, set()
    for row in db.read.execute(
        f"""
        SELECT id, path, files, missing, content_hash,
        {moved_files.HELD} AS held FROM frame WHERE folder_id = ?
        """,
        (folder_id,),
    ):
        if row["held"]:
            aside.add(row["path"])
        else:
            known[row["path"]] = row
    return known, aside


@dataclass(frozen=True, slots=True)
class _SortedOut:
    """Which stored frame is which on disk.

    ``paired``: every one that is there; of these ``moved``: at another path, or with another time
    only; ``changed``: at its path with other content.
    """

    paired: Pairs
    moved: Pairs
    changed: Pairs
    added: list[FoundFrame]
    gone: Known


def _sorted_out(present: Sequence[FoundFrame], known: Known, digest: Digest) -> _SortedOut:
    gone, new = dict(known), {os.fsencode(frame.shown.path): frame for frame in present}
    paired: Pairs = []

    def settle(path: bytes, at: bytes) -> tuple[sqlite3.Row, FoundFrame]:
        pair = (gone.pop(path), new.pop(at))
        paired.append(pair)
        return pair

    for path, frame in list(new.items()):
        if path in gone and gone[path]["files"] == _look(frame):
            settle(path, path)
    matches = _by_print(gone, new)
    moved = [settle(path, at) for path, at in matches.items()]
    moved += [settle(path, at) for path, at in _by_content(gone, new, digest).items()]
    changed = [settle(path, path) for path in list(new) if path in gone]
    return _SortedOut(paired, moved, changed, list(new.values()), gone)


def _by_print(gone: Known, new: Mapping[bytes, FoundFrame]) -> dict[bytes, bytes]:
    """By sizes and times: where the files of frames are now.

    Only where there is no doubt: empty files, for one, are all alike.
    """
    before = _unique({path: parts_of_look(row["files"]) for path, row in gone.items()})
    now = _unique({path: parts_of_look(_look(frame)) for path, frame in new.items()})
    return {path: now[mark] for mark, path in before.items() if mark in now}


def _by_content(gone: Known, new: Mapping[bytes, FoundFrame], digest: Digest) -> dict[bytes, bytes]:
    """By the content of the shown file, which is read only where its size is that of one that is
    sought."""
    before = _unique(
        {path: row["content_hash"] for path, row in gone.items() if row["content_hash"]}
    )
    sizes = {json.loads(gone[path]["files"])[0][1] for path in before.values()} - {0}
    now = _unique(
        {
            path: mark
            for path, frame in new.items()
            if frame.shown.size in sizes and (mark := digest(frame.shown.path)) is not None
        }
    )
    return {path: now[mark] for mark, path in before.items() if mark in now}


def _unique(marks: Mapping[bytes, T]) -> dict[T, bytes]:
    """Which path has a mark that no other one has."""
    number = Counter(marks.values())
    return {mark: path for path, mark in marks.items() if number[mark] == 1}


def _follow(conn: sqlite3.Connection, moved: Pairs, gone: Known) -> None:
    """Give frames the paths that their files have now.

    Two may have exchanged them, or one has that of a frame whose files are gone: what is below a
    file is nowhere.
    """
    taken = {os.fsencode(frame.shown.path) for _, frame in moved} & gone.keys()
    conn.executemany(
        "UPDATE frame SET path = ? WHERE id = ?",
        [(b"%s/.gone-%d" % (path, gone[path]["id"]), gone[path]["id"]) for path in taken],
    )
    conn.executemany(
        "UPDATE frame SET path = ? WHERE id = ?",
        [(b"\0%d" % row["id"], row["id"]) for row, _ in moved],
    )
    conn.executemany(
        "UPDATE frame SET path = ?, name = ?, files = ?, missing = 0 WHERE id = ?",
        [
            (os.fsencode(frame.shown.path), _shown_name(frame), _look(frame), row["id"])
            for row, frame in moved
        ],
    )


def _keep_before(conn: sqlite3.Connection, changed: Pairs) -> None:
    """Remember what marked frames showed whose files have other content now: it may be another
    picture."""
    conn.executemany(
        """
        INSERT OR IGNORE INTO picture_before
        SELECT id, taken_at, likeness FROM frame JOIN mark ON mark.frame_id = frame.id
        WHERE id = ? AND likeness IS NOT NULL
            AND (decision != 'undecided' OR stars > 0 OR label IS NOT NULL)
        """,
        [(row["id"],) for row, _ in changed],
    )


def _insert(
    conn: sqlite3.Connection,
    shoot_id: int,
    folder_id: int,
    frame: FoundFrame,
) -> int:
    kinds = {str(kind_of(file.name)) for file in frame.files}
    cursor = conn.execute(
        """
        INSERT INTO frame (shoot_id, folder_id, path, name, kind, files, position)
        VALUES (?, ?, ?, ?, ?, ?, 1000000000)
        """,
        (
            shoot_id, folder_id, os.fsencode(frame.shown.path), _shown_name(frame),
            " + ".join(sorted(kinds)), _look(frame),
        ),
    )  # fmt: skip
    assert cursor.lastrowid is not None
    conn.execute("INSERT INTO mark (frame_id) VALUES (?)", (cursor.lastrowid,))
    return cursor.lastrowid


def _shown_name(frame: FoundFrame) -> str:
    """The stem, with what the disk has and no text can hold replaced."""
    return os.fsencode(split_name(frame.shown.name)[0]).decode("utf-8", "replace")


Beside = dict[bytes, tuple[str, str]]  # by path: its role, and its look


def _known_beside(db: Database, folder_id: int) -> dict[int, Beside]:
    """The other files of a folder's frames, as they are known."""
    beside: dict[int, Beside] = {}
    for frame_id, path, role, look in db.read.execute(
        """
        SELECT frame_id, frame_file.path, role, look
        FROM frame_file JOIN frame ON frame.id = frame_id WHERE folder_id = ?
        """,
        (folder_id,),
    ):
        beside.setdefault(frame_id, {})[path] = (role, look)
    return beside


def _beside(frame: FoundFrame) -> Beside:
    """The other files of a frame, as they were found."""
    return {
        os.fsencode(file.path): (role, sidecar_look(file.size, file.mtime_ns))
        for files, role in (
            (frame.files[1:], "picture"),
            (frame.sidecars, "sidecar"),
            (frame.companions, "companion"),
        )
        for file in files
    }


def _keep_beside(conn: sqlite3.Connection, frame_id: int, present: Beside, wanted: Beside) -> None:
    for path in present.keys() - wanted.keys():
        conn.execute("DELETE FROM frame_file WHERE frame_id = ? AND path = ?", (frame_id, path))
    conn.executemany(
        """
        INSERT INTO frame_file (frame_id, path, role, look) VALUES (?, ?, ?, ?)
        ON CONFLICT DO UPDATE SET role = excluded.role, look = excluded.look
        """,
        [(frame_id, path, *rest) for path, rest in wanted.items() if present.get(path) != rest],
    )
