"""A link that took the place of a file, or of its folder, after it was planned: nothing of where it
leads is delivered, moved, renamed or written."""

import os
import shutil
from pathlib import Path
from typing import Any

import pytest

from tests.conftest import until
from tests.pictures import write_shoot
from tests.ready import ready
from tests.work.saying import set_mark, write
from winnow.core.marks import Decision, Edit
from winnow.store import deliveries, frame_files, frames, moved_files
from winnow.work.deliver import plan as delivery_plan
from winnow.work.files.write import plan as plan_files
from winnow.work.moves import journal, rename, set_aside
from winnow.work.runtime import Runtime

SECRET = b"not yours"


@pytest.fixture
def shoot(runtime: Runtime, tmp_path: Path) -> int:
    write_shoot(tmp_path / "shoot" / "day", [1, 2])
    made = ready(runtime, tmp_path / "shoot")
    set_mark(runtime, made, "QH_0001", Edit(Decision.REJECT, 4))
    return made


def links(tmp_path: Path, kind: str) -> Path:
    """Put a link in the place of a picture, or of its folder; returns the picture elsewhere that it
    leads to."""
    elsewhere = tmp_path / "elsewhere"
    day = tmp_path / "shoot" / "day"
    if kind == "folder":
        shutil.move(day, tmp_path / "was")
        elsewhere.mkdir()
        (elsewhere / "QH_0001.jpg").write_bytes(SECRET)
        day.symlink_to(elsewhere)
    else:
        elsewhere.mkdir()
        (elsewhere / "QH_0001.jpg").write_bytes(SECRET)
        (day / "QH_0001.jpg").unlink()
        (day / "QH_0001.jpg").symlink_to(elsewhere / "QH_0001.jpg")
    return elsewhere / "QH_0001.jpg"


@pytest.mark.parametrize("kind", ["file", "folder"])
@pytest.mark.parametrize("how", ["copy", "link", "move"])
def test_nothing_elsewhere_is_delivered(
    runtime: Runtime, shoot: int, tmp_path: Path, kind: str, how: Any
) -> None:
    ids = [row.id for row in frames.rows(runtime.db, shoot)][:1]
    wish = delivery_plan.Wish(how=how, sidecars=False)
    planned = delivery_plan.plan(runtime.db, shoot, str(tmp_path / "out"), ids, wish)
    there = links(tmp_path, kind)
    delivery = runtime.deliveries.start(shoot, planned)

    def state() -> deliveries.Delivery:
        found = deliveries.get(runtime.db, delivery)
        assert found
        return found

    until(lambda: state().state not in ("planned", "running"))
    assert state().failed == 1
    (item,) = deliveries.items(runtime.db, delivery)
    assert "a link leads elsewhere" in item.notice
    assert there.read_bytes() == SECRET
    assert [file for file in (tmp_path / "out").rglob("*") if file.is_file()] == []


@pytest.mark.parametrize("how", ["copy", "link", "move"])
def test_another_file_in_its_place_is_not_delivered(
    runtime: Runtime, shoot: int, tmp_path: Path, how: Any
) -> None:
    ids = [row.id for row in frames.rows(runtime.db, shoot)][:1]
    wish = delivery_plan.Wish(how=how, sidecars=False)
    planned = delivery_plan.plan(runtime.db, shoot, str(tmp_path / "out"), ids, wish)
    picture = tmp_path / "shoot" / "day" / "QH_0001.jpg"
    picture.unlink()
    picture.write_bytes(SECRET)
    delivery = runtime.deliveries.start(shoot, planned)
    runtime.deliveries.wait(delivery)
    (item,) = deliveries.items(runtime.db, delivery)
    assert "was changed since this was planned" in item.notice
    assert [file for file in (tmp_path / "out").rglob("*") if file.is_file()] == []
    # Planned again, it is said to be another one, and delivered as it is.
    again = delivery_plan.plan(runtime.db, shoot, str(tmp_path / "out"), ids, wish)
    assert again.changed == ("QH_0001",)
    runtime.deliveries.wait(runtime.deliveries.start(shoot, again))
    assert (tmp_path / "out" / "QH_0001.jpg").read_bytes() == SECRET


@pytest.mark.parametrize("kind", ["file", "folder"])
def test_nothing_is_moved_through_a_link(
    runtime: Runtime, shoot: int, tmp_path: Path, kind: str
) -> None:
    (first, *_) = [row.id for row in frames.rows(runtime.db, shoot)]
    (files,) = frame_files.files_of(runtime.db, [first])
    planned = {first: set_aside.files_to_move(files)}
    there = links(tmp_path, kind)
    failed = journal.begin_and_move(runtime.db, planned)
    assert list(failed) == [first]
    assert "a link leads elsewhere" in failed[first]
    assert there.read_bytes() == SECRET
    assert moved_files.of_shoot(runtime.db, shoot) == {}


def test_nothing_is_renamed_through_a_link(runtime: Runtime, shoot: int, tmp_path: Path) -> None:
    ids = [row.id for row in frames.rows(runtime.db, shoot)]
    planned = rename.plan(runtime.db, shoot, ids, "new {seq}")
    there = links(tmp_path, "folder")
    runtime.renamings.wait(runtime.renamings.start(shoot, "new {seq}", planned))
    assert os.listdir(there.parent) == ["QH_0001.jpg"]


@pytest.mark.parametrize("kind", ["sidecar", "folder"])
def test_nothing_is_written_through_a_link(
    runtime: Runtime, shoot: int, tmp_path: Path, kind: str
) -> None:
    day = tmp_path / "shoot" / "day"
    write(runtime, shoot)
    assert (day / "QH_0001.xmp").exists()
    set_mark(runtime, shoot, "QH_0001", Edit(Decision.PICK))
    assert [p.outcome for p in plan_files(runtime.db, shoot)] == ["change"]
    elsewhere = tmp_path / "elsewhere"
    elsewhere.mkdir()
    shutil.copy(day / "QH_0001.xmp", elsewhere / "QH_0001.xmp")
    before = (elsewhere / "QH_0001.xmp").read_bytes()
    if kind == "folder":
        shutil.move(day, tmp_path / "was")
        day.symlink_to(elsewhere)
    else:
        (day / "QH_0001.xmp").unlink()
        (day / "QH_0001.xmp").symlink_to(elsewhere / "QH_0001.xmp")
    write(runtime, shoot)
    assert (elsewhere / "QH_0001.xmp").read_bytes() == before
    assert os.listdir(elsewhere) == ["QH_0001.xmp"]
