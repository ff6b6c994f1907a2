"""What every step begins with: a shoot, its files, and what a start of Winnow does with them."""

from __future__ import annotations

import os
import random
from collections.abc import Callable
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Final

from send2trash import plat_other

from tests.pictures import jpeg
from winnow.core.files.merge import Stated
from winnow.core.files.profiles import FileMark
from winnow.core.files.texts import Texts
from winnow.core.frames import pair
from winnow.core.marks import Change, Decision, Edit, plan_edit
from winnow.photos import scan, xmp
from winnow.store import (
    frame_files,
    frames,
    marks,
    moved_files,
    opening,
    reconcile,
    shoots,
)
from winnow.store.db import Database
from winnow.work.deliver.card_import import BringIns
from winnow.work.deliver.run import Deliveries
from winnow.work.events import Events
from winnow.work.files import read as files_read
from winnow.work.moves import journal, set_aside
from winnow.work.moves.delete import Deletions
from winnow.work.moves.rename import Renamings

FRAMES: Final = 3


SHOOT: Final = 1


TEXTS: Final = Texts("Quay", "Kept whatever happens", ("a", "b"))


# Words that no person should read.
RAW_WORDS: Final = ("Errno", "Traceback", "sqlite", "NoneType")


def _contents() -> dict[str, bytes]:
    rng = random.Random(3)
    made = {}
    for n in range(FRAMES):
        made[f"QH_{n}.jpg"] = jpeg(n + 1, 48, 32)
        made[f"QH_{n}.dng"] = rng.randbytes(900)
    return made


CONTENTS: Final = _contents()
ALL: Final = [*CONTENTS, *(f"QH_{n}.xmp" for n in range(FRAMES))]


@dataclass(frozen=True, slots=True)
class Step:
    """``act`` does it as a person would, and returns what was said to that person; called again, it
    goes on. ``through`` asserts that it is done whole; ``check`` asserts what holds at any moment
    after a start.
    """

    name: str
    prepare: Callable[[Path], None]
    act: Callable[[Path], list[str]]
    through: Callable[[Path], None]
    check: Callable[[Path], None]


def started(at: Path) -> Database:
    """What a start of Winnow does with what it finds, in its order."""
    _own_trash(at)
    opened, _ = opening.open_sound(at / "winnow.db", ended_badly=True)
    journal.recover(opened)
    Renamings(opened, Events())
    Deliveries(opened, Events())
    Deletions(opened, Events())
    BringIns(opened, Events(), NoIndexer())  # type: ignore[arg-type]
    look_at_folders(opened)
    return opened


def look_at_folders(opened: Database) -> None:
    """What opening shoots does with their folders."""
    for shoot in shoots.all_shoots(opened):
        for folder in shoot.folders:
            _look_at(opened, folder)


def _look_at(opened: Database, folder: shoots.Folder) -> None:
    """What opening a shoot does: a look at its folder."""
    root = Path(folder.path)
    if not root.exists():
        return
    found = pair(scan.scan(root).files)
    if reconcile.reconcile(opened, SHOOT, folder.id, found, []).removed:
        set_aside.find_again(opened, folder.id)
    set_aside.tidy([root])


def _own_trash(at: Path) -> None:
    """Where the library puts the trash is settled when it is imported."""
    plat_other.HOMETRASH_B = os.fsencode(at / "home" / "Trash")
    plat_other.XDG_DATA_HOME = os.fsencode(at / "home")


class NoIndexer:
    """In place of the indexer: nothing is indexed here."""

    def start(self, shoot_id: int) -> None: ...


def database(at: Path) -> Database:
    return Database(at / "winnow.db")


def frame_ids(opened: Database) -> list[int]:
    return [row.id for row in frames.rows(opened, SHOOT)]


def set_mark(opened: Database, edit: Edit, ids: list[int]) -> None:
    def plan() -> Change | None:
        return plan_edit(
            edit, marks.marks_of(opened, SHOOT, ids), partial(frames.name_of, opened), {}
        )

    marks.apply(opened, SHOOT, plan)


def make_shoot(at: Path, *, sidecars: bool = True) -> None:
    """A shoot of which every frame is a pick, with as many stars as its number and a sidecar that
    says more."""
    folder = at / "shoot"
    folder.mkdir()
    for name, data in CONTENTS.items():
        (folder / name).write_bytes(data)
        if sidecars and name.endswith(".dng"):
            stated = Stated(FileMark(int(name[3])), TEXTS)
            (folder / name).with_suffix(".xmp").write_bytes(xmp.with_stated(None, stated))
    opened = database(at)
    shoots.make(opened, "Fair", [str(folder)])
    (source,) = shoots.folders_of(opened, SHOOT)
    reconcile.reconcile(opened, SHOOT, source.id, pair(scan.scan(folder).files), [])
    with opened.write() as conn:
        conn.execute("UPDATE frame SET state = 2")  # as if they were analysed
    files_read.read_changed(opened, SHOOT)
    set_mark(opened, Edit(decision=Decision.PICK), frame_ids(opened))
    for id in frame_ids(opened):
        set_mark(opened, Edit(stars=int(frames.name_of(opened, id)[3])), [id])
    opened.close()


def files_in(at: Path) -> list[Path]:
    return [path for path in at.rglob("*") if path.is_file() and "winnow.db" not in path.name]


def nothing_lost(at: Path) -> None:
    """Every picture has its bytes somewhere, and every frame its mark."""
    found = {path.read_bytes() for path in files_in(at)}
    for name, data in CONTENTS.items():
        assert data in found, f"{name} is gone"
    opened = database(at)
    for id, mark in marks.marks_of(opened, SHOOT, frame_ids(opened)).items():
        assert mark.decision is Decision.PICK
        (own,) = frame_files.files_of(opened, [id])
        places = [file.place for file in moved_files.of_frames(opened, [id]).get(id, ())] or own.all
        data = next(path.read_bytes() for path in places if path.suffix == ".jpg")
        assert data == CONTENTS[f"QH_{mark.stars or 0}.jpg"], "a frame has another one's mark"
    assert len(frame_ids(opened)) == FRAMES
    opened.close()


def no_parts(at: Path) -> None:
    left = list(at.rglob(".winnow-*"))
    assert not left, f"left behind: {left}"


def is_at(folder: Path, names: list[str]) -> None:
    found = sorted(path.name for path in folder.rglob("*") if path.is_file())
    assert found == sorted(names), f"{folder.name} holds {found}"


def nothing(at: Path) -> None: ...
