"""What a shoot says of a frame, and what its files do: for tests."""

from pathlib import Path

from winnow.core.files.merge import Said, Stated
from winnow.core.files.profiles import FileMark
from winnow.core.files.texts import TextEdit
from winnow.core.marks import Change, Edit, Mark, plan_edit
from winnow.photos.xmp import read_sidecar, with_stated
from winnow.store import frames, marks
from winnow.work.files import captions
from winnow.work.files import read as files_read
from winnow.work.files import write as files_write
from winnow.work.files.write import Order, Planned, Written
from winnow.work.runtime import Runtime

# Whose word counts.
OURS = Order(kinds={"stars": "here", "label": "here", "decision": "here"})
FILES = Order(kinds={"stars": "file", "label": "file"})


def frame_of(runtime: Runtime, shoot: int, name: str) -> int:
    return next(row.id for row in frames.rows(runtime.db, shoot) if row.name == name)


def set_mark(runtime: Runtime, shoot: int, name: str, edit: Edit, by: str = "") -> None:
    frame = frame_of(runtime, shoot, name)

    def plan() -> Change | None:
        return plan_edit(edit, marks.marks_of(runtime.db, shoot, [frame]), lambda _: name, {})

    marks.apply(runtime.db, shoot, plan, by)


def set_texts(runtime: Runtime, shoot: int, name: str, edit: TextEdit) -> None:
    captions.edit(runtime.db, shoot, [frame_of(runtime, shoot, name)], edit, fill=False)


def said_now(runtime: Runtime, shoot: int, name: str) -> Said:
    frame = frame_of(runtime, shoot, name)
    return files_read.said_of(runtime.db, shoot, [frame])[frame]


def mark_of(runtime: Runtime, shoot: int, name: str) -> Mark:
    return said_now(runtime, shoot, name).mark


def write(runtime: Runtime, shoot: int, order: Order = Order()) -> tuple[Written, Change | None]:  # noqa: B008
    return files_write.write(runtime.db, runtime.cache, shoot, order)


def outcomes(runtime: Runtime, shoot: int) -> dict[str, Planned]:
    return {p.name: p for p in files_write.plan(runtime.db, shoot)}


def state(path: Path, stated: Stated) -> None:
    """What another program writes."""
    data = path.read_bytes() if path.exists() else None
    path.write_bytes(with_stated(data, stated))


def mark_in(path: Path) -> FileMark:
    return read_sidecar(path.read_bytes()).mark
