"""Indexing real folders: complete, resumable, and calm about what is broken."""

import logging
import os
import shutil
import threading
from contextlib import closing
from functools import partial
from pathlib import Path

import pytest

from tests.conftest import indexed, until
from tests.pictures import NOON, dng, huge_png, jpeg, scene, write_jpeg, write_shoot
from winnow.core.marks import Decision, Edit, plan_edit
from winnow.core.measure import focus_map
from winnow.photos import pictures
from winnow.store import frame_figures, frame_files, frames, marks, shoots
from winnow.store.frame_figures import Analysed
from winnow.store.frames import State
from winnow.work.runtime import AlreadyRunning, Places, Runtime
from winnow.work.workers import tasks
from winnow.work.workers.pool import Workers
from winnow.work.workers.tasks import Failure, Job


def test_a_folder_becomes_frames_with_facts_pictures_and_groups(
    runtime: Runtime, tmp_path: Path
) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 1, 1, 2, 2])
    write_jpeg(folder / "later" / "QH_0006.jpg", 1, NOON + 5000, orientation=6, iso=800)
    shoot = indexed(runtime, folder)
    rows = frames.rows(runtime.db, shoot)
    assert [row.group for row in rows] == [0, 0, 0, 1, 1, 2]
    assert {row.state for row in rows} == {State.DONE}
    assert [row.picture for row in rows] == [2] * 6
    assert (rows[5].width, rows[5].height) == (320, 480)
    assert frames.stated(runtime.db, [rows[5].id])[rows[5].id]["iso"] == 800
    for row in rows:
        assert row.key
        assert runtime.cache.read(row.key, "preview")
        assert runtime.cache.read(row.key, "thumbnail")


def test_a_second_look_reads_nothing_again(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    shoot = indexed(runtime, folder)

    def never(*_: object) -> None:
        raise AssertionError("decoded again")

    monkeypatch.setattr(tasks, "look", never)
    monkeypatch.setattr(tasks, "read", never)
    stored = runtime.db.commits
    indexed(runtime, folder)
    assert shoots.tally(runtime.db, shoot).done == 2
    # Nor is anything written: marks would wait for that.
    assert runtime.db.commits == stored


def test_files_that_come_change_and_go(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    first, second = write_shoot(folder, [1, 2])
    shoot = indexed(runtime, folder)
    before = {row.name: row.key for row in frames.rows(runtime.db, shoot)}
    write_jpeg(first, 3, NOON)
    second.unlink()
    write_jpeg(folder / "QH_0003.jpg", 4, NOON + 60)
    indexed(runtime, folder)
    rows = {row.name: row for row in frames.rows(runtime.db, shoot)}
    assert rows["QH_0001"].key != before["QH_0001"]
    assert rows["QH_0002"].missing
    assert rows["QH_0003"].state is State.DONE


BAD = {
    "empty.jpg": (b"", "empty (0 bytes)"),
    "words.jpg": (b"only words", "not a readable JPEG"),
    "bomb.png": (huge_png(40_000), "40,000 × 40,000 px"),
    "raw.nef": (b"II*\0" + bytes(3000), "raw file can’t be read"),
}


def test_bad_files_have_notices_and_the_rest_works(
    runtime: Runtime, tmp_path: Path, caplog: pytest.LogCaptureFixture
) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1])
    for name, (data, _) in BAD.items():
        (folder / name).write_bytes(data)
    whole = jpeg(5)
    (folder / "cut.jpg").write_bytes(whole[: len(whole) // 2])
    scene(6).save(folder / "wrong.jpg", "PNG")
    (folder / "pair.dng").write_bytes(dng(jpeg(7, 1200, 800)))
    with caplog.at_level(logging.WARNING):
        shoot = indexed(runtime, folder)
    rows = {row.name: row for row in frames.rows(runtime.db, shoot)}
    for name, (_, words) in BAD.items():
        row = rows[name.split(".")[0]]
        assert row.state is State.FAILED
        assert words in row.notice
        assert str(folder / name) in caplog.text
    assert rows["QH_0001"].state is State.DONE
    assert (rows["cut"].state, rows["wrong"].state) == (State.DONE, State.DONE)
    assert "damaged" in rows["cut"].notice
    assert "PNG" in rows["wrong"].notice
    assert rows["pair"].kind == "raw"
    assert rows["pair"].width == 1200


def test_names_of_every_script(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "Наша съёмка 🏮"
    for n, name in enumerate(["Ünï cödé.jpg", "灯籠 🏮.jpg", "مصباح.jpg", "new\nline.jpg"]):
        write_jpeg(folder / name, n)
    raw_name = os.fsdecode(os.path.join(os.fsencode(folder), b"latin\xe9.jpg"))
    write_jpeg(Path(raw_name), 9)
    shoot = indexed(runtime, folder)
    rows = frames.rows(runtime.db, shoot)
    assert {row.state for row in rows} == {State.DONE}
    assert "latin�" in {row.name for row in rows}
    (files,) = frame_files.files_of(runtime.db, [r.id for r in rows if r.name == "latin�"])
    assert files.shown.read_bytes() == Path(raw_name).read_bytes()


def test_empty_folders_and_other_files(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "texts"
    folder.mkdir()
    for n in range(10_000):
        (folder / f"{n}.txt").touch()
    shoot = indexed(runtime, folder)
    assert shoots.tally(runtime.db, shoot).frames == 0
    (stored,) = shoots.folders_of(runtime.db, shoot)
    assert stored.beside.others == {"txt": 10_000}


def test_a_folder_that_disappears_and_comes_back(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    shoot = indexed(runtime, folder)
    moved = folder.rename(tmp_path / "unplugged")
    indexed(runtime, folder)
    (stored,) = shoots.folders_of(runtime.db, shoot)
    assert "no folder" in stored.notice
    assert not any(row.missing for row in frames.rows(runtime.db, shoot))
    moved.rename(folder)
    indexed(runtime, folder)
    assert shoots.folders_of(runtime.db, shoot)[0].notice == ""
    assert shoots.tally(runtime.db, shoot).done == 2


def test_stopping_and_going_on_after_a_restart(
    places: Places, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, list(range(16)))
    real, stopped, looked = tasks.look, threading.Event(), 0

    def look(job: Job) -> Analysed | Failure:
        """Comes to a halt half way, until somebody stopped it."""
        nonlocal looked
        looked += 1
        assert looked < 8 or stopped.wait(60)
        return real(job)

    monkeypatch.setattr("winnow.work.index.indexer.tasks.look", look)
    monkeypatch.setattr("winnow.work.workers.feeder.STORE_EVERY_S", 0)
    runtime = Runtime(places, one_thread())
    shoot = shoots.make(runtime.db, "Test", [str(folder)])
    runtime.indexer.start(shoot)
    until(lambda: shoots.tally(runtime.db, shoot).done > 3)
    runtime.indexer.stop(shoot)
    done = shoots.tally(runtime.db, shoot).done
    assert runtime.indexer.status(shoot).stopped
    assert done < 16
    stopped.set()
    runtime.close()

    runtime = Runtime(places, one_thread())
    assert shoots.tally(runtime.db, shoot).done >= done
    indexed(runtime, folder)
    assert shoots.tally(runtime.db, shoot).done == 16
    runtime.close()


def one_thread() -> Workers:
    from concurrent.futures import ThreadPoolExecutor

    return Workers(lambda: ThreadPoolExecutor(1))


def test_one_runtime_for_one_database(runtime: Runtime, places: Places) -> None:
    runtime.announce("http://127.0.0.1:1/?token=x")
    with pytest.raises(AlreadyRunning, match="token=x"):
        Runtime(places)


def test_an_emptied_cache_fills_itself(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1])
    shoot = indexed(runtime, folder)
    shutil.rmtree(runtime.cache.folder)
    runtime.cache.folder.mkdir()
    (row,) = frames.rows(runtime.db, shoot)
    runtime.indexer.picture(row.id).result(30)
    assert row.key
    assert runtime.cache.read(row.key, "preview")


def die(job: Job) -> Analysed | Failure:
    """Stands in for a decoder that a hostile file stops."""
    if "hostile" in job.path.name:
        os._exit(9)
    return tasks.look(job)


def test_a_file_that_kills_its_worker_costs_only_itself(
    places: Places, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2, 3, 4])
    write_jpeg(folder / "hostile.jpg", 5)
    monkeypatch.setattr("winnow.work.index.indexer.tasks.look", die)
    runtime = Runtime(places)  # real processes
    shoot = indexed(runtime, folder)
    rows = {row.name: row for row in frames.rows(runtime.db, shoot)}
    runtime.close()
    assert rows["hostile"].state is State.FAILED
    assert "stopped the decoder" in rows["hostile"].notice
    assert [row.state for name, row in rows.items() if name != "hostile"] == [State.DONE] * 4


def test_marks_are_not_lost_while_indexing_writes(runtime: Runtime, tmp_path: Path) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, list(range(12)))
    shoot = shoots.make(runtime.db, "Test", [str(folder)])
    runtime.indexer.start(shoot)
    until(lambda: shoots.tally(runtime.db, shoot).frames == 12)
    ids = [row.id for row in frames.rows(runtime.db, shoot)]

    def mark(frame: int) -> None:
        def plan() -> object:
            held = marks.marks_of(runtime.db, shoot, [frame])
            return plan_edit(Edit(Decision.PICK), held, partial(frames.name_of, runtime.db), {})

        marks.apply(runtime.db, shoot, plan)  # type: ignore[arg-type]

    threads = [threading.Thread(target=mark, args=(frame,)) for frame in ids]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    until(lambda: not runtime.indexer.status(shoot).running)
    assert shoots.tally(runtime.db, shoot).picks == 12


def counted_looks(monkeypatch: pytest.MonkeyPatch) -> list[int]:
    """The frames that are decoded from now on."""
    looked: list[int] = []
    look = tasks.look

    def noted(job: tasks.Job) -> object:
        looked.append(job.frame)
        return look(job)

    monkeypatch.setattr(tasks, "look", noted)
    return looked


def versions(runtime: Runtime, shoot: int) -> set[tuple[str, str]]:
    rows = runtime.db.read.execute(
        "SELECT picture_version, figure_version FROM frame WHERE shoot_id = ?", (shoot,)
    )
    return {(row[0], row[1]) for row in rows}


def test_newer_code_makes_anew_only_what_it_changed(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    write_shoot(tmp_path / "shoot", [1, 2, 3])
    shoot = indexed(runtime, tmp_path / "shoot")
    looked = counted_looks(monkeypatch)
    indexed(runtime, tmp_path / "shoot")
    assert looked == []

    # New figures come from the previews; where one is missing, from the original.
    monkeypatch.setattr(pictures, "FIGURE_VERSION", "l99 e99")
    key = frames.rows(runtime.db, shoot)[0].key
    assert key
    runtime.cache.path(key, "preview").unlink()
    indexed(runtime, tmp_path / "shoot")
    assert len(looked) == 1
    assert versions(runtime, shoot) == {(pictures.PICTURE_VERSION, "l99 e99")}

    # New pictures come from the originals, under new names: pages keep the old ones for ever.
    monkeypatch.setattr(pictures, "PICTURE_VERSION", "p99 f99")
    indexed(runtime, tmp_path / "shoot")
    assert len(looked) == 4
    assert versions(runtime, shoot) == {("p99 f99", "l99 e99")}
    assert key not in {row.key for row in frames.rows(runtime.db, shoot)}


def test_newer_readers_read_facts_anew_without_decoding(
    places: Places, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    folder = tmp_path / "shoot"
    write_shoot(folder, [1, 2])
    with closing(Runtime(places, one_thread())) as runtime:
        shoot = indexed(runtime, folder)
        frame = frames.rows(runtime.db, shoot)[0].id
        with runtime.db.write() as conn:
            conn.execute("UPDATE frame SET lens = 'as older code read it', notice = 'kept'")
    monkeypatch.setattr(frame_figures, "FACTS_VERSION", "99")
    looked = counted_looks(monkeypatch)
    with closing(Runtime(places, one_thread())) as runtime:
        indexed(runtime, folder)
        assert looked == []
        assert frames.stated(runtime.db, [frame])[frame]["lens"] != "as older code read it"
        assert {(row.state, row.picture, row.notice) for row in frames.rows(runtime.db, shoot)} == {
            (State.DONE, 2, "kept")
        }
        assert frame_figures.with_old_facts(runtime.db, shoot) == []


def test_a_picture_that_is_wanted_now_is_not_decoded_a_second_time(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    write_shoot(tmp_path / "shoot", [1] * 12)
    go_on = threading.Event()
    looked = counted_looks(monkeypatch)
    counted = tasks.look

    def held(job: tasks.Job) -> object:
        go_on.wait(20)
        return counted(job)

    monkeypatch.setattr(tasks, "look", held)
    paths = [str(tmp_path / "shoot")]
    shoot = shoots.make(runtime.db, "Test", paths)
    runtime.indexer.start(shoot)
    until(lambda: runtime.indexer.status(shoot).stage == "pictures")
    last = frames.rows(runtime.db, shoot)[-1].id
    future = runtime.indexer.picture(last)
    go_on.set()
    future.result(20)
    until(lambda: not runtime.indexer.status(shoot).running)
    assert sorted(looked) == sorted(row.id for row in frames.rows(runtime.db, shoot))


def test_a_picture_that_is_made_after_the_run_comes_into_its_group(
    runtime: Runtime, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    write_shoot(tmp_path / "shoot", [1] * 20 + [2] * 20)
    monkeypatch.setattr("winnow.work.index.indexer.face_finder.available", lambda: False)
    all_asked = threading.Event()
    look = tasks.look

    def held(job: tasks.Job) -> object:
        all_asked.wait(20)
        return look(job)

    monkeypatch.setattr(tasks, "look", held)
    shoot = shoots.make(runtime.db, "Test", [str(tmp_path / "shoot")])
    runtime.indexer.start(shoot)
    until(lambda: runtime.indexer.status(shoot).stage == "pictures")
    # All are wanted at once: little is left for the run, which ends before they are made.
    asked = [runtime.indexer.picture(row.id) for row in frames.rows(runtime.db, shoot)]
    all_asked.set()
    for future in asked:
        future.result(20)
    until(lambda: not runtime.indexer.status(shoot).running)
    groups = [0] * 20 + [1] * 20
    until(lambda: [row.group for row in frames.rows(runtime.db, shoot)] == groups)


def test_focus_maps_are_kept(runtime: Runtime, tmp_path: Path) -> None:
    write_shoot(tmp_path / "shoot", [1])
    shoot = indexed(runtime, tmp_path / "shoot")
    packed = frame_figures.focus_map(runtime.db, frames.rows(runtime.db, shoot)[0].id)
    assert packed
    assert focus_map.unpack(packed).blur.ndim == 2
