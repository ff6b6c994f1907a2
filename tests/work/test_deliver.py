"""Copying picks: everything arrives, nothing is written over, and a kill does no harm."""

import errno
import os
import signal
import sqlite3
import subprocess
import sys
import tempfile
import threading
from collections.abc import Iterator
from pathlib import Path
from typing import Any, BinaryIO

import pytest
from blake3 import blake3

from tests.conftest import indexed, until
from tests.pictures import dng, jpeg, write_shoot
from tests.ready import ready
from tests.work.test_sidecars import set_mark
from winnow.core.files.merge import Stated
from winnow.core.files.names import clash_key
from winnow.core.files.profiles import FileMark
from winnow.core.marks import Decision, Edit
from winnow.photos import copies, originals, refusals, xmp
from winnow.photos.entries import Entry
from winnow.photos.xmp import read_sidecar
from winnow.store import deliveries, frames, guests, journals, renamings
from winnow.work import failures
from winnow.work.deliver import plan as delivery_plan
from winnow.work.deliver.plan import DeliveryError
from winnow.work.deliver.run import Pace
from winnow.work.moves import rename
from winnow.work.runtime import Runtime


@pytest.fixture
def picked(runtime: Runtime, tmp_path: Path) -> int:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2, 3])
    (folder / "QH_0002.dng").write_bytes(dng(jpeg(2, 1200, 800)))
    shoot = ready(runtime, folder)
    set_mark(runtime, shoot, "QH_0001", Edit(Decision.PICK, 4))
    set_mark(runtime, shoot, "QH_0002", Edit(Decision.PICK))
    return shoot


@pytest.fixture
def other_disk(tmp_path: Path) -> Iterator[Path]:
    """A folder on another file system than the tests' own."""
    memory = Path("/dev/shm")
    if not memory.is_dir() or memory.stat().st_dev == tmp_path.stat().st_dev:
        pytest.skip("there is no second file system here")
    with tempfile.TemporaryDirectory(dir=memory) as folder:
        yield Path(folder)


def plan(
    runtime: Runtime, shoot: int, target: Path, wish: delivery_plan.Wish = delivery_plan.AS_USUAL
) -> delivery_plan.Plan:
    ids = [r.id for r in frames.rows(runtime.db, shoot) if r.mark.decision is Decision.PICK]
    return delivery_plan.plan(runtime.db, shoot, str(target), ids, wish)


def run(runtime: Runtime, shoot: int, target: Path) -> deliveries.Delivery:
    delivery = runtime.deliveries.start(shoot, plan(runtime, shoot, target))
    return finished(runtime, delivery)


def finished(runtime: Runtime, delivery: int) -> deliveries.Delivery:
    def state() -> deliveries.Delivery:
        found = deliveries.get(runtime.db, delivery)
        assert found
        return found

    until(lambda: state().state not in ("planned", "running", "returning"))
    return state()


def names(folder: Path) -> list[str]:
    return sorted(os.listdir(folder))


def test_picks_arrive_with_their_raws_and_sidecars(
    runtime: Runtime, picked: int, tmp_path: Path
) -> None:
    target = tmp_path / "out" / "for the client"
    planned = plan(runtime, picked, target)
    assert planned.makes_folder
    assert (planned.frames, len(planned.items)) == (2, 5)
    assert not target.exists()
    result = run(runtime, picked, target)
    assert (result.state, result.done, result.failed) == ("done", 5, 0)
    wanted = ["QH_0001.jpg", "QH_0001.xmp", "QH_0002.dng", "QH_0002.jpg", "QH_0002.xmp"]
    assert names(target) == wanted
    assert read_sidecar((target / "QH_0001.xmp").read_bytes()).mark == FileMark(4, None, True)
    for item in deliveries.items(runtime.db, result.id):
        if item.kind == "copy":
            copy = (target / item.name).read_bytes()
            assert copy == item.source.read_bytes()
            assert item.hash == blake3(copy).hexdigest()
    assert names(tmp_path / "shoot") == ["QH_0001.jpg", "QH_0002.dng", "QH_0002.jpg", "QH_0003.jpg"]


def test_what_guests_said_comes_into_no_sidecar_before_it_is_taken_over(
    runtime: Runtime, picked: int, tmp_path: Path
) -> None:
    set_mark(runtime, picked, "QH_0001", Edit(stars=1), by="Ana")
    planned = plan(runtime, picked, tmp_path / "out")
    assert planned.unchecked == ("QH_0001",)
    result = run(runtime, picked, tmp_path / "out")
    assert (result.state, result.failed) == ("done", 0)
    assert "QH_0001.xmp" not in names(tmp_path / "out")
    assert "QH_0002.xmp" in names(tmp_path / "out")
    # What a guest says after it was planned, neither.
    planned = plan(runtime, picked, tmp_path / "again")
    set_mark(runtime, picked, "QH_0002", Edit(stars=1), by="Ben")
    result = finished(runtime, runtime.deliveries.start(picked, planned))
    assert (result.state, result.failed) == ("done", 1)
    assert "QH_0002.xmp" not in names(tmp_path / "again")
    guests.take_over(runtime.db, picked)
    runtime.deliveries.resume(result.id)
    assert finished(runtime, result.id).failed == 0
    written = read_sidecar((tmp_path / "again" / "QH_0002.xmp").read_bytes())
    assert written.mark == FileMark(1, None, True)


def test_what_guests_said_comes_into_no_name_before_it_is_taken_over(
    runtime: Runtime, picked: int, tmp_path: Path
) -> None:
    set_mark(runtime, picked, "QH_0001", Edit(stars=1), by="Ana")
    ids = [row.id for row in frames.rows(runtime.db, picked)]
    by_stars = delivery_plan.Wish(template="{name} {stars}")
    with pytest.raises(DeliveryError, match="Guests changed 1 frame of these"):
        plan(runtime, picked, tmp_path / "out", by_stars)
    with pytest.raises(rename.RenameError, match="Guests changed 1 frame of these"):
        rename.plan(runtime.db, picked, ids, "{title} {seq}")
    assert rename.plan(runtime.db, picked, ids, "{date} {seq}").frames == 3
    guests.take_over(runtime.db, picked)
    assert plan(runtime, picked, tmp_path / "out", by_stars).frames == 2


def test_again_copies_nothing_and_other_files_are_never_written_over(
    runtime: Runtime, picked: int, tmp_path: Path
) -> None:
    target = tmp_path / "out"
    run(runtime, picked, target)
    before = {n: (target / n).stat().st_mtime_ns for n in names(target)}
    again = run(runtime, picked, target)
    assert (again.done, again.already_there, again.failed) == (0, 5, 0)
    assert {n: (target / n).stat().st_mtime_ns for n in names(target)} == before

    other = tmp_path / "other"
    other.mkdir()
    (other / "qh_0002.JPG").write_bytes(b"somebody else's")
    planned = plan(runtime, picked, other)
    assert ("QH_0002.dng", "QH_0002-2.dng") in planned.renamed
    run(runtime, picked, other)
    assert (other / "qh_0002.JPG").read_bytes() == b"somebody else's"
    assert {"QH_0002-2.jpg", "QH_0002-2.dng", "QH_0002-2.xmp"} < set(names(other))


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


def test_a_lost_original_fails_alone_and_going_on_brings_it(
    runtime: Runtime, picked: int, tmp_path: Path
) -> None:
    target = tmp_path / "out"
    planned = plan(runtime, picked, target)
    first = tmp_path / "shoot" / "QH_0001.jpg"
    hidden = first.rename(tmp_path / "hidden.jpg")
    result = finished(runtime, runtime.deliveries.start(picked, planned))
    assert (result.done, result.failed) == (4, 1)
    assert "no longer there" in " ".join(i.notice for i in deliveries.items(runtime.db, result.id))
    hidden.rename(first)
    runtime.deliveries.resume(result.id)
    until(lambda: finished(runtime, result.id).done == 5)
    assert (target / "QH_0001.jpg").read_bytes() == first.read_bytes()


def test_stopping(
    runtime: Runtime, picked: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    real, inside, go_on = copies.copy_verified, threading.Event(), threading.Event()

    def slow(*arguments: Any) -> str:
        inside.set()
        go_on.wait(10)
        return real(*arguments)

    monkeypatch.setattr(copies, "copy_verified", slow)
    delivery = runtime.deliveries.start(picked, plan(runtime, picked, tmp_path / "out"))
    inside.wait(10)
    stopping = threading.Thread(target=runtime.deliveries.stop, args=(delivery,))
    stopping.start()
    go_on.set()
    stopping.join()
    found = finished(runtime, delivery)
    assert found.state == "stopped"
    assert 1 <= found.done < 5
    runtime.deliveries.resume(delivery)
    until(lambda: finished(runtime, delivery).state == "done")
    assert finished(runtime, delivery).done + finished(runtime, delivery).already_there == 5


KILLED = """
import sys
from pathlib import Path
from winnow.photos import copies, xmp
real = copies.copy_verified
def told(*arguments):
    print("copying", flush=True)
    return real(*arguments)
copies.copy_verified = told
from winnow.store import frames
from winnow.work.deliver import plan as delivery_plan
from winnow.work.moves import rename
from winnow.work.runtime import Places, Runtime
runtime = Runtime(Places(Path(sys.argv[1]), Path(sys.argv[2])))
ids = [r.id for r in frames.rows(runtime.db, 1)]
wish = delivery_plan.Wish(sidecars=False)
plan = delivery_plan.plan(runtime.db, 1, sys.argv[3], ids, wish)
delivery = runtime.deliveries.start(1, plan)
runtime.deliveries.wait(delivery)
"""


def test_a_kill_in_the_middle_leaves_only_whole_files_and_can_be_resumed(tmp_path: Path) -> None:
    from concurrent.futures import ThreadPoolExecutor

    from winnow.work.runtime import Places
    from winnow.work.workers.pool import Workers

    folder, target = tmp_path / "shoot", tmp_path / "out"
    write_shoot(folder, [1] * 30)
    for path in folder.iterdir():
        path.write_bytes(path.read_bytes() + os.urandom(2_000_000))
    places = Places(tmp_path / "data", tmp_path / "cache")
    runtime = Runtime(places, Workers(lambda: ThreadPoolExecutor(1)))
    indexed(runtime, folder)
    runtime.close()
    process = subprocess.Popen(
        [sys.executable, "-c", KILLED, places.data, places.cache, target],
        stdout=subprocess.PIPE,
        text=True,
    )
    assert process.stdout
    for _ in range(6):
        process.stdout.readline()
    process.send_signal(signal.SIGKILL)
    process.wait()
    process.stdout.close()
    for copy in target.glob("*.jpg"):
        assert copy.read_bytes() == (folder / copy.name).read_bytes()

    runtime = Runtime(places, Workers(lambda: ThreadPoolExecutor(1)))
    (found,) = deliveries.of_shoot(runtime.db, 1)
    assert (found.state, found.notice) == ("stopped", "Winnow ended before it was through.")
    runtime.deliveries.resume(found.id)
    until(lambda: finished(runtime, found.id).state == "done")
    assert names(target) == names(folder)
    runtime.close()


def test_names_by_template_into_folders_with_a_manifest(
    runtime: Runtime, picked: int, tmp_path: Path
) -> None:
    target = tmp_path / "out"
    wish = delivery_plan.Wish(template="{shoot}/{seq:3} {stars}", which="ready", manifest=True)
    delivery = runtime.deliveries.start(picked, plan(runtime, picked, target, wish))
    result = finished(runtime, delivery)
    assert (result.state, result.failed) == ("done", 0)
    assert names(target) == ["Test", "manifest.b3"]
    wanted = ["001 4.jpg", "001 4.xmp", "002 0.jpg", "002 0.xmp"]
    assert names(target / "Test") == wanted
    lines = (target / "manifest.b3").read_text().splitlines()
    listed = {name: digest for digest, name in (line.split("  ", 1) for line in lines)}
    assert sorted(listed) == [f"Test/{name}" for name in wanted]
    for name, digest in listed.items():
        assert blake3((target / name).read_bytes()).hexdigest() == digest
    # The same once more: what is there counts, nothing is doubled.
    again = runtime.deliveries.start(picked, plan(runtime, picked, target, wish))
    assert finished(runtime, again).already_there == 4
    assert names(target / "Test") == wanted


def test_a_template_that_can_not_be_used_is_refused(
    runtime: Runtime, picked: int, tmp_path: Path
) -> None:
    with pytest.raises(DeliveryError, match="no field"):
        plan(runtime, picked, tmp_path / "out", delivery_plan.Wish(template="{nmae}"))


def test_equal_names_get_numbers(runtime: Runtime, picked: int, tmp_path: Path) -> None:
    wish = delivery_plan.Wish(sidecars=False, template="{shoot}", which="ready")
    planned = plan(runtime, picked, tmp_path / "out", wish)
    assert [item.name for item in planned.items] == ["Test.jpg", "Test-2.jpg"]
    assert planned.renamed == (("Test.jpg", "Test-2.jpg"),)


def test_links_are_further_names_of_the_same_files(
    runtime: Runtime, picked: int, tmp_path: Path
) -> None:
    target = tmp_path / "out"
    wish = delivery_plan.Wish(sidecars=False, how="link")
    planned = plan(runtime, picked, target, wish)
    assert planned.size == 0
    result = finished(runtime, runtime.deliveries.start(picked, planned))
    assert (result.state, result.done) == ("done", 3)
    assert (target / "QH_0001.jpg").samefile(tmp_path / "shoot" / "QH_0001.jpg")
    again = finished(runtime, runtime.deliveries.start(picked, plan(runtime, picked, target, wish)))
    assert again.already_there == 3


def test_a_link_to_another_disk_is_refused_in_words(
    runtime: Runtime, picked: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def other_disk(*arguments: Any) -> None:
        raise OSError(errno.EXDEV, "cross-device link")

    monkeypatch.setattr(Entry, "link", other_disk)
    wish = delivery_plan.Wish(sidecars=False, how="link")
    result = finished(
        runtime, runtime.deliveries.start(picked, plan(runtime, picked, tmp_path / "out", wish))
    )
    assert result.failed == 3
    assert "same disk" in deliveries.items(runtime.db, result.id)[0].notice


def test_moved_frames_are_followed_and_come_back_as_they_were(
    runtime: Runtime, picked: int, tmp_path: Path
) -> None:
    shoot, target = tmp_path / "shoot", tmp_path / "out"
    (shoot / "QH_0002.xmp").write_bytes(xmp.with_stated(None, Stated(FileMark(2, None, None))))
    runtime.indexer.start(picked)
    until(lambda: not runtime.indexer.status(picked).running)
    before = {p.name: (p.read_bytes(), p.stat().st_mtime_ns) for p in shoot.iterdir()}
    wish = delivery_plan.Wish(how="move", template="{seq:3}", manifest=True)
    planned = plan(runtime, picked, target, wish)
    assert planned.size == 0  # on the same disk
    delivery = runtime.deliveries.start(picked, planned)
    assert finished(runtime, delivery).failed == 0
    wanted = ["001.jpg", "001.xmp", "002.dng", "002.jpg", "002.xmp", "manifest.b3"]
    assert names(target) == wanted
    assert names(shoot) == ["QH_0003.jpg"]
    assert (target / "002.dng").read_bytes() == before["QH_0002.dng"][0]
    assert read_sidecar((target / "002.xmp").read_bytes()).mark.good is True
    rows = {row.name: row for row in frames.rows(runtime.db, picked)}
    assert [(rows[n].moved_out, rows[n].held, rows[n].missing) for n in sorted(rows)] == [
        (True, False, False), (True, False, False), (False, False, False),
    ]  # fmt: skip
    # A look at the folder does not take them for lost, and they can't be moved twice.
    runtime.indexer.start(picked)
    until(lambda: not runtime.indexer.status(picked).running)
    assert not any(row.missing for row in frames.rows(runtime.db, picked))
    again = plan(runtime, picked, tmp_path / "other", wish)
    assert (again.frames, again.elsewhere) == (0, ("QH_0001", "QH_0002"))

    runtime.deliveries.take_back(delivery)
    until(lambda: finished(runtime, delivery).state == "returned")
    assert names(target) == []
    after = {p.name: (p.read_bytes(), p.stat().st_mtime_ns) for p in shoot.iterdir()}
    assert {n: x for n, x in after.items() if n != "QH_0002.xmp"} == {
        n: x for n, x in before.items() if n != "QH_0002.xmp"
    }
    assert read_sidecar(after["QH_0002.xmp"][0]).mark.good is True
    assert not any(row.moved_out for row in frames.rows(runtime.db, picked))


def test_moves_to_another_disk_are_copied_compared_and_then_removed(
    runtime: Runtime, picked: int, tmp_path: Path, other_disk: Path
) -> None:
    before = {p.name: p.read_bytes() for p in (tmp_path / "shoot").iterdir()}
    wish = delivery_plan.Wish(how="move", sidecars=False)
    planned = plan(runtime, picked, other_disk / "out", wish)
    assert planned.size == sum(item.size for item in planned.items)
    delivery = runtime.deliveries.start(picked, planned)
    assert finished(runtime, delivery).failed == 0
    assert names(tmp_path / "shoot") == ["QH_0003.jpg"]
    assert (other_disk / "out" / "QH_0002.dng").read_bytes() == before["QH_0002.dng"]
    runtime.deliveries.take_back(delivery)
    until(lambda: finished(runtime, delivery).state == "returned")
    assert {p.name: p.read_bytes() for p in (tmp_path / "shoot").iterdir()} == before


@pytest.mark.parametrize("link", ["symbolic", "hard"])
def test_a_copy_whose_original_became_a_link_to_it_stays(
    runtime: Runtime, picked: int, tmp_path: Path, link: str
) -> None:
    target, original = tmp_path / "out", tmp_path / "shoot" / "QH_0001.jpg"
    content = original.read_bytes()
    done = run(runtime, picked, target)
    original.unlink()
    copy = target / "QH_0001.jpg"
    if link == "symbolic":
        original.symlink_to(copy)
    else:
        os.link(copy, original)
    runtime.deliveries.take_back(done.id)
    finished(runtime, done.id)
    assert original.read_bytes() == content
    assert copy.exists() == (link == "symbolic")


def test_a_delivery_waits_for_names_that_change(
    runtime: Runtime, picked: int, tmp_path: Path
) -> None:
    planned = plan(runtime, picked, tmp_path / "out")
    ids = [row.id for row in frames.rows(runtime.db, picked)]
    renaming = runtime.renamings.start(
        picked, "x {seq}", rename.plan(runtime.db, picked, ids, "x {seq}")
    )
    runtime.renamings.wait(renaming)
    with pytest.raises(DeliveryError, match="Look at the plan again"):
        runtime.deliveries.start(picked, planned)
    again = plan(runtime, picked, tmp_path / "out")
    renamings.keep_state(runtime.db, renaming, "undoing")
    with pytest.raises(DeliveryError, match="being renamed"):
        runtime.deliveries.start(picked, again)
    renamings.keep_state(runtime.db, renaming, "done")
    assert finished(runtime, runtime.deliveries.start(picked, again)).state == "done"
    assert "x 1.jpg" in names(tmp_path / "out")


@pytest.mark.parametrize("how", ["copy", "link", "move"])
def test_companions_go_along_when_wished_and_always_with_what_is_moved(
    runtime: Runtime, tmp_path: Path, how: deliveries.How
) -> None:
    folder, target = tmp_path / "shoot", tmp_path / "out"
    write_shoot(folder, [1])
    own = ["QH_0001.jpg.settings", "QH_0001.mov", "QH_0001.wav"]
    for name in own:
        (folder / name).write_bytes(name.encode())
    shoot = ready(runtime, folder)
    set_mark(runtime, shoot, "QH_0001", Edit(Decision.PICK))
    before = names(folder)
    without = plan(runtime, shoot, target, delivery_plan.Wish(how=how, sidecars=False))
    assert (without.companions, len(without.items)) == (3, 4 if how == "move" else 1)
    wish = delivery_plan.Wish(how=how, sidecars=False, companions=True, template="fair {seq}")
    done = finished(runtime, runtime.deliveries.start(shoot, plan(runtime, shoot, target, wish)))
    assert done.state == "done"
    endings = ("jpg", "jpg.settings", "mov", "wav")
    assert names(target) == [f"fair 1.{ending}" for ending in endings]
    assert (target / "fair 1.mov").read_bytes() == b"QH_0001.mov"
    assert names(folder) == ([] if how == "move" else before)
    runtime.deliveries.take_back(done.id)
    assert finished(runtime, done.id).state == "returned"
    assert (names(folder), names(target)) == (before, [])


def test_taking_back_is_done_also_where_the_delivery_has_only_just_ended(
    runtime: Runtime, picked: int, tmp_path: Path
) -> None:
    # Its state says that it is done while its thread still tells so.
    go_on = threading.Event()
    told = threading.Event()

    def hold(shoot: int, name: str) -> None:
        if name == "delivery" and finished_state(runtime, 1) == "done":
            told.set()
            go_on.wait()

    runtime.events.watch(hold)
    delivery = runtime.deliveries.start(picked, plan(runtime, picked, tmp_path / "out"))
    assert delivery == 1
    told.wait()
    asking = threading.Thread(target=runtime.deliveries.take_back, args=(delivery,))
    asking.start()
    asking.join(0.2)
    go_on.set()
    asking.join()
    until(lambda: finished_state(runtime, delivery) == "returned")


@pytest.mark.parametrize("how", ["copy", "link"])
def test_taking_back_removes_only_what_was_made_and_is_unchanged(
    runtime: Runtime, picked: int, tmp_path: Path, how: str
) -> None:
    target = tmp_path / "out"
    target.mkdir()
    (target / "notes.txt").write_text("mine")
    wish = delivery_plan.Wish(how="link" if how == "link" else "copy", template="a/{name}")
    delivery = runtime.deliveries.start(picked, plan(runtime, picked, target, wish))
    assert finished(runtime, delivery).done == 5
    if how == "copy":
        (target / "a" / "QH_0001.jpg").write_bytes(b"retouched")
        lost = (tmp_path / "shoot" / "QH_0002.dng").rename(tmp_path / "elsewhere.dng")
    runtime.deliveries.take_back(delivery)
    until(lambda: finished(runtime, delivery).state == "returned")
    if how == "link":
        assert names(target) == ["notes.txt"]
        return
    assert names(target / "a") == ["QH_0001.jpg", "QH_0002.dng"]
    notices = " ".join(item.notice for item in deliveries.items(runtime.db, delivery))
    assert "changed since" in notices
    assert "the copy stays" in notices
    assert (target / "a" / "QH_0002.dng").read_bytes() == lost.read_bytes()


def test_cancelling_gives_up_the_rest(
    runtime: Runtime, picked: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    real, inside, go_on = copies.copy_verified, threading.Event(), threading.Event()

    def slow(*arguments: Any) -> str:
        inside.set()
        go_on.wait(10)
        return real(*arguments)

    monkeypatch.setattr(copies, "copy_verified", slow)
    delivery = runtime.deliveries.start(picked, plan(runtime, picked, tmp_path / "out"))
    inside.wait(10)
    cancelling = threading.Thread(target=runtime.deliveries.cancel, args=(delivery,))
    cancelling.start()
    go_on.set()
    cancelling.join()
    found = deliveries.get(runtime.db, delivery)
    assert found
    assert (found.state, found.done) == ("cancelled", 1)
    runtime.deliveries.take_back(delivery)
    until(lambda: finished_state(runtime, delivery) == "returned")
    assert names(tmp_path / "out") == []


def finished_state(runtime: Runtime, delivery: int) -> str:
    found = deliveries.get(runtime.db, delivery)
    assert found
    return found.state


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
    how: deliveries.How,
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


def test_what_is_not_moved_leaves_no_sidecar_in_the_target(
    runtime: Runtime, picked: int, tmp_path: Path
) -> None:
    target = tmp_path / "out"
    planned = plan(runtime, picked, target, delivery_plan.Wish(how="move"))
    target.mkdir()
    (target / "QH_0001.jpg").write_bytes(b"somebody else's")
    done = finished(runtime, runtime.deliveries.start(picked, planned))
    assert done.failed == 2
    assert "QH_0001.xmp" not in names(target)
    assert (tmp_path / "shoot" / "QH_0001.jpg").exists()


def test_the_manifest_of_a_move_names_each_file_once_as_it_lies_there(
    runtime: Runtime, picked: int, tmp_path: Path
) -> None:
    target = tmp_path / "out"
    shoot = tmp_path / "shoot"
    (shoot / "QH_0002.xmp").write_bytes(xmp.with_stated(None, Stated(FileMark(2))))
    runtime.indexer.start(picked)
    until(lambda: not runtime.indexer.status(picked).running)
    wish = delivery_plan.Wish(how="move", manifest=True)
    done = finished(runtime, runtime.deliveries.start(picked, plan(runtime, picked, target, wish)))
    assert (done.state, done.failed) == ("done", 0)
    listed = [line.split("  ", 1) for line in (target / "manifest.b3").read_text().splitlines()]
    assert sorted(name for _, name in listed) == sorted(set(names(target)) - {"manifest.b3"})
    for digest, name in listed:
        assert blake3((target / name).read_bytes()).hexdigest() == digest


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


def test_the_pace_is_that_of_the_last_seconds() -> None:
    pace = Pace()
    assert pace.speed() is None
    pace.samples.extend((10.0 + n, 1000 * n) for n in range(5))
    assert pace.speed() == 1000
    # A slow start is forgotten.
    pace.samples.extend((15.0 + n, 4000 + 9000 * n) for n in range(60))
    assert pace.speed() == pytest.approx(9000)


def test_the_manifest_names_what_arrived_at_the_second_try_too(
    runtime: Runtime, picked: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    whole = copies.copy_verified

    def fails_once(source: Path, *rest: object) -> str:
        if source.name == "QH_0001.jpg":
            monkeypatch.setattr(copies, "copy_verified", whole)
            raise OSError(errno.EIO, "input/output error")
        return whole(source, *rest)  # type: ignore[arg-type]

    monkeypatch.setattr(copies, "copy_verified", fails_once)
    target = tmp_path / "out"
    wish = delivery_plan.Wish(manifest=True)
    delivery = runtime.deliveries.start(picked, plan(runtime, picked, target, wish))
    assert finished(runtime, delivery).failed == 1
    runtime.deliveries.resume(delivery)
    assert finished(runtime, delivery).failed == 0
    listed = (target / "manifest.b3").read_text()
    assert sorted(line.split("  ")[1] for line in listed.splitlines()) == sorted(
        set(names(target)) - {"manifest.b3"}
    )


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
        with pytest.raises(refusals.CopyError, match="reads otherwise each time"):
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


@pytest.mark.parametrize("how", ["copy", "move"])
def test_what_is_taken_back_already_is_no_sign_of_another_disk(
    runtime: Runtime,
    picked: int,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    how: deliveries.How,
) -> None:
    disk, real = tmp_path / "disk", os.path.ismount
    disk.mkdir()
    monkeypatch.setattr(os.path, "ismount", lambda path: Path(path) == disk or real(path))
    wish = delivery_plan.Wish(how=how)
    delivery = runtime.deliveries.start(picked, plan(runtime, picked, disk / "out", wish))
    assert finished(runtime, delivery).state == "done"
    for _ in range(2):
        runtime.deliveries.take_back(delivery)
        until(lambda: finished(runtime, delivery).state == "returned")
    assert names(disk / "out") == []
