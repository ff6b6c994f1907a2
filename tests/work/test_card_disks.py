"""Cards and disks that go away, are full, slow, others, or read otherwise each time."""

import errno
import io
import os
from collections import Counter
from pathlib import Path
from typing import Any, ClassVar

import pytest

from tests.conftest import until
from tests.work.bringing import all_there, content, finished, one_is_done, wish
from winnow.demo.devices import Faults, SimulatedCard, set_faults
from winnow.photos import copies
from winnow.photos.entries import Entry
from winnow.store import card_imports
from winnow.work.deliver.card_import import BringIns
from winnow.work.deliver.card_plan import BringInError
from winnow.work.runtime import Runtime


def test_pulling_the_card_out_half_way(
    one_by_one: BringIns, runtime: Runtime, card: Path, tmp_path: Path
) -> None:
    planned = one_by_one.plan(wish(card, tmp_path))
    assert planned.size > 9_000_000
    set_faults(card, Faults(ends_after_mb=6))
    found = finished(one_by_one, runtime, one_by_one.start(wish(card, tmp_path)))
    assert found.state == "stopped"
    assert "The card is gone" in found.notice
    assert 1 <= found.done < 6
    assert not one_by_one.report(found)[0]
    names = [p.name for p in (tmp_path / "disk").rglob("*") if p.is_file()]
    assert not any(name.startswith(copies.PART_PREFIX) for name in names)
    assert content(tmp_path / "disk").items() <= content(card).items()
    set_faults(card, Faults())
    one_by_one.resume(found.id)
    after = finished(one_by_one, runtime, found.id)
    assert (after.state, after.done) == ("done", 7)
    assert one_by_one.report(after)[0]
    assert all_there(card, tmp_path / "disk")


class Disk:
    """A disk that takes so many bytes, and never more than some at once."""

    def __init__(self, path: Path, left: list[float], most: int) -> None:
        self._file = path.open("xb", buffering=0)
        self._left = left
        self._most = most

    def write(self, data: bytes) -> int:
        if self._left[0] <= 0:
            raise OSError(errno.ENOSPC, "No space left on device")
        written = self._file.write(data[: min(self._most, int(self._left[0]))])
        self._left[0] -= written
        return written

    def __getattr__(self, name: str) -> Any:
        return getattr(self._file, name)


def test_a_full_disk_stops_and_goes_on(
    bring_ins: BringIns,
    runtime: Runtime,
    card: Path,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    left = [4_000_000.0]
    monkeypatch.setattr(Entry, "created", lambda entry: Disk(entry.path, left, 4096 * 9))
    found = finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path)))
    assert found.state == "stopped"
    assert "the disk is full" in found.notice
    assert content(tmp_path / "disk").items() <= content(card).items()
    left[0] = 1e9
    bring_ins.resume(found.id)
    assert finished(bring_ins, runtime, found.id).done == 7
    assert all_there(card, tmp_path / "disk")


def test_stopping_and_a_slow_card(
    one_by_one: BringIns, runtime: Runtime, card: Path, tmp_path: Path
) -> None:
    set_faults(card, Faults(mb_per_s=12))
    id = one_by_one.start(wish(card, tmp_path))
    until(lambda: one_is_done(runtime, id))
    one_by_one.stop(id)
    found = card_imports.get(runtime.db, id)
    assert found
    assert (found.state, found.done < 7) == ("stopped", True)
    set_faults(card, Faults())
    one_by_one.resume(id)
    assert finished(one_by_one, runtime, id).done == 7


def test_another_card_in_its_place_is_not_taken_for_it(
    one_by_one: BringIns, runtime: Runtime, card: Path, tmp_path: Path
) -> None:
    set_faults(card, Faults(ends_after_mb=6))
    found = finished(one_by_one, runtime, one_by_one.start(wish(card, tmp_path)))
    for path in card.rglob("*.JPG"):
        path.write_bytes(b"\xff\xd8" + os.urandom(path.stat().st_size - 2))
    set_faults(card, Faults())
    one_by_one.resume(found.id)
    after = finished(one_by_one, runtime, found.id)
    assert after.failed > 0
    failed = [i for i in card_imports.items(runtime.db, found.id) if i.state == "failed"]
    assert all("same card" in item.notice for item in failed)


@pytest.mark.parametrize("after_mb", [1, 3, 6, 8])
def test_several_at_once_when_the_card_is_pulled_out(
    bring_ins: BringIns, runtime: Runtime, card: Path, tmp_path: Path, after_mb: float
) -> None:
    bring_ins.plan(wish(card, tmp_path))
    set_faults(card, Faults(ends_after_mb=after_mb))
    found = finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path)))
    assert found.state == "stopped"
    assert "The card is gone" in found.notice
    assert not bring_ins.report(found)[0]
    present = content(tmp_path / "disk")
    assert present.items() <= content(card).items()
    assert not any(name.startswith(copies.PART_PREFIX) for name in present)
    items = card_imports.items(runtime.db, found.id)
    assert {i.name.rpartition("/")[2] for i in items if i.state == "done"} == set(present)
    set_faults(card, Faults())
    bring_ins.resume(found.id)
    after = finished(bring_ins, runtime, found.id)
    assert (after.state, after.done) == ("done", 7)
    assert bring_ins.report(after)[0]
    assert all_there(card, tmp_path / "disk")


class Moody(SimulatedCard):
    """A card whose files read differently the second time, or too short the first."""

    mood = "flips"
    reads: ClassVar[Counter[str]] = Counter()

    def open(self, path: str) -> Any:
        data = bytearray((self.root / path).read_bytes())
        opened = io.BytesIO(data)
        if path.endswith("3.JPG"):
            self.reads[path] += 1
            if self.mood == "flips" and self.reads[path] % 2:
                data[len(data) // 3] ^= 1
            opened = io.BytesIO(
                data[:-5] if self.mood == "short" and self.reads[path] > 2 else data
            )
        return opened


@pytest.mark.parametrize(
    ("mood", "second", "twice", "words"),
    [
        ("flips", True, False, "reads differently"),
        ("flips", False, True, "reads differently"),
        ("short", False, False, "not as long"),
    ],
)
def test_a_card_that_reads_otherwise_each_time_is_not_safe_to_format(
    runtime: Runtime, card: Path, tmp_path: Path, mood: str, second: bool, twice: bool, words: str
) -> None:
    Moody.mood = mood
    Moody.reads.clear()
    bring_ins = BringIns(runtime.db, runtime.events, runtime.indexer, Moody)
    found = finished(
        bring_ins, runtime, bring_ins.start(wish(card, tmp_path, second=second, twice=twice))
    )
    assert not bring_ins.report(found)[0]
    (failed,) = [i for i in card_imports.items(runtime.db, found.id) if i.state == "failed"]
    assert words in failed.notice
    assert not any(path.name == "QH2_0003.JPG" for path in (tmp_path / "disk").rglob("*"))
    bring_ins.close()


def test_a_second_disk_that_goes_away_midway_is_missed(
    one_by_one: BringIns,
    runtime: Runtime,
    card: Path,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    second, gone = tmp_path / "second", tmp_path / "unplugged"
    second.mkdir()
    real, copied = os.path.ismount, copies.copy_to_each

    def ismount(path: str | Path) -> bool:
        return second.exists() if Path(path) == second else real(path)

    def unplug(*arguments: Any, **named: Any) -> Any:
        if len(list(second.rglob("*.JPG"))) == 2:
            second.rename(gone)
        return copied(*arguments, **named)

    monkeypatch.setattr(os.path, "ismount", ismount)
    with monkeypatch.context() as patched:
        patched.setattr(copies, "copy_to_each", unplug)
        found = finished(one_by_one, runtime, one_by_one.start(wish(card, tmp_path, second=True)))
    assert found.state == "stopped"
    assert "Connect it again" in found.notice
    assert not one_by_one.report(found)[0]
    assert not second.exists(), "nothing was written where the disk is mounted"
    gone.rename(second)
    one_by_one.resume(found.id)
    after = finished(one_by_one, runtime, found.id)
    assert one_by_one.report(after)[0]
    assert all_there(card, second)


def test_another_disk_under_the_same_mount_point_gets_nothing(
    one_by_one: BringIns,
    runtime: Runtime,
    card: Path,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    disk, own, real = tmp_path / "disk", tmp_path / "its own", os.path.ismount
    disk.mkdir()
    monkeypatch.setattr(os.path, "ismount", lambda path: Path(path) == disk or real(path))
    set_faults(card, Faults(ends_after_mb=6))
    found = finished(one_by_one, runtime, one_by_one.start(wish(card, tmp_path)))
    set_faults(card, Faults())
    assert found.done
    disk.rename(own)
    (disk / next(own.iterdir()).name).mkdir(parents=True)
    one_by_one.resume(found.id)
    found = finished(one_by_one, runtime, found.id)
    assert found.state == "stopped"
    assert "is it another disk?" in found.notice
    assert not [path for path in disk.rglob("*") if path.is_file()]
    for folder in disk.iterdir():
        folder.rmdir()
    disk.rmdir()
    own.rename(disk)
    one_by_one.resume(found.id)
    found = finished(one_by_one, runtime, found.id)
    assert one_by_one.report(found)[0]
    assert all_there(card, disk)


def test_no_space_is_said_before_anything_is_copied(
    bring_ins: BringIns, card: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from winnow.work.deliver import card_plan

    monkeypatch.setattr(card_plan, "_free", lambda folder: 1000)
    with pytest.raises(BringInError, match="not enough space"):
        bring_ins.start(wish(card, tmp_path))
    assert not (tmp_path / "disk").exists()
