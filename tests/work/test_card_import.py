"""From a card: everything arrives once, verified, whatever goes wrong; the card is only read."""

import errno
import os
from pathlib import Path
from typing import Any, BinaryIO

import pytest
from blake3 import blake3

from tests.conftest import until
from tests.pictures import NOON, write_jpeg
from tests.work.bringing import all_there, content, finished, wish
from tests.work.test_card_disks import Disk
from winnow.demo.devices import Faults, set_faults
from winnow.photos import card as cards
from winnow.photos import whole
from winnow.photos.card import Card
from winnow.photos.entries import Entry
from winnow.store import card_imports, frames
from winnow.work.deliver.card_import import BringIns
from winnow.work.deliver.card_plan import BringInError, Wish
from winnow.work.runtime import Runtime


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


def test_copies_that_went_away_meanwhile_are_missed_at_the_end(
    one_by_one: BringIns, runtime: Runtime, card: Path, tmp_path: Path
) -> None:
    set_faults(card, Faults(ends_after_mb=6))
    found = finished(one_by_one, runtime, one_by_one.start(wish(card, tmp_path)))
    next((tmp_path / "disk").rglob("*1.JPG")).unlink()
    set_faults(card, Faults())
    one_by_one.resume(found.id)
    after = finished(one_by_one, runtime, found.id)
    safe, words = one_by_one.report(after)
    assert not safe
    assert "1 of them failed" in words
    one_by_one.resume(found.id)
    assert one_by_one.report(finished(one_by_one, runtime, found.id))[0]
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


def test_cards_are_found_where_they_are_mounted(tmp_path: Path, card: Path) -> None:
    mounts = tmp_path / "media" / "somebody"
    mounts.mkdir(parents=True)
    card.rename(mounts / "QUILLON")
    (mounts / "Disk").mkdir()
    assert cards.find([tmp_path / "media"])[0] == mounts / "QUILLON"
    assert cards.find([mounts])[0] == mounts / "QUILLON"
    files, outside = Card(mounts / "QUILLON").files()
    assert (len(files), outside) == (7, 1)
