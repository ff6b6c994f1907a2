"""Files: what a look at the disk found, and where each frame's files and sidecars are."""

from __future__ import annotations

import json
import os
import sqlite3
from collections import Counter
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path

from winnow.core.frames import FoundFrame, kind_of, split_name
from winnow.core.sync import Stated, as_dict
from winnow.store import held
from winnow.store.db import Database


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


def reconcile(  # noqa: C901
    db: Database, shoot_id: int, folder_id: int, found: Sequence[FoundFrame], unread: Sequence[str]
) -> Difference:
    """Bring the stored frames of a folder in line with what is on disk.

    Frames whose files are gone keep their marks and are noted as missing; what lies in a part of
    the folder that could not be read (``unread``, relative paths) is left as it was. A frame whose
    files only have another name or place now (same sizes and times, and no other frame like it) is
    followed there with its marks.
    """
    known, aside = {}, set()
    for row in db.read.execute(
        f"SELECT id, path, files, missing, {held.HELD} AS held FROM frame WHERE folder_id = ?",
        (folder_id,),
    ):
        if row["held"]:
            aside.add(row["path"])
        else:
            known[row["path"]] = row
    # What is set aside is not missing; a file that came back by another hand waits until it is known why.
    found = [frame for frame in found if os.fsencode(frame.shown.path) not in aside]
    known_beside = _known_beside(db, folder_id)
    moved = _moved(found, known)
    followed = {frame.shown.path for _, frame in moved.values()}
    added: list[FoundFrame] = []
    changed: list[tuple[str, int]] = []
    returned: list[int] = []
    beside = list(moved.values())
    for path in moved:
        del known[path]
    for frame in found:
        if frame.shown.path in followed:
            continue
        row = known.pop(os.fsencode(frame.shown.path), None)
        if row is None:
            added.append(frame)
            continue
        if row["files"] != (look := _look(frame)):
            changed.append((look, row["id"]))
        elif row["missing"]:
            returned.append(row["id"])
        if known_beside.get(row["id"], {}) != _beside(frame):
            beside.append((row["id"], frame))
    removed = [
        row["id"]
        for path, row in known.items()
        if not row["missing"]
        and not any((text := os.fsdecode(path)) == u or text.startswith(f"{u}/") for u in unread)
    ]
    # Most looks find nothing new, and marks wait for nothing then.
    if added or changed or returned or beside or removed:
        with db.write() as conn:
            conn.executemany(
                "UPDATE frame SET path = ?, name = ?, files = ?, missing = 0 WHERE id = ?",
                [
                    (os.fsencode(frame.shown.path), _shown_name(frame), _look(frame), frame_id)
                    for frame_id, frame in moved.values()
                ],
            )
            beside += [(_insert(conn, shoot_id, folder_id, frame), frame) for frame in added]
            conn.executemany(
                "UPDATE frame SET files = ?, state = 0, missing = 0 WHERE id = ?", changed
            )
            for ids, missing in ((returned, 0), (removed, 1)):
                conn.executemany(
                    "UPDATE frame SET missing = ? WHERE id = ?", [(missing, one) for one in ids]
                )
            for frame_id, frame in beside:
                _keep_beside(conn, frame_id, known_beside.get(frame_id, {}), _beside(frame))
    return Difference(len(added), len(changed), len(removed), len(returned), len(moved))


def _moved(
    found: Sequence[FoundFrame], known: dict[bytes, sqlite3.Row]
) -> dict[bytes, tuple[int, FoundFrame]]:
    """Known frames that are gone from their path and found at another: path to (id, frame)."""
    here = {os.fsencode(frame.shown.path) for frame in found}
    gone = [row for path, row in known.items() if path not in here]
    new = [frame for frame in found if os.fsencode(frame.shown.path) not in known]
    if not gone or not new:
        return {}
    gone_prints = Counter(_print(row["files"]) for row in gone)
    new_prints = Counter(_print(_look(frame)) for frame in new)
    by_print = {_print(_look(frame)): frame for frame in new}
    return {
        row["path"]: (row["id"], by_print[mark])
        for row in gone
        # Only where there is no doubt: empty files, for one, are all alike.
        if gone_prints[mark := _print(row["files"])] == 1 and new_prints[mark] == 1
    }


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
        SELECT id FROM frame WHERE shoot_id = ? AND NOT missing AND NOT {held.HELD} ORDER BY position, id
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
        for files in held.of_frames(db, json.loads(wanted)).values()
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


def changed_since(frame: FrameFiles) -> bool:
    """Whether a frame's picture files are others than Winnow last saw. Raises OSError when one is gone."""
    now = Counter((stat.st_size, stat.st_mtime_ns) for stat in (path.stat() for path in frame.all))
    return now != Counter(_print(frame.look))
