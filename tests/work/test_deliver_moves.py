"""Links, moves and taking back: what was moved is followed, and comes back as it was."""

import errno
import json
import os
import threading
from pathlib import Path
from typing import Any

import pytest
from blake3 import blake3

from tests.conftest import until
from tests.pictures import write_shoot
from tests.ready import ready
from tests.work.delivering import finished, finished_state, names, plan, run
from tests.work.saying import set_mark
from winnow.core.deliver.ways import How
from winnow.core.files.merge import Stated
from winnow.core.files.profiles import FileMark
from winnow.core.marks import Decision, Edit
from winnow.photos import copies, xmp
from winnow.photos.entries import Entry
from winnow.photos.xmp import read_sidecar
from winnow.store import deliveries, frames, renamings
from winnow.work.deliver import plan as delivery_plan
from winnow.work.deliver.plan import DeliveryError
from winnow.work.files import lists
from winnow.work.moves import rename
from winnow.work.runtime import Runtime


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
    runtime: Runtime, tmp_path: Path, how: How
) -> None:
    folder, target = tmp_path / "shoot", tmp_path / "out"
    write_shoot(folder, [1])
    own = ["QH_0001.jpg.settings", "QH_0001.mov", "QH_0001.wav"]
    for name in own:
        (folder / name).write_bytes(name.encode())
    shoot = ready(runtime, folder)
    set_mark(runtime, shoot, "QH_0001", Edit(Decision.PICK))
    before = names(folder)
    (frame,) = (row.id for row in frames.rows(runtime.db, shoot))
    (listed,) = json.loads(lists.write(runtime.db, shoot, [frame], "json", ["facts"]))["frames"]
    assert sorted(listed["companions"]) == own
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


@pytest.mark.parametrize("how", ["copy", "move"])
def test_what_is_taken_back_already_is_no_sign_of_another_disk(
    runtime: Runtime,
    picked: int,
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
    how: How,
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
