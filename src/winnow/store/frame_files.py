"""Files: what a look at the disk found, and where each frame's files and sidecars are."""

from __future__ import annotations

import json
import os
import sqlite3
from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TypeVar

from winnow.core.files.merge import Stated, as_dict
from winnow.core.frames import FoundFrame, kind_of, split_name
from winnow.store import moved_files
from winnow.store.db import Database

T = TypeVar("T")


@dataclass(frozen=True, slots=True)
class FrameFiles:
    """Where a frame's files are. ``shown`` and the others are absolute paths; ``companions``: files of its name
    that are neither pictures nor sidecars; ``look``: how the pictures looked when Winnow last saw them."""

    id: int
    name: str
    kind: str
    key: str | None
    shown: Path
    others: tuple[Path, ...]
    sidecars: tuple[Path, ...]
    companions: tuple[Path, ...]
    missing: bool
    root: Path
    look: str

    @property
    def all(self) -> tuple[Path, ...]:
        """The picture files, the shown one first."""
        return (self.shown, *self.others)

    @property
    def whole(self) -> tuple[Path, ...]:
        """Every file that moves, is renamed or goes with the frame: pictures, sidecars, companions."""
        return (*self.all, *self.sidecars, *self.companions)


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


def _look(found: FoundFrame) -> str:
    """How a frame's picture files look on disk; another text means that one of them changed."""
    return json.dumps([[f.path, f.size, f.mtime_ns] for f in found.files])


# The content of a file, by its path relative to the source folder; None where it can't be read.
Digest = Callable[[str], str | None]


def reconcile(
    db: Database,
    shoot_id: int,
    folder_id: int,
    found: Sequence[FoundFrame],
    unread: Sequence[str],
    digest: Digest = lambda path: None,
) -> Difference:
    """Bring the stored frames of a folder in line with what is on disk.

    Frames whose files are gone keep their marks and are noted as missing; what lies in a part of
    the folder that could not be read (``unread``, relative paths) is left as it was. What a frame is goes by its
    files before it goes by their names: a frame is followed with its marks to where its files are now, also where
    another frame's files have its old name.
    """
    known, aside = _known(db, folder_id)
    # What is set aside is not missing; a file that came back by another hand waits until it is known why.
    found = [frame for frame in found if os.fsencode(frame.shown.path) not in aside]
    known_beside = _known_beside(db, folder_id)
    sorted_out = _sorted_out(found, known, digest)
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
                    "UPDATE frame SET missing = ? WHERE id = ?", [(missing, one) for one in ids]
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
        SELECT id, path, files, missing, content_hash, {moved_files.HELD} AS held FROM frame WHERE folder_id = ?
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
    """Which stored frame is which on disk. ``paired``: every one that is there; of these ``moved``: at another
    path, or with another time only; ``changed``: at its path with other content."""

    paired: Pairs
    moved: Pairs
    changed: Pairs
    added: list[FoundFrame]
    gone: Known


def _sorted_out(found: Sequence[FoundFrame], known: Known, digest: Digest) -> _SortedOut:
    gone, new = dict(known), {os.fsencode(frame.shown.path): frame for frame in found}
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
    """By sizes and times: where the files of frames are now. Only where there is no doubt: empty files, for one,
    are all alike."""
    before = _unique({path: _print(row["files"]) for path, row in gone.items()})
    now = _unique({path: _print(_look(frame)) for path, frame in new.items()})
    return {path: now[mark] for mark, path in before.items() if mark in now}


def _by_content(gone: Known, new: Mapping[bytes, FoundFrame], digest: Digest) -> dict[bytes, bytes]:
    """By the content of the shown file, which is read only where its size is that of one that is sought."""
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
    """Give frames the paths that their files have now. Two may have exchanged them, or one has that of a frame
    whose files are gone: what is below a file is nowhere."""
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
    """Remember what marked frames showed whose files have other content now: it may be another picture."""
    conn.executemany(
        """
        INSERT OR IGNORE INTO picture_before
        SELECT id, taken_at, likeness FROM frame JOIN mark ON mark.frame_id = frame.id
        WHERE id = ? AND likeness IS NOT NULL
            AND (decision != 'undecided' OR stars > 0 OR label IS NOT NULL)
        """,
        [(row["id"],) for row, _ in changed],
    )


def _print(look: str) -> tuple[tuple[int, int], ...]:
    """A look without the names: the sizes and times of the files."""
    return tuple((size, mtime_ns) for _, size, mtime_ns in json.loads(look))


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
    found: dict[int, Beside] = {}
    for frame_id, path, role, look in db.read.execute(
        """
        SELECT frame_id, frame_file.path, role, look
        FROM frame_file JOIN frame ON frame.id = frame_id WHERE folder_id = ?
        """,
        (folder_id,),
    ):
        found.setdefault(frame_id, {})[path] = (role, look)
    return found


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


def sidecar_look(size: int, mtime_ns: int) -> str:
    """How a sidecar looks on disk; another text means that it changed."""
    return f"{size} {mtime_ns}"


def there(db: Database, shoot_id: int) -> list[int]:
    """Ids of the frames whose files are where they belong, in order."""
    rows = db.read.execute(
        f"""
        SELECT id FROM frame WHERE shoot_id = ? AND NOT missing AND NOT {moved_files.HELD} ORDER BY position, id
        """,
        (shoot_id,),
    )
    return [row["id"] for row in rows]


def stems_like(db: Database, shoot_id: int, names: Iterable[str]) -> Counter[tuple[Path, str]]:
    """How many frames of a shoot share a folder and a stem, of those with these names."""
    rows = db.read.execute(
        """
        SELECT frame.path AS path, folder.path AS root
        FROM frame JOIN folder ON folder.id = frame.folder_id
        WHERE frame.shoot_id = ? AND name IN (SELECT value FROM json_each(?))
        """,
        (shoot_id, json.dumps(list(names))),
    )
    paths = [Path(row["root"]) / os.fsdecode(row["path"]) for row in rows]
    return Counter((path.parent, split_name(path.name)[0]) for path in paths)


def note_rewritten(
    db: Database, files: FrameFiles, key: str, stated: Stated, content_hash: str
) -> None:
    """Note how a frame's picture files look now that Winnow changed the shown one's texts.

    Raises OSError when one of them is gone.
    """
    look = []
    for path in files.all:
        stat = path.stat()
        relative = path.relative_to(files.root).as_posix()
        look.append([relative, stat.st_size, stat.st_mtime_ns])
    with db.write() as conn:
        conn.execute(
            "UPDATE frame SET files = ?, key = ?, described = ?, content_hash = ? WHERE id = ?",
            (
                json.dumps(look), key, json.dumps(as_dict(stated), ensure_ascii=False),
                content_hash, files.id,
            ),
        )  # fmt: skip


def files_of(db: Database, frame_ids: Iterable[int]) -> list[FrameFiles]:
    """Where the files of these frames are, in the order of the shoot. Unknown ids are left out.

    Those of frames that are set aside are in the holding folder.
    """
    wanted = json.dumps(list(frame_ids))
    others: dict[int, list[sqlite3.Row]] = {}
    for row in db.read.execute(
        "SELECT * FROM frame_file WHERE frame_id IN (SELECT value FROM json_each(?)) ORDER BY path",
        (wanted,),
    ):
        others.setdefault(row["frame_id"], []).append(row)
    rows = db.read.execute(
        """
        SELECT frame.*, folder.path AS root FROM frame JOIN folder ON folder.id = frame.folder_id
        WHERE frame.id IN (SELECT value FROM json_each(?)) ORDER BY position, frame.id
        """,
        (wanted,),
    )
    places = {
        one.source: one.place
        for files in moved_files.of_frames(db, json.loads(wanted)).values()
        for one in files
    }
    result = []
    for row in rows:
        root = Path(row["root"])

        def now(path: bytes, root: Path = root) -> Path:
            whole = root / os.fsdecode(path)
            place = places.get(whole)
            # While a move goes on, it is wherever it is.
            return place if place is not None and place.exists() else whole

        beside: dict[str, list[Path]] = {"picture": [], "sidecar": [], "companion": []}
        for other in others.get(row["id"], []):
            beside[other["role"]].append(now(other["path"]))
        result.append(
            FrameFiles(
                id=row["id"],
                name=row["name"],
                kind=row["kind"],
                key=row["key"],
                shown=now(row["path"]),
                others=tuple(beside["picture"]),
                sidecars=tuple(beside["sidecar"]),
                companions=tuple(beside["companion"]),
                missing=bool(row["missing"]),
                root=root,
                look=row["files"],
            )
        )
    return result


def missing(db: Database, folder_id: int) -> list[int]:
    """Ids of the frames of a source folder whose files are gone."""
    rows = db.read.execute(
        f"SELECT id FROM frame WHERE folder_id = ? AND missing AND NOT {moved_files.HELD}",
        (folder_id,),
    )
    return [row["id"] for row in rows]


def note_there(db: Database, frame_ids: Iterable[int]) -> None:
    """The files of these frames are not gone."""
    with db.write() as conn:
        conn.executemany("UPDATE frame SET missing = 0 WHERE id = ?", [(f,) for f in frame_ids])


def sizes_of(frame: FrameFiles) -> list[int]:
    """The sizes of a frame's picture files when Winnow last saw them."""
    return [size for size, _ in _print(frame.look)]


def changed_since(frame: FrameFiles) -> bool:
    """Whether a frame's picture files are others than Winnow last saw. Raises OSError when one is gone."""
    now = Counter((stat.st_size, stat.st_mtime_ns) for stat in (path.stat() for path in frame.all))
    return now != Counter(_print(frame.look))
