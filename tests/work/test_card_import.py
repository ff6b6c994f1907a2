"""From a card: everything arrives once, verified, whatever goes wrong; the card is only read."""

import errno
import hashlib
import io
import os
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import Any, BinaryIO, ClassVar

import pytest
from blake3 import blake3

from tests.conftest import until
from tests.pictures import NOON, write_jpeg
from winnow.demo.devices import Faults, SimulatedCard, set_faults
from winnow.photos import card as cards
from winnow.photos import copies, whole
from winnow.photos.card import Card
from winnow.photos.entries import Entry
from winnow.store import card_imports, frames
from winnow.store.card_imports import Bringing
from winnow.work.deliver.card_import import BringIns
from winnow.work.deliver.card_plan import BringInError, Wish
from winnow.work.runtime import Runtime


@pytest.fixture
def card(tmp_path: Path) -> Path:
    root = tmp_path / "card"
    for n in range(1, 7):
        path = write_jpeg(root / "DCIM" / "100QUILL" / f"QH2_{n:04d}.JPG", n, NOON + n)
        path.write_bytes(path.read_bytes() + os.urandom(1_500_000))
        os.utime(path, (NOON + n, NOON + n))
    (root / "DCIM" / "100QUILL" / "QH2_0006.MOV").write_bytes(os.urandom(300_000))
    (root / "MISC").mkdir()
    (root / "MISC" / "AUTPRINT.MRK").write_text("order")
    return root


@pytest.fixture
def bring_ins(runtime: Runtime) -> Iterator[BringIns]:
    made = BringIns(runtime.db, runtime.events, runtime.indexer, SimulatedCard)
    yield made
    made.close()


def wish(card: Path, tmp_path: Path, second: bool = False, **other: Any) -> Wish:
    fields: dict[str, Any] = {"template": "{date} {shoot}", "shoot": "Quay", **other}
    return Wish(
        str(card),
        str(tmp_path / "disk"),
        second=str(tmp_path / "second") if second else "",
        **fields,
    )


def finished(bring_ins: BringIns, runtime: Runtime, id: int) -> Bringing:
    bring_ins.wait(id)
    found = card_imports.get(runtime.db, id)
    assert found
    return found


def one_is_done(runtime: Runtime, id: int) -> bool:
    found = card_imports.get(runtime.db, id)
    return found is not None and found.done >= 1


def content(root: Path) -> dict[str, str]:
    """Every file below a folder by its name, with the hash of its content."""
    return {
        path.name: hashlib.sha256(path.read_bytes()).hexdigest()
        for path in root.rglob("*")
        if path.is_file() and not path.name.startswith((".faults", "checksums"))
    }


def all_there(card: Path, place: Path) -> bool:
    return content(place) == content(card / "DCIM")


def test_everything_arrives_twice_and_the_card_is_as_it_was(
    bring_ins: BringIns, runtime: Runtime, card: Path, tmp_path: Path
) -> None:
    before = {p: (p.stat().st_mtime_ns, p.stat().st_size) for p in card.rglob("*")}
    planned = bring_ins.plan(wish(card, tmp_path, second=True))
    assert planned.folders == ("2026-06-15 Quay",)
    assert (len(planned.items), planned.already_there, planned.outside) == (7, 0, 1)
    assert not (tmp_path / "disk").exists()
    id = bring_ins.start(wish(card, tmp_path, second=True))
    found = finished(bring_ins, runtime, id)
    assert (found.state, found.done, found.failed) == ("done", 7, 0)
    assert found.copied == found.to_copy > 9_000_000
    assert all_there(card, tmp_path / "disk")
    assert all_there(card, tmp_path / "second")
    safe, words = bring_ins.report(found)
    assert safe
    assert "1 file outside of DCIM is no picture, film or sound" in words
    assert {p: (p.stat().st_mtime_ns, p.stat().st_size) for p in card.rglob("*")} == before
    for item in card_imports.items(runtime.db, id):
        copy = tmp_path / "disk" / item.name
        assert item.hash == blake3(copy.read_bytes()).hexdigest()
        assert copy.stat().st_mtime_ns == item.mtime_ns
    # What has arrived is a shoot.
    shoot = found.shoot_id
    assert shoot
    until(lambda: runtime.indexer.status(shoot).running is False)
    assert len(frames.rows(runtime.db, shoot)) == 6


def test_what_was_copied_before_is_known_by_its_content(
    bring_ins: BringIns, runtime: Runtime, card: Path, tmp_path: Path
) -> None:
    first = finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path)))
    # The same card, its files renamed, and one more picture.
    folder = card / "DCIM" / "100QUILL"
    folder.rename(card / "DCIM" / "105QUILL")
    write_jpeg(card / "DCIM" / "105QUILL" / "QH2_0007.JPG", 7, NOON + 7)
    again = bring_ins.plan(wish(card, tmp_path, template="{folder}"))
    assert again.already_there == 7
    found = finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path, template="{folder}")))
    assert (found.already_there, found.done) == (7, 1)
    assert bring_ins.report(found)[0]
    assert found.shoot_id != first.shoot_id
    # A copy that is gone since is copied anew.
    next((tmp_path / "disk" / "2026-06-15 Quay").glob("*3.JPG")).unlink()
    assert bring_ins.plan(wish(card, tmp_path)).already_there == 7


def test_the_second_place_can_be_made_later(
    bring_ins: BringIns, runtime: Runtime, card: Path, tmp_path: Path
) -> None:
    first = finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path)))
    later = finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path, second=True)))
    assert later.shoot_id == first.shoot_id
    assert all_there(card, tmp_path / "second")
    assert len(content(tmp_path / "disk")) == 7
    assert bring_ins.report(later)[0]


def test_pulling_the_card_out_half_way(
    bring_ins: BringIns, runtime: Runtime, card: Path, tmp_path: Path
) -> None:
    planned = bring_ins.plan(wish(card, tmp_path))
    assert planned.size > 9_000_000
    set_faults(card, Faults(ends_after_mb=6))
    found = finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path)))
    assert found.state == "stopped"
    assert "The card is gone" in found.notice
    assert 1 <= found.done < 6
    assert not bring_ins.report(found)[0]
    names = [p.name for p in (tmp_path / "disk").rglob("*") if p.is_file()]
    assert not any(name.startswith(copies.PART_PREFIX) for name in names)
    assert content(tmp_path / "disk").items() <= content(card).items()
    set_faults(card, Faults())
    bring_ins.resume(found.id)
    after = finished(bring_ins, runtime, found.id)
    assert (after.state, after.done) == ("done", 7)
    assert bring_ins.report(after)[0]
    assert all_there(card, tmp_path / "disk")


def test_a_file_that_cannot_be_read_fails_alone(
    bring_ins: BringIns, runtime: Runtime, card: Path, tmp_path: Path
) -> None:
    set_faults(card, Faults(fails=("QH2_0003.JPG",)))
    found = finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path, second=True)))
    assert (found.state, found.done, found.failed) == ("done", 6, 1)
    safe, words = bring_ins.report(found)
    assert not safe
    assert "1 file of 7 is not copied, 1 of them failed" in words
    (failed,) = [i for i in card_imports.items(runtime.db, found.id) if i.state == "failed"]
    assert "read or write error" in failed.notice
    set_faults(card, Faults())
    bring_ins.resume(found.id)
    assert bring_ins.report(finished(bring_ins, runtime, found.id))[0]
    assert all_there(card, tmp_path / "second")


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


def test_a_copy_that_came_out_different_does_not_count(
    bring_ins: BringIns,
    runtime: Runtime,
    card: Path,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    class Liar(Disk):
        def write(self, data: bytes) -> int:
            return super().write(bytes(data[:-1]) + b"\x00")

    monkeypatch.setattr(Entry, "created", lambda entry: Liar(entry.path, [1e9], 10**9))
    found = finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path)))
    assert found.failed >= 6
    assert not bring_ins.report(found)[0]
    assert content(tmp_path / "disk").items() <= content(card).items()


def test_stopping_and_a_slow_card(
    bring_ins: BringIns, runtime: Runtime, card: Path, tmp_path: Path
) -> None:
    set_faults(card, Faults(mb_per_s=12))
    id = bring_ins.start(wish(card, tmp_path))
    until(lambda: one_is_done(runtime, id))
    bring_ins.stop(id)
    found = card_imports.get(runtime.db, id)
    assert found
    assert (found.state, found.done < 7) == ("stopped", True)
    set_faults(card, Faults())
    bring_ins.resume(id)
    assert finished(bring_ins, runtime, id).done == 7


def test_another_card_in_its_place_is_not_taken_for_it(
    bring_ins: BringIns, runtime: Runtime, card: Path, tmp_path: Path
) -> None:
    set_faults(card, Faults(ends_after_mb=6))
    found = finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path)))
    for path in card.rglob("*.JPG"):
        path.write_bytes(b"\xff\xd8" + os.urandom(path.stat().st_size - 2))
    set_faults(card, Faults())
    bring_ins.resume(found.id)
    after = finished(bring_ins, runtime, found.id)
    assert after.failed > 0
    failed = [i for i in card_imports.items(runtime.db, found.id) if i.state == "failed"]
    assert all("same card" in item.notice for item in failed)


def test_what_was_copied_before_is_compared_whole_with_the_card(
    bring_ins: BringIns, runtime: Runtime, card: Path, tmp_path: Path
) -> None:
    """A copy that its disk spoilt, and a card whose file changed outside of its samples; the sizes
    are the same."""
    finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path)))
    day = tmp_path / "disk" / "2026-06-15 Quay"
    spoilt, changed = day / "QH2_0002.JPG", card / "DCIM" / "100QUILL" / "QH2_0004.JPG"
    for path, at in ((spoilt, 100_000), (changed, 300_000)):
        data, times = bytearray(path.read_bytes()), path.stat()
        data[at] ^= 1
        path.write_bytes(data)
        os.utime(path, ns=(times.st_atime_ns, times.st_mtime_ns))
    assert bring_ins.plan(wish(card, tmp_path)).already_there == 7
    again = finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path)))
    assert (again.state, again.already_there, again.done, again.failed) == ("done", 5, 2, 0)
    assert (day / "QH2_0002-2.JPG").read_bytes() == (
        card / "DCIM" / "100QUILL" / "QH2_0002.JPG"
    ).read_bytes()
    assert (day / "QH2_0004-2.JPG").read_bytes() == changed.read_bytes()
    assert bring_ins.report(again)[0]


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
    bring_ins: BringIns,
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
        found = finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path, second=True)))
    assert found.state == "stopped"
    assert "Connect it again" in found.notice
    assert not bring_ins.report(found)[0]
    assert not second.exists(), "nothing was written where the disk is mounted"
    gone.rename(second)
    bring_ins.resume(found.id)
    after = finished(bring_ins, runtime, found.id)
    assert bring_ins.report(after)[0]
    assert all_there(card, second)


def test_another_disk_under_the_same_mount_point_gets_nothing(
    bring_ins: BringIns,
    runtime: Runtime,
    card: Path,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    disk, own, real = tmp_path / "disk", tmp_path / "its own", os.path.ismount
    disk.mkdir()
    monkeypatch.setattr(os.path, "ismount", lambda path: Path(path) == disk or real(path))
    set_faults(card, Faults(ends_after_mb=6))
    found = finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path)))
    set_faults(card, Faults())
    assert found.done
    disk.rename(own)
    (disk / next(own.iterdir()).name).mkdir(parents=True)
    bring_ins.resume(found.id)
    found = finished(bring_ins, runtime, found.id)
    assert found.state == "stopped"
    assert "is it another disk?" in found.notice
    assert not [path for path in disk.rglob("*") if path.is_file()]
    for folder in disk.iterdir():
        folder.rmdir()
    disk.rmdir()
    own.rename(disk)
    bring_ins.resume(found.id)
    found = finished(bring_ins, runtime, found.id)
    assert bring_ins.report(found)[0]
    assert all_there(card, disk)


def test_copies_that_went_away_meanwhile_are_missed_at_the_end(
    bring_ins: BringIns, runtime: Runtime, card: Path, tmp_path: Path
) -> None:
    set_faults(card, Faults(ends_after_mb=6))
    found = finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path)))
    next((tmp_path / "disk").rglob("*1.JPG")).unlink()
    set_faults(card, Faults())
    bring_ins.resume(found.id)
    after = finished(bring_ins, runtime, found.id)
    safe, words = bring_ins.report(after)
    assert not safe
    assert "1 of them failed" in words
    bring_ins.resume(found.id)
    assert bring_ins.report(finished(bring_ins, runtime, found.id))[0]
    assert all_there(card, tmp_path / "disk")


def test_films_elsewhere_on_a_card_come_along_and_checksums_are_left(
    bring_ins: BringIns, runtime: Runtime, card: Path, tmp_path: Path
) -> None:
    (card / "PRIVATE" / "CLIP").mkdir(parents=True)
    (card / "PRIVATE" / "CLIP" / "C0001.MP4").write_bytes(os.urandom(5000))
    found = finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path, second=True)))
    assert found.files == 8
    for root in (tmp_path / "disk", tmp_path / "second"):
        assert list(root.rglob("C0001.MP4"))
        (listed,) = root.glob("checksums *.b3")
        lines = [line.split("  ", 1) for line in listed.read_text().splitlines()]
        assert len(lines) == 8
        assert all(blake3((root / n).read_bytes()).hexdigest() == digest for digest, n in lines)
    # Both folders are on one disk here, which is said.
    assert "both places are on one disk" in bring_ins.report(found)[1]
    assert bring_ins.plan(wish(card, tmp_path, second=True)).one_disk


def test_a_file_that_cannot_be_read_keeps_nothing_else_on_the_card(
    bring_ins: BringIns,
    runtime: Runtime,
    card: Path,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    bad = sorted((card / "DCIM").rglob("*.JPG"))[0]
    whole = Card.open

    def failing(self: Card, path: str) -> BinaryIO:
        if path.endswith(bad.name):
            raise OSError(errno.EIO, "Input/output error")
        return whole(self, path)

    with monkeypatch.context() as patched:
        patched.setattr(Card, "open", failing)
        found = finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path)))
    assert (found.state, found.failed) == ("done", 1)
    safe, words = bring_ins.report(found)
    assert not safe
    assert bad.name in words or "1 file" in words
    assert set(content(card / "DCIM")) - set(content(tmp_path / "disk")) == {bad.name}
    # The card is put in again, and reads well.
    bring_ins.resume(found.id)
    found = finished(bring_ins, runtime, found.id)
    assert bring_ins.report(found)[0]
    assert all_there(card, tmp_path / "disk")
    # Its content is known from then on.
    assert {i.state for i in bring_ins.plan(wish(card, tmp_path)).items} == {"there"}


def test_a_list_of_checksums_that_could_not_be_written_is_said_and_made_when_it_goes_on(
    bring_ins: BringIns,
    runtime: Runtime,
    card: Path,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    def full(path: Path, *_: object) -> None:
        raise OSError(errno.ENOSPC, "no space left on device")

    with monkeypatch.context() as patched:
        patched.setattr(whole, "write_whole", full)
        found = finished(bring_ins, runtime, bring_ins.start(wish(card, tmp_path)))
    assert found.state == "stopped"
    assert "list of their checksums" in found.notice
    assert "Free some space" in found.notice
    bring_ins.resume(found.id)
    assert finished(bring_ins, runtime, found.id).state == "done"
    assert list((tmp_path / "disk").glob("checksums *.b3"))


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"source": "/nowhere"}, "no DCIM folder"),
        ({"shoot": "  "}, "a name"),
        ({"target": "relative"}, "whole path"),
        ({"template": "{place}"}, "no field"),
        ({"target": "CARD/DCIM/out"}, "lies on the card"),
        ({"second": "DISK/inside"}, "lies in the first"),
    ],
)
def test_wishes_that_cannot_be(
    bring_ins: BringIns, card: Path, tmp_path: Path, changes: dict[str, str], words: str
) -> None:
    usual: dict[str, Any] = {
        "source": str(card), "target": str(tmp_path / "disk"), "template": "{date}",
        "shoot": "Quay",
    }  # fmt: skip
    for name, value in changes.items():
        usual[name] = value.replace("CARD", str(card)).replace("DISK", str(tmp_path / "disk"))
    with pytest.raises(BringInError, match=words):
        bring_ins.plan(Wish(**usual))


def test_no_space_is_said_before_anything_is_copied(
    bring_ins: BringIns, card: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from winnow.work.deliver import card_plan

    monkeypatch.setattr(card_plan, "_free", lambda folder: 1000)
    with pytest.raises(BringInError, match="not enough space"):
        bring_ins.start(wish(card, tmp_path))
    assert not (tmp_path / "disk").exists()


def test_cards_are_found_where_they_are_mounted(tmp_path: Path, card: Path) -> None:
    mounts = tmp_path / "media" / "somebody"
    mounts.mkdir(parents=True)
    card.rename(mounts / "QUILLON")
    (mounts / "Disk").mkdir()
    assert cards.find([tmp_path / "media"])[0] == mounts / "QUILLON"
    assert cards.find([mounts])[0] == mounts / "QUILLON"
    files, outside = Card(mounts / "QUILLON").files()
    assert (len(files), outside) == (7, 1)
