"""Files: what a look at the disk found, and where each frame's files and sidecars are."""

from __future__ import annotations

import json
import os
import sqlite3
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from pathlib import Path

from winnow.core.files.merge import Stated, as_dict
from winnow.core.frames import split_name
from winnow.store import moved_files
from winnow.store.db import Database


@dataclass(frozen=True, slots=True)
class FrameFiles:
    """Where a frame's files are.

    ``shown`` and the others are absolute paths; ``companions``: files of its name that are neither
    pictures nor sidecars; ``look``: how the pictures looked when Winnow last saw them.
    """

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
        """Every file that moves, is renamed or goes with the frame: pictures, sidecars,
        companions."""
        return (*self.all, *self.sidecars, *self.companions)


def parts_of_look(look: str) -> tuple[tuple[int, int], ...]:
    """A look without the names: the sizes and times of the files."""
    return tuple((size, mtime_ns) for _, size, mtime_ns in json.loads(look))


def sidecar_look(size: int, mtime_ns: int) -> str:
    """How a sidecar looks on disk; another text means that it changed."""
    return f"{size} {mtime_ns}"


def there(db: Database, shoot_id: int) -> list[int]:
    """Ids of the frames whose files are where they belong, in order."""
    rows = db.read.execute(
        f"""
        SELECT id FROM frame WHERE shoot_id = ? AND NOT missing AND NOT {moved_files.HELD} ORDER BY
        position, id
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
        file.source: file.place
        for files in moved_files.of_frames(db, json.loads(wanted)).values()
        for file in files
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
    return [size for size, _ in parts_of_look(frame.look)]


def changed_since(frame: FrameFiles) -> bool:
    """Whether a frame's picture files are others than Winnow last saw.

    Raises OSError when one is gone.
    """
    now = Counter((stat.st_size, stat.st_mtime_ns) for stat in (path.stat() for path in frame.all))
    return now != Counter(parts_of_look(frame.look))
