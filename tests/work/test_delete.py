"""Deleting for good: only what was set aside, looked at and counted; what exists elsewhere is known
by comparing."""

import errno
import os
import shutil
import subprocess
import threading
from collections.abc import Collection
from pathlib import Path

import pytest
from send2trash import plat_other

from tests.conftest import until
from tests.pictures import dng, jpeg, write_shoot
from tests.ready import ready
from winnow.core.marks import Change, Decision, Edit, plan_edit
from winnow.photos import originals
from winnow.store import deletions, frames, history, marks, moved_files
from winnow.work import tally
from winnow.work.deliver import plan as delivery_plan
from winnow.work.moves import delete, set_aside
from winnow.work.moves.delete import DeleteError
from winnow.work.runtime import Runtime


@pytest.fixture
def shoot(runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> int:
    # Where the library puts the trash is settled when it is imported.
    monkeypatch.setattr(plat_other, "HOMETRASH_B", os.fsencode(tmp_path / "home" / "Trash"))
    monkeypatch.setattr(plat_other, "XDG_DATA_HOME", os.fsencode(tmp_path / "home"))
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2, 3, 4])
    (folder / "QH_0002.dng").write_bytes(dng(jpeg(2, 1200, 800)))
    return ready(runtime, folder)


def ids(runtime: Runtime, shoot: int) -> list[int]:
    return [row.id for row in frames.rows(runtime.db, shoot)]


def looked(runtime: Runtime, shoot: int, wanted: list[int]) -> delete.Losses:
    runtime.deletions.look(shoot, wanted)
    runtime.deletions.wait(shoot)
    found = runtime.deletions.status(shoot).look
    assert found
    return found


def test_only_what_is_set_aside_is_deleted_and_leaves_the_shoot(
    runtime: Runtime, shoot: int, tmp_path: Path
) -> None:
    first, second, third, fourth = ids(runtime, shoot)
    set_aside.set_aside(runtime.db, [first, second])
    found = looked(runtime, shoot, [first, second, third])
    assert (found.frames, found.files) == ((first, second), 3)
    assert set(found.only) == {"QH_0001.jpg", "QH_0002.jpg", "QH_0002.dng"}
    with pytest.raises(DeleteError, match="You typed 3, but 2"):
        runtime.deletions.start(shoot, 3, trash=False)
    assert len(list((tmp_path / "shoot set aside").iterdir())) == 3
    runtime.deletions.start(shoot, 2, trash=False)
    runtime.deletions.wait(shoot)
    status = runtime.deletions.status(shoot)
    assert (status.stage, status.deleted, status.problems) == ("deleted", 2, ())
    assert not (tmp_path / "shoot set aside").exists()
    assert ids(runtime, shoot) == [third, fourth]
    assert moved_files.of_shoot(runtime.db, shoot) == {}
    assert tally.tally(runtime.db, shoot).bars[0].frames == 4, "what was shot stays counted"
    runtime.indexer.start(shoot)
    until(lambda: not runtime.indexer.status(shoot).running)
    assert ids(runtime, shoot) == [third, fourth]
    assert sorted(os.listdir(tmp_path / "shoot")) == ["QH_0003.jpg", "QH_0004.jpg"]
    with pytest.raises(DeleteError, match="Look first"):
        runtime.deletions.start(shoot, 2, trash=False)


def test_copies_elsewhere_are_believed_only_when_they_are_equal(
    runtime: Runtime, shoot: int, tmp_path: Path
) -> None:
    first, second, _, _ = ids(runtime, shoot)
    planned = delivery_plan.plan(runtime.db, shoot, str(tmp_path / "out"), [first, second])
    delivery = runtime.deliveries.start(shoot, planned)
    runtime.deliveries.wait(delivery)
    set_aside.set_aside(runtime.db, [first, second])
    assert looked(runtime, shoot, [first, second]).only == ()
    size = (tmp_path / "out" / "QH_0001.jpg").stat().st_size
    (tmp_path / "out" / "QH_0001.jpg").write_bytes(os.urandom(size))
    (tmp_path / "out" / "QH_0002.dng").unlink()
    found = looked(runtime, shoot, [first, second])
    assert set(found.only) == {"QH_0001.jpg", "QH_0002.dng"}
    assert 0 < found.only_size < found.size


def test_a_copy_by_hand_in_the_shoot_counts(runtime: Runtime, shoot: int, tmp_path: Path) -> None:
    shutil.copy(tmp_path / "shoot" / "QH_0001.jpg", tmp_path / "shoot" / "copy of it.jpg")
    runtime.indexer.start(shoot)
    until(lambda: len(ids(runtime, shoot)) == 5)
    until(lambda: not runtime.indexer.status(shoot).running)
    first = next(r.id for r in frames.rows(runtime.db, shoot) if r.name == "QH_0001")
    set_aside.set_aside(runtime.db, [first])
    assert looked(runtime, shoot, [first]).only == ()


def test_the_trash_gets_them_as_the_standard_says(
    runtime: Runtime, shoot: int, tmp_path: Path
) -> None:
    """freedesktop.org Trash specification 1.0: files/NAME, and info/NAME.trashinfo with the path it
    had."""
    second = ids(runtime, shoot)[1]
    before = (tmp_path / "shoot" / "QH_0002.dng").read_bytes()
    set_aside.set_aside(runtime.db, [second])
    looked(runtime, shoot, [second])
    runtime.deletions.start(shoot, 1, trash=True)
    runtime.deletions.wait(shoot)
    assert runtime.deletions.status(shoot).problems == ()
    trash = tmp_path / "home" / "Trash"
    assert (trash / "files" / "QH_0002.dng").read_bytes() == before
    info = (trash / "info" / "QH_0002.dng.trashinfo").read_text()
    assert info.startswith("[Trash Info]")
    assert "QH_0002.dng" in info


def test_what_cannot_be_deleted_stays_set_aside(
    runtime: Runtime, shoot: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    first, second, _, _ = ids(runtime, shoot)
    set_aside.set_aside(runtime.db, [first, second])
    real = originals.remove_for_good

    def refuse(path: Path, roots: Collection[Path]) -> None:
        if path.name == "QH_0001.jpg":
            raise OSError(errno.EACCES, "no")
        real(path, roots)

    monkeypatch.setattr(originals, "remove_for_good", refuse)
    gone, problems = delete.delete(runtime.db, shoot, [first, second], trash=False)
    assert gone == 1
    assert [frame for frame, _ in problems] == [first]
    assert "no permission" in problems[0][1]
    assert list(moved_files.of_shoot(runtime.db, shoot)) == [first]
    set_aside.bring_back(runtime.db, [first])
    assert first in ids(runtime, shoot)


def test_a_deletion_that_was_interrupted(runtime: Runtime, shoot: int) -> None:
    first, second, third, _ = ids(runtime, shoot)
    set_aside.set_aside(runtime.db, [first, second, third])
    deletions.begin(runtime.db, shoot, trashed=False)
    of = moved_files.of_frames(runtime.db, [first, second, third])
    moved_files.note(runtime.db, [first, second], "leaving")
    next(f for f in of[second] if f.place.suffix == ".dng").place.unlink()
    assert delete.recover(runtime.db) == 2
    # Of the first, nothing was gone yet: it stays. The second is finished.
    assert list(moved_files.of_shoot(runtime.db, shoot)) == [first, third]
    assert second not in ids(runtime, shoot)
    assert not any(file.place.exists() for file in of[second])


def test_a_look_from_another_window_does_not_stop_a_deletion(
    runtime: Runtime, shoot: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    wanted = ids(runtime, shoot)[:2]
    set_aside.set_aside(runtime.db, wanted)
    looked(runtime, shoot, wanted)
    inside, go_on = threading.Event(), threading.Event()
    real = originals.remove_for_good

    def slow(path: Path, roots: Collection[Path]) -> None:
        inside.set()
        go_on.wait(10)
        real(path, roots)

    monkeypatch.setattr(originals, "remove_for_good", slow)
    runtime.deletions.start(shoot, 2, trash=False)
    inside.wait(10)
    with pytest.raises(DeleteError, match="being deleted already"):
        runtime.deletions.look(shoot, wanted)
    go_on.set()
    runtime.deletions.wait(shoot)
    assert runtime.deletions.status(shoot).deleted == 2


def test_the_history_goes_on_without_what_is_gone(runtime: Runtime, shoot: int) -> None:
    first, second, _, _ = ids(runtime, shoot)

    def plan() -> Change | None:
        here = marks.marks_of(runtime.db, shoot, [first, second])
        return plan_edit(Edit(Decision.REJECT), here, str, {})

    marks.apply(runtime.db, shoot, plan)
    set_aside.set_aside(runtime.db, [first])
    delete.delete(runtime.db, shoot, [first], trash=False)
    undone = history.undo(runtime.db, shoot)
    assert undone is not None
    assert [step.frame for step in undone.steps] == [second]


def test_nothing_in_the_checkout_deletes_by_another_way() -> None:
    """Files of a person are removed in photos/originals.py and photos/whole.py alone, by
    photos/entries.py."""
    source = Path(originals.__file__).parents[1]
    found = subprocess.run(
        ["grep", "-rlE", r"send2trash|shutil\.(rmtree|move)|os\.(remove|unlink)\(",
        "--include=*.py", source],
        capture_output=True, text=True,
    ).stdout.split()  # fmt: skip
    allowed = {f"photos/{name}.py" for name in ("cache", "entries", "originals", "whole")}
    assert {
        Path(name).relative_to(source).as_posix() for name in found if "/demo/" not in name
    } <= allowed
