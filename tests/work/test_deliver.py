"""Copying picks: everything arrives, nothing is written over, and a kill does no harm."""

import errno
import os
import signal
import subprocess
import sys
import threading
from pathlib import Path

import pytest
from blake3 import blake3

from tests.conftest import indexed, until
from tests.pictures import dng, jpeg, write_shoot
from tests.work.test_sidecars import set_mark
from winnow.core.marks import Decision, Edit
from winnow.core.profiles import FileMark
from winnow.photos import originals
from winnow.photos.xmp import read_sidecar
from winnow.store import deliveries, frames
from winnow.work import deliver
from winnow.work.deliver import DeliveryError
from winnow.work.studio import Studio


@pytest.fixture
def picked(studio: Studio, tmp_path: Path) -> int:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2, 3])
    (folder / "QH_0002.dng").write_bytes(dng(jpeg(2, 1200, 800)))
    shoot = indexed(studio, folder)
    set_mark(studio, shoot, "QH_0001", Edit(Decision.PICK, 4))
    set_mark(studio, shoot, "QH_0002", Edit(Decision.PICK))
    return shoot


def plan(
    studio: Studio, shoot: int, target: Path, wish: deliver.Wish = deliver.AS_USUAL
) -> deliver.Plan:
    ids = [r.id for r in frames.rows(studio.db, shoot) if r.mark.decision is Decision.PICK]
    return deliver.plan(studio.db, shoot, str(target), ids, wish)


def run(studio: Studio, shoot: int, target: Path) -> deliveries.Delivery:
    delivery = studio.deliveries.start(shoot, plan(studio, shoot, target))
    return finished(studio, delivery)


def finished(studio: Studio, delivery: int) -> deliveries.Delivery:
    def state() -> deliveries.Delivery:
        found = deliveries.get(studio.db, delivery)
        assert found
        return found

    until(lambda: state().state in ("done", "stopped"))
    return state()


def names(folder: Path) -> list[str]:
    return sorted(os.listdir(folder))


def test_picks_arrive_with_their_raws_and_sidecars(
    studio: Studio, picked: int, tmp_path: Path
) -> None:
    target = tmp_path / "out" / "for the client"
    planned = plan(studio, picked, target)
    assert planned.makes_folder
    assert (planned.frames, len(planned.items)) == (2, 5)
    assert not target.exists()
    result = run(studio, picked, target)
    assert (result.state, result.done, result.failed) == ("done", 5, 0)
    wanted = ["QH_0001.jpg", "QH_0001.xmp", "QH_0002.dng", "QH_0002.jpg", "QH_0002.xmp"]
    assert names(target) == wanted
    assert read_sidecar((target / "QH_0001.xmp").read_bytes()).mark == FileMark(4, None, True)
    for item in deliveries.items(studio.db, result.id):
        if item.kind == "copy":
            copy = (target / item.name).read_bytes()
            assert copy == item.source.read_bytes()
            assert item.hash == blake3(copy).hexdigest()
    assert names(tmp_path / "shoot") == ["QH_0001.jpg", "QH_0002.dng", "QH_0002.jpg", "QH_0003.jpg"]


def test_again_copies_nothing_and_other_files_are_never_written_over(
    studio: Studio, picked: int, tmp_path: Path
) -> None:
    target = tmp_path / "out"
    run(studio, picked, target)
    before = {n: (target / n).stat().st_mtime_ns for n in names(target)}
    again = run(studio, picked, target)
    assert (again.done, again.already_there, again.failed) == (0, 5, 0)
    assert {n: (target / n).stat().st_mtime_ns for n in names(target)} == before

    other = tmp_path / "other"
    other.mkdir()
    (other / "qh_0002.JPG").write_bytes(b"somebody else's")
    planned = plan(studio, picked, other)
    assert ("QH_0002.dng", "QH_0002-2.dng") in planned.renamed
    run(studio, picked, other)
    assert (other / "qh_0002.JPG").read_bytes() == b"somebody else's"
    assert {"QH_0002-2.jpg", "QH_0002-2.dng", "QH_0002-2.xmp"} < set(names(other))


def test_targets_that_cannot_be(studio: Studio, picked: int, tmp_path: Path) -> None:
    for target, words in [
        (tmp_path / "shoot" / "picks", "within this shoot"),
        (tmp_path / "shoot" / "QH_0001.jpg", "is a file"),
        (Path("relative"), "whole path"),
    ]:
        with pytest.raises(DeliveryError, match=words):
            plan(studio, picked, target)


def test_no_space_is_said_before_anything_is_copied(
    studio: Studio, picked: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from collections import namedtuple

    usage = namedtuple("usage", "total used free")
    monkeypatch.setattr(deliver.shutil, "disk_usage", lambda _: usage(10, 9, 1))
    with pytest.raises(DeliveryError, match="not enough space"):
        run(studio, picked, tmp_path / "out")
    assert not (tmp_path / "out").exists()


def test_a_lost_original_fails_alone_and_going_on_brings_it(
    studio: Studio, picked: int, tmp_path: Path
) -> None:
    target = tmp_path / "out"
    planned = plan(studio, picked, target)
    first = tmp_path / "shoot" / "QH_0001.jpg"
    hidden = first.rename(tmp_path / "hidden.jpg")
    result = finished(studio, studio.deliveries.start(picked, planned))
    assert (result.done, result.failed) == (4, 1)
    assert "no longer there" in " ".join(i.notice for i in deliveries.items(studio.db, result.id))
    hidden.rename(first)
    studio.deliveries.resume(result.id)
    until(lambda: finished(studio, result.id).done == 5)
    assert (target / "QH_0001.jpg").read_bytes() == first.read_bytes()


def test_stopping(
    studio: Studio, picked: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    real, inside, go_on = originals.copy_verified, threading.Event(), threading.Event()

    def slow(source: Path, target: Path) -> str:
        inside.set()
        go_on.wait(10)
        return real(source, target)

    monkeypatch.setattr(originals, "copy_verified", slow)
    delivery = studio.deliveries.start(picked, plan(studio, picked, tmp_path / "out"))
    inside.wait(10)
    stopping = threading.Thread(target=studio.deliveries.stop, args=(delivery,))
    stopping.start()
    go_on.set()
    stopping.join()
    found = finished(studio, delivery)
    assert found.state == "stopped"
    assert 1 <= found.done < 5
    studio.deliveries.resume(delivery)
    until(lambda: finished(studio, delivery).state == "done")
    assert finished(studio, delivery).done + finished(studio, delivery).already_there == 5


KILLED = """
import sys
from pathlib import Path
from winnow.photos import originals
real = originals.copy_verified
def told(source, target):
    print("copying", flush=True)
    return real(source, target)
originals.copy_verified = told
from winnow.store import frames
from winnow.work import deliver
from winnow.work.studio import Places, Studio
studio = Studio(Places(Path(sys.argv[1]), Path(sys.argv[2])))
ids = [r.id for r in frames.rows(studio.db, 1)]
delivery = studio.deliveries.start(1, deliver.plan(studio.db, 1, sys.argv[3], ids, deliver.Wish(sidecars=False)))
studio.deliveries.wait(delivery)
"""


def test_a_kill_in_the_middle_leaves_only_whole_files_and_can_be_resumed(tmp_path: Path) -> None:
    from concurrent.futures import ThreadPoolExecutor

    from winnow.work.studio import Places
    from winnow.work.workers import Workers

    folder, target = tmp_path / "shoot", tmp_path / "out"
    write_shoot(folder, [1] * 30)
    for path in folder.iterdir():
        path.write_bytes(path.read_bytes() + os.urandom(2_000_000))
    places = Places(tmp_path / "data", tmp_path / "cache")
    studio = Studio(places, Workers(lambda: ThreadPoolExecutor(1)))
    indexed(studio, folder)
    studio.close()
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

    studio = Studio(places, Workers(lambda: ThreadPoolExecutor(1)))
    (found,) = deliveries.of_shoot(studio.db, 1)
    assert (found.state, found.notice) == ("stopped", "Winnow ended before it was through.")
    studio.deliveries.resume(found.id)
    until(lambda: finished(studio, found.id).state == "done")
    assert names(target) == names(folder)
    studio.close()


def test_names_by_template_into_folders_with_a_manifest(
    studio: Studio, picked: int, tmp_path: Path
) -> None:
    target = tmp_path / "out"
    wish = deliver.Wish(template="{shoot}/{seq:3} {stars}", which="ready", manifest=True)
    delivery = studio.deliveries.start(picked, plan(studio, picked, target, wish))
    result = finished(studio, delivery)
    assert (result.state, result.failed) == ("done", 0)
    assert names(target) == ["Test", "manifest.b3"]
    wanted = ["001 4.jpg", "001 4.xmp", "002 0.jpg", "002 0.xmp"]
    assert names(target / "Test") == wanted
    listed = dict(
        reversed(line.split("  ", 1)) for line in (target / "manifest.b3").read_text().splitlines()
    )
    assert sorted(listed) == [f"Test/{name}" for name in wanted]
    for name, digest in listed.items():
        assert blake3((target / name).read_bytes()).hexdigest() == digest
    # The same once more: what is there counts, nothing is doubled.
    again = studio.deliveries.start(picked, plan(studio, picked, target, wish))
    assert finished(studio, again).already_there == 4
    assert names(target / "Test") == wanted


def test_a_template_that_can_not_be_used_is_refused(
    studio: Studio, picked: int, tmp_path: Path
) -> None:
    with pytest.raises(DeliveryError, match="no field"):
        plan(studio, picked, tmp_path / "out", deliver.Wish(template="{nmae}"))


def test_equal_names_get_numbers(studio: Studio, picked: int, tmp_path: Path) -> None:
    wish = deliver.Wish(sidecars=False, template="{shoot}", which="ready")
    planned = plan(studio, picked, tmp_path / "out", wish)
    assert [item.name for item in planned.items] == ["Test.jpg", "Test-2.jpg"]
    assert planned.renamed == (("Test.jpg", "Test-2.jpg"),)


def test_links_are_further_names_of_the_same_files(
    studio: Studio, picked: int, tmp_path: Path
) -> None:
    target = tmp_path / "out"
    wish = deliver.Wish(sidecars=False, links=True)
    planned = plan(studio, picked, target, wish)
    assert planned.size == 0
    result = finished(studio, studio.deliveries.start(picked, planned))
    assert (result.state, result.done) == ("done", 3)
    assert (target / "QH_0001.jpg").samefile(tmp_path / "shoot" / "QH_0001.jpg")
    again = finished(studio, studio.deliveries.start(picked, plan(studio, picked, target, wish)))
    assert again.already_there == 3


def test_a_link_to_another_disk_is_refused_in_words(
    studio: Studio, picked: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    def other_disk(source: Path, target: Path) -> None:
        raise OSError(errno.EXDEV, "cross-device link")

    monkeypatch.setattr(originals.os, "link", other_disk)
    wish = deliver.Wish(sidecars=False, links=True)
    result = finished(
        studio, studio.deliveries.start(picked, plan(studio, picked, tmp_path / "out", wish))
    )
    assert result.failed == 3
    assert "same disk" in deliveries.items(studio.db, result.id)[0].notice
