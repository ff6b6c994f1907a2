"""The steps by which Winnow changes files or its database, each to be broken anywhere and gone on
with.

A folder that a step lies in: "shoot" with pictures, "winnow.db", and what the step makes.
"""

from __future__ import annotations

import os
import random
import sqlite3
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
from winnow.photos import copies, scan, whole, xmp
from winnow.photos.cache import PictureCache
from winnow.store import (
    backups,
    card_imports,
    db,
    deliveries,
    frame_files,
    frames,
    marks,
    moved_files,
    opening,
    reconcile,
    renamings,
    settings,
    shoots,
)
from winnow.store.db import Database
from winnow.store.deliveries import How
from winnow.store.soundness import DatabaseError, is_sound
from winnow.work.deliver import plan as delivery_plan
from winnow.work.deliver.card_import import BringIns
from winnow.work.deliver.card_plan import Wish
from winnow.work.deliver.run import Deliveries
from winnow.work.events import Events
from winnow.work.files import read as files_read
from winnow.work.files.auto_write import FileWriter
from winnow.work.files.write import Order
from winnow.work.moves import journal, rename, set_aside
from winnow.work.moves.delete import Deletions
from winnow.work.moves.rename import Renamings
from winnow.work.moves.set_aside import Aside

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
    BringIns(opened, Events(), _NoIndexer())  # type: ignore[arg-type]
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


class _NoIndexer:
    """In place of the indexer: nothing is indexed here."""

    def start(self, shoot_id: int) -> None: ...


def _opened(at: Path) -> Database:
    return Database(at / "winnow.db")


def _ids(opened: Database) -> list[int]:
    return [row.id for row in frames.rows(opened, SHOOT)]


def _mark(opened: Database, edit: Edit, ids: list[int]) -> None:
    def plan() -> Change | None:
        return plan_edit(
            edit, marks.marks_of(opened, SHOOT, ids), partial(frames.name_of, opened), {}
        )

    marks.apply(opened, SHOOT, plan)


def _shoot(at: Path, *, sidecars: bool = True) -> None:
    """A shoot of which every frame is a pick, with as many stars as its number and a sidecar that
    says more."""
    folder = at / "shoot"
    folder.mkdir()
    for name, data in CONTENTS.items():
        (folder / name).write_bytes(data)
        if sidecars and name.endswith(".dng"):
            stated = Stated(FileMark(int(name[3])), TEXTS)
            (folder / name).with_suffix(".xmp").write_bytes(xmp.with_stated(None, stated))
    opened = _opened(at)
    shoots.make(opened, "Fair", [str(folder)])
    (source,) = shoots.folders_of(opened, SHOOT)
    reconcile.reconcile(opened, SHOOT, source.id, pair(scan.scan(folder).files), [])
    with opened.write() as conn:
        conn.execute("UPDATE frame SET state = 2")  # as if they were analysed
    files_read.read_changed(opened, SHOOT)
    _mark(opened, Edit(decision=Decision.PICK), _ids(opened))
    for id in _ids(opened):
        _mark(opened, Edit(stars=int(frames.name_of(opened, id)[3])), [id])
    opened.close()


def _files(at: Path) -> list[Path]:
    return [path for path in at.rglob("*") if path.is_file() and "winnow.db" not in path.name]


def _nothing_lost(at: Path) -> None:
    """Every picture has its bytes somewhere, and every frame its mark."""
    found = {path.read_bytes() for path in _files(at)}
    for name, data in CONTENTS.items():
        assert data in found, f"{name} is gone"
    opened = _opened(at)
    for id, mark in marks.marks_of(opened, SHOOT, _ids(opened)).items():
        assert mark.decision is Decision.PICK
        (own,) = frame_files.files_of(opened, [id])
        places = [file.place for file in moved_files.of_frames(opened, [id]).get(id, ())] or own.all
        data = next(path.read_bytes() for path in places if path.suffix == ".jpg")
        assert data == CONTENTS[f"QH_{mark.stars or 0}.jpg"], "a frame has another one's mark"
    assert len(_ids(opened)) == FRAMES
    opened.close()


def _no_parts(at: Path) -> None:
    left = list(at.rglob(".winnow-*"))
    assert not left, f"left behind: {left}"


def _is_at(folder: Path, names: list[str]) -> None:
    found = sorted(path.name for path in folder.rglob("*") if path.is_file())
    assert found == sorted(names), f"{folder.name} holds {found}"


_ALL: Final = [*CONTENTS, *(f"QH_{n}.xmp" for n in range(FRAMES))]


# Setting aside, and bringing back


def _move(at: Path, *, back: bool) -> list[str]:
    opened = _opened(at)
    job = Aside(opened, Events())
    job.start(SHOOT, _ids(opened), back=back)
    job.wait(SHOOT)
    status = job.status(SHOOT)
    assert not status.running
    words = [status.notice] if status.notice else []
    opened.close()
    return words + [why for _, why in (status.result.problems if status.result else ())]


def _is_aside(at: Path) -> None:
    _is_at(at / "shoot", [])
    _is_at(at / "shoot set aside", _ALL)
    _no_parts(at)


def _is_home(at: Path) -> None:
    _is_at(at / "shoot", _ALL)
    assert not (at / "shoot set aside").exists()
    _no_parts(at)


def _aside(at: Path) -> None:
    _shoot(at)
    assert _move(at, back=False) == []


# Renaming, and undoing that


def _rename(at: Path, template: str = "fair {seq}", *, back: bool = False) -> list[str]:
    opened = _opened(at)
    job = Renamings(opened, Events())
    try:
        if back:
            made = [one for one in renamings.of_shoot(opened, SHOOT) if one.state == "done"]
            if not made:
                return []
            one = made[0].id
            job.undo(one)
        else:
            planned = rename.plan(opened, SHOOT, _ids(opened), template)
            if not planned.steps:
                return []
            one = job.start(SHOOT, template, planned)
    except rename.RenameError as error:
        return [str(error)]
    job.wait(one)
    found = renamings.get(opened, one)
    assert found
    assert found.state in ("done", "undone", "stopped"), found
    opened.close()
    return [found.notice] if found.notice else []


def _is_renamed(at: Path, stem: str = "fair ") -> None:
    endings = ("jpg", "dng", "xmp")
    _is_at(at / "shoot", [f"{stem}{n + 1}.{ending}" for n in range(FRAMES) for ending in endings])


def _is_named_as_before(at: Path) -> None:
    _is_at(at / "shoot", _ALL)


def _renamed(at: Path) -> None:
    _shoot(at)
    assert _rename(at) == []


# Delivering, and taking back


def _deliver(at: Path, how: How) -> list[str]:
    opened = _opened(at)
    jobs = Deliveries(opened, Events())
    made = deliveries.of_shoot(opened, SHOOT)
    if made:
        one = made[0].id
        jobs.resume(one)
    else:
        wish = delivery_plan.Wish(how=how, template="{seq}/{name}", sidecars=True, manifest=True)
        try:
            planned = delivery_plan.plan(opened, SHOOT, str(at / "out"), _ids(opened), wish)
            one = jobs.start(SHOOT, planned)
        except delivery_plan.DeliveryError as error:
            return [str(error)]
    jobs.wait(one)
    return _delivery_said(opened, one)


def _delivery_said(opened: Database, one: int) -> list[str]:
    found = deliveries.get(opened, one)
    assert found
    assert found.state in ("done", "stopped", "returned"), found.state
    words = [found.notice] if found.notice else []
    words += [item.notice for item in deliveries.items(opened, one) if item.notice]
    opened.close()
    return words


def _take_back(at: Path) -> list[str]:
    opened = _opened(at)
    jobs = Deliveries(opened, Events())
    one = deliveries.of_shoot(opened, SHOOT)[0].id
    jobs.take_back(one)
    jobs.wait(one)
    return _delivery_said(opened, one)


def _is_delivered(at: Path, how: How) -> None:
    opened = _opened(at)
    (one,) = deliveries.of_shoot(opened, SHOOT)
    assert (one.state, one.failed) == ("done", 0), one
    opened.close()
    for n in range(FRAMES):
        for ending in ("jpg", "dng"):
            copy = at / "out" / str(n + 1) / f"QH_{n}.{ending}"
            assert copy.read_bytes() == CONTENTS[copy.name]
    assert len(list((at / "out").glob("*/*.xmp"))) == FRAMES
    listed = [path.read_text() for path in (at / "out").iterdir() if path.is_file()]
    assert [text.count("\n") for text in listed] == [3 * FRAMES]
    for line in listed[0].splitlines():
        digest, name = line.split("  ")
        assert copies.file_hash(at / "out" / name) == digest, f"{name}: a wrong sum"
    _is_at(at / "shoot", [] if how == "move" else _ALL)
    _no_parts(at)


def _is_taken_back(at: Path) -> None:
    opened = _opened(at)
    assert deliveries.of_shoot(opened, SHOOT)[0].state == "returned"
    opened.close()
    _is_at(at / "shoot", _ALL)
    _is_at(at / "out", [])
    _no_parts(at)


def _delivered(at: Path, how: How) -> None:
    _shoot(at)
    assert _deliver(at, how) == []


# Bringing in


def _card(at: Path) -> None:
    for number, (name, data) in enumerate(CONTENTS.items()):
        path = at / "card" / "DCIM" / "100QUILL" / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_bytes(data)
        os.utime(path, (1781524800 + number, 1781524800 + number))
    (at / "card" / "DCIM" / "100QUILL" / "QH_0.mov").write_bytes(b"film" * 400)
    _opened(at).close()


def _bring(at: Path) -> list[str]:
    opened = _opened(at)
    jobs = BringIns(opened, Events(), _NoIndexer())  # type: ignore[arg-type]
    made = card_imports.latest(opened, 1)
    try:
        if made:
            one = made[0].id
            jobs.resume(one)
        else:
            places = str(at / "disk"), str(at / "second")
            one = jobs.start(Wish(str(at / "card"), places[0], "{date}", "Quay", places[1]))
    except Exception as error:
        from winnow.work.deliver.card_plan import BringInError

        if not isinstance(error, BringInError):
            raise
        return [str(error)]
    jobs.wait(one)
    found = card_imports.get(opened, one)
    assert found
    assert found.state in ("done", "stopped"), found.state
    words = [found.notice] if found.notice else []
    words += [item.notice for item in card_imports.items(opened, one) if item.notice]
    opened.close()
    return words


def _all_brought(at: Path) -> list[Path]:
    on_card = {path.name: path.read_bytes() for path in (at / "card" / "DCIM").rglob("*.*")}
    return [
        at / place / name
        for place in ("disk", "second")
        for name, data in on_card.items()
        if data not in [path.read_bytes() for path in (at / place).rglob("*") if path.is_file()]
    ]


def _safe(at: Path) -> bool:
    opened = _opened(at)
    jobs = BringIns(opened, Events(), _NoIndexer())  # type: ignore[arg-type]
    made = card_imports.latest(opened, 1)
    safe = bool(made) and jobs.report(made[0])[0]
    opened.close()
    return safe


def _never_safe_too_soon(at: Path) -> None:
    if _safe(at):
        assert _all_brought(at) == [], "the card is called safe"


def _is_brought(at: Path) -> None:
    assert _all_brought(at) == []
    assert _safe(at)
    for place in ("disk", "second"):
        assert len(list((at / place).rglob("QH*.*"))) == len(CONTENTS) + 1
        assert len(list((at / place).glob("checksums*"))) == 1
    _no_parts(at)


# Writing to files


def _more_stars(at: Path, *, embed: bool) -> None:
    _shoot(at, sidecars=not embed)
    opened = _opened(at)
    settings.save(opened, {"embed": embed})
    ids = _ids(opened)
    for id in ids:
        _mark(opened, Edit(stars=int(frames.name_of(opened, id)[3]) + 1), [id])
    opened.close()
    if not embed:
        (at / "shoot" / "QH_1.xmp").unlink()


def _write(at: Path) -> list[str]:
    opened = _opened(at)
    job = FileWriter(opened, PictureCache(at / "cache"), Events())
    job.start(SHOOT, Order())
    job.wait(SHOOT)
    status = job.status(SHOOT)
    assert not status.running
    words = [status.notice] if status.notice else []
    words += [why for _, why in (status.result.problems if status.result else ())]
    opened.close()
    return words


def _is_written(at: Path, *, embed: bool) -> None:
    for n in range(FRAMES):
        path = at / "shoot" / f"QH_{n}.{'jpg' if embed else 'xmp'}"
        data = path.read_bytes()
        stated = xmp.embedded(data) if embed else xmp.read_sidecar(data)
        assert stated.mark.rating == n + 1, path
        if not embed and n != 1:
            assert stated.texts == TEXTS, path
    _no_parts(at)


def _pictures_stand(at: Path) -> None:
    """Raw files are as they were; JPEGs show the same picture, and sidecars are whole."""
    for name, data in CONTENTS.items():
        found = (at / "shoot" / name).read_bytes()
        assert found == data or (name.endswith("jpg") and found.endswith(data[-500:])), name
    for path in (at / "shoot").glob("*.xmp"):
        xmp.read_sidecar(path.read_bytes())


# Deleting for good


def _some_aside(at: Path) -> None:
    _shoot(at)
    opened = _opened(at)
    job = Aside(opened, Events())
    job.start(SHOOT, _ids(opened)[:2], back=False)
    job.wait(SHOOT)
    opened.close()


def _delete(at: Path, *, trash: bool) -> list[str]:
    _own_trash(at)
    opened = _opened(at)
    job = Deletions(opened, Events())
    job.look(SHOOT, _ids(opened))
    job.wait(SHOOT)
    look = job.status(SHOOT).look
    if look is None:
        words = [job.status(SHOOT).notice]
    elif not look.frames:
        words = []
    else:
        job.start(SHOOT, len(look.frames), trash=trash)
        job.wait(SHOOT)
        status = job.status(SHOOT)
        assert status.stage != "deleting"
        words = [why for _, why in status.problems] + ([status.notice] if status.notice else [])
    opened.close()
    return words


def _others_stand(at: Path, *, trash: bool) -> None:
    found = {path.read_bytes() for path in _files(at)}
    for name, data in CONTENTS.items():
        assert data in found or not (trash or name.startswith("QH_2")), f"{name} is gone"
    opened = _opened(at)
    for id in _ids(opened):
        (own,) = frame_files.files_of(opened, [id])
        places = [file.place for file in moved_files.of_frames(opened, [id]).get(id, ())] or own.all
        assert any(path.exists() for path in places), "a frame without any file stays"
    opened.close()


def _is_deleted(at: Path) -> None:
    opened = _opened(at)
    assert [frames.name_of(opened, id) for id in _ids(opened)] == ["QH_2"]
    assert moved_files.of_shoot(opened, SHOOT) == {}
    opened.close()
    assert not (at / "shoot set aside").exists()


# The database: marks, opening, restoring, migrating, backups


def _mark_often(at: Path) -> list[str]:
    opened = _opened(at)
    acknowledged = os.open(at / "acknowledged", os.O_WRONLY | os.O_CREAT | os.O_APPEND)
    words = []
    for stars in (3, 4, 5):
        try:
            _mark(opened, Edit(stars=stars), _ids(opened)[:1])
            os.write(acknowledged, str(stars).encode())
            os.fsync(acknowledged)
            whole.sync_folder(at)
        except sqlite3.Error as error:
            words.append(f"refused: {error.__class__.__name__}")
    os.close(acknowledged)
    opened.close()
    return [] if not words else ["It was refused."]


def _acknowledged_is_stored(at: Path) -> None:
    log = at / "acknowledged"
    last = int(log.read_text()[-1]) if log.exists() and log.read_text() else 0
    opened = _opened(at)
    (mark,) = marks.marks_of(opened, SHOOT, _ids(opened)[:1]).values()
    assert (mark.stars or 0) >= last, f"{last} stars were acknowledged, {mark} is stored"
    opened.close()


def _all_marked(at: Path) -> None:
    opened = _opened(at)
    (mark,) = marks.marks_of(opened, SHOOT, _ids(opened)[:1]).values()
    assert mark.stars == 5
    opened.close()


def _filled(at: Path) -> None:
    opened = _opened(at)
    for n in range(40):
        settings.save_set(opened, "labels", f"set {n}", ["x" * 400])
    backups.make(opened, at)
    opened.close()


def _damaged(at: Path) -> None:
    _filled(at)
    data = bytearray((at / "winnow.db").read_bytes())
    data[6000:9000] = random.Random(1).randbytes(3000)
    (at / "winnow.db").write_bytes(data)


def _missing(at: Path) -> None:
    _filled(at)
    (at / "winnow.db").unlink()


def _of_an_older_winnow(at: Path) -> None:
    steps, latest = db._STEPS, db.LATEST
    try:
        db._STEPS, db.LATEST = steps[:-8], latest - 8
        opened = _opened(at)
        with opened.write() as conn:
            for n in range(40):
                conn.execute(
                    "INSERT INTO saved_set (kind, name, content) VALUES ('labels', ?, '[]')",
                    (f"set {n}",),
                )
        opened.close()
    finally:
        db._STEPS, db.LATEST = steps, latest


def _open(at: Path) -> list[str]:
    try:
        opened, _ = opening.open_sound(at / "winnow.db", ended_badly=True)
    except DatabaseError as error:
        return [str(error)]
    opened.close()
    return []


def _back_up(at: Path) -> list[str]:
    opened = _opened(at)
    try:
        backups.make(opened, at)
    except (OSError, sqlite3.Error, backups.BackupError):
        return ["There is no new backup."]
    finally:
        opened.close()
    return []


def _has_forty(at: Path) -> None:
    opened, _ = opening.open_sound(at / "winnow.db", ended_badly=True)
    assert len(settings.saved_sets(opened, "labels")) == 40, "a start is empty, or half"
    opened.close()
    assert is_sound(at / "winnow.db")
    _no_parts(at)


def _opens_new(at: Path) -> None:
    opened, _ = opening.open_sound(at / "winnow.db", ended_badly=True)
    opened.close()


def _backups_are_sound(at: Path) -> None:
    every = backups.all_of(at)
    assert every
    assert all(is_sound(one.path) for one in every)
    _has_forty(at)


def _nothing(at: Path) -> None: ...


STEPS: Final = (
    Step("set aside", _shoot, partial(_move, back=False), _is_aside, _nothing_lost),
    Step("bring back", _aside, partial(_move, back=True), _is_home, _nothing_lost),
    Step("rename", _shoot, _rename, _is_renamed, _nothing_lost),
    Step(
        "shift names", _shoot, partial(_rename, template="QH_{seq}"), partial(_is_renamed,
        stem="QH_"),
        _nothing_lost,
    ),
    Step("undo renaming", _renamed, partial(_rename, back=True), _is_named_as_before,
    _nothing_lost),
    *(
        Step(
            f"deliver, {how}", _shoot, partial(_deliver, how=how), partial(_is_delivered, how=how),
            _nothing_lost,
        )
        for how in ("copy", "move", "link")
    ),
    *(
        Step(f"take back, {how}", partial(_delivered, how=how), _take_back, _is_taken_back,
        _nothing_lost)
        for how in ("copy", "move", "link")
    ),
    Step("bring in", _card, _bring, _is_brought, _never_safe_too_soon),
    Step(
        "write sidecars", partial(_more_stars, embed=False), _write, partial(_is_written,
        embed=False),
        _pictures_stand,
    ),
    Step(
        "embed", partial(_more_stars, embed=True), _write, partial(_is_written, embed=True),
        _pictures_stand,
    ),
    Step(
        "delete", _some_aside, partial(_delete, trash=False), _is_deleted,
        partial(_others_stand, trash=False),
    ),
    Step(
        "trash", _some_aside, partial(_delete, trash=True), _is_deleted,
        partial(_others_stand, trash=True),
    ),
    Step("mark", _shoot, _mark_often, _all_marked, _acknowledged_is_stored),
    Step("open", _nothing, _open, _opens_new, _nothing),
    Step("restore what is damaged", _damaged, _open, _has_forty, _has_forty),
    Step("restore what is gone", _missing, _open, _has_forty, _has_forty),
    Step("migrate", _of_an_older_winnow, _open, _has_forty, _has_forty),
    Step("back up", _filled, _back_up, _backups_are_sound, _backups_are_sound),
)  # fmt: skip

# Where the failing disk is, by step; elsewhere what is below "shoot", and its holding folder.
FAILING: Final = {
    **{f"deliver, {how}": ("out", "shoot") for how in ("copy", "move", "link")},
    **{f"take back, {how}": ("out", "shoot") for how in ("copy", "move", "link")},
    "bring in": ("card", "disk", "second"),
    **dict.fromkeys(("open", "migrate", "back up", "restore what is gone"), ("",)),
    "restore what is damaged": ("",),
    "mark": (),
}
