"""What a target can refuse, and disks that go away or are others."""

import errno
import os
import sqlite3
from pathlib import Path
from typing import Any, BinaryIO

import pytest
from blake3 import blake3

from tests.conftest import until
from tests.pictures import jpeg
from tests.ready import ready
from tests.work.delivering import finished, names, plan, run
from winnow.core.deliver.ways import How
from winnow.core.files.names import clash_key
from winnow.photos import copies, originals, refusals
from winnow.photos.entries import Entry
from winnow.store import deliveries, frames, journals
from winnow.work import failures
from winnow.work.deliver import plan as delivery_plan
from winnow.work.deliver.plan import DeliveryError
from winnow.work.runtime import Runtime


def test_targets_that_cannot_be(runtime: Runtime, picked: int, tmp_path: Path) -> None:
    for target, words in [
        (tmp_path / "shoot" / "picks", "within this shoot"),
        (tmp_path / "shoot" / "QH_0001.jpg", "is a file"),
        (Path("relative"), "whole path"),
    ]:
        with pytest.raises(DeliveryError, match=words):
            plan(runtime, picked, target)


def test_no_space_is_said_before_anything_is_copied(
    runtime: Runtime, picked: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from collections import namedtuple

    usage = namedtuple("usage", "total used free")
    monkeypatch.setattr("winnow.work.deliver.plan.shutil.disk_usage", lambda _: usage(10, 9, 1))
    with pytest.raises(DeliveryError, match="not enough space"):
        run(runtime, picked, tmp_path / "out")
    assert not (tmp_path / "out").exists()


def test_files_changed_since_they_were_looked_at_are_named(
    runtime: Runtime, picked: int, tmp_path: Path
) -> None:
    changed = tmp_path / "shoot" / "QH_0001.jpg"
    changed.write_bytes(changed.read_bytes() + b"more")
    assert plan(runtime, picked, tmp_path / "out").changed == ("QH_0001",)


@pytest.mark.parametrize(
    ("number", "words", "failed"),
    [(errno.ENOSPC, "disk is full", 1), (errno.EROFS, "only be read", 3)],
)
def test_what_a_target_can_refuse(
    runtime: Runtime, picked: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch,
    number: int, words: str, failed: int,
) -> None:  # fmt: skip
    """A full disk says so once and stops; one that can only be read, for every file.

    Nothing half is left, and going on works.
    """
    target = tmp_path / "out"

    real = Entry.created

    def refuse(entry: Entry, *how: int, **named: int) -> BinaryIO:
        if entry.path.name.startswith(copies.PART_PREFIX):
            raise OSError(number, os.strerror(number))
        return real(entry, *how, **named)

    with monkeypatch.context() as patched:
        patched.setattr(Entry, "created", refuse)
        result = run(runtime, picked, target)
    assert result.failed == failed
    assert (result.state == "stopped") == (number == errno.ENOSPC)
    notices = [i.notice for i in deliveries.items(runtime.db, result.id, ("failed",))]
    assert all(words in notice for notice in notices)
    assert all(name.endswith(".xmp") for name in names(target))
    runtime.deliveries.resume(result.id)
    until(lambda: finished(runtime, result.id).failed == 0)
    assert finished(runtime, result.id).state == "done"


@pytest.mark.parametrize("how", ["copy", "move"])
def test_a_disk_that_goes_away_pauses_a_delivery_and_nothing_lands_below_it(
    runtime: Runtime,
    picked: int,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    how: How,
) -> None:
    disk, gone = tmp_path / "disk", tmp_path / "unplugged"
    disk.mkdir()
    real = os.path.ismount

    def ismount(path: str | Path) -> bool:
        return disk.exists() if Path(path) == disk else real(path)

    def unplug(*arguments: object, **named: object) -> object:
        if not gone.exists():
            disk.rename(gone)
        raise OSError(errno.EIO, "gone")

    monkeypatch.setattr(os.path, "ismount", ismount)
    planned = plan(runtime, picked, disk / "out", delivery_plan.Wish(how=how))
    name = "copy_verified" if how == "copy" else "move_verified"
    with monkeypatch.context() as patched:
        patched.setattr(copies if how == "copy" else originals, name, unplug)
        delivery = runtime.deliveries.start(picked, planned)
        stopped = finished(runtime, delivery)
    assert (stopped.state, stopped.failed, stopped.done) == ("stopped", 0, 0)
    assert "Connect it again" in stopped.notice
    assert not disk.exists()
    runtime.deliveries.resume(delivery)
    assert "Connect it again" in finished(runtime, delivery).notice
    assert not disk.exists()
    gone.rename(disk)
    runtime.deliveries.resume(delivery)
    until(lambda: finished(runtime, delivery).state == "done")
    assert finished(runtime, delivery).failed == 0


def test_names_that_a_file_system_takes_for_the_same_and_long_paths(
    runtime: Runtime, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    deep = folder.joinpath(*[f"a folder with a rather long name, number {n}" for n in range(6)])
    stems = ["Caf\u00e9", "Cafe\u0301", "CAF\u00c9"]
    for n, stem in enumerate(stems):
        (folder / str(n)).mkdir(parents=True)
        (folder / str(n) / f"{stem}.jpg").write_bytes(jpeg(n))
    deep.mkdir(parents=True)
    (deep / "far away.jpg").write_bytes(jpeg(9))
    assert len(os.fsencode(deep / "far away.jpg")) > 300
    shoot = ready(runtime, folder)
    ids = [row.id for row in frames.rows(runtime.db, shoot)]
    target = tmp_path / "out"
    planned = delivery_plan.plan(runtime.db, shoot, str(target), ids)
    delivery = runtime.deliveries.start(shoot, planned)
    assert (finished(runtime, delivery).done, finished(runtime, delivery).failed) == (4, 0)
    contents = {(target / name).read_bytes() for name in names(target)}
    assert contents == {jpeg(0), jpeg(1), jpeg(2), jpeg(9)}
    keys = {clash_key(name) for name in names(target)}
    assert len(keys) == 4


def test_a_delivery_whose_end_could_not_be_stored_says_so_when_it_can(
    runtime: Runtime, picked: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    refusals = iter([sqlite3.OperationalError("disk I/O error")] * 3)
    keep_state = journals.keep_state

    def refused(*given: Any) -> None:
        if given[3] not in ("running", "planned") and (error := next(refusals, None)):
            raise error
        keep_state(*given)

    monkeypatch.setattr(journals, "keep_state", refused)
    monkeypatch.setattr(failures, "_AGAIN_S", 0.01)
    assert run(runtime, picked, tmp_path / "out").state == "done"
    assert next(refusals, None) is None


def test_a_file_that_reads_otherwise_each_time_is_not_moved_to_another_disk(
    tmp_path: Path, other_disk: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    source = tmp_path / "QH_0001.jpg"
    source.write_bytes(jpeg(1))

    def flipped(source: Entry, target: Entry) -> str:
        """What a cable made of it, copied faithfully."""
        data = bytearray(source.path.read_bytes())
        data[len(data) // 2] ^= 16
        target.path.write_bytes(data)
        return blake3(data).hexdigest()

    with monkeypatch.context() as patched:
        patched.setattr(originals, "copy_entry", flipped)
        with pytest.raises(refusals.CopyError, match="reads differently each time"):
            originals.move_verified(source, other_disk / source.name)
    assert source.read_bytes() == jpeg(1)
    assert names(other_disk) == []
    originals.move_verified(source, other_disk / source.name)
    assert names(other_disk) == [source.name]
    assert not source.exists()


def test_another_disk_under_the_same_mount_point_gets_and_loses_nothing(
    runtime: Runtime, picked: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    disk, own = tmp_path / "disk", tmp_path / "its own"
    disk.mkdir()
    real = os.path.ismount
    monkeypatch.setattr(os.path, "ismount", lambda path: Path(path) == disk or real(path))
    delivery = runtime.deliveries.start(picked, plan(runtime, picked, disk / "out"))
    assert finished(runtime, delivery).state == "done"
    made = names(disk / "out")
    disk.rename(own)
    (disk / "out").mkdir(parents=True)
    for step in (runtime.deliveries.take_back, runtime.deliveries.resume):
        step(delivery)
        stopped = finished(runtime, delivery)
        assert stopped.state == "stopped"
        assert "is it another disk?" in stopped.notice
    assert names(disk / "out") == []
    (disk / "out").rmdir()
    disk.rmdir()
    own.rename(disk)
    assert names(disk / "out") == made
    runtime.deliveries.take_back(delivery)
    until(lambda: finished(runtime, delivery).state == "returned")
    assert names(disk / "out") == []
