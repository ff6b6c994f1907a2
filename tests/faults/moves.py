"""Steps that move files within the shoot: setting aside, renaming, deleting."""

from __future__ import annotations

from pathlib import Path

from tests.faults.ground import (
    ALL,
    CONTENTS,
    FRAMES,
    SHOOT,
    _own_trash,
    database,
    files_in,
    frame_ids,
    is_at,
    make_shoot,
    no_parts,
)
from winnow.store import (
    frame_files,
    frames,
    moved_files,
    renamings,
)
from winnow.work.events import Events
from winnow.work.moves import rename
from winnow.work.moves.delete import Deletions
from winnow.work.moves.rename import Renamings
from winnow.work.moves.set_aside import Aside


def move_aside(at: Path, *, back: bool) -> list[str]:
    opened = database(at)
    job = Aside(opened, Events())
    job.start(SHOOT, frame_ids(opened), back=back)
    job.wait(SHOOT)
    status = job.status(SHOOT)
    assert not status.running
    words = [status.notice] if status.notice else []
    opened.close()
    return words + [why for _, why in (status.result.problems if status.result else ())]


def is_aside(at: Path) -> None:
    is_at(at / "shoot", [])
    is_at(at / "shoot set aside", ALL)
    no_parts(at)


def is_home(at: Path) -> None:
    is_at(at / "shoot", ALL)
    assert not (at / "shoot set aside").exists()
    no_parts(at)


def all_aside(at: Path) -> None:
    make_shoot(at)
    assert move_aside(at, back=False) == []


# Renaming, and undoing that


def rename_files(at: Path, template: str = "fair {seq}", *, back: bool = False) -> list[str]:
    opened = database(at)
    job = Renamings(opened, Events())
    try:
        if back:
            made = [
                renaming
                for renaming in renamings.of_shoot(opened, SHOOT)
                if renaming.state == "done"
            ]
            if not made:
                return []
            renaming = made[0].id
            job.undo(renaming)
        else:
            planned = rename.plan(opened, SHOOT, frame_ids(opened), template)
            if not planned.steps:
                return []
            renaming = job.start(SHOOT, template, planned)
    except rename.RenameError as error:
        return [str(error)]
    job.wait(renaming)
    found = renamings.get(opened, renaming)
    assert found
    assert found.state in ("done", "undone", "stopped"), found
    opened.close()
    return [found.notice] if found.notice else []


def is_renamed(at: Path, stem: str = "fair ") -> None:
    endings = ("jpg", "dng", "xmp")
    is_at(at / "shoot", [f"{stem}{n + 1}.{ending}" for n in range(FRAMES) for ending in endings])


def is_named_as_before(at: Path) -> None:
    is_at(at / "shoot", ALL)


def renamed(at: Path) -> None:
    make_shoot(at)
    assert rename_files(at) == []


def some_aside(at: Path) -> None:
    make_shoot(at)
    opened = database(at)
    job = Aside(opened, Events())
    job.start(SHOOT, frame_ids(opened)[:2], back=False)
    job.wait(SHOOT)
    opened.close()


def delete_for_good(at: Path, *, trash: bool) -> list[str]:
    _own_trash(at)
    opened = database(at)
    job = Deletions(opened, Events())
    job.look(SHOOT, frame_ids(opened))
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


def others_stand(at: Path, *, trash: bool) -> None:
    found = {path.read_bytes() for path in files_in(at)}
    for name, data in CONTENTS.items():
        assert data in found or not (trash or name.startswith("QH_2")), f"{name} is gone"
    opened = database(at)
    for id in frame_ids(opened):
        (own,) = frame_files.files_of(opened, [id])
        places = [file.place for file in moved_files.of_frames(opened, [id]).get(id, ())] or own.all
        assert any(path.exists() for path in places), "a frame without any file stays"
    opened.close()


def is_deleted(at: Path) -> None:
    opened = database(at)
    assert [frames.name_of(opened, id) for id in frame_ids(opened)] == ["QH_2"]
    assert moved_files.of_shoot(opened, SHOOT) == {}
    opened.close()
    assert not (at / "shoot set aside").exists()
