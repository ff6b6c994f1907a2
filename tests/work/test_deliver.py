"""Copying picks: everything arrives, nothing is written over, and a kill does no harm."""

import errno
import os
import signal
import subprocess
import sys
import threading
from pathlib import Path
from typing import Any

import pytest
from blake3 import blake3

from tests.conftest import indexed, until
from tests.pictures import write_shoot
from tests.work.delivering import finished, names, plan, run
from tests.work.saying import set_mark
from winnow.core.files.profiles import FileMark
from winnow.core.marks import Edit
from winnow.photos import copies
from winnow.photos.xmp import read_sidecar
from winnow.store import deliveries, frames, guests
from winnow.work.deliver import plan as delivery_plan
from winnow.work.deliver.plan import DeliveryError
from winnow.work.deliver.run import Pace
from winnow.work.moves import rename
from winnow.work.runtime import Runtime


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
