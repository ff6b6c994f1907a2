"""Setting aside and bringing back: every file exactly as it was, whatever happens in between."""

import errno
import os
from pathlib import Path

import pytest

from tests.conftest import indexed, until
from tests.pictures import dng, jpeg, write_shoot
from tests.ready import ready
from tests.work.saying import frame_of, set_mark, state
from winnow.core.files.merge import Stated
from winnow.core.files.profiles import FileMark
from winnow.core.marks import Decision, Edit
from winnow.photos import scan
from winnow.photos.entries import Entry
from winnow.store import file_state, frame_figures, frame_files, frames, moved_files, shoots
from winnow.work.files import write as files_write
from winnow.work.moves import journal, set_aside
from winnow.work.runtime import Runtime


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    folder = tmp_path / "shoot"
    write_shoot(folder / "day 1", [1, 2])
    write_shoot(folder, [3])
    (folder / "day 1" / "QH_0002.dng").write_bytes(dng(jpeg(2, 1200, 800)))
    state(folder / "day 1" / "QH_0002.xmp", Stated(FileMark(-1)))
    for name in ("QH_0002.MOV", "QH_0002.wav", "QH_0002.dng.settings"):
        (folder / "day 1" / name).write_bytes(name.encode())
    return folder


def looks(folder: Path) -> dict[str, tuple[bytes, int]]:
    return {
        path.relative_to(folder).as_posix(): (path.read_bytes(), path.stat().st_mtime_ns)
        for path in folder.rglob("*")
        if path.is_file()
    }


def test_a_frame_goes_with_all_its_files_and_comes_back_as_it_was(
    runtime: Runtime, folder: Path
) -> None:
    shoot = ready(runtime, folder)
    before = looks(folder)
    second = frame_of(runtime, shoot, "QH_0002")
    result = set_aside.set_aside(runtime.db, [second])
    assert (result.frames, result.problems) == (1, ())
    holding = folder.parent / "shoot set aside"
    endings = ["MOV", "dng", "dng.settings", "jpg", "wav", "xmp"]
    assert sorted(looks(holding)) == [f"day 1/QH_0002.{ending}" for ending in endings]
    assert {**looks(folder), **looks(holding)} == before
    # The shoot still shows it, and nothing is said to be missing.
    indexed(runtime, folder)
    row = next(row for row in frames.rows(runtime.db, shoot) if row.id == second)
    assert (row.held, row.missing, row.state) == (True, False, 2)
    (files,) = frame_files.files_of(runtime.db, [second])
    assert files.shown == holding / "day 1" / "QH_0002.jpg"
    assert second not in frame_files.there(runtime.db, shoot)

    result = set_aside.bring_back(runtime.db, [second])
    assert (result.frames, result.problems) == (1, ())
    assert looks(folder) == before
    assert not holding.exists()
    indexed(runtime, folder)
    row = next(row for row in frames.rows(runtime.db, shoot) if row.id == second)
    assert (row.held, row.missing) == (False, False)


def test_the_top_folder_of_a_disk_holds_what_is_set_aside_within_it(
    runtime: Runtime, folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(scan, "_device", lambda path: int(path == folder))
    shoot = ready(runtime, folder)
    before = looks(folder)
    ids = [row.id for row in frames.rows(runtime.db, shoot)]
    assert set_aside.set_aside(runtime.db, ids).frames == 3
    assert set(looks(folder)) == {f"shoot set aside/{path}" for path in before}
    # What waits there is no new frame.
    indexed(runtime, folder)
    rows = frames.rows(runtime.db, shoot)
    assert [(row.id, row.held, row.missing) for row in rows] == [(i, True, False) for i in ids]
    assert set_aside.bring_back(runtime.db, ids).frames == 3
    assert looks(folder) == before


def test_a_database_from_before_finds_the_holding_folder_again(
    runtime: Runtime, folder: Path
) -> None:
    shoot = ready(runtime, folder)
    before = looks(folder)
    frame = frame_of(runtime, shoot, "QH_0002")
    assert set_aside.set_aside(runtime.db, [frame]).frames == 1
    # A backup from before that took the database's place.
    moved_files.forget(runtime.db, [frame])
    indexed(runtime, folder)
    row = next(row for row in frames.rows(runtime.db, shoot) if row.id == frame)
    assert (row.held, row.missing) == (True, False)
    assert set_aside.bring_back(runtime.db, [frame]).frames == 1
    assert looks(folder) == before
    # Another file of that name in the holding folder is not taken for it.
    (third,) = folder.glob("*.jpg")
    third.unlink()
    holding = folder.parent / "shoot set aside"
    holding.mkdir()
    (holding / third.name).write_bytes(b"another one")
    indexed(runtime, folder)
    files = frame_files.files_of(runtime.db, [row.id for row in frames.rows(runtime.db, shoot)])
    (other,) = (file for file in files if file.shown == third)
    assert other.missing


def test_a_taken_place_leaves_the_whole_frame_where_it_is(runtime: Runtime, folder: Path) -> None:
    shoot = ready(runtime, folder)
    second = frame_of(runtime, shoot, "QH_0002")
    set_aside.set_aside(runtime.db, [second])
    (folder / "day 1" / "QH_0002.dng").write_bytes(b"somebody else's")
    held_before = looks(folder.parent / "shoot set aside")
    result = set_aside.bring_back(runtime.db, [second])
    assert result.frames == 0
    assert "already" in result.problems[0][1]
    assert looks(folder.parent / "shoot set aside") == held_before
    assert (folder / "day 1" / "QH_0002.dng").read_bytes() == b"somebody else's"
    assert moved_files.unsettled(runtime.db) == {}
    # A picture under the name of the one that is held makes no second frame.
    (folder / "day 1" / "QH_0002.dng").rename(folder / "day 1" / "QH_0002.jpg")
    indexed(runtime, folder)
    assert len(frames.rows(runtime.db, shoot)) == 3

    (folder / "day 1" / "QH_0002.jpg").unlink()
    assert set_aside.bring_back(runtime.db, [second]).frames == 1
    # The same the other way round.
    (folder.parent / "shoot set aside" / "day 1").mkdir(parents=True)
    (folder.parent / "shoot set aside" / "day 1" / "QH_0002.xmp").write_bytes(b"theirs")
    before = looks(folder)
    result = set_aside.set_aside(runtime.db, [second])
    assert "holding folder already" in result.problems[0][1]
    assert looks(folder) == before


@pytest.mark.parametrize(("code", "words"), [(errno.EXDEV, "disk"), (errno.EACCES, "permission")])
def test_a_move_that_fails_half_way_is_taken_back(
    runtime: Runtime, folder: Path, monkeypatch: pytest.MonkeyPatch, code: int, words: str
) -> None:
    shoot = ready(runtime, folder)
    before = looks(folder)
    link = Entry.link

    def fails(source: Entry, target: Entry) -> None:
        if target.path.suffix == ".xmp" and "set aside" in str(target.path):
            raise OSError(code, "no")
        link(source, target)

    monkeypatch.setattr("winnow.photos.entries._renameat2", lambda: None)
    monkeypatch.setattr(Entry, "link", fails)
    result = set_aside.set_aside(runtime.db, [frame_of(runtime, shoot, "QH_0002")])
    assert words in result.problems[0][1]
    assert looks(folder) == before
    assert moved_files.of_shoot(runtime.db, shoot) == {}


def test_a_disk_without_hard_links(
    runtime: Runtime, folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    shoot = ready(runtime, folder)
    before = looks(folder)

    def never(source: Entry, target: Entry) -> None:
        raise OSError(errno.EPERM, "no links here")

    monkeypatch.setattr("winnow.photos.entries._renameat2", lambda: None)
    monkeypatch.setattr(Entry, "link", never)
    second = frame_of(runtime, shoot, "QH_0002")
    assert set_aside.set_aside(runtime.db, [second]).frames == 1
    assert set_aside.bring_back(runtime.db, [second]).frames == 1
    assert looks(folder) == before


def test_a_way_back_that_was_killed_goes_on_though_a_sidecar_took_marks_in(
    runtime: Runtime, folder: Path
) -> None:
    shoot = ready(runtime, folder)
    second = frame_of(runtime, shoot, "QH_0002")
    set_aside.set_aside(runtime.db, [second])
    files = {file.source.name: file for file in moved_files.of_frames(runtime.db, [second])[second]}
    sidecar = files["QH_0002.xmp"]
    sidecar.place.write_bytes(sidecar.place.read_bytes() + b"\n" * 50)
    # Killed after the sidecar was moved; a part of a copy is left.
    moved_files.note(runtime.db, [second], "coming")
    os.rename(sidecar.place, sidecar.source)
    (sidecar.source.parent / ".winnow-part-1").write_bytes(b"half")
    assert journal.recover(runtime.db) == 1
    assert moved_files.of_frames(runtime.db, [second]) == {}
    assert all(file.source.exists() for file in files.values())
    assert not list(folder.rglob(".winnow-*"))


def test_a_frame_that_is_being_analysed_waits(runtime: Runtime, folder: Path) -> None:
    shoot = ready(runtime, folder)
    second = frame_of(runtime, shoot, "QH_0002")
    frame_figures.look_again(runtime.db, [second])
    assert "still being analysed" in set_aside.set_aside(runtime.db, [second]).problems[0][1]
    assert len(looks(folder)) == 8


def test_what_is_set_aside_is_not_written_to(runtime: Runtime, folder: Path) -> None:
    shoot = ready(runtime, folder)
    second = frame_of(runtime, shoot, "QH_0002")
    set_aside.set_aside(runtime.db, [second])
    set_mark(runtime, shoot, "QH_0002", Edit(Decision.PICK))
    assert file_state.unwritten(runtime.db, shoot) == []
    files_write.write(runtime.db, runtime.cache, shoot)
    set_aside.bring_back(runtime.db, [second])
    assert file_state.unwritten(runtime.db, shoot) == [second]


def test_a_move_is_told_and_a_shoot_that_holds_frames_is_not_forgotten(
    runtime: Runtime, folder: Path
) -> None:
    shoot = ready(runtime, folder)
    ids = [row.id for row in frames.rows(runtime.db, shoot)]
    assert runtime.aside.start(shoot, ids, back=False)
    runtime.aside.wait(shoot, 30)
    until(lambda: not runtime.aside.status(shoot).running)
    result = runtime.aside.status(shoot).result
    assert result is not None
    assert (result.frames, runtime.aside.status(shoot).done) == (3, 3)
    assert looks(folder) == {}
    found = shoots.get(runtime.db, shoot)
    assert found is not None
    assert found.tally.missing == 0
    runtime.aside.start(shoot, ids, back=True)
    runtime.aside.wait(shoot, 30)
    assert len(looks(folder)) == 8
