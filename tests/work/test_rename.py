"""Renaming in place: all or nothing, followed by the shoot, undone as one step, and a kill does no
harm."""

import errno
import os
from collections.abc import Collection
from pathlib import Path

import pytest

from tests.conftest import until
from tests.pictures import dng, jpeg, write_shoot
from tests.ready import ready
from tests.work.saying import set_mark
from winnow.core.files.merge import Stated
from winnow.core.files.profiles import FileMark
from winnow.core.marks import Edit
from winnow.photos import originals, xmp
from winnow.store import deliveries, frame_files, frames, renamings
from winnow.work.deliver import plan as delivery_plan
from winnow.work.moves import rename, set_aside
from winnow.work.moves.rename import RenameError
from winnow.work.runtime import Runtime


@pytest.fixture
def shoot(runtime: Runtime, tmp_path: Path) -> int:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2, 3])
    (folder / "QH_0002.dng").write_bytes(dng(jpeg(2, 1200, 800)))
    (folder / "QH_0002.jpg.xmp").write_bytes(xmp.with_stated(None, Stated(FileMark(3, None, None))))
    for name in ("QH_0002.mov", "QH_0002.dng.settings"):
        (folder / name).write_bytes(name.encode())
    return ready(runtime, folder)


def ids(runtime: Runtime, shoot: int) -> list[int]:
    return [row.id for row in frames.rows(runtime.db, shoot)]


def run(runtime: Runtime, shoot: int, template: str) -> renamings.Renaming:
    planned = rename.plan(runtime.db, shoot, ids(runtime, shoot), template)
    return finished(runtime, runtime.renamings.start(shoot, template, planned))


def finished(runtime: Runtime, renaming: int) -> renamings.Renaming:
    runtime.renamings.wait(renaming)
    found = renamings.get(runtime.db, renaming)
    assert found
    return found


def look_again(runtime: Runtime, shoot: int) -> None:
    runtime.indexer.start(shoot)
    until(lambda: not runtime.indexer.status(shoot).running)


def contents(folder: Path) -> dict[str, bytes]:
    return {path.name: path.read_bytes() for path in folder.iterdir()}


def test_frames_keep_their_files_together_and_their_marks(
    runtime: Runtime, shoot: int, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    before = contents(folder)
    set_mark(runtime, shoot, "QH_0001", Edit(None, 5))
    planned = rename.plan(runtime.db, shoot, ids(runtime, shoot), "fair {seq:3}")
    assert (planned.frames, len(planned.names)) == (3, 7)
    assert contents(folder) == before
    done = run(runtime, shoot, "fair {seq:3}")
    assert (done.state, done.frames) == ("done", 3)
    assert contents(folder) == {
        "fair 001.jpg": before["QH_0001.jpg"],
        "fair 002.jpg": before["QH_0002.jpg"],
        "fair 002.dng": before["QH_0002.dng"],
        "fair 002.jpg.xmp": before["QH_0002.jpg.xmp"],
        "fair 002.mov": b"QH_0002.mov",
        "fair 002.dng.settings": b"QH_0002.dng.settings",
        "fair 003.jpg": before["QH_0003.jpg"],
    }
    rows = frames.rows(runtime.db, shoot)
    assert [(r.name, r.mark.stars, r.missing) for r in rows] == [
        ("fair 001", 5, False), ("fair 002", 3, False), ("fair 003", 0, False),
    ]  # fmt: skip
    keys = [row.key for row in rows]
    look_again(runtime, shoot)
    assert [r.key for r in frames.rows(runtime.db, shoot)] == keys, "nothing was read again"
    runtime.renamings.undo(done.id)
    assert finished(runtime, done.id).state == "undone"
    assert contents(folder) == before
    assert [r.name for r in frames.rows(runtime.db, shoot)] == ["QH_0001", "QH_0002", "QH_0003"]
    look_again(runtime, shoot)
    assert len(frames.rows(runtime.db, shoot)) == 3


def test_names_that_others_of_them_have_now(runtime: Runtime, shoot: int, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    run(runtime, shoot, "{seq}")
    before = contents(folder)
    # 1, 2, 3 become 3, 1, 2: a circle.
    turned = ids(runtime, shoot)[1:] + ids(runtime, shoot)[:1]
    planned = rename.plan(runtime.db, shoot, [*ids(runtime, shoot)], "{seq}")
    assert planned.steps == ()
    with runtime.db.write() as conn:
        for position, frame in enumerate(turned):
            conn.execute("UPDATE frame SET position = ? WHERE id = ?", (position, frame))
    run(runtime, shoot, "{seq}")
    after = contents(folder)
    assert after["1.jpg"] == before["2.jpg"]
    assert after["2.jpg"] == before["3.jpg"]
    assert after["3.jpg"] == before["1.jpg"]
    assert not any(name.startswith(".") for name in after)


def test_taken_names_get_a_number_and_case_alone_can_change(
    runtime: Runtime, shoot: int, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    (folder / "Fair.txt").write_text("notes")
    (folder / "fair.JPG.txt").write_text("notes")
    (folder / "FAIR.jpg").mkdir()
    planned = rename.plan(runtime.db, shoot, ids(runtime, shoot), "fair")
    assert next(new for _, new in planned.numbered) == "fair-2.jpg"
    assert run(runtime, shoot, "fair").state == "done"
    assert {"fair-2.jpg", "fair-3.dng", "fair-4.jpg"} <= set(os.listdir(folder))
    assert run(runtime, shoot, "FAIR {seq}").state == "done"
    assert run(runtime, shoot, "Fair {seq}").state == "done"
    assert {"Fair 1.jpg", "Fair 2.dng", "Fair 3.jpg"} <= set(os.listdir(folder))


def test_what_cannot_be_renamed(runtime: Runtime, shoot: int, tmp_path: Path) -> None:
    with pytest.raises(RenameError, match="can’t hold"):
        rename.plan(runtime.db, shoot, ids(runtime, shoot), "a/{name}")
    with pytest.raises(RenameError, match="no field"):
        rename.plan(runtime.db, shoot, ids(runtime, shoot), "{nmae}")
    with pytest.raises(RenameError, match="has that name already"):
        run(runtime, shoot, "{name}")
    first, second, third = ids(runtime, shoot)
    set_aside.set_aside(runtime.db, [first])
    (tmp_path / "shoot" / "QH_0003.jpg").unlink()
    planned = rename.plan(runtime.db, shoot, [first, second, third], "x {name}")
    assert planned.frames == 1
    assert [name for name, _ in planned.left] == ["QH_0001", "QH_0003"]


def test_where_one_fails_every_name_is_as_it_was(
    runtime: Runtime, shoot: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    before = contents(tmp_path / "shoot")
    real = originals.move_new

    def refuse(source: Path, target: Path, roots: Collection[Path]) -> None:
        if target.name == "n 3.jpg":
            raise OSError(errno.EROFS, "read only", str(source))
        real(source, target, roots)

    monkeypatch.setattr(originals, "move_new", refuse)
    done = run(runtime, shoot, "n {seq}")
    assert done.state == "undone"
    assert "only be read" in done.notice
    assert "as it was" in done.notice
    assert contents(tmp_path / "shoot") == before
    assert [r.name for r in frames.rows(runtime.db, shoot)] == ["QH_0001", "QH_0002", "QH_0003"]


def test_a_look_at_the_folder_that_began_before_is_not_believed(
    runtime: Runtime, shoot: int, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from winnow.photos import scan

    real = scan.scan

    def slow(folder: Path, *rest: object) -> scan.Listing:
        found = real(folder)
        if not any(p.name.startswith("n ") for p in folder.iterdir()):
            run(runtime, shoot, "n {seq}")
        return found

    monkeypatch.setattr(scan, "scan", slow)
    look_again(runtime, shoot)
    until(lambda: not runtime.indexer.status(shoot).running)
    assert sorted(r.name for r in frames.rows(runtime.db, shoot)) == ["n 1", "n 2", "n 3"]
    assert not any(r.missing for r in frames.rows(runtime.db, shoot))


def test_only_the_last_renaming_is_undone(runtime: Runtime, shoot: int) -> None:
    first = run(runtime, shoot, "a {seq}")
    second = run(runtime, shoot, "b {seq}")
    with pytest.raises(RenameError, match="last"):
        runtime.renamings.undo(first.id)
    runtime.renamings.undo(second.id)
    assert finished(runtime, second.id).state == "undone"
    runtime.renamings.undo(first.id)
    assert finished(runtime, first.id).state == "undone"
    assert [r.name for r in frames.rows(runtime.db, shoot)] == ["QH_0001", "QH_0002", "QH_0003"]


def test_names_wait_for_a_delivery_that_is_not_through(
    runtime: Runtime, shoot: int, tmp_path: Path
) -> None:
    wanted = ids(runtime, shoot)
    planned = delivery_plan.plan(runtime.db, shoot, str(tmp_path / "out"), wanted)
    delivery = deliveries.make(runtime.db, shoot, planned.target, planned.items)
    with pytest.raises(RenameError, match="delivery is not through"):
        run(runtime, shoot, "a {seq}")
    runtime.deliveries.cancel(delivery)
    assert run(runtime, shoot, "a {seq}").state == "done"


def test_sidecars_of_renamed_frames_are_known(runtime: Runtime, shoot: int) -> None:
    run(runtime, shoot, "s {seq}")
    (frame,) = frame_files.files_of(runtime.db, ids(runtime, shoot)[1:2])
    assert [path.name for path in frame.sidecars] == ["s 2.jpg.xmp"]
    assert all(path.exists() for path in (*frame.all, *frame.sidecars))
